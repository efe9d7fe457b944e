"""Foils and wings: where they lift the boat, whether front and rear lift together, how high it flies, what holds it there."""

import dataclasses
import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.constants import AIR_DENSITY, STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.kept import kept
from yarekeel.core.lifting import wing
from yarekeel.core.quantities import Degrees, Metres, MetresPerSecond, NewtonMetres, Newtons, Radians, Ratio
from yarekeel.core.running.balance import Balanced
from yarekeel.core.running.forces import Foil, Underway
from yarekeel.core.running.laws.foils import SHALLOW, wet_share
from yarekeel.core.sources import COMMON_PRACTICE, HOUGH_MORAN_1969, PRANDTL_1921, STATICS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design, with_value
from yarekeel.stages.running.boat import bare_hull, underway_of
from yarekeel.stages.running.foils import foil_of, wings_of
from yarekeel.stages.running.resistance import Resistance, resistance_of
from yarekeel.stages.underway.coasting import crossing
from yarekeel.stages.underway.speed import thrust_over

TOGETHER: tuple[Ratio, Ratio] = (0.80, 0.98)
"""Speed at which the front foil lifts its share, over the rear one's, that is taken for together: the front one loses lift as it nears the
surface, so that it must be a little ahead (common practice)."""
APART: tuple[Ratio, Ratio] = (0.60, 1.10)
AIM: Ratio = 0.92
CRUISE: Ratio = 1.3
"""Times the speed at which it lifts off: where it is looked at flying, if the drive is not known to reach further."""
STALLED: Ratio = 0.97
LEAN_ON: Ratio = 0.01
"""Of the waterline, that G is moved by for the moment that a control surface is measured with."""
MOST_ANGLE: Degrees = 20.0
MOST_SHIFT: Ratio = 0.2
"""Of the waterline, that G is moved by at most."""
ROWS = 8


@dataclass(frozen=True, slots=True)
class Wing:
    """A wing of the boat: number of its body, the wing, whether it works in the water, the share of the weight that lies on it by moments
    about the other end, and the speed at which it lifts that share at the trim of rest (endless where its angle lifts nothing)."""

    body: int
    foil: Foil
    wet: bool
    share: Ratio
    lifts_from: MetresPerSecond


@dataclass(frozen=True, slots=True)
class Flown:
    """A speed in flight: trim, the lowest point of the hull over the water (less than 0: it is still in), what each wing lifts and how
    deep its middle lies, and whether it comes back when disturbed."""

    speed: MetresPerSecond
    trim: Radians
    clear: Metres
    lifts: tuple[Newtons, ...]
    depths: tuple[Metres, ...]
    steady: bool


@dataclass(frozen=True, slots=True)
class Control:
    """A control surface at a speed: moment per degree of it about G, the degrees that answer G moved by a hundredth of the waterline,
    and the gain against that at lift-off."""

    speed: MetresPerSecond
    per_degree: NewtonMetres
    needed: Degrees
    gain: Ratio


@dataclass(frozen=True, slots=True)
class OverWater:
    """A wing in the air at its height over the water: that height over its span, what is left of its induced drag by each law, its lift
    at the fastest speed, and how far ahead of G it acts."""

    name: str
    height: Metres
    ratio: Ratio
    factors: tuple[tuple[str, Ratio], ...]
    lift: Newtons
    ahead: Metres


@dataclass(frozen=True, slots=True, eq=False)
class FoilsAssessment:
    """The wings; where the hull leaves the water and the most thrust it takes until there (None where it never does); rows of flight;
    the control surface's table and its wing; wings in the air; the front and the rear angle (degrees), and the place of G, that would make
    both lift together, None where one does not apply."""

    wings: tuple[Wing, ...]
    lift_off: MetresPerSecond | None
    needs: Newtons | None
    has: Newtons | None
    top: MetresPerSecond | None
    flown: tuple[Flown, ...]
    control: tuple[Control, ...]
    controlled: str
    over: tuple[OverWater, ...]
    rear_angle: Degrees | None
    front_angle: Degrees | None
    gravity_x: Metres | None
    rest: Attitude
    findings: tuple[Finding, ...]


