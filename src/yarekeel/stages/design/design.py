"""The frozen aggregate that travels through the stages: one revision of one boat. Its field names are the boat file's."""

import dataclasses
import math
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import RoundBilge, Shape
from yarekeel.core.propulsion.drive import Drive
from yarekeel.core.propulsion.sail import Sail
from yarekeel.core.quantities import Kilograms, Metres, Point, Ratio
from yarekeel.core.stability.inclining import Incline
from yarekeel.core.stability.tipping import Tipping
from yarekeel.core.water import Water
from yarekeel.core.weights.items import MOST_OF_ONE, WeightItem
from yarekeel.core.weights.materials import Material
from yarekeel.core.weights.weigh_in import WeighIn

Kind = Literal["model", "people"]
Deck = Literal["decked", "open"]
Role = Literal["hull", "float", "foam", "appendage", "fairing"]
Use = Literal["dry", "tank"]
FARTHEST = 1000.0
"""m."""
MOST_BODIES = 60
MOST_OPENINGS = 40
MOST_CASES = 40
MOST_MATERIALS = 100
MOST_COMPARTMENTS = 40
MOST_SAILS = 12


@dataclass(frozen=True, slots=True)
class Brief:
    """What the builder asks of the boat; every later verdict is against these.

    The limits that may be left open (None) are asked for by few: how deep it may sit, how much reserve it must have, what goes on
    the car, the printer's bed, the sheet it is cut from, how far it may lean with a weight on its rail or in any plain test, from
    how far over it must come back (180° asks that it rights itself), how hard it must push back at its best.
    """

    kind: Kind = "model"
    target_mass_kg: Kilograms = 3.0
    least_freeboard_m: Metres = 0.030
    allowed_trim_deg: float = 1.0
    least_gm_m: Metres = 0.020
    thrust_to_weight: Ratio = 0.20
    most_draft_m: Metres | None = None
    least_reserve: Ratio | None = None
    most_length_m: Metres | None = None
    most_beam_m: Metres | None = None
    bed_length_m: Metres | None = None
    bed_width_m: Metres | None = None
    bed_height_m: Metres | None = None
    sheet_length_m: Metres | None = None
    rail_mass_kg: Kilograms | None = None
    rail_heel_deg: float | None = None
    most_lean_deg: float | None = None
    least_range_deg: float | None = None
    least_peak_m: Metres | None = None

    def __post_init__(self) -> None:
        limits = {
            "target_mass_kg": ("Target all-up mass", 1e-6, 1e7, "kg"),
            "least_freeboard_m": ("Least freeboard", 0, 1000, "m"),
            "allowed_trim_deg": ("Allowed trim", 0.01, 45, "°"),
            "least_gm_m": ("Least GM", 0, 1000, "m"),
            "thrust_to_weight": ("Thrust to weight", 0, 20, ""),
            "most_draft_m": ("Greatest draft", 1e-4, 1000, "m"),
            "least_reserve": ("Least reserve", 0, 1000, ""),
            "most_length_m": ("Greatest length", 1e-3, 1000, "m"),
            "most_beam_m": ("Greatest beam", 1e-3, 1000, "m"),
            "bed_length_m": ("Printer's bed, length", 1e-3, 100, "m"),
            "bed_width_m": ("Printer's bed, width", 1e-3, 100, "m"),
            "bed_height_m": ("Printer's height", 1e-3, 100, "m"),
            "sheet_length_m": ("Sheet length", 1e-3, 100, "m"),
            "rail_mass_kg": ("Weight on the rail", 1e-6, 1e5, "kg"),
            "rail_heel_deg": ("Lean with it", 0.01, 60, "°"),
            "most_lean_deg": ("Lean in any plain test", 0.01, 90, "°"),
            "least_range_deg": ("Range", 1, 180, "°"),
            "least_peak_m": ("Greatest righting arm", 0, 1000, "m"),
        }
        for name, (label, low, high, unit) in limits.items():
            value = getattr(self, name)
            if value is None and name in LEFT_OPEN:
                continue
            if not math.isfinite(value) or not low <= value <= high:
                raise InvalidInput(name, f"{label} must lie between {low:g} and {high:g} {unit}".rstrip() + ".")


LEFT_OPEN = tuple(f.name for f in dataclasses.fields(Brief) if f.default is None)


@dataclass(frozen=True, slots=True)
class Opening:
    """A place where water can come in: a hatch, a vent, a hole for a shaft or a wire. ``at_m`` is in the body's own axes."""

    name: str
    at_m: Point = (0.0, 0.0, 0.0)

    def __post_init__(self) -> None:
        if not self.name.strip() or len(self.name) > 80:
            raise InvalidInput("name", "Give the opening a name of 1 to 80 characters.")
        if not all(math.isfinite(v) and abs(v) <= FARTHEST for v in self.at_m):
            raise InvalidInput("at_m", f"An opening must lie within {FARTHEST:g} m of its body's origin.")


