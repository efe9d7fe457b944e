"""What it carries, and what levels it: every answer is a change that can be made, and is checked on the boat with it made."""

import bisect
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from yarekeel.core.errors import InvalidInput, NoAnswer, NoRest
from yarekeel.core.geometry.flotation import centre_below
from yarekeel.core.hydrostatics.afloat import LEAST_UP, Afloat, float_boat, level_centre
from yarekeel.core.hydrostatics.equilibrium import required_volume, solve_equilibrium
from yarekeel.core.kept import kept
from yarekeel.core.quantities import CubicMetres, Kilograms, Metres, Point
from yarekeel.core.search import edge, first_turn
from yarekeel.core.trials.float_test import attitude_from_drafts
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.stages.afloat.forced import rail_at
from yarekeel.stages.changes.ways.ballast_at import mass_that_levels
from yarekeel.stages.design import listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.limits import limit_always

SCANNED = 12
"""Steps of a load that are looked over before its edge is closed in on."""
CLOSE = 1e-8
"""Of all that a load could be: it is known to that."""
LOST = -1.0
"""What a boat that floats no more has to spare."""
Spread = Literal["even", "side"]


@dataclass(frozen=True, slots=True)
class Move:
    """One weight's new place."""

    index: int
    name: str
    forward: Metres
    to_port: Metres
    place: Point


def level_by(craft: Craft, indexes: Sequence[int], room: Sequence[tuple[Metres, Metres] | None] = ()) -> tuple[Move, ...]:
    """Move one or two weights, at their heights, so that the boat floats level: G over the level hull's B, exactly.

    ``room`` is how far each may go along the boat (from, to; metres from aft), None for the length of the hull. The heavier
    goes first, as far as it may, the other the rest; athwart both go within the beam. Raises NoAnswer with what is left over.
    """
    low, high = craft.hull.mesh.bounds
    total = craft.total
    b = level_centre(craft.kernel, total.mass / craft.density)
    need = [total.mass * (b[k] - total.centre[k]) for k in (0, 1)]
    chosen = [(k, room[n] if n < len(room) else None) for n, k in enumerate(dict.fromkeys(indexes))]
    if not chosen:
        raise InvalidInput("item", "Choose a weight to move.")
    moves = []
    for k, within in sorted(chosen, key=lambda c: -craft.items[c[0]].mass_kg):
        item = craft.items[k]
        if item.mass_kg <= 0 or item.fixed:
            raise InvalidInput("item", f"{item.name} cannot be moved: it weighs nothing in this load, or is built with the hull.")
        x, y, z = item.at_m
        first, last = within or (float(low[0]), float(high[0]))
        to_x = min(max(x + need[0] / item.mass_kg, min(first, x)), max(last, x))
        to_y = min(max(y + need[1] / item.mass_kg, float(low[1])), float(high[1]))
        need = [need[0] - item.mass_kg * (to_x - x), need[1] - item.mass_kg * (to_y - y)]
        moves.append(Move(k, item.name, to_x - x, to_y - y, (to_x, to_y, z)))
    if max(abs(n) for n in need) > 1e-9 * total.mass * craft.hull.kernel.half_extent:
        missing = max(abs(n) for n in need)
        kg = missing / (0.5 * float(high[0] - low[0]))
        raise NoAnswer(f"Within their room they do not level it: {kg:.3g} kg moved half the boat's length would still be needed.")
    return tuple(m for m in moves if max(abs(m.forward), abs(m.to_port)) > 1e-7)


def moved(craft: Craft, moves: Sequence[Move]) -> Design:
    """The boat with the moves made."""
    for m in moves:
        craft = Craft(listing.put(craft, m.index, m.place))
    return craft.design


@dataclass(frozen=True, slots=True)
class Load:
    """A weight to be put aboard: how much, where, of what volume, and what stops there being more (empty for nothing)."""

    mass: Kilograms
    at: Point
    volume: CubicMetres = 0.0
    limit: str = ""


