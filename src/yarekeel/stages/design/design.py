"""The frozen aggregate that travels through the stages: one revision of one boat. Its field names are the boat file's."""

import dataclasses
import math
from dataclasses import MISSING, dataclass, field, replace
from typing import Any, Literal, Self, cast

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import RoundBilge, Shape
from yarekeel.core.geometry.placing import turned
from yarekeel.core.geometry.stretch import Stretch
from yarekeel.core.once import cached_property
from yarekeel.core.parameters import (
    FARTHEST,
    Moves,
    Parameter,
    check_parameters,
    choice,
    described,
    flag,
    named,
    parameter_of,
    parameters_of,
    place,
    required,
    text,
)
from yarekeel.core.propulsion.drive import Drive
from yarekeel.core.propulsion.sail import Sail
from yarekeel.core.quantities import Metres, Point, Ratio
from yarekeel.core.stability.inclining import Incline
from yarekeel.core.stability.tipping import Tipping
from yarekeel.core.water import Water
from yarekeel.core.weights.items import MOST_OF_ONE, WeightItem
from yarekeel.core.weights.materials import Material
from yarekeel.core.weights.weigh_in import WeighIn
from yarekeel.plain_text import whole
from yarekeel.stages.design.brief import Brief

Deck = Literal["decked", "open"]
Role = Literal["hull", "float", "foam", "appendage", "fairing"]
Use = Literal["dry", "tank"]
ROLES: tuple[tuple[Role, str], ...] = (
    ("hull", "Hull"),
    ("float", "Float"),
    ("foam", "Solid foam"),
    ("appendage", "Appendage"),
    ("fairing", "Fairing, dry"),
)
TURNS = ("Roll, port side up", "Pitch, bow down", "Yaw, bow to port")
RIM = ("rim_aft_m", "rim_middle_m", "rim_fore_m")
MOST_BODIES = 60
MOST_OPENINGS = 40
MOST_CASES = 40
MOST_MATERIALS = 100
MOST_COMPARTMENTS = 40
MOST_SAILS = 12


@dataclass(frozen=True, slots=True)
class Opening:
    """A place where water can come in: a hatch, a vent, a hole for a shaft or a wire. ``at_m`` is in the body's own axes."""

    name: str = text(MISSING, "Opening")
    at_m: Point = place((0.0, 0.0, 0.0), "Place", moves="")

    def __post_init__(self) -> None:
        check_parameters(self)

    def moved(self, by: Stretch) -> Self:
        """The opening after its body was resized by so much in the body's own axes."""
        return replace(self, at_m=by.point(self.at_m))


