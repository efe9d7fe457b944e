"""Turning: the circle with the rudder over, the lean in it, whether it holds its course by itself, and with one motor dead."""

import dataclasses
import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.families.foil_wing import FoilWing
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.wetted import side_area, under_water, waterline_length
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.drive import direction
from yarekeel.core.propulsion.pulls import pushes_at
from yarekeel.core.quantities import Floats, Metres, MetresPerSecond, Newtons, Radians, Ratio, SquareMetres
from yarekeel.core.resistance.michell import source_of
from yarekeel.core.running import course
from yarekeel.core.running.balance import Balanced
from yarekeel.core.running.course import Derivatives, Fin
from yarekeel.core.running.forces import Underway
from yarekeel.core.sources import CLARKE_1983, COMMON_PRACTICE, RANKINE_FROUDE, STATICS
from yarekeel.core.stability.righting import righting_curve
from yarekeel.stages.afloat.forced import lateral_area
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.running.boat import bare_hull
from yarekeel.stages.running.resistance import resistance_of
from yarekeel.stages.underway.coasting import crossing
from yarekeel.stages.underway.speed import thrust_over

SHARES: tuple[Ratio, ...] = (0.2, 0.4, 0.6, 0.8, 1.0)
"""Of the fastest speed that is looked at: what the drive reaches, else the end of the curve."""
TIGHTEST: Ratio = 1.2
"""Waterline over radius: no boat turns tighter under way (common practice)."""
DOUBT: Ratio = 0.4
"""Half the width of the band of a circle, as a share: a theory made for ships (from memory)."""
BLOCK: Ratio = 0.5
"""Block coefficient of one hull of several (common practice)."""
USUAL: Radians = math.radians(30)
"""Of a rudder hard over."""
MOST_RUDDER: Radians = math.radians(60)
LEANS: Radians = math.radians(15)
HEELS = tuple(math.radians(3 * k) for k in range(31))
"""At which the righting arms against a turn are worked out."""


@dataclass(frozen=True, slots=True)
class Turn:
    """A speed: radius of the circle (endless where it does not turn), the lean in it (endless where it goes over, None where it is not
    told), the drift, whether it holds a straight course by itself, how many times the square of its speed the rudder meets."""

    speed: MetresPerSecond
    radius: Metres
    lean: Radians | None
    drift: Radians
    steady: bool
    stream: Ratio


@dataclass(frozen=True, slots=True)
class TurningAssessment:
    """Circles by speed with the rudder over by an angle; the radius with the motors of one side dead (None without a pair), at the fastest
    speed; what each change makes of the circle there (name, radius)."""

    angle: Radians
    rudder: SquareMetres
    turns: tuple[Turn, ...]
    one_side: Metres | None
    changes: tuple[tuple[str, Metres], ...]
    findings: tuple[Finding, ...]


@kept
def assess(craft: Craft, angle: Radians = USUAL) -> TurningAssessment | None:
    """With the rudder over by an angle; None for a boat that does not run. Raises InvalidInput."""
    if not 0 < abs(angle) <= MOST_RUDDER:
        raise InvalidInput("rudder_angle", f"A rudder goes over by up to {math.degrees(MOST_RUDDER):g}°.")
    holds = resistance_of(craft)
    if holds is None:
        return None
    thrust = thrust_over(craft, 1.0, holds.speeds)
    top = crossing(holds, thrust) if thrust is not None else 0.0
    last = int(np.searchsorted(holds.speeds, top)) if top > 0 else len(holds.balances) - 1
    last = min(max(last, 1), len(holds.balances) - 1)
    found = [b for s in SHARES if (b := holds.balances[max(round(s * last), 1)]) is not None]
    if not found:
        return None
    bare = bare_hull(craft)
    setups = [_setup(craft, holds.boat, bare, b) for b in found]
    turns = tuple(_turn(craft, holds.boat, b, s, angle) for b, s in zip(found, setups, strict=True))
    fastest, setup = found[-1], setups[-1]
    rudder = math.fsum(f.area for f in setup.fins if f.steers)
    one_side = _one_side(craft, holds.boat, fastest, setup)
    changes = _changes(setup, angle) if rudder > 0 else ()
    return TurningAssessment(abs(angle), rudder, turns, one_side, changes, tuple(_findings(turns, rudder, one_side, setup)))