@kept
def assess(craft: Craft, ground: str = "wieselsberger") -> FoilsAssessment | None:
    """By one of the two laws of the ground's effect. None for a boat without wings, or one that does not run. Raises InvalidInput."""
    if ground not in wing.GROUND_LAWS:
        raise InvalidInput("ground", "Choose one of the two laws of the ground's effect.")
    numbered = wings_of(craft)
    holds = resistance_of(craft, 0.0, ground) if numbered else None
    if holds is None:
        return None
    boat, bare = holds.boat, bare_hull(craft)
    wings = _wings(boat, tuple((n, foil_of(b)) for n, b in numbered))
    flown = tuple(_flown(boat, bare, wings, b) for b in holds.balances[1:] if b is not None)
    lift_off = next((f.speed for f in flown if f.clear > 0), None)
    thrust = thrust_over(craft, 1.0, holds.speeds)
    top = crossing(holds, thrust) if thrust is not None else None
    needs = has = None
    if lift_off is not None:
        until = holds.speeds <= lift_off + 1e-9
        needs = float(holds.newtons[until].max())
        has = float(thrust[until][int(np.argmax(holds.newtons[until]))]) if thrust is not None else None
    rear, front, place = together(boat, wings)
    result = FoilsAssessment(
        wings=wings,
        lift_off=lift_off,
        needs=needs,
        has=has,
        top=top,
        flown=flown,
        control=_control(boat, wings, holds, lift_off),
        controlled=next((w.foil.name for w in _moving(wings)), ""),
        over=_over(boat, wings, holds, top),
        rear_angle=rear,
        front_angle=front,
        gravity_x=place,
        rest=boat.rest,
        findings=(),
    )
    return dataclasses.replace(result, findings=tuple(_findings(boat, result)))


def power_of(boat: Underway, foil: Foil, angle: Radians) -> float:
    """Lift over the square of the speed at an angle of its chord to the water, at its depth at rest."""
    wet = boat.rest.height_of(foil.at) < 0
    density = boat.density if wet else AIR_DENSITY
    slope = wing.lift_slope(foil.span, foil.area)
    if wet:
        slope *= wing.near_surface(-boat.rest.height_of(foil.at), foil.chord)
    return density / 2 * foil.area * slope * (angle - wing.zero_lift(foil.camber)) * math.cos(foil.dihedral) ** 2


def shares_of(boat: Underway, places: tuple[Metres, ...]) -> tuple[Ratio, ...]:
    """What of the weight lies on wings at some places along the boat, by moments about the other end; wings at the same end share alike."""
    g = boat.gravity[0]
    ahead, aft = [x for x in places if x > g], [x for x in places if x <= g]
    if not ahead or not aft:
        return tuple(1 / len(places) for _ in places)
    front, rear = math.fsum(ahead) / len(ahead), math.fsum(aft) / len(aft)
    on_front = (g - rear) / (front - rear)
    return tuple(on_front / len(ahead) if x > g else (1 - on_front) / len(aft) for x in places)


def _wings(boat: Underway, found: tuple[tuple[int, Foil], ...]) -> tuple[Wing, ...]:
    weight = boat.mass * STANDARD_GRAVITY
    wet = [boat.rest.height_of(f.at) < 0 for _, f in found]
    working = [f for (_, f), w in zip(found, wet, strict=True) if w] or [f for _, f in found]
    shares = dict(zip([f.name for f in working], shares_of(boat, tuple(f.at[0] for f in working)), strict=True))
    out = []
    for (n, f), w in zip(found, wet, strict=True):
        power = power_of(boat, f, f.angle + boat.rest.trim)
        share = shares.get(f.name, 0.0)
        out.append(Wing(n, f, w, share, math.sqrt(share * weight / power) if power > 0 else math.inf))
    return tuple(out)


def _ends(boat: Underway, wings: tuple[Wing, ...]) -> tuple[list[Wing], list[Wing]]:
    """Wings in the water ahead of G and aft of it."""
    wet = [w for w in wings if w.wet]
    return [w for w in wet if w.foil.at[0] > boat.gravity[0]], [w for w in wet if w.foil.at[0] <= boat.gravity[0]]


