"""The ways in which a tippy boat is cured: each builds this boat with some amount of it, and says what that takes.

Ballast is simple, and heavier to carry; water ballast is carried only afloat; outriggers are most stable per gram, and wide; side
strips and a wider hull are permanent; a lower seat costs nothing until the floor is reached (common practice).
"""

import dataclasses
import math
from collections.abc import Callable
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.geometry.families.box import Box
from yarekeel.core.geometry.families.pontoon import Pontoon
from yarekeel.core.hydrostatics import curves
from yarekeel.core.hydrostatics.afloat import Afloat
from yarekeel.core.quantities import Kilograms, Metres, Ratio, SquareMetres
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Compartment, Design
from yarekeel.stages.design.outers import outers_of
from yarekeel.stages.design.resizing import refitted
from yarekeel.stages.stability import floats

BALLAST_UP: Ratio = 0.08
"""Of the depth: ballast lies that high on the bottom."""
SKIN = {"people": 0.9, "model": 0.5}
"""kg/m2 of glass and resin over foam: two layers of cloth, or one (common practice)."""
BEAMS: Ratio = 0.35
"""Cross beams of an outrigger weigh about so much of its floats (common practice)."""
SEAT_OVER_FLOOR: Metres = 0.32
"""A sitting person's centre over the bottom, on a cushion (about 0.25 m over the seat, from memory)."""


@dataclass(frozen=True, slots=True)
class Way:
    """How a cure goes: the range of its amount, the boat with an amount, and the sentences for it."""

    code: str
    low: float
    high: float
    make: Callable[[float], Design]
    title: Callable[[float, Craft], tuple[str, dict[str, float | str]]]
    effort: Callable[[float, Craft], tuple[str, dict[str, float | str]]]


NAMES = {
    "ballast": "Ballast",
    "water": "Water ballast",
    "outrigger": "Outriggers",
    "lower": "Lower the floats",
    "apart": "Floats further out",
    "strips": "Side strips",
    "wider": "Wider sections",
    "spacing": "Hulls further apart",
    "seat": "Lower weights",
}


def codes_of(craft: Craft) -> tuple[str, ...]:
    """The cures that can be tried on a boat, in the order they are shown."""
    outers = outers_of(craft)
    pair = any(not o.is_float for o in outers)
    has_floats = any(o.is_float for o in outers)
    out = ["ballast", "water", "seat"]
    if has_floats:
        out += ["lower", "apart"]
    elif not pair:
        out.append("outrigger")
    if pair:
        out.append("spacing")
    out += ["strips", "wider"]
    return tuple(out)


class NoWay(Exception):
    """A cure that cannot be tried on this boat, with the sentence."""

    def __init__(self, sentence: str, values: dict[str, float | str] | None = None) -> None:
        super().__init__(sentence)
        self.sentence, self.values = sentence, values or {}


def _main(craft: Craft) -> int:
    """The number of the body that counts as the hull: the first of that part."""
    return next((n for n, b in enumerate(craft.design.bodies) if b.role == "hull"), 0)


def _name(craft: Craft, start: str) -> str:
    taken = {b.name for b in craft.design.bodies} | {w.name for w in craft.design.weights} | {c.name for c in craft.design.compartments}
    return next(n for n in (start, *(f"{start} {k}" for k in range(2, 100))) if n not in taken)