@dataclass(frozen=True, slots=True)
class Body:
    """A body of the boat: its shape, where its own origin sits, and what part it plays.

    ``scale`` stretches it along its own axes, ``turn_deg`` turns it by roll (port side up), pitch (bow down) and yaw (bow to
    port), in that order; ``mirrored`` adds its image on the other side. ``role``: a hull has a sheer that water must not
    reach, floats and solid foam only carry, an appendage counts for volume and lateral area, a fairing displaces nothing.
    ``hidden`` leaves it out of the drawings, not of the sums. ``openings`` are where water can come in.
    """

    name: str
    shape: Shape
    at_m: Point = (0.0, 0.0, 0.0)
    deck: Deck = "decked"
    turn_deg: Point = (0.0, 0.0, 0.0)
    scale: Point = (1.0, 1.0, 1.0)
    mirrored: bool = False
    role: Role = "hull"
    hidden: bool = False
    openings: tuple[Opening, ...] = ()

    def __post_init__(self) -> None:
        if len(self.openings) > MOST_OPENINGS:
            raise InvalidInput("openings", f"A body has at most {MOST_OPENINGS} openings.")
        if not self.name.strip() or len(self.name) > 80:
            raise InvalidInput("name", "Give the body a name of 1 to 80 characters.")
        if not all(math.isfinite(v) and abs(v) <= FARTHEST for v in self.at_m):
            raise InvalidInput("at_m", f"A body must sit within {FARTHEST:g} m of the boat's origin.")
        if not all(math.isfinite(v) and abs(v) <= 360 for v in self.turn_deg):
            raise InvalidInput("turn_deg", "A turn must lie between -360 and 360°.")
        if not all(math.isfinite(v) and 0.01 <= v <= 100 for v in self.scale):
            raise InvalidInput("scale", "A scale must lie between 0.01 and 100.")


@dataclass(frozen=True, slots=True)
class Marks:
    """Where along x the draft marks are painted."""

    stern_x_m: Metres
    bow_x_m: Metres

    def __post_init__(self) -> None:
        if not self.bow_x_m - self.stern_x_m > 1e-6:
            raise InvalidInput("bow_x_m", "The bow mark must lie ahead of the stern mark.")


@dataclass(frozen=True, slots=True)
class Count:
    """How many of an item are aboard in a load case; of a tank, how many times its listed filling."""

    item: str
    quantity: float

    def __post_init__(self) -> None:
        if not math.isfinite(self.quantity) or not 0 <= self.quantity <= MOST_OF_ONE:
            raise InvalidInput("quantity", f"How many must be a number from 0 to {MOST_OF_ONE}.")


@dataclass(frozen=True, slots=True)
class LoadCase:
    """A named load: what differs from the list, by the items' names."""

    name: str
    counts: tuple[Count, ...] = ()

    def __post_init__(self) -> None:
        if not self.name.strip() or len(self.name) > 80:
            raise InvalidInput("name", "Give the load case a name of 1 to 80 characters.")


@dataclass(frozen=True, slots=True)
class Compartment:
    """A space inside a body between planes in the boat's axes; None where the body itself ends it.

    A ``tank`` carries ``filled`` of its capacity of ``liquid`` (a material's code, empty for the water the boat floats in) and
    the liquid runs to its own level; ``vented`` says that it breathes through the boat's openings. A ``dry`` one holds nothing
    until it is flooded. ``sealed`` ones keep their air when an open boat is swamped. ``room`` is the share of the space that
    liquid can take: frames, foam and gear take the rest.
    """

    name: str
    body: str
    aft_m: Metres | None = None
    fore_m: Metres | None = None
    starboard_m: Metres | None = None
    port_m: Metres | None = None
    low_m: Metres | None = None
    high_m: Metres | None = None
    use: Use = "dry"
    sealed: bool = True
    vented: bool = False
    filled: Ratio = 0.0
    liquid: str = ""
    room: Ratio = 0.95

    def __post_init__(self) -> None:
        if not self.name.strip() or len(self.name) > 80:
            raise InvalidInput("name", "Give the compartment a name of 1 to 80 characters.")
        for low, high, words in (
            ("aft_m", "fore_m", "fore end must lie ahead of its aft end"),
            ("starboard_m", "port_m", "port side must lie to port of its starboard side"),
            ("low_m", "high_m", "top must lie above its bottom"),
        ):
            a, b = getattr(self, low), getattr(self, high)
            if any(v is not None and not (math.isfinite(v) and abs(v) <= FARTHEST) for v in (a, b)):
                raise InvalidInput(low, f"A bulkhead must lie within {FARTHEST:g} m of the boat's origin.")
            if a is not None and b is not None and not b - a > 1e-9:
                raise InvalidInput(high, f"A compartment's {words}.")
        if not (math.isfinite(self.filled) and 0 <= self.filled <= 1):
            raise InvalidInput("filled", "A tank is filled from 0 to 100 % of what it holds.")
        if not (math.isfinite(self.room) and 0.01 <= self.room <= 1):
            raise InvalidInput("room", "The room for liquid must lie between 1 and 100 % of the space.")

    @property
    def low(self) -> tuple[Metres | None, Metres | None, Metres | None]:
        """Least x, y, z."""
        return self.aft_m, self.starboard_m, self.low_m

    @property
    def high(self) -> tuple[Metres | None, Metres | None, Metres | None]:
        """Greatest x, y, z."""
        return self.fore_m, self.port_m, self.high_m

    def overlaps(self, other: "Compartment") -> bool:
        """Whether the two share some of the same body, as far as their planes tell."""
        return self.body == other.body and all(
            (a is None or d is None or a < d - 1e-9) and (c is None or b is None or c < b - 1e-9)
            for a, b, c, d in zip(self.low, self.high, other.low, other.high, strict=True)
        )