def together(boat: Underway, wings: tuple[Wing, ...]) -> tuple[Degrees | None, Degrees | None, Metres | None]:
    """The rear foil's angle, or the front one's, or the place of G along the boat, at which the front one lifts its share at 0.92 of the
    speed at which the rear one does; for one foil at each end. Lift goes as S a (alpha - alpha0), shares by moments, so that each is one
    line to solve."""
    front, rear = _ends(boat, wings)
    if len(front) != 1 or len(rear) != 1:
        return None, None, None
    f, r = front[0], rear[0]
    trim = boat.rest.trim

    def angle_for(one: Wing, other: Wing, sooner: Ratio) -> Degrees | None:
        other_power = power_of(boat, other.foil, other.foil.angle + trim)
        each = power_of(boat, one.foil, wing.zero_lift(one.foil.camber) + 1.0)  # of one radian
        if other_power <= 0 or other.share <= 0:
            return None
        angle = math.degrees(one.share / other.share * other_power / each / sooner**2 + wing.zero_lift(one.foil.camber) - trim)
        return angle if abs(angle) <= MOST_ANGLE else None

    powers = [power_of(boat, w.foil, w.foil.angle + trim) for w in (f, r)]
    place = None
    if min(powers) > 0:
        share = AIM**2 * powers[0] / (AIM**2 * powers[0] + powers[1])
        place = r.foil.at[0] + share * (f.foil.at[0] - r.foil.at[0])
        if abs(place - boat.gravity[0]) > MOST_SHIFT * boat.waterline:
            place = None  # nothing aboard is moved as far
    return angle_for(r, f, 1 / AIM), angle_for(f, r, AIM), place


def lift_ratio(craft: Craft) -> Ratio | None:
    """The speed at which the front foils lift their share over that of the rear ones, at the trim of rest; None without a foil in the
    water at each end, endless where the front ones lift nothing."""
    boat = underway_of(craft)
    if boat is None:
        return None
    front, rear = _ends(boat, _wings(boat, tuple((n, foil_of(b)) for n, b in wings_of(craft))))
    if not front or not rear:
        return None
    first, second = (min(w.lifts_from for w in end) for end in (front, rear))
    return first / second if math.isfinite(second) and second > 0 else 0.0


def with_angle(design: Design, body: int, degrees: Degrees) -> Design:
    """The boat with a wing's chord at an angle to its x axis. Raises InvalidInput."""
    if not 0 <= body < len(design.bodies):
        raise InvalidInput("foils.angle", "There is no such foil on this boat.")
    value = round(degrees + design.bodies[body].turn_deg[1], 2)
    return with_value(design, f"bodies.{body}.shape.incidence_deg", value)


def lowest(bare: Mesh, attitude: Attitude) -> Metres:
    """Of the hull, over the water."""
    return float((bare.vertices @ np.array(attitude.up)).min()) + attitude.origin_height


def _flown(boat: Underway, bare: Mesh, wings: tuple[Wing, ...], b: Balanced) -> Flown:
    lifts = tuple(math.fsum(f.newtons[2] for f in b.forces if f.part == "foil" and f.name == w.foil.name) for w in wings)
    depths = tuple(-b.attitude.height_of(w.foil.at) for w in wings)
    return Flown(b.speed, b.attitude.trim, lowest(bare, b.attitude), lifts, depths, b.steady)


def _moving(wings: tuple[Wing, ...]) -> list[Wing]:
    return sorted((w for w in wings if w.foil.flap > 0), key=lambda w: not w.wet)


def _control(boat: Underway, wings: tuple[Wing, ...], holds: Resistance, lift_off: MetresPerSecond | None) -> tuple[Control, ...]:
    """Of the first wing with a surface that moves, over the speeds from lift-off (else from a third of the fastest) up."""
    moving = _moving(wings)
    if not moving:
        return ()
    w = moving[0]
    first = lift_off or float(holds.speeds[-1]) / 3
    needed = LEAN_ON * boat.waterline * boat.mass * STANDARD_GRAVITY
    per_square = math.radians(1.0) * wing.deflection_effect(w.foil.flap) * power_of(boat, w.foil, wing.zero_lift(w.foil.camber) + 1.0)
    arm = abs(w.foil.at[0] - boat.gravity[0])
    rows = []
    for v in np.linspace(first, max(float(holds.speeds[-1]), first), ROWS).tolist():
        each = per_square * v**2 * arm
        rows.append(Control(v, each, needed / each if each > 0 else math.inf, (first / v) ** 2))
    return tuple(rows)


