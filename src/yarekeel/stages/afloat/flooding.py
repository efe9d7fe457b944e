"""Water inside: compartments open to the sea, litres in the bilge, and how long a leak takes."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, NoRest, braced
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.hydrostatics.afloat import Afloat, float_boat
from yarekeel.core.hydrostatics.inside import Laden, Liquid, Part
from yarekeel.core.quantities import CubicMetres, Kilograms, Metres, Ratio, Seconds
from yarekeel.core.search import edge
from yarekeel.core.sources import BRIEF, MECHANICS
from yarekeel.stages.afloat.margins import margin
from yarekeel.stages.design.craft import Craft, Space, half, kernel_about
from yarekeel.stages.design.design import Compartment

LEAK_STEPS = 16
CLOSE: Ratio = 1e-6
"""Of the room: a leak's water is known to that."""
BILGE_ROOM: Ratio = 0.95
"""Of a whole hull: frames and gear take the rest (common practice)."""


@dataclass(frozen=True, slots=True)
class BilgePlace:
    """Where loose water can go: a compartment by its number, or the undivided inside of a body (``number`` None), of a pair that
    of one ``side`` (1 port, -1 starboard, 0 not a pair)."""

    title: str
    number: int | None
    body: int
    side: int = 0


@dataclass(frozen=True, slots=True)
class LeakStep:
    """With so much water in: the lowest opening or rim over the surface, None once it has sunk or rolled over."""

    volume: CubicMetres
    margin: Metres | None


@dataclass(frozen=True, slots=True)
class Leak:
    """``until`` is the time, ``water`` the volume until water comes in by itself; both None where it never does."""

    steps: tuple[LeakStep, ...]
    water: CubicMetres | None
    until: Seconds | None


@dataclass(frozen=True, eq=False)
class FloodAssessment:
    """The boat as it was and with the water in. ``lost`` is what the flooded spaces displaced, ``loose`` the liquid in kg."""

    before: Afloat | None
    after: Afloat | None
    kernel: Laden | None
    lost: CubicMetres
    loose: Kilograms
    leak: Leak | None
    findings: tuple[Finding, ...]


def places(craft: Craft) -> tuple[BilgePlace, ...]:
    """Where loose water can be put: every compartment that could be built, and hulls that are not divided."""
    bodies = craft.design.bodies
    divided = {c.body for c in craft.design.compartments}
    out = []
    for n, b in enumerate(bodies):
        if b.role not in ("hull", "float") or b.name in divided:
            continue
        if b.mirrored and b.at_m[1]:  # the two of a pair are not one room
            out += [BilgePlace(f"bilge of {b.name}, {word}", None, n, side) for side, word in ((1, "port"), (-1, "starboard"))]
        else:
            out.append(BilgePlace(f"bilge of {b.name}", None, n))
    number = {b.name: n for n, b in enumerate(bodies)}
    rooms = [
        BilgePlace(s.compartment.name, n, number[s.compartment.body])
        for n, s in enumerate(craft.spaces)
        if s.kernel and not s.compartment.filled
    ]
    return tuple(rooms + out)


def assess(
    craft: Craft,
    open_to_sea: frozenset[int] = frozenset(),
    litres: CubicMetres = 0.0,
    into: BilgePlace | None = None,
    leak: float = 0.0,
) -> FloodAssessment:
    """Float it with the spaces ``open_to_sea`` (numbers of compartments), ``litres`` (m3) loose in ``into``, and a leak of so
    many m3/s into the same place. Raises InvalidInput for more water than the place holds."""
    total = craft.total
    before = _rest(craft, craft.kernel)
    spaces = craft.spaces
    flooded = [spaces[n] for n in sorted(open_to_sea) if n < len(spaces) and spaces[n].kernel]
    if into is not None and into.number in open_to_sea:
        raise InvalidInput("litres", f"{into.title} is open to the sea already; the sea fills it as far as it can.")
    room = _room(craft, into) if into is not None else None
    if litres > 0 and room is not None and litres > room.capacity * (1 + 1e-9):
        raise InvalidInput(
            "litres", f"{braced(room.compartment.name)} holds {{most:volume}} at most; flood it instead.", most=room.capacity
        )
    kernel = _kernel(craft, flooded, room, litres)
    after = _rest(craft, kernel)
    lost = math.fsum(s.capacity for s in flooded)
    loose = litres * craft.density if room is not None else 0.0
    upright = after is not None and not after.is_capsized
    time = _leak(craft=craft, flooded=flooded, room=room, already=litres, rate=leak) if leak > 0 and room is not None and upright else None
    findings = [_state(craft, before, after, kernel, total.mass)]
    if after is not None and upright:
        findings += _margins(craft, after)
        if time is not None and room is not None:
            findings.append(_leaking(time, room, leak))
    unusable = [s for s in spaces if s.fault]
    findings += [
        Finding("flood.space", "fails", "{name} cannot be used", s.fault, source=MECHANICS, values={"name": s.compartment.name})
        for s in unusable
    ]
    return FloodAssessment(before=before, after=after, kernel=kernel, lost=lost, loose=loose, leak=time, findings=tuple(findings))


def _room(craft: Craft, into: BilgePlace) -> Space:
    """The place as a space; a whole hull's inside is one of its own."""
    if into.number is not None:
        return craft.spaces[into.number]
    body = craft.design.bodies[into.body]
    mesh = craft.piece(into.body) if not into.side else half(body, into.body, into.side)
    return Space(Compartment(into.title, body.name, room=BILGE_ROOM), mesh, kernel_about(mesh, craft.hull.kernel.centre), 1.0, "")