@dataclass(frozen=True, slots=True)
class Body:
    """A body of the boat: its shape, where its own origin sits, and what part it plays.

    ``scale`` stretches it along its own axes, ``turn_deg`` turns it by roll (port side up), pitch (bow down) and yaw (bow to
    port), in that order; ``mirrored`` adds its image on the other side. ``role``: a hull has a sheer that water must not
    reach, floats and solid foam only carry, an appendage counts for volume and lateral area, a fairing displaces nothing.
    ``hidden`` leaves it out of the drawings, not of the sums. ``openings`` are where water can come in. ``rim_*_m`` are the heights of
    the rim of a hull from a mesh file at its after end, amidships and at its fore end (boat axes); None where it is as its shape
    has it.
    """

    name: str = text(MISSING, "Name")
    shape: Shape = required()
    at_m: Point = place((0.0, 0.0, 0.0), "Place", moves="")
    deck: Deck = choice("decked", "Deck", "", (("decked", "Decked"), ("open", "Open")))
    turn_deg: Point = described((0.0, 0.0, 0.0), "Turn", "degrees", -360, 360, axes=TURNS)
    scale: Point = described((1.0, 1.0, 1.0), "Scale", "ratio", 0.01, 100, axes=("Longer, times", "Wider, times", "Deeper, times"))
    mirrored: bool = flag(False, "A pair, mirrored")
    role: Role = choice("hull", "Part", "", ROLES)
    hidden: bool = flag(False, "Hide")
    openings: tuple[Opening, ...] = ()
    rim_aft_m: Metres | None = described(None, "Rim at the after end, up", "length", -FARTHEST, FARTHEST, moves="z")
    rim_middle_m: Metres | None = described(None, "Rim amidships, up", "length", -FARTHEST, FARTHEST, moves="z")
    rim_fore_m: Metres | None = described(None, "Rim at the fore end, up", "length", -FARTHEST, FARTHEST, moves="z")

    def __post_init__(self) -> None:
        if len(self.openings) > MOST_OPENINGS:
            raise InvalidInput("openings", f"A body has at most {MOST_OPENINGS} openings.")
        check_parameters(self)

    def moved(self, by: Stretch) -> Self:
        """The body after the whole boat was scaled: by its parameters where lengths alone make its size, else by its scale; after
        another body was resized it only goes along, which ``resizing`` sees to, since it takes the body's own box."""
        if not by.is_whole:
            return self
        rims: dict[str, Any] = {name: by.along(2, v) for name in RIM if (v := getattr(self, name)) is not None}
        gone = replace(self, at_m=by.point(self.at_m), **rims)
        parameters, factor = parameters_of(self.shape), by.factor
        if factor is None or not parameters or any(p.kind == "choice" for p in parameters):
            sx, sy, sz = (s * f for s, f in zip(self.scale, self._own_factors(by.factors), strict=True))
            return replace(gone, scale=(sx, sy, sz))
        lengths: dict[str, Any] = {p.name: getattr(self.shape, p.name) * factor for p in parameters if p.kind == "length"}
        openings = tuple(o.moved(by) for o in self.openings)
        return replace(gone, shape=replace(cast(Any, self.shape), **lengths), openings=openings)

    def _own_factors(self, factors: Point) -> Point:
        """Factors along the boat's axes as factors along the body's own, which it may be turned from: each own axis goes by those of
        the boat's axes that it points along."""
        pull = np.abs(turned(self.turn_deg))
        x, y, z = (np.array(factors) @ pull / pull.sum(axis=0)).tolist()
        return (x, y, z)


@dataclass(frozen=True, slots=True)
class Marks:
    """Where along x the draft marks are painted."""

    stern_x_m: Metres = described(MISSING, "Stern mark", "length", -FARTHEST, FARTHEST, moves="x")
    bow_x_m: Metres = described(MISSING, "Bow mark", "length", -FARTHEST, FARTHEST, moves="x")

    def __post_init__(self) -> None:
        check_parameters(self)
        if not self.bow_x_m - self.stern_x_m > 1e-6:
            raise InvalidInput("bow_x_m", "The bow mark must lie ahead of the stern mark.")


@dataclass(frozen=True, slots=True)
class LoadCount:
    """How many of an item are aboard in a load case; of a tank that is a line, how many times its listed filling, of a ballast tank (a
    compartment) the share of it that is full."""

    item: str
    quantity: Ratio

    def __post_init__(self) -> None:
        if not math.isfinite(self.quantity) or not 0 <= self.quantity <= MOST_OF_ONE:
            raise InvalidInput("quantity", f"How many must be a number from 0 to {MOST_OF_ONE}.")


@dataclass(frozen=True, slots=True)
class LoadCase:
    """A named load: what differs from the list, by the items' names."""

    name: str = text(MISSING, "Load case")
    counts: tuple[LoadCount, ...] = ()

    def __post_init__(self) -> None:
        check_parameters(self)


def _bulkhead(label: str, moves: Moves) -> Any:
    """A plane that a compartment ends at; None where the body itself ends it."""
    return described(default=None, label=label, kind="length", low=-FARTHEST, high=FARTHEST, moves=moves)