def with_load(craft: Craft, load: Load, name: str, group: str = "ballast", material: str = "") -> Design:
    """The boat with the load on its list."""
    code = material if material in MATERIALS else ""
    line = WeightItem(name, load.mass, load.at, "data", group=group, material=code)  # type: ignore[arg-type]
    return listing.appended(craft.design, [line])


def ballast_at(craft: Craft, x: Metres, material: str = "lead") -> Load:
    """Ballast at ``x`` from aft, low in the boat, that levels it fore and aft, and athwart too where its mass allows it inside.

    Raises NoAnswer where no mass there does it.
    """
    low, high = craft.hull.mesh.bounds
    if not low[0] <= x <= high[0]:
        raise InvalidInput(
            "ballast", "A place lies between {low:length} and {high:length} from aft.", low=float(low[0]), high=float(high[0])
        )
    total = craft.total
    mass = mass_that_levels(craft, x)
    if mass is None:
        raise NoAnswer("No mass there levels it; try the end that rides high.")
    b = level_centre(craft.kernel, (total.mass + mass) / craft.density)
    y = ((total.mass + mass) * b[1] - total.mass * total.centre[1]) / mass if mass > 0 else 0.0
    y = min(max(y, 0.8 * float(low[1])), 0.8 * float(high[1]))
    z = float(low[2]) + 0.1 * float(high[2] - low[2])
    return Load(mass, (x, y, z), mass / craft.material(material).density)


@kept
def ballast_for_gm(craft: Craft, gm: Metres, material: str = "lead") -> Load:
    """Ballast on the bottom under B that brings GM to ``gm``. Raises NoAnswer where the boat then sinks first."""
    low, high = craft.hull.mesh.bounds
    z = float(low[2]) + 0.05 * float(high[2] - low[2])
    total, rho = craft.total, craft.density

    def at(mass: Kilograms) -> Point:
        x, y, _ = level_centre(craft.kernel, (total.mass + mass) / rho)
        return x, y, z

    def over(mass: Kilograms) -> float:
        afloat = _with(craft, mass, at(mass))
        return LOST if afloat is None or afloat.is_capsized else afloat.judged_gm - gm

    if over(0.0) >= 0:
        raise NoAnswer("It is as stiff as that already: no ballast is needed.")
    most = 0.98 * (craft.kernel.total_volume * rho - total.mass)
    steps = [most * k / SCANNED for k in range(SCANNED + 1)]
    found = first_turn(lambda mass: over(mass) >= 0, steps) if most > 0 else None
    if found is None:
        raise NoAnswer("No ballast makes it that stiff before it sinks: make it wider, or bring weights down.")
    mass = edge(over, *found, CLOSE * most)
    return Load(mass, at(mass), mass / craft.material(material).density)


def waterline(craft: Craft, bow: Metres, stern: Metres, z: Metres | None = None) -> Load:
    """What must come aboard, and where, for the boat to float upright at the two drafts (at its marks); ``z`` its height, by
    default low in the boat. Raises NoAnswer where mass would have to go ashore, or the place lies outside the boat."""
    marks, kernel, total = craft.marks, craft.kernel, craft.total
    low, high = craft.hull.mesh.bounds
    attitude = attitude_from_drafts(bow_x=marks.bow_x_m, bow=bow, stern_x=marks.stern_x_m, stern=stern, heel=0.0)
    d = -attitude.height_of(kernel.centre)
    m = kernel.evaluate(attitude.rows, d)
    if m.volume <= 1e-9 * kernel.total_volume:
        raise NoAnswer("At these drafts the hull is clear of the water.")
    mass = m.volume * craft.density - total.mass
    if mass < -1e-9 * total.mass:
        raise NoAnswer(f"It floats deeper than that already: {-mass:.4g} kg would have to go ashore.")
    b = centre_below(m, kernel.centre, attitude.rows, d)
    z = float(low[2]) + 0.1 * float(high[2] - low[2]) if z is None else z
    if mass < 1e-9 * total.mass:
        return Load(0.0, (b[0], 0.0, z))
    whole = total.mass + mass
    vcg = (total.mass * total.centre[2] + mass * z) / whole
    up = attitude.up
    t = (vcg - b[2]) / up[2]
    lcg, tcg = b[0] + t * up[0], b[1] + t * up[1]
    x, y = (whole * lcg - total.mass * total.centre[0]) / mass, (whole * tcg - total.mass * total.centre[1]) / mass
    if not (low[0] <= x <= high[0] and low[1] <= y <= high[1]):
        where = "forward of the bow" if x > high[0] else "aft of the stern" if x < low[0] else "beside the boat"
        raise NoAnswer(f"{mass:.4g} kg would do it, but {where} ({x:.3g} m from aft): move a weight as well.")
    return Load(mass, (x, y, z))