def _ballast(craft: Craft) -> Way:
    main = craft.piece(_main(craft)).bounds
    total = craft.total
    z = float(main[0][2] + BALLAST_UP * (main[1][2] - main[0][2]))
    reserve = craft.hull.kernel.total_volume * craft.density - total.mass - craft.liquid_mass
    most = min(2.0 * total.mass, 0.9 * reserve)
    if most <= 0:
        raise NoWay("It has no buoyancy to spare for ballast.")
    name = _name(craft, "Ballast")

    def make(kg: float) -> Design:
        item = WeightItem(name, kg, (total.centre[0], 0.0, z), "weighed", group="ballast", material="lead")
        return dataclasses.replace(craft.design, weights=(*craft.design.weights, item))

    def title(kg: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        return "Ballast: {kg:mass} at {x:length} from aft", {"kg": kg, "x": total.centre[0]}

    def effort(kg: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        return "lead, {volume:volume}, fixed low", {"volume": kg / MATERIALS["lead"].density}

    return Way("ballast", 0.0, most, make, title, effort)


def _water(craft: Craft) -> Way:
    number = _main(craft)
    body = craft.design.bodies[number]
    low, high = craft.piece(number).bounds
    length, depth = float(high[0] - low[0]), float(high[2] - low[2])
    if any(c.body == body.name and c.use == "dry" and c.low_m is None and c.high_m is None for c in craft.design.compartments):
        raise NoWay("The space at the bottom of {body} is a compartment already; make it a tank in Float.", {"body": body.name})
    name = _name(craft, "water ballast")
    x = craft.total.centre[0]
    aft, fore = max(float(low[0]), x - 0.25 * length), min(float(high[0]), x + 0.25 * length)

    def make(up: float) -> Design:
        space = Compartment(name, body.name, aft, fore, high_m=float(low[2]) + up, use="tank", filled=1.0)
        changed = dataclasses.replace(craft.design, compartments=(*craft.design.compartments, space))
        if Craft(changed).spaces[-1].kernel is None:
            raise InvalidInput("compartments", Craft(changed).spaces[-1].fault)
        return changed

    def title(up: float, after: Craft) -> tuple[str, dict[str, float | str]]:
        return "Water ballast: a full tank of {volume:volume}", {"volume": after.spaces[-1].capacity}

    def effort(up: float, after: Craft) -> tuple[str, dict[str, float | str]]:
        return "a tank {up:length} high, {long:length} long, filler, vent, pump", {"up": up, "long": fore - aft}

    return Way("water", 0.0, 0.7 * depth, make, title, effort)


def _coated(craft: Craft, body: Body) -> tuple[Kilograms, SquareMetres, float]:
    """Mass of a body of foam under glass with its image, its skin and its volume."""
    mesh = Craft(dataclasses.replace(craft.design, bodies=(body,), compartments=())).piece(0)
    skin = mesh.area
    return mesh.volume * MATERIALS["xps"].density + skin * SKIN[craft.design.brief.kind], skin, mesh.volume


def _outrigger(craft: Craft) -> Way:
    number = _main(craft)
    low, high = craft.piece(number).bounds
    length, beam, depth = (float(v) for v in high - low)
    name = _name(craft, "outrigger")
    rest = _rest(craft)
    y = 0.5 * beam + 0.6 * beam

    def body(deep: float) -> Body:
        long = max(min(12 * deep, 0.6 * length), 0.02)
        # A third of it in the water at rest: it holds from the first degree.
        z = -rest.upright.attitude.height_of((craft.total.centre[0], 0.0, 0.0)) - deep / 3
        at = (craft.total.centre[0] - 0.45 * long, y, z)
        return Body(name, Pontoon(long, max(1.1 * deep, 0.02), deep, 0.3 * long), at, mirrored=True, role="float")

    def make(deep: float) -> Design:
        one = body(deep)
        mass, _, _ = _coated(craft, one)
        _, _, z = one.at_m
        item = WeightItem(
            f"{name[:1].upper()}{name[1:]}s and beams",
            mass * (1 + BEAMS),
            (craft.total.centre[0], 0.0, z + 0.8 * deep),
            "guessed",
            group="structure",
        )
        return dataclasses.replace(craft.design, bodies=(*craft.design.bodies, one), weights=(*craft.design.weights, item))

    def title(deep: float, after: Craft) -> tuple[str, dict[str, float | str]]:
        one = body(deep)
        values: dict[str, float | str] = {"volume": _coated(craft, one)[2] / 2, "y": y, "up": one.at_m[2]}
        return "Outriggers: {volume:volume} each, {y:length} out, {up:length} up", values

    def effort(deep: float, after: Craft) -> tuple[str, dict[str, float | str]]:
        _, skin, volume = _coated(craft, body(deep))
        text = "foam {volume:volume}, glass {skin:area}, two beams {span:length}"
        return text, {"volume": volume, "skin": skin, "span": 2 * y}

    return Way("outrigger", max(0.005, 0.02 * depth), 0.8 * depth, make, title, effort)


def _lower(craft: Craft) -> Way:
    outers = [o for o in outers_of(craft) if o.is_float]
    rest = _rest(craft)
    clear = max(min(o.heights(rest.upright.attitude)[0] for o in outers), 0.0)
    depth = max(float(o.mesh.bounds[1][2] - o.mesh.bounds[0][2]) for o in outers)

    def make(by: float) -> Design:
        return floats.with_floats_lower(craft.design, by)

    def title(by: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        return "Lower the floats by {by:length}", {"by": by}

    def effort(by: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        return "new brackets, or packing under the beams", {}

    return Way("lower", 0.0, clear + 0.8 * depth, make, title, effort)


def _apart(craft: Craft) -> Way:
    numbers = {o.number for o in outers_of(craft) if o.is_float}
    now = max(abs(craft.design.bodies[n].at_m[1]) for n in numbers)

    def make(by: float) -> Design:
        bodies = tuple(
            dataclasses.replace(b, at_m=(b.at_m[0], b.at_m[1] + math.copysign(by, b.at_m[1]), b.at_m[2])) if n in numbers else b
            for n, b in enumerate(craft.design.bodies)
        )
        return dataclasses.replace(craft.design, bodies=bodies)

    def title(by: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        return "Floats {by:length} further out on each side", {"by": by}

    def effort(by: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        return "cross beams {more:length} longer", {"more": 2 * by}

    return Way("apart", 0.0, 1.0 * now, make, title, effort)


def _strips(craft: Craft) -> Way:
    number = _main(craft)
    low, high = craft.piece(number).bounds
    length, beam, depth = (float(v) for v in high - low)
    rest = _rest(craft)
    level = -rest.upright.attitude.height_of((float(low[0] + high[0]) / 2, 0.0, 0.0))
    tall = min(max(0.45 * depth, 0.005), 0.9 * depth)
    bottom = min(max(level - 0.5 * tall, float(low[2])), float(high[2]) - tall)
    name = _name(craft, "side strip")
    long, aft = 0.5 * length, float(low[0]) + 0.25 * length
    # Bent along the side, a strip lies as far out as the side does in the mean; let in a little, so that it touches.
    hull = craft.piece(number)
    met = [curves.waterline_at(hull, aft + long * (k + 0.5) / 8, bottom + tall / 2) for k in range(8)]
    side = sum(m[0] for m in met if m) / max(sum(1 for m in met if m), 1) or beam / 2
    let_in = 0.02 * beam

    def body(wide: float) -> Body:
        at = (aft, side + (wide - let_in) / 2, bottom)
        return Body(name, Box(long, wide + let_in, tall), at, mirrored=True, role="foam")

    def make(wide: float) -> Design:
        one = body(wide)
        mass = 2 * (long * wide * tall * MATERIALS["xps"].density + long * (2 * wide + tall) * SKIN[craft.design.brief.kind])
        at = (one.at_m[0] + long / 2, 0.0, bottom + tall / 2)
        item = WeightItem(f"{name[:1].upper()}{name[1:]}s", mass, at, "guessed", group="structure")
        return dataclasses.replace(craft.design, bodies=(*craft.design.bodies, one), weights=(*craft.design.weights, item))

    def title(wide: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        return "Side strips {wide:length} wide", {"wide": wide}

    def effort(wide: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        values: dict[str, float | str] = {"volume": 2 * long * wide * tall, "skin": 2 * long * (2 * wide + tall), "tall": tall}
        return "foam {volume:volume}, glass {skin:area}, {tall:length} high", values

    return Way("strips", 0.0, 0.6 * beam, make, title, effort)


def _wider(craft: Craft) -> Way:
    number = _main(craft)
    body = craft.design.bodies[number]
    at = f"bodies.{number}"
    name = next((n for n in ("hull_beam_m", "beam_m") if hasattr(body.shape, n)), "")
    path, now = (f"{at}.shape.{name}", float(getattr(body.shape, name))) if name else (f"{at}.scale.1", body.scale[1])
    before = craft.hull.mesh.area

    def make(by: float) -> Design:
        changed = refitted(craft, path, now * (1 + by))
        Craft(changed).hull  # noqa: B018 a hull that cannot be built is refused here
        return changed

    def title(by: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        values: dict[str, float | str] = {"by": by, "beam": now * (1 + by)}
        return ("Wider sections: {beam:length}, {by:percent1} more" if name else "Wider sections by {by:percent1}"), values

    def effort(by: float, after: Craft) -> tuple[str, dict[str, float | str]]:
        return "a new hull, {skin:area} more skin", {"skin": after.hull.mesh.area - before}

    return Way("wider", 0.0, 1.0, make, title, effort)


def _spacing(craft: Craft) -> Way:
    outer = next(o for o in outers_of(craft) if not o.is_float)
    body = craft.design.bodies[outer.number]
    at = f"bodies.{outer.number}"
    twin = body.shape.kind == "twin_hull"
    path = f"{at}.shape.hull_spacing_m" if twin else f"{at}.at_m.1"
    now = float(getattr(body.shape, "hull_spacing_m", 0.0)) if twin else abs(body.at_m[1])

    def make(by: float) -> Design:
        value = now + (by if twin else by / 2)
        changed = refitted(craft, path, value if twin or body.at_m[1] > 0 else -value)
        Craft(changed).hull  # noqa: B018 a hull that cannot be built is refused here
        return changed

    def title(by: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        return "Hulls {by:length} further apart", {"by": by}

    def effort(by: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        return "new cross beams, {by:length} longer", {"by": by}

    return Way("spacing", 0.0, 1.5 * now * (1 if twin else 2), make, title, effort)


def _seat(craft: Craft) -> Way:
    items = craft.items
    crew = [k for k, i in enumerate(items) if i.group == "crew" and i.mass_kg > 0 and not i.fixed]
    low = float(craft.hull.mesh.bounds[0][2]) if not crew else float(craft.piece(_main(craft)).bounds[0][2])
    if crew:
        which, room = crew, min(items[k].at_m[2] for k in crew) - (low + SEAT_OVER_FLOOR)
    else:
        which = [k for k, i in enumerate(items) if i.mass_kg > 0 and not i.structure and not i.fixed and i.at_m[2] > low]
        room = max((items[k].at_m[2] for k in which), default=low) - low
    if not which or room <= 1e-4:
        raise NoWay("Those aboard sit as low as they can." if crew else "Nothing that is loose could go lower.")
    floor = low + (SEAT_OVER_FLOOR if crew else 0.05 * float(craft.hull.mesh.bounds[1][2] - craft.hull.mesh.bounds[0][2]))

    def make(by: float) -> Design:
        weights = list(craft.design.weights)
        for k in which:
            x, y, z = weights[k].at_m
            weights[k] = dataclasses.replace(weights[k], at_m=(x, y, max(z - by, min(z, floor))))
        return dataclasses.replace(craft.design, weights=tuple(weights))

    def title(by: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        text = "Seats {by:length} lower" if crew else "Loose weights {by:length} lower"
        return text, {"by": by}

    def effort(by: float, _: Craft) -> tuple[str, dict[str, float | str]]:
        return ("cut the seats down" if crew else "shift and strap down"), {}

    return Way("seat", 0.0, room, make, title, effort)


def _rest(craft: Craft) -> Afloat:
    try:
        return craft.rest()
    except NoRest:
        raise NoWay("It does not float as it is; lighten it or make it larger first.") from None


WAYS: dict[str, Callable[[Craft], Way]] = {
    "ballast": _ballast,
    "water": _water,
    "outrigger": _outrigger,
    "lower": _lower,
    "apart": _apart,
    "strips": _strips,
    "wider": _wider,
    "spacing": _spacing,
    "seat": _seat,
}