@dataclass(frozen=True, slots=True)
class Compartment:
    """A space inside a body between planes in the boat's axes; None where the body itself ends it.

    A ``tank`` carries ``filled`` of its capacity of ``liquid`` (a material's code, empty for the water the boat floats in) and
    the liquid runs to its own level; ``vented`` says that it breathes through the boat's openings. A ``dry`` one holds nothing
    until it is flooded. ``sealed`` ones keep their air when an open boat is swamped. ``room`` is the share of the space that
    liquid can take: frames, foam and gear take the rest.
    """

    name: str = text(MISSING, "Compartment")
    body: str = named(MISSING, "In", "", "body")
    aft_m: Metres | None = _bulkhead("Aft bulkhead, from aft", "x")
    fore_m: Metres | None = _bulkhead("Fore bulkhead, from aft", "x")
    starboard_m: Metres | None = _bulkhead("Starboard side, to port", "y")
    port_m: Metres | None = _bulkhead("Port side, to port", "y")
    low_m: Metres | None = _bulkhead("Bottom, up", "z")
    high_m: Metres | None = _bulkhead("Top, up", "z")
    use: Use = choice("dry", "Use", "", (("dry", "dry space"), ("tank", "ballast tank")))
    sealed: bool = flag(True, "Keeps its air when swamped")
    vented: bool = flag(False, "Breathes through an opening")
    filled: Ratio = described(0.0, "Filled", "percent", 0, 1)
    liquid: str = named("", "Liquid", "", "liquid")
    room: Ratio = described(0.95, "Room for liquid", "percent", 0.01, 1)

    def __post_init__(self) -> None:
        check_parameters(self)
        for low, high, words in (
            ("aft_m", "fore_m", "fore end must lie ahead of its aft end"),
            ("starboard_m", "port_m", "port side must lie to port of its starboard side"),
            ("low_m", "high_m", "top must lie above its bottom"),
        ):
            a, b = getattr(self, low), getattr(self, high)
            if a is not None and b is not None and not b - a > 1e-9:
                raise InvalidInput(high, f"A compartment's {words}.")

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
    """One revision of one boat, whole. ``case`` names the load case in force, empty for the list as it stands. ``practice`` says that it
    is an example to practise on, none that anybody built."""

    name: str = text(MISSING, "Name")
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
    practice: bool = flag(False, "An example to practise on")
    drag_factor: Ratio = described(1.0, "Holds back, of what is worked out", "ratio", 0.1, 10.0, "1: as worked out; a trial tells")

    @cached_property
    def counts(self) -> dict[str, Ratio]:
        """What differs from the list in the load case in force, by name."""
        case = next((c for c in self.cases if c.name == self.case), None)
        return {c.item: c.quantity for c in case.counts} if case else {}

    @property
    def main_hull(self) -> int:
        """The number of the body that counts as the hull: the first of that part, the first of all where none is."""
        return next((n for n, b in enumerate(self.bodies) if b.role == "hull"), 0)

    @property
    def footprint(self) -> int:
        """Bytes that it takes, near enough: a line of the list is some two thousand."""
        return 20_000 + 2_000 * len(self.weights)

    @cached_property
    def _hash(self) -> int:
        return hash(tuple(getattr(self, f.name) for f in dataclasses.fields(self)))

    def __hash__(self) -> int:
        """Worked out once: a design is looked up many times, and thousands of weights take a while."""
        return self._hash

    def __post_init__(self) -> None:
        check_parameters(self)
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


def parameter_at(design: Any, path: str) -> Parameter:
    """The description of the field at a dotted path; of one part of a place, that part's label. Raises InvalidInput for a path that
    leads nowhere, or to a field that nobody edits by itself."""
    refusal = InvalidInput(path, "No page edits this field.")
    at, found = design, None
    for step in path.split("."):
        if found is not None and isinstance(at, tuple) and found.axes and (axis := whole(step)) is not None and axis < len(found.axes):
            return replace(found, label=found.axes[int(step)], axes=())
        if dataclasses.is_dataclass(at):
            found = parameter_of(at, step)
        try:
            at = _child(at, step, path) if not isinstance(at, type) else None
        except InvalidInput:
            raise refusal from None
        at = Marks if at is None and step == "marks" else at  # where none are painted they can be
    if found is None or found.axes:
        raise refusal
    return found


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