def rudder_margin(craft: Craft) -> Ratio:
    """The rudder in the water at the fastest speed over the least of ships, less one; -1 without a rudder there. Raises NoRest for a boat
    that does not run."""
    holds = resistance_of(craft)
    last = next((b for b in reversed(holds.balances) if b is not None), None) if holds is not None else None
    if holds is None or last is None:
        raise NoRest("It does not run, so nothing steers it.")
    boat = holds.boat
    bare = bare_hull(craft)
    area = math.fsum(f.area for f in fins_of(craft, boat, last.attitude, speed=last.speed) if f.steers)
    draft = max(-(float((bare.vertices @ np.array(boat.rest.up)).min()) + boat.rest.origin_height), 1e-4)
    beam = min(craft.hull.beam, boat.waterline)
    return area / course.least_rudder(boat.waterline, beam, draft) - 1


@dataclass(frozen=True, slots=True)
class _Setup:
    """What turns at an attitude: waterline, derivatives with and without fins, mass and G in the theory's own units, the fins."""

    length: Metres
    bare: Derivatives
    fins: tuple[Fin, ...]
    mass: Ratio
    gravity: Ratio
    draft: Ratio

    @property
    def whole(self) -> Derivatives:
        return course.with_fins(self.bare, self.fins, self.length)

    def radius(self, angle: Radians) -> tuple[Metres, Radians]:
        """Of the steady turn with the rudders over, no tighter than the theory goes; and the drift."""
        side, moment = course.rudder_force(self.fins, self.length, angle)
        yaw, drift = self.turned(side, moment)
        return self.of(yaw), drift

    def turned(self, side: Ratio, moment: Ratio) -> tuple[Ratio, Radians]:
        """Yaw and drift under a side force and a moment."""
        return course.turn_of(self.whole, self.mass, self.gravity, side, moment, self.draft)

    def of(self, yaw: Ratio) -> Metres:
        """Radius of a yaw rate."""
        return self.length / min(abs(yaw), TIGHTEST) if yaw else math.inf


def _setup(craft: Craft, boat: Underway, bare: Mesh, b: Balanced) -> _Setup:
    attitude = b.attitude
    up = np.array(attitude.up)
    draft = max(-(float((bare.vertices @ up).min()) + attitude.origin_height), 1e-4)
    length = max(waterline_length(bare, attitude), 0.2 * boat.waterline)
    wet = bare.vertices[bare.vertices @ up + attitude.origin_height <= 0]
    under = under_water(bare, attitude)
    source = source_of(under, attitude) if under is not None else None
    hulls = len(source.y) if source is not None else 1
    beam = float(np.ptp(wet[:, 1])) if len(wet) else 0.1 * length
    if hulls > 1:  # each by itself, as broad as its part of the volume makes it
        beam = boat.volume / hulls / (BLOCK * length * draft)
    middle = float(wet[:, 0].min() + wet[:, 0].max()) / 2 if len(wet) else boat.gravity[0]
    share = min(boat.volume / hulls / max(length * beam * draft, 1e-9), 0.9)
    one = course.hull_derivatives(length, beam, draft, share)
    return _Setup(
        length=length,
        bare=Derivatives(hulls * one.y_v, hulls * one.n_v, hulls * one.y_r, hulls * one.n_r),
        fins=fins_of(craft, boat, attitude, middle, b.speed),
        mass=boat.mass / (boat.density / 2 * length**3),
        gravity=(boat.gravity[0] - middle) / length,
        draft=hulls * draft / length,
    )


def fins_of(craft: Craft, boat: Underway, attitude: Attitude, middle: Metres = 0.0, speed: MetresPerSecond = 0.0) -> tuple[Fin, ...]:
    """Appendages that stand in the water at an attitude, from the middle of the waterline; the aftmost of those aft of G steers. A
    thruster's stream counts at a ``speed``."""
    found = []
    for n, body in enumerate(craft.design.bodies):
        if body.role != "appendage" or isinstance(body.shape, FoilWing):
            continue
        mesh = craft.piece(n)
        area, centre = side_area(mesh, attitude, wet=True)
        heights = mesh.vertices @ np.array(attitude.up) + attitude.origin_height
        low, high = float(heights.min()), float(heights.max())
        if area > 0 and low < 0:
            found.append((centre, area, min(-low, high - low), _stream(craft, boat, mesh, speed)))
    rudder = min((c[0] for c, *_ in found if c[0] < boat.gravity[0]), default=None)
    return tuple(Fin(area, height, c[0] - middle, c[0] == rudder, stream) for c, area, height, stream in found)


