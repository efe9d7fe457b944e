"""What drives a boat: motors with what they turn, packs, control and wiring, and the thrust tests of them."""

import math
from dataclasses import MISSING, dataclass
from typing import Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.formulas import formula
from yarekeel.core.parameters import check_parameters, choice, count, described, flag, place, text
from yarekeel.core.propulsion.bench.sheet import MOST_TESTS, BenchTest
from yarekeel.core.propulsion.cells import CHEMISTRIES, LITHIUM, Chemistry, estimated_resistance, open_voltage
from yarekeel.core.propulsion.propulsors import Propulsor
from yarekeel.core.quantities import AmpereHours, Amperes, Celsius, Degrees, Newtons, Ohms, Point, Ratio, Volts
from yarekeel.core.sources import COMMON_PRACTICE, STATICS

CELL = 3.7
"""Volts that a lithium cell is named by."""
MOST_FITTED = 100


@dataclass(frozen=True, slots=True)
class ElectricMotor:
    """A motor's electrics, with its control: ``kv`` turns a minute per volt, ``idle_current_a`` with nothing on its shaft,
    ``most_current_a`` what it stands and ``control_a`` what its control is rated at, 0 if not known."""

    kv: Ratio = described(1000.0, "Turns per volt", "ratio", 1, 20_000, "a minute; kV on its label")
    resistance_ohm: Ohms = described(0.08, "Resistance", "resistance", 1e-4, 50, "between two of its wires")
    idle_current_a: Amperes = described(0.7, "Idle current", "current", 0, 200, "nothing on the shaft")
    gear: Ratio = described(1.0, "Gearing", "ratio", 0.1, 200, "motor turns for one")
    control_ohm: Ohms = described(0.005, "Control and leads", "resistance", 0, 5, "what they add")
    most_current_a: Amperes = described(0.0, "Most current", "current", 0, 2000, "the motor's; 0 if not known")
    control_a: Amperes = described(0.0, "Control rated at", "current", 0, 2000, "0 if not known")

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class Battery:
    """A pack. ``voltage_v`` is open, as charged; ``c_rating`` what its label says, or what a test of it found; ``resistance_ohm`` its
    inner resistance at 20 °C, 0 if not known; ``temperature_c`` how warm its cells are."""

    voltage_v: Volts = described(11.1, "Voltage", "voltage", 0.5, 1000, why=("a pack has a cell at least", ""))
    capacity_ah: AmpereHours = described(5.0, "Capacity", "capacity", 0.01, 10000)
    c_rating: Ratio = described(20.0, "C rating", "ratio", 0.05, 200)
    resistance_ohm: Ohms = described(0.0, "Inner resistance", "resistance", 0, 100)
    chemistry: str = choice("lithium_polymer", "Cells are", "", tuple((c.code, c.title) for c in CHEMISTRIES.values()))
    c_tested: bool = flag(False, "The C rating was tested")
    temperature_c: Celsius = described(20.0, "Cells at", "temperature", -30, 60)

    def __post_init__(self) -> None:
        check_parameters(self)

    @property
    def kind(self) -> Chemistry:
        """What its cells are."""
        return CHEMISTRIES[self.chemistry]


@dataclass(frozen=True, slots=True)
class Motor:
    """A thruster. ``at_m`` is where its thrust acts; it points ahead, raised by ``tilt_deg`` and turned to port by ``toe_deg``.

    Without a ``propulsor``, ``thrust_n`` and ``current_a`` say what it does at full throttle, standing still. With one, the pull and the
    current are worked out: from ``electric`` and a pack where a motor turns it. ``battery`` is a pack of its own; None: the boat's.
    """

    name: str = text(MISSING, "Motor")
    thrust_n: Newtons = described(MISSING, "Thrust from rest", "force", 0, 5000)
    at_m: Point = place(MISSING, "Place")
    current_a: Amperes = described(0.0, "Current at full throttle", "current", 0, 2000)
    known: Literal["rated", "measured"] = choice("rated", "Pull is", "", (("rated", "rated"), ("measured", "measured")))
    electric: ElectricMotor = ElectricMotor()
    propulsor: Propulsor | None = None
    tilt_deg: Degrees = described(0.0, "Tilt", "degrees", -60, 60, "its pull points up ahead; less than 0: down")
    toe_deg: Degrees = described(0.0, "Toe", "degrees", -60, 60, "its pull points to port ahead; less than 0: to starboard")
    turns: Literal["right", "left"] = choice("right", "Turns", "seen from astern", (("right", "to the right"), ("left", "to the left")))
    astern: bool = flag(False, "Pushes astern")
    battery: Battery | None = None

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class Wiring:
    """What besides the motors hangs on the packs: the plug's rating, and the receiver's supply with what it feeds; 0 if not known."""

    plug_a: Amperes = described(0.0, "Plug rated at", "current", 0, 1000, "0 if not known")
    supply_a: Amperes = described(0.0, "Receiver's supply gives", "current", 0, 100, "for long; 0 if there is none")
    receiver_a: Amperes = described(0.1, "Receiver draws", "current", 0, 20)
    servos: int = count(0, "Servos", "", 0, 32, ("", "more than a receiver has"))
    stall_a: Amperes = described(1.0, "A servo held fast draws", "current", 0, 50, "its stall current")

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class Fitted:
    """A part of the yard's bin that was fitted: its key there, its kind and name then, the motor it is of (empty: the boat's own), and
    the line of the weights that is it (empty where it has no mass). What it gave stays with the boat whatever becomes of the part."""

    part: str
    kind: str
    name: str
    motor: str = ""
    line: str = ""
    stamp: str = ""
    """Of the part as it was fitted: another one since means that the bin's part was changed."""