@dataclass(frozen=True)
class Design:
    """One revision of one boat, whole. ``case`` names the load case in force, empty for the list as it stands."""

    name: str
    water: Water = Water()
    brief: Brief = Brief()
    bodies: tuple[Body, ...] = field(default_factory=lambda: (Body("hull", RoundBilge()),))
    weights: tuple[WeightItem, ...] = ()
    drive: Drive = Drive()
    marks: Marks | None = None
    materials: tuple[Material, ...] = ()
    cases: tuple[LoadCase, ...] = ()
    case: str = ""
    weigh_in: WeighIn = WeighIn()
    compartments: tuple[Compartment, ...] = ()
    tipping: Tipping = Tipping()
    sails: tuple[Sail, ...] = ()
    incline: Incline = Incline()

    @cached_property
    def _hash(self) -> int:
        return hash(tuple(getattr(self, f.name) for f in dataclasses.fields(self)))

    def __hash__(self) -> int:
        """Worked out once: a design is looked up many times, and thousands of weights take a while."""
        return self._hash

    def __post_init__(self) -> None:
        if not self.name.strip() or len(self.name) > 80:
            raise InvalidInput("name", "Give the boat a name of 1 to 80 characters.")
        if not self.bodies:
            raise InvalidInput("bodies", "A boat needs at least one body.")
        if len(self.bodies) > MOST_BODIES:
            raise InvalidInput("bodies", f"A boat has at most {MOST_BODIES} bodies.")
        if len(self.cases) > MOST_CASES or len(self.materials) > MOST_MATERIALS:
            raise InvalidInput("cases", f"A boat has at most {MOST_CASES} load cases and {MOST_MATERIALS} materials of its own.")
        if len(self.sails) > MOST_SAILS:
            raise InvalidInput("sails", f"A boat has at most {MOST_SAILS} sails.")
        names = [c.name for c in self.cases]
        if len(set(names)) < len(names):
            raise InvalidInput("cases", "Two load cases cannot have the same name.")
        if self.case and self.case not in names:
            raise InvalidInput("case", "The load case in force must be one of the boat's load cases.")
        self._check_compartments()
        if len({m.code for m in self.materials}) < len(self.materials):
            raise InvalidInput("materials", "Two materials cannot have the same code.")

    def _check_compartments(self) -> None:
        spaces, bodies = self.compartments, {b.name for b in self.bodies}
        if len(spaces) > MOST_COMPARTMENTS:
            raise InvalidInput("compartments", f"A boat has at most {MOST_COMPARTMENTS} compartments.")
        for n, one in enumerate(spaces):
            if one.body not in bodies:
                raise InvalidInput("compartments", f"Compartment “{one.name}” lies in a body “{one.body[:40]}” that the boat has not.")
            for other in spaces[:n]:
                if one.name == other.name:
                    raise InvalidInput("compartments", f"Two compartments cannot both be called “{one.name}”.")
                if one.overlaps(other):
                    raise InvalidInput(
                        "compartments",
                        f"“{one.name}” and “{other.name}” overlap in {one.body}: the same water would count twice. "
                        "Set a bulkhead that parts them.",
                    )


def value_at(design: Any, path: str) -> Any:
    """The value at a dotted path of the boat file, such as ``weights.2.at_m.0``. Raises InvalidInput if there is none."""
    at = design
    for step in path.split("."):
        at = _child(at, step, path)
    return at


def with_value(design: Design, path: str, value: Any) -> Design:
    """The design with one value replaced; every check of the parts it lies in runs again (InvalidInput)."""
    changed = _replaced(design, path.split("."), value, path)
    assert isinstance(changed, Design)
    return changed


def _child(at: Any, step: str, path: str) -> Any:
    try:
        if isinstance(at, tuple):
            return at[int(step)]
        if dataclasses.is_dataclass(at) and step in at.__dataclass_fields__:
            return getattr(at, step)
    except (ValueError, IndexError):
        pass
    raise InvalidInput(path, f"This boat has no field {path}.")


def _replaced(at: Any, steps: list[str], value: Any, path: str) -> Any:
    if not steps:
        return value
    inner = _replaced(_child(at, steps[0], path), steps[1:], value, path)
    if isinstance(at, tuple):
        index = int(steps[0])
        return (*at[:index], inner, *at[index + 1 :])
    return dataclasses.replace(at, **{steps[0]: inner})