def _stream(craft: Craft, boat: Underway, mesh: Mesh, speed: MetresPerSecond) -> Ratio:
    """What a thruster right ahead of a fin makes of the square of the speed that it meets."""
    drive, water = craft.design.drive, craft.design.water
    if speed <= 0 or not drive.motors:
        return 1.0
    low, high = mesh.bounds
    pushes = pushes_at(drive, np.array(1.0), np.array([speed]), water.density, water.viscosity)
    most = 1.0
    for motor, push in zip(drive.motors, pushes, strict=True):
        across = getattr(motor.propulsor, "diameter_m", None)
        if push is None or across is None or motor.at_m[0] < float(low[0]) or abs(motor.at_m[1] - float(low[1] + high[1]) / 2) > across / 2:
            continue
        top, foot = min(float(high[2]), motor.at_m[2] + across / 2), max(float(low[2]), motor.at_m[2] - across / 2)
        share = max(top - foot, 0.0) / max(float(high[2] - low[2]), 1e-9)
        thrust: Newtons = float(np.ravel(push.thrust)[0]) * max(direction(motor)[0], 0.0)
        most = max(most, course.stream_over(thrust, math.pi / 4 * across**2, boat.density, speed, share))
    return most


def _turn(craft: Craft, boat: Underway, b: Balanced, s: _Setup, angle: Radians) -> Turn:
    radius, drift = s.radius(angle)
    steady = course.steadiness(s.whole, s.mass, s.gravity) > 0
    stream = max((f.stream for f in s.fins if f.steers), default=1.0)
    return Turn(b.speed, radius, _lean(craft, boat, b.attitude, b.speed, radius), drift, steady, stream)


def _lean(craft: Craft, boat: Underway, attitude: Attitude, speed: MetresPerSecond, radius: Metres) -> Radians | None:
    """Outward, by the righting arms at rest; endless where it goes over, None for a boat that does not float at this speed."""
    if boat.pads or boat.foils or not math.isfinite(radius):
        return None
    _, centre = lateral_area(craft.hull.sketch.mesh, attitude)
    return leaning(*righting_arms(craft), course.turn_lever(speed, radius, boat.gravity[2] - centre[2]))


@kept
def righting_arms(craft: Craft) -> tuple[Floats, Floats]:
    """Heels to starboard (n,) and the arms (n,) that bring the boat back from them, as far as it is balanced there."""
    at = craft.settled
    curve = righting_curve(craft.hull, at.listed_volume, at.listed_gravity, HEELS, craft.kernel)
    return np.array([p.heel for p in curve.points]), np.array([curve.righting_arm(p) for p in curve.points])


def leaning(heels: Floats, arms: Floats, lever: Metres) -> Radians:
    """The heel at which righting ``arms`` (n,) at ``heels`` (n,) meet a heeling ``lever`` cos(heel), signed; endless where none does."""
    spare = arms - abs(lever) * np.cos(heels)
    holds = np.flatnonzero(spare >= 0)
    if not holds.size:
        return math.copysign(math.inf, lever)
    k = int(holds[0])
    if k == 0:
        return 0.0
    share = spare[k - 1] / (spare[k - 1] - spare[k])
    return math.copysign(float(heels[k - 1] + share * (heels[k] - heels[k - 1])), lever)


def _one_side(craft: Craft, boat: Underway, b: Balanced, s: _Setup) -> Metres | None:
    """The circle with the motors of one side dead, the others at what they push; None without motors on both sides."""
    drive, water = craft.design.drive, craft.design.water
    sides = [m.at_m[1] for m in drive.motors]
    if not sides or not (min(sides) < -1e-6 and max(sides) > 1e-6):
        return None
    pushes = pushes_at(drive, np.array(1.0), np.array([b.speed]), water.density, water.viscosity)
    turning = 0.0
    for motor, push in zip(drive.motors, pushes, strict=True):
        if motor.at_m[1] > 0 and push is not None:
            turning -= float(np.ravel(push.thrust)[0]) * direction(motor)[0] * motor.at_m[1]
    if not turning:
        return None
    moment = turning / (boat.density / 2 * b.speed**2 * s.length**3)
    return s.of(s.turned(0.0, moment)[0])