@kept
def heaviest(craft: Craft, at: Point) -> Load:
    """The heaviest load at a place that the brief allows: its freeboard, trim, heel and GM, no opening under. ``limit`` names
    what stops more. Raises NoAnswer where the brief is missed with nothing there."""

    def margin(mass: Kilograms) -> float:
        return _worst(craft, mass, at)[0]

    first, word = _worst(craft, 0.0, at)
    if first < 0:
        raise NoAnswer(f"It misses the brief with nothing there: {word}. Mend that first.")
    # A load can be good, then bad, then good again (it levels the boat first): take the first stretch that is good.
    most = craft.kernel.total_volume * craft.density - craft.total.mass
    good, bad = first_turn(lambda mass: margin(mass) >= 0, [most * k / SCANNED for k in range(SCANNED + 1)]) or (0.0, most)
    mass = edge(margin, bad, good, CLOSE * most)
    return Load(mass, at, limit=_worst(craft, mass + 2 * CLOSE * most, at)[1])


def _worst(craft: Craft, mass: Kilograms, at: Point) -> tuple[float, str]:
    """The limit that a boat with a load keeps by least or misses by most, as a margin and a word."""
    brief, a = craft.design.brief, _with(craft, mass, at)
    if a is None:
        return LOST, "floating at all"
    if a.is_unsteady:
        return LOST, "staying upright"
    values = (("freeboard", a.freeboard), ("trim", a.attitude.trim), ("heel", a.attitude.heel), ("gm", a.judged_gm))
    limits = [(limit_always(brief, code), value) for code, value in values]
    margins = [(limit.margin(value), limit.word) for limit, value in limits]
    return min([*margins, *((a.attitude.height_of(p), "an opening") for _, p in craft.openings)])


@dataclass(frozen=True, slots=True)
class Capacity:
    """What it takes until the rim or an opening goes under: ``central`` over the level boat's B, ``side`` at the rail, ``end``
    at the worse end; each 0 where nothing can go there."""

    central: Load
    side: Load
    end: Load


@kept
def capacity(craft: Craft, height: Metres | None = None) -> Capacity:
    """Load, at ``height`` (by default a third up), until water comes in, placed well and placed badly."""
    low, high = craft.hull.mesh.bounds
    z = float(low[2]) + 0.33 * float(high[2] - low[2]) if height is None else height
    x, y, _ = level_centre(craft.kernel, craft.total.mass / craft.density)
    rail = rail_at(craft, -1.0)
    ends = [_until(craft, _fixed(float(low[0] + share * (high[0] - low[0])), y, z)) for share in (0.05, 0.95)]
    return Capacity(
        _until(craft, lambda m: (*_level_xy(craft, m), z)),
        _until(craft, _fixed(x, 0.9 * rail[1], z)),
        min(ends, key=lambda load: load.mass),
    )


def _fixed(x: Metres, y: Metres, z: Metres) -> Callable[[Kilograms], Point]:
    return lambda _: (x, y, z)


def _level_xy(craft: Craft, mass: Kilograms) -> tuple[Metres, Metres]:
    """Where ``mass`` must sit for the boat to be level with it, kept within the boat."""
    total = craft.total
    if mass <= 0:
        return total.centre[0], total.centre[1]
    whole = total.mass + mass
    b = level_centre(craft.kernel, whole / craft.density)
    low, high = craft.hull.mesh.bounds
    x, y = ((whole * b[k] - total.mass * total.centre[k]) / mass for k in (0, 1))
    return min(max(x, float(low[0])), float(high[0])), min(max(y, float(low[1])), float(high[1]))