@dataclass(frozen=True, slots=True)
class Drive:
    """All motors, the pack that feeds them, what else is wired, the thrust tests, and which parts came from the yard's bin."""

    motors: tuple[Motor, ...] = ()
    battery: Battery | None = None
    wiring: Wiring = Wiring()
    tests: tuple[BenchTest, ...] = ()
    fitted: tuple[Fitted, ...] = ()
    pull_factor: Ratio = described(1.0, "Pulls, of what is worked out", "ratio", 0.05, 5.0, "1: as worked out; a trial tells")

    def __post_init__(self) -> None:
        check_parameters(self)
        if len(self.tests) > MOST_TESTS:
            raise InvalidInput("tests", f"A boat has at most {MOST_TESTS} thrust tests.")
        if len({t.name for t in self.tests}) < len(self.tests):
            raise InvalidInput("tests", "Two thrust tests cannot have the same name.")
        if len(self.fitted) > MOST_FITTED:
            raise InvalidInput("fitted", f"A boat has at most {MOST_FITTED} parts of the bin.")


@formula("I = I_receiver + n I_stall", COMMON_PRACTICE, "every servo held fast at once")
def supply_need(wiring: Wiring) -> Amperes:
    """The most that the receiver's supply must give."""
    return wiring.receiver_a + wiring.servos * wiring.stall_a


def pack_of(drive: Drive, motor: Motor) -> Battery | None:
    """The pack that feeds a motor."""
    return motor.battery or drive.battery


def worked_out(drive: Drive, motor: Motor) -> bool:
    """Whether a motor's pull is worked out from what it turns."""
    part = motor.propulsor
    return part is not None and (not part.electric or pack_of(drive, motor) is not None)


@formula("R = typed, else cells k / Q; · 2^((20 - t) / 20)", COMMON_PRACTICE, "lithium-polymer doubles from 20 to 0 °C; others less surely")
def pack_resistance(battery: Battery) -> Ohms:
    """Inner resistance of the pack at its own warmth: as typed, else as such packs have."""
    usual = estimated_resistance(battery.kind, battery.capacity_ah, cells_in(battery), battery.temperature_c)
    if battery.resistance_ohm > 0:
        return battery.resistance_ohm * (usual / estimated_resistance(battery.kind, battery.capacity_ah, cells_in(battery)))
    return usual


def warmed(battery: Battery, resistance: Ohms) -> Ohms:
    """What an inner resistance that was found at the pack's own warmth is at 20 °C, as it is typed."""
    usual = estimated_resistance(battery.kind, battery.capacity_ah, cells_in(battery), battery.temperature_c)
    return resistance * (estimated_resistance(battery.kind, battery.capacity_ah, cells_in(battery)) / usual)


def cell_volts(battery: Battery) -> Volts:
    """What a cell of its chemistry is named by: at half its charge, lithium polymer by custom ``CELL``."""
    return CELL if battery.kind is LITHIUM else open_voltage(battery.kind, 0.5, 1)


def cells_in(battery: Battery) -> int:
    """How many cells in a row a pack of that voltage and chemistry has."""
    return max(1, round(battery.voltage_v / cell_volts(battery)))


@formula("u = (cos tilt cos toe, cos tilt sin toe, sin tilt)", STATICS, "boat axes")
def direction(motor: Motor) -> Point:
    """Where a motor's pull points, of length one: ahead, or astern where it pushes so."""
    tilt, toe = math.radians(motor.tilt_deg), math.radians(motor.toe_deg)
    side = -1.0 if motor.astern else 1.0
    return side * math.cos(tilt) * math.cos(toe), side * math.cos(tilt) * math.sin(toe), side * math.sin(tilt)