def _changes(s: _Setup, angle: Radians) -> tuple[tuple[str, Metres], ...]:
    """What a builder can do to the circle at the fastest speed."""

    def rudder(by: Ratio) -> _Setup:
        taller = tuple(dataclasses.replace(f, area=f.area * by, height=f.height * by) if f.steers else f for f in s.fins)
        return dataclasses.replace(s, fins=taller)

    rows = [("as it is", s), ("rudder half as deep again", rudder(1.5)), ("weight forward by a twentieth", _forward(s, 0.05))]
    if any(f.ahead > 0 for f in s.fins):
        less = tuple(dataclasses.replace(f, area=f.area / 2, height=f.height / 2) if f.ahead > 0 else f for f in s.fins)
        rows.append(("front fins half as deep", dataclasses.replace(s, fins=less)))
    return tuple((name, one.radius(angle)[0]) for name, one in rows)


def _forward(s: _Setup, by: Ratio) -> _Setup:
    return dataclasses.replace(s, gravity=s.gravity + by)


def _findings(turns: tuple[Turn, ...], rudder: SquareMetres, one_side: Metres | None, s: _Setup) -> list[Finding]:
    last, out = turns[-1], []
    values: dict[str, float | str] = {"speed": last.speed, "radius": last.radius, "rudder": rudder, "doubt": DOUBT}
    if rudder <= 0:
        text = "No appendage stands in the water aft of G: it steers by its thrust alone."
        ways = (Remedy("Add a rudder", "shape"),)
        out.append(Finding("underway.no_rudder", "note", "It has no rudder in the water", text, COMMON_PRACTICE, {}, ways))
    elif math.isfinite(last.radius):
        values["lengths"] = last.radius / s.length
        text = "{lengths:ratio} waterlines, ±{doubt:percent}, with the rudder of {rudder:area} over: a theory that was made for ships."
        title = "Turns on a radius of {radius:room} at {speed:speed}"
        out.append(Finding("underway.circle", "note", title, text, CLARKE_1983, values))
    unsteady = [t for t in turns if not t.steady]
    if unsteady:
        values = {"speed": unsteady[0].speed}
        text = "Let alone it falls off to one side and goes on turning: a deeper rear fin or a skeg, or weight forward, would hold it."
        title = "At {speed:speed} it does not hold a course by itself"
        out.append(Finding("underway.wanders", "note", title, text, CLARKE_1983, values))
    far = [t for t in turns if t.lean is not None and abs(t.lean) > LEANS]
    over = [t for t in far if t.lean is not None and math.isinf(t.lean)]
    if over:
        values = {"speed": over[0].speed, "radius": over[0].radius}
        text = "On a radius of {radius:room} its outward lever is more than its righting arm anywhere: it capsizes with the rudder over."
        ways = (Remedy("Less rudder, slow down before turning, or weight lower", "stability"),)
        out.append(Finding("underway.turn_lean", "fails", "It capsizes in its turn at {speed:speed}", text, STATICS, values, ways))
    elif far and far[0].lean is not None:
        values = {"speed": far[0].speed, "lean": abs(far[0].lean), "way": "outward" if far[0].lean > 0 else "inward"}
        word: Severity = "near"
        ways = (Remedy("Slow down before turning, or weight lower", "stability"),)
        text = "With the rudder over at {speed:speed}; the plain test of a turn has its own radius."
        out.append(Finding("underway.turn_lean", word, "It leans {lean:angle} {way} in its turn", text, COMMON_PRACTICE, values, ways))
    if last.stream > 1.2:
        values = {"times": last.stream, "slow": turns[0].stream}
        text = (
            "Its push is {times:ratio} times as large at the fastest, {slow:ratio} times at the slowest: it steers with the throttle open."
        )
        out.append(Finding("underway.rudder_stream", "note", "The rudder stands in the stream", text, RANKINE_FROUDE, values))
    if one_side is not None:
        values = {"radius": one_side}
        text = "Uneven thrust turns it as much: trim the two sides until it runs straight."
        title = "With one side dead it circles on {radius:room}"
        out.append(Finding("underway.one_side", "note", title, text, CLARKE_1983, values))
    return out