def _until(craft: Craft, place: Callable[[Kilograms], Point]) -> Load:
    most = craft.kernel.total_volume * craft.density - craft.total.mass

    def left(mass: Kilograms) -> Metres:
        return _dry_by(craft, mass, place(mass))

    if most <= 0 or left(0.0) <= 0:
        return Load(0.0, place(0.0), limit="it is under already")
    dry, wet = first_turn(lambda mass: left(mass) > 0, [most * k / SCANNED for k in range(SCANNED + 1)]) or (0.0, most)
    mass = edge(left, wet, dry, CLOSE * most)
    over = mass + 2 * CLOSE * most
    return Load(mass, place(mass), limit=_why_wet(craft, _with(craft, over, place(over))))


def _dry_by(craft: Craft, mass: Kilograms, at: Point) -> Metres:
    """How high rim and openings stand over the water with a load at a place; less than 0 where one is under, or it floats no more."""
    total, kernel = craft.total, craft.kernel
    whole = total.mass + mass
    x, y, z = ((total.mass * total.centre[k] + mass * at[k]) / whole for k in range(3))
    try:
        a = solve_equilibrium(kernel, required_volume(kernel, whole, craft.density), (x, y, z)).attitude
    except NoRest:
        return LOST
    return min([craft.hull.least_freeboard(a)[0], *(a.height_of(p) for _, p in craft.openings)]) if a.up[2] > LEAST_UP else LOST


def _why_wet(craft: Craft, a: Afloat | None) -> str:
    if a is None:
        return "it sinks"
    if a.is_capsized:
        return "it rolls over"
    opening = next((name for name, p in craft.openings if a.attitude.height_of(p) <= a.freeboard and a.attitude.height_of(p) <= 1e-6), None)
    return f"{opening} goes under" if opening else "the rim goes under"


@dataclass(frozen=True, slots=True)
class Loads:
    """How many equal loads it takes: the ``last`` that floats; ``why`` the next one is too many."""

    last: int
    why: str


MOST_LOADS = 100_000


@kept
def equal_loads(craft: Craft, each: Kilograms, how: Spread, height: Metres | None = None) -> Loads:
    """Equal loads laid on the bottom until water comes in: evenly placed (their middle where the boat lies level), or all along
    one side, a quarter of the beam off the middle. Raises InvalidInput for a load of nothing."""
    if not (math.isfinite(each) and each > 0):
        raise InvalidInput("each", "Each load must weigh more than nothing, for example 5 g.")
    low, high = craft.hull.mesh.bounds
    z = float(low[2]) + 0.1 * float(high[2] - low[2]) if height is None else height
    side = 0.0 if how == "even" else -0.25 * float(high[1] - low[1])

    def at(count: int) -> Point:
        x, y = _level_xy(craft, count * each)
        return x, y + side, z

    def wet(count: int) -> bool:
        return _dry_by(craft, count * each, at(count)) <= 0

    if wet(0):
        return Loads(0, "it is under with nothing in it")
    most = int((craft.kernel.total_volume * craft.density - _mass(craft)) / each) + 1
    if most > MOST_LOADS:
        raise InvalidInput("each", f"It takes more than {MOST_LOADS} of so little; say a larger load.")
    bad = bisect.bisect_left(range(most), True, lo=1, key=wet)
    return Loads(bad - 1, _why_wet(craft, _with(craft, bad * each, at(bad))))


def _mass(craft: Craft) -> Kilograms:
    return math.fsum(i.mass_kg for i in craft.items)


def _with(craft: Craft, mass: Kilograms, at: Point) -> Afloat | None:
    """The boat with a load at a place; None when it sinks or does not settle."""
    total = craft.total
    whole = total.mass + mass
    x, y, z = ((total.mass * total.centre[k] + mass * at[k]) / whole for k in range(3))
    try:
        return float_boat(hull=craft.hull, mass=whole, gravity=(x, y, z), density=craft.density, start=None, kernel=craft.kernel)
    except NoRest:
        return None
