"""Parts of a drive as a yard keeps them in its bin: what each kind is described by, and the generic classes to start from."""

import dataclasses
import hashlib
import re
from dataclasses import MISSING, dataclass
from typing import Any, Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.parameters import check_parameters, choice, count, described, length, text, words
from yarekeel.core.propulsion.cells import wire_mass
from yarekeel.core.propulsion.drive import Battery, ElectricMotor, Wiring
from yarekeel.core.propulsion.propulsors import PROPULSORS
from yarekeel.core.quantities import Amperes, Kilograms, Metres, Ohms, Ratio

Known = Literal["own", "common practice", "from memory"]
LEAST_MASS: Kilograms = 1e-5


def _as(cls: type[Any], name: str) -> Any:
    """A field described as another class describes it."""
    field = cls.__dataclass_fields__[name]
    return dataclasses.field(default=field.default, metadata=field.metadata)


@dataclass(frozen=True, slots=True)
class MotorSpec:
    """A motor by its label and an ohmmeter."""

    kv: Ratio = _as(ElectricMotor, "kv")
    resistance_ohm: Ohms = _as(ElectricMotor, "resistance_ohm")
    idle_current_a: Amperes = _as(ElectricMotor, "idle_current_a")
    gear: Ratio = _as(ElectricMotor, "gear")
    most_current_a: Amperes = _as(ElectricMotor, "most_current_a")

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class ControlSpec:
    """A speed control."""

    control_a: Amperes = _as(ElectricMotor, "control_a")
    control_ohm: Ohms = _as(ElectricMotor, "control_ohm")

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class ReceiverSpec:
    """A receiver, and the supply that it brings along."""

    receiver_a: Amperes = _as(Wiring, "receiver_a")
    supply_a: Amperes = _as(Wiring, "supply_a")

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class ServoSpec:
    """A servo."""

    stall_a: Amperes = _as(Wiring, "stall_a")

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class PlugSpec:
    """A pair of plugs."""

    plug_a: Amperes = _as(Wiring, "plug_a")

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class WireSpec:
    """A run of wire, there and back."""

    gauge: int = count(14, "Gauge, AWG", "", 0, 40, ("thicker than any plug takes", "thinner than a hair"))
    one_way_m: Metres = length(0.3, "One way", "it goes there and back", 0.01, 50, moves="stays")

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class PartKind:
    """A kind of part: its code, its title, what describes it, and whether it belongs to a motor or to the whole boat."""

    code: str
    title: str
    spec: type[Any]
    of_motor: bool
    several: bool = False
    """More than one may be fitted at the same place."""


KINDS: dict[str, PartKind] = {
    k.code: k
    for k in (
        PartKind("motor", "Motor", MotorSpec, True),
        *(PartKind(p.kind, p.title, p, True) for p in PROPULSORS.values() if p.kind not in ("bench_test", "force_over_time")),
        PartKind("control", "Speed control", ControlSpec, True),
        PartKind("pack", "Pack", Battery, False),
        PartKind("receiver", "Receiver", ReceiverSpec, False),
        PartKind("servo", "Servo", ServoSpec, False, several=True),
        PartKind("plug", "Plugs", PlugSpec, False),
        PartKind("wire", "Wire", WireSpec, False, several=True),
    )
}


@dataclass(frozen=True, slots=True)
class Part:
    """A part of the bin. ``known`` says whose figures these are: the builder's own, or a generic class's."""

    kind: str
    name: str = text(MISSING, "Name")
    mass_kg: Kilograms = described(MISSING, "Mass", "mass", LEAST_MASS, 1000, "weigh it", ("a part with no mass cannot be placed", ""))
    spec: Any = None
    size: str = words("Size")
    note: str = words("Note")
    known: Known = choice(
        "own",
        "Figures are",
        "",
        (("own", "my own"), ("common practice", "common practice"), ("from memory", "from memory")),
    )

    def __post_init__(self) -> None:
        if self.kind not in KINDS:
            raise InvalidInput("kind", f"Choose a kind of part: {', '.join(k.title for k in KINDS.values())}.")
        if self.spec is None:
            object.__setattr__(self, "spec", KINDS[self.kind].spec())
        if not isinstance(self.spec, KINDS[self.kind].spec):
            raise InvalidInput("spec", f"These are not the figures of a part of kind {KINDS[self.kind].title}.")
        check_parameters(self)

    @property
    def stamp(self) -> str:
        """A short word for what it is now: another one means that it was changed."""
        return hashlib.sha256(repr(self).encode()).hexdigest()[:12]


def _starter(kind: str, name: str, grams: float, spec: Any, size: str = "", known: Known = "common practice") -> Part:
    return Part(kind, name, grams / 1000, spec, size, "generic: weigh and measure your own", known)


def _propeller(kind: str, name: str, grams: float, **sizes: Any) -> Part:
    return _starter(kind, name, grams, PROPULSORS[kind](**sizes))