def _over(boat: Underway, wings: tuple[Wing, ...], holds: Resistance, top: MetresPerSecond | None) -> tuple[OverWater, ...]:
    last = next((b for b in reversed(holds.balances) if b is not None and (top is None or b.speed <= top + 1e-9)), None)
    out = []
    for w in wings:
        if w.wet or last is None:
            continue
        height = max(last.attitude.height_of(w.foil.at), 0.0)
        factors = tuple((name, wing.induced_over(height, w.foil.span, code)) for code, (name, _) in wing.GROUND_LAWS.items())
        lift = math.fsum(f.newtons[2] for f in last.forces if f.part == "foil" and f.name == w.foil.name)
        out.append(OverWater(w.foil.name, height, height / w.foil.span, factors, lift, w.foil.at[0] - boat.gravity[0]))
    return tuple(out)


def cruise_of(r: FoilsAssessment) -> Flown | None:
    """Where it is looked at flying: at the top speed where that is beyond lift-off, else somewhat over lift-off."""
    if r.lift_off is None:
        return None
    at = r.top if r.top is not None and r.top > r.lift_off else CRUISE * r.lift_off
    flying = [f for f in r.flown if f.speed >= r.lift_off]
    return min(flying, key=lambda f: abs(f.speed - at)) if flying else None


def _findings(boat: Underway, r: FoilsAssessment) -> list[Finding]:
    out = _lifting(boat, r) if any(w.wet for w in r.wings) else []
    cruise = cruise_of(r)
    if cruise is not None:
        out += _flight(r, cruise)
    for one in r.over:
        values: dict[str, float | str] = {
            "name": one.name,
            "lift": one.lift,
            "share": one.lift / (boat.mass * STANDARD_GRAVITY),
            "height": one.height,
            "ahead": one.ahead,
            "first": one.factors[0][1],
            "second": one.factors[1][1],
            "one": one.factors[0][0],
            "other": one.factors[1][0],
        }
        text = "{share:percent} of the weight, {ahead:fore_aft} of G. At {height:length} over the water its induced drag is "
        text += "{first:percent} of that in free air by {one} law, {second:percent} by {other}."
        out.append(Finding("underway.ground", "note", "“{name}” lifts {lift:force}", text, PRANDTL_1921, values))
    trim = boat.rest.trim
    text = "Front and rear foils begin at angles that differ from those to its x axis by so much: level it, or count it in."
    word: Severity = "near" if abs(trim) > math.radians(1.0) else "holds"
    ways = (Remedy("Level it at rest", "weights"),) if word == "near" else ()
    out.append(Finding("underway.starts_level", word, "It starts {trim:trim}", text, STATICS, {"trim": trim}, ways))
    text = "Fast or flying craft with people aboard are a professional's job; these are numbers, not a clearance to fly."
    out.append(Finding("caution.flying", "note", "Flying craft", text, COMMON_PRACTICE))
    return out


def _lifting(boat: Underway, r: FoilsAssessment) -> list[Finding]:
    out: list[Finding] = []
    ways: tuple[Remedy, ...]
    if r.lift_off is None:
        text = "At no speed up to the end of the curve is its hull clear: more foil, more angle, less weight, or a foil that stays deep."
        ways = (Remedy("More foil or angle, less weight", "shape"),)
        out.append(Finding("underway.lift_off", "near", "Its foils never lift it clear", text, HOUGH_MORAN_1969, {}, ways))
    else:
        values: dict[str, float | str] = {"speed": r.lift_off, "needs": r.needs or 0.0, "has": r.has or 0.0}
        if r.has is None or r.needs is None:
            text = "The most it takes until there is {needs:force}; what pushes it at speed is not known."
            out.append(Finding("underway.lift_off", "note", "Its hull leaves the water at {speed:speed}", text, HOUGH_MORAN_1969, values))
        else:
            word: Severity = "fails" if r.has < r.needs else "near" if r.has < 1.2 * r.needs else "holds"
            text = "The most it takes until there is {needs:force}; the drive gives {has:force} at that speed."
            ways = (Remedy("More thrust at speed, more foil, or less weight", "drive"),) if word != "holds" else ()
            title = "It does not get to lift-off at {speed:speed}" if word == "fails" else "Its hull leaves the water at {speed:speed}"
            out.append(Finding("underway.lift_off", word, title, text, HOUGH_MORAN_1969, values, ways))
    front, rear = _ends(boat, r.wings)
    if front and rear:
        out.append(_who_first(r, min(w.lifts_from for w in front), min(w.lifts_from for w in rear)))
    return out