def with_water(craft: Craft, litres: CubicMetres, into: BilgePlace) -> Laden:
    """What floats with so much water (m3) loose in a place. Raises InvalidInput for more than it holds."""
    room = _room(craft, into)
    if litres > room.capacity * (1 + 1e-9):
        raise InvalidInput("litres", f"{braced(room.compartment.name)} holds {{most:volume}} at most.", most=room.capacity)
    return _kernel(craft, (), room, litres)


def _kernel(craft: Craft, flooded: Sequence[Space], room: Space | None, litres: CubicMetres) -> Laden:
    bare = craft.hull.kernel
    names = {s.compartment.name for s in flooded}
    liquids = [q for s, q in craft.tank_liquids if s.compartment.name not in names]
    if room is not None and litres > 0:
        liquids.append(Liquid(room.kernel_or_fail, min(litres, room.capacity), 1.0, room.compartment.room))
    return Laden(bare, (Part(bare), *(s.lost for s in flooded)), liquids)


def _rest(craft: Craft, kernel: Flotation | Laden) -> Afloat | None:
    total = craft.total
    try:
        return float_boat(hull=craft.hull, mass=total.mass, gravity=total.centre, density=craft.density, start=None, kernel=kernel)
    except NoRest:
        return None


def _leak(craft: Craft, flooded: Sequence[Space], room: Space, already: CubicMetres, rate: float) -> Leak:
    """March the water in, then close in on where the margin ends."""

    def left(volume: CubicMetres) -> Metres | None:
        now = _rest(craft, _kernel(craft, flooded, room, volume))
        return None if now is None or now.is_capsized else margin(craft, now.attitude)[0]

    whole = room.capacity
    steps = []
    for k in range(LEAK_STEPS + 1):
        volume = already + (whole - already) * k / LEAK_STEPS
        steps.append(LeakStep(volume, left(volume)))
        if steps[-1].margin is None or (steps[-1].margin or 0.0) <= 0:
            break
    last = steps[-1]
    if last.margin is not None and last.margin > 0:
        return Leak(tuple(steps), None, None)
    low, high = (steps[-2].volume if len(steps) > 1 else already), last.volume

    def over(volume: CubicMetres) -> Metres:
        at = left(volume)
        return 1.0 if at is None else -at

    water = edge(over, low, high, CLOSE * whole)
    return Leak(tuple(steps), water, (water - already) / rate)


def _state(craft: Craft, before: Afloat | None, after: Afloat | None, kernel: Laden, mass: Kilograms) -> Finding:
    if after is None:
        capacity = kernel.total_volume * craft.density
        values = {"mass": mass, "capacity": max(capacity, 0.0), "short": mass - capacity}
        return Finding(
            "flood.sinks",
            "fails",
            "It sinks with this water in it",
            "It weighs {mass:mass} and what is left of it carries {capacity:mass}: {short:mass} too little.",
            source=MECHANICS,
            values=values,
            remedies=(Remedy("Divide it more finely, or fill a space with foam", "shape"),),
        )
    a = after.attitude
    if after.is_capsized:
        return Finding(
            "flood.capsizes",
            "fails",
            "It rolls over with this water in it",
            "Left alone it {heel:heel} and rests there.",
            source=MECHANICS,
            values={"heel": a.heel},
            remedies=(Remedy("Divide the space more finely, or fill some of it with foam", "float"),),
        )
    values = {
        "trim": a.trim,
        "heel": a.heel,
        "gm": after.gm_transverse,
        "lost": (before.gm_transverse - after.gm_transverse) if before else 0.0,
        "free": after.freeboard,
    }
    severity: Severity = "fails" if after.freeboard < 0 else "near" if after.is_lolling else "holds"
    return Finding(
        "flood.afloat",
        severity,
        "Its rim goes under: {trim:trim}, {heel:heel}" if severity == "fails" else "It still floats: {trim:trim}, {heel:heel}",
        "GM is {gm:length}, {lost:length} less than dry." if values["lost"] >= 0 else "GM is {gm:length}.",
        source=MECHANICS,
        values=values,
    )


def _margins(craft: Craft, after: Afloat) -> list[Finding]:
    asked, (left, name) = craft.design.brief.least_freeboard_m, margin(craft, after.attitude)
    values: dict[str, float | str] = {"left": left, "under": -left, "asked": asked, "name": name}
    if left <= 0:
        return [
            Finding(
                "flood.open",
                "fails",
                "More water comes in at {name}",
                "It lies {under:length} under: the boat goes on filling, and this is not where it ends.",
                source=MECHANICS,
                values=values,
            )
        ]
    severity: Severity = "holds" if left >= asked else "note"  # the brief asks it of the dry boat
    return [
        Finding(
            "flood.margin", severity, "{left:length} left at {name}", "You asked for {asked:length} when dry.", source=BRIEF, values=values
        )
    ]


def _leaking(leak: Leak, room: Space, rate: float) -> Finding:
    values: dict[str, float | str] = {"rate": rate, "name": room.compartment.name, "full": room.capacity}
    if leak.until is None or leak.water is None:
        return Finding(
            "flood.leak_held",
            "holds",
            "It stays afloat with {name} full",
            "The leak fills it ({full:volume}) and nothing else goes under.",
            source=MECHANICS,
            values=values,
        )
    values |= {"water": leak.water, "time": leak.until}
    return Finding(
        "flood.leak",
        "near" if leak.until > 600 else "fails",
        "{time:minutes} until water comes in by itself",
        "A leak of {rate:flow}; then {water:volume} are in {name}.",
        source=MECHANICS,
        values=values,
        remedies=(Remedy("Know where it can be reached from, and how", None),),
    )