STARTERS: dict[str, Part] = {
    f"generic:{re.sub(r'[^a-z0-9]+', '-', p.name.lower()).strip('-')}": p
    for p in (
        _starter("motor", "Brushless, 28 mm, 1000 kV", 75, MotorSpec(1000, 0.09, 0.8, 1.0, 20), "28 x 36 mm"),
        _starter("motor", "Brushless, 35 mm, 700 kV", 140, MotorSpec(700, 0.055, 1.0, 1.0, 35), "35 x 42 mm"),
        _starter("motor", "Brushless, 36 mm inrunner, 2000 kV", 180, MotorSpec(2000, 0.02, 2.2, 1.0, 70), "36 x 60 mm"),
        _starter("motor", "Brushed, 38 mm, low turns", 190, MotorSpec(550, 0.18, 1.0, 1.0, 15), "38 x 57 mm", "from memory"),
        _starter("motor", "Trolling motor head, 12 V", 3200, MotorSpec(105, 0.09, 1.5, 1.0, 45), "90 x 250 mm", "from memory"),
        _propeller("water_propeller", "Plastic, 30 mm, 2 blades", 4, diameter_m=0.030, pitch_m=0.028, blades=2, area_ratio=0.45),
        _propeller("water_propeller", "Plastic, 40 mm, 3 blades", 8, diameter_m=0.040, pitch_m=0.038, blades=3, area_ratio=0.5),
        _propeller("water_propeller", "Brass, 50 mm, 3 blades", 38, diameter_m=0.050, pitch_m=0.050, blades=3, area_ratio=0.55),
        _propeller("water_propeller", "Weedless, 230 mm, 2 blades", 300, diameter_m=0.230, pitch_m=0.130, blades=2, area_ratio=0.3),
        _propeller("air_propeller", "Air, 8 x 4 in", 8, diameter_m=0.203, pitch_m=0.102, blades=2, area_ratio=0.09),
        _propeller("air_propeller", "Air, 10 x 5 in", 14, diameter_m=0.254, pitch_m=0.127, blades=2, area_ratio=0.09),
        _propeller("ducted_fan", "Fan, 50 mm", 55, exit_m=0.044, rated_n=5.5, rated_rpm=45000.0, merit=0.55),
        _propeller("ducted_fan", "Fan, 70 mm", 130, exit_m=0.059, rated_n=15.0, rated_rpm=42000.0, merit=0.6),
        _propeller("water_jet", "Jet, 16 mm nozzle", 95, exit_m=0.016, rated_n=10.0, rated_rpm=18000.0, merit=0.45),
        _propeller("paddle_wheel", "Paddle wheel, 100 mm", 60, diameter_m=0.10, paddle_m2=0.0008),
        _propeller("hand", "Oars, a pair, 2.1 m", 4200, way="oars", power_w=75.0, merit=0.65, most_n=120.0),
        _propeller("hand", "Double paddle", 950, way="paddle", power_w=70.0, merit=0.62, most_n=80.0),
        _starter("control", "Control, 30 A", 28, ControlSpec(30, 0.006), "45 x 24 x 10 mm"),
        _starter("control", "Control, 60 A, water-cooled", 78, ControlSpec(60, 0.003), "68 x 38 x 18 mm"),
        _starter("pack", "Lithium polymer, 3 cells, 2.2 Ah", 185, Battery(11.1, 2.2, 30), "105 x 34 x 24 mm"),
        _starter("pack", "Lithium polymer, 3 cells, 5 Ah", 390, Battery(11.1, 5.0, 30), "138 x 45 x 29 mm"),
        _starter("pack", "Lithium polymer, 4 cells, 5 Ah", 510, Battery(14.8, 5.0, 30), "138 x 45 x 38 mm"),
        _starter("pack", "Nickel-metal hydride, 6 cells, 3 Ah", 400, Battery(7.2, 3.0, 10, chemistry="nickel_metal"), "135 x 46 x 24 mm"),
        _starter(
            "pack",
            "Lithium iron phosphate, 12.8 V, 60 Ah",
            7500,
            Battery(12.8, 60.0, 1.0, chemistry="lithium_iron"),
            "230 x 140 x 210 mm",
        ),
        _starter("pack", "Lead-acid, 12 V, 7 Ah", 2200, Battery(12.0, 7.0, 3.0, chemistry="lead_acid"), "151 x 65 x 94 mm"),
        _starter("receiver", "Receiver, 6 channels", 12, ReceiverSpec(0.1, 0.0), "45 x 25 x 12 mm"),
        _starter("servo", "Servo, 9 g", 9, ServoSpec(0.7), "23 x 12 x 27 mm"),
        _starter("servo", "Servo, standard, waterproof", 60, ServoSpec(2.5), "40 x 20 x 38 mm"),
        _starter("plug", "Plugs, 3.5 mm round", 5, PlugSpec(45), known="from memory"),
        _starter("plug", "Plugs, 60 A flat", 9, PlugSpec(60), known="from memory"),
        _starter("wire", "Silicone wire, 14 AWG, 0.3 m there and back", 1000 * wire_mass(14, 0.6), WireSpec(14, 0.3)),
    )
}
"""Generic classes, no maker's: ordinary sizes and figures by their keys, to fit as they are or to copy and correct."""