def _who_first(r: FoilsAssessment, front: MetresPerSecond, rear: MetresPerSecond) -> Finding:
    ways: list[Remedy] = []
    if math.isinf(front) or math.isinf(rear):
        which = "front" if math.isinf(front) else "rear"
        text = "At the trim of rest its chord meets the water at an angle that gives no lift."
        way = (Remedy("More angle on it", "shape"),)
        return Finding("underway.lift_together", "fails", "The {which} foil lifts nothing", text, HOUGH_MORAN_1969, {"which": which}, way)
    ratio = front / rear
    word: Severity = "holds" if TOGETHER[0] <= ratio <= TOGETHER[1] else "near" if APART[0] <= ratio <= APART[1] else "fails"
    first = "front" if front < TOGETHER[0] * rear else "rear"
    values: dict[str, float | str] = {"first": first, "front": front, "rear": rear}
    text = "At the trim of rest the front foil carries its share from {front:speed}, the rear from {rear:speed}."
    if word == "holds":
        text += " So it should: the front one loses lift as it nears the surface."
        return Finding("underway.lift_together", "holds", "Front and rear lift together, the front a little ahead", text, STATICS, values)
    rises, held = " The bow rises and its foil broaches.", " The bow is held down: the front one loses lift near the surface."
    text += rises if first == "front" else held
    if r.rear_angle is not None:
        values["rear_angle"] = math.radians(r.rear_angle)
        ways.append(Remedy("Rear foil at {rear_angle:angle} lifts with the front one", "shape"))
    if r.gravity_x is not None:
        values["place"] = r.gravity_x
        ways.append(Remedy("Or G {place:length} from aft", "weights"))
    return Finding("underway.lift_together", word, "The {first} foil lifts first", text, STATICS, values, tuple(ways))


def _flight(r: FoilsAssessment, cruise: Flown) -> list[Finding]:
    out = []
    values: dict[str, float | str] = {"speed": cruise.speed, "clear": cruise.clear, "trim": cruise.trim}
    if cruise.steady:
        text = "Lifted or pitched a little it comes back: more load a unit of foil in front, or a foil that loses lift as it rises."
        out.append(Finding("underway.flight", "holds", "It flies {clear:length} clear at {speed:speed}", text, STATICS, values))
    else:
        text = "The balance at {speed:speed} is one that it runs away from: it porpoises or dives, unless something steers it."
        ways = (Remedy("G forward, dihedral in front, or a surface that is worked", "weights"),)
        out.append(Finding("underway.flight", "fails", "In flight it does not hold itself", text, STATICS, values, ways))
    for w, depth in zip(r.wings, cruise.depths, strict=True):
        if w.wet and depth < SHALLOW * w.foil.chord:
            values = {"name": w.foil.name, "depth": depth, "least": SHALLOW * w.foil.chord, "speed": cruise.speed}
            text = "At {speed:speed}; under {least:length} air finds its way down: it drops, comes up, drops."
            if w.foil.dihedral > math.radians(5):
                text += " Tips that come out are what holds this one's height."
            word: Severity = "note" if w.foil.dihedral > math.radians(5) else "near"
            way = (Remedy("Longer struts, or less lift", "shape"),) if word == "near" else ()
            title = "“{name}” runs {depth:draft} deep" if depth > 0 else "“{name}” runs at the surface"
            out.append(Finding("underway.foil_shallow", word, title, text, COMMON_PRACTICE, values, way))
    return out


def wet_of(r: FoilsAssessment, row: Flown, number: int) -> Ratio:
    """Share of a wing's span that is in the water in a row of flight."""
    return wet_share(r.wings[number].foil, -row.depths[number])
