"""A run followed in time: a throttle profile, or out, turn and back; the virtual pond's noisy log of it."""

import math
import random
import re
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.drive import direction
from yarekeel.core.propulsion.pulls import pushes_at
from yarekeel.core.quantities import AmpereHours, Amperes, Floats, Ints, Metres, MetresPerSecond, Ratio, Seconds
from yarekeel.core.running.balance import Balanced
from yarekeel.core.running.following import Followed, Leg, follow
from yarekeel.core.running.regime import PLANES_FROM, volumetric_froude
from yarekeel.core.sources import MECHANICS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.fitted import sums_of
from yarekeel.stages.drive import match
from yarekeel.stages.drive.match import BESIDE
from yarekeel.stages.running.resistance import Resistance, resistance_of
from yarekeel.stages.underway import speed

LONGEST: Seconds = 1800.0
MOST_LEGS = 60
SENTENCE = "Write legs as seconds and throttle, with a head wind where there is one, and turn: 10 100% 3 m/s; 60 70%; turn; 60 70%."
TURN = "turn"
RESERVE: Ratio = 0.2
"""Of the pack, that is kept (common practice)."""
UNDER_WAY: Ratio = 0.1
"""Of the fastest speed of a run: slower it has not set out yet."""
_LEG = re.compile(r"\s*(\d+(?:[.,]\d+)?)\s*s?\s+(-?\d+(?:[.,]\d+)?)\s*%?(?:\s+(-?\d+(?:[.,]\d+)?)\s*(?:m/s)?)?\s*", re.IGNORECASE)
GRID_SPEEDS, GRID_THROTTLES = 40, 21


def legs_of(text: str) -> tuple[Leg, ...]:
    """Legs as typed; a wind blows on until another is typed, and from the other end after a turn. Raises InvalidInput with how to write
    them, for a throttle over 100 %, or a run of more than half an hour."""
    legs: list[Leg] = []
    back, blows = False, 0.0
    for piece in re.split(r"[;\n]", text):
        if not piece.strip():
            continue
        if piece.strip().lower() == TURN:
            back, blows = not back, -blows
            continue
        found = _LEG.fullmatch(piece)
        if found is None:
            raise InvalidInput("course", SENTENCE)
        seconds, percent = (float(g.replace(",", ".")) for g in found.groups()[:2])
        blows = float(found[3].replace(",", ".")) if found[3] else blows
        legs.append(checked_leg(Leg(seconds, percent / 100, blows, back)))
    return checked_course(tuple(legs))


def checked_leg(leg: Leg) -> Leg:
    """A leg that can be run. Raises InvalidInput."""
    if not (math.isfinite(leg.seconds) and leg.seconds > 0):
        raise InvalidInput("course", "A leg lasts longer than nothing: time does not run back.")
    if not 0 <= leg.throttle <= 1:
        raise InvalidInput("course", "Throttle runs from 0 to 100 %.")
    if not -40 <= leg.wind <= 40:
        raise InvalidInput("course", "A head wind of at most 40 m/s; less than 0 blows from astern.")
    return leg


def checked_course(legs: tuple[Leg, ...]) -> tuple[Leg, ...]:
    """A course that can be run. Raises InvalidInput."""
    if not 1 <= len(legs) <= MOST_LEGS:
        raise InvalidInput("course", f"A run has 1 to {MOST_LEGS} legs. {SENTENCE}")
    if math.fsum(leg.seconds for leg in legs) > LONGEST:
        raise InvalidInput("course", f"A run of at most {LONGEST / 60:g} minutes.")
    return legs


@dataclass(frozen=True, slots=True, eq=False)
class RunAssessment:
    """A run: the motion, trim (n,) in radians and what is left of the pack (n,) as a share (None without one); when it first planes,
    how far it coasts after its last throttle; by when and where it must turn back to come home with a fifth left (None where it need not
    within the run); half the width of the speed's band as a share; the balance (n,) that each moment is nearest to, by its number."""

    motion: Followed
    trim: Floats
    left: Floats | None
    planes_after: Seconds | None
    coasts: Metres | None
    back_by: tuple[Seconds, Metres] | None
    doubt: Ratio
    nearest: Ints
    holds: Resistance
    wind_out: MetresPerSecond
    """Head wind on the way out."""
    allowed: Amperes | None
    """Current that the weakest of packs, controls and motors allows; None where none is rated."""
    findings: tuple[Finding, ...]

    def at(self, time: Seconds) -> int:
        """The sample at a time."""
        return int(np.clip(np.searchsorted(self.motion.time, time), 0, self.motion.time.size - 1))

    def balance_at(self, sample: int) -> Balanced | None:
        """The steady balance at the speed of a sample."""
        return self.holds.balances[int(self.nearest[sample])]


@kept
def assess(craft: Craft, legs: tuple[Leg, ...], depth: Metres = math.inf) -> RunAssessment | None:
    """The run of a course in water of a depth; None where the boat does not run or its drive is not known at speed. Raises
    InvalidInput."""
    checked_course(tuple(checked_leg(leg) for leg in legs))
    speed.checked(1.0, 0.0, depth)
    winds = sorted({leg.wind for leg in legs})
    holds = {w: resistance_of(craft, w, depth=depth) for w in winds}
    still = resistance_of(craft, depth=depth)
    tables = _drive_tables(craft, still) if still is not None else None
    if still is None or tables is None:
        return None
    speeds, throttles, thrust, amps = tables
    boat = still.boat
    curves = {w: h for w, h in holds.items() if h is not None}
    if len(curves) < len(winds):
        return None

    def between(table: Floats, v: MetresPerSecond, throttle: Ratio) -> float:
        i = min(max(v / speeds[-1], 0.0), 1.0) * (speeds.size - 1)
        j = min(max(throttle, 0.0), 1.0) * (throttles.size - 1)
        a, b = min(int(i), speeds.size - 2), min(int(j), throttles.size - 2)
        p, q = i - a, j - b
        low = table[b, a] * (1 - p) + table[b, a + 1] * p
        return float(low * (1 - q) + (table[b + 1, a] * (1 - p) + table[b + 1, a + 1] * p) * q)

    def resistance(speed: MetresPerSecond, wind: MetresPerSecond) -> float:
        one = curves[wind]
        step = one.speeds[1]
        k = min(int(speed / step), one.speeds.size - 2)
        share = min(speed / step - k, 1.0)
        beyond = max(speed / one.speeds[-1], 1.0) ** 2
        return float((one.newtons[k] * (1 - share) + one.newtons[k + 1] * share) * beyond)

    motion = follow(boat.mass, legs, lambda v, d: between(thrust, v, d), resistance, lambda v, d: between(amps, v, d) if d > 0 else BESIDE)
    trims = np.array([b.attitude.trim if b is not None else np.nan for b in still.balances])
    known = np.isfinite(trims)
    trim = np.interp(motion.speed, still.speeds[known], trims[known])
    battery = craft.design.drive.battery
    left = 1 - motion.used / battery.capacity_ah if battery is not None else None
    planes, coasts = _planes_after(still, motion), _coasts(motion)
    back_by = _back_by(motion, left, battery.capacity_ah) if left is not None and battery is not None else None
    found = match.assess(craft)
    doubt = found.top_doubt if found is not None else 0.0
    nearest = np.clip(np.rint(motion.speed / still.speeds[1]).astype(int), 0, still.speeds.size - 1)
    findings = (*_findings(motion, left, planes, coasts, bool(boat.pads)), *_home(motion, left, back_by))
    shallow = tuple(f for f in still.findings if f.code == "underway.shallow")
    wind = next((leg.wind for leg in legs if leg.throttle > 0 and not leg.back), 0.0)
    hardest = sums_of(craft.design, boat.mass).hardest
    return RunAssessment(
        motion=motion,
        trim=trim,
        left=left,
        planes_after=planes,
        coasts=coasts,
        back_by=back_by,
        doubt=doubt,
        nearest=nearest,
        holds=still,
        wind_out=wind,
        allowed=hardest.limit if hardest is not None else None,
        findings=(*findings, *shallow),
    )


def _back_by(motion: Followed, left: Floats, capacity: AmpereHours) -> tuple[Seconds, Metres] | None:
    """The first moment on the way out at which coming home as fast, drawing as much, would leave a fifth of the pack."""
    fastest = float(motion.speed.max())
    out = (motion.speed > UNDER_WAY * fastest) & (motion.throttle > 0) & (np.gradient(motion.place) > 0)
    if fastest <= 0 or not out.any():
        return None
    need = np.where(out, motion.place / np.maximum(motion.speed, 1e-9) * motion.current / 3600 / capacity, 0.0)
    short = np.flatnonzero(out & (left - need <= RESERVE))
    return (float(motion.time[short[0]]), float(motion.place[short[0]])) if short.size else None


def _home(motion: Followed, left: Floats | None, back_by: tuple[Seconds, Metres] | None) -> tuple[Finding, ...]:
    """Whether it comes home on what it has."""
    if left is None:
        return ()
    away = abs(float(motion.place[-1]))
    values: dict[str, float | str] = {"left": max(float(left[-1]), 0.0), "away": away, "reserve": RESERVE}
    if back_by is not None:
        values |= {"when": back_by[0], "where": back_by[1]}
        text = "After {when:span}; further out what is left beyond {reserve:percent} does not bring it home at that throttle."
        ways = (Remedy("Turn sooner, or less throttle", "drive"),)
        return (Finding("underway.turn_back", "near", "Turn back by {where:room}", text, MECHANICS, values, ways),)
    if away > 0.2 * float(motion.distance[-1]):
        text = "At the end {left:percent} is left, and {away:room} to come home: enough at that throttle."
        return (Finding("underway.turn_back", "note", "It could still come home", text, MECHANICS, values),)
    return (Finding("underway.turn_back", "holds", "Home again", "{left:percent} is left at the end.", MECHANICS, values),)


def _drive_tables(craft: Craft, still: Resistance) -> tuple[Floats, Floats, Floats, Floats] | None:
    """Thrust ahead and current over throttle and speed, each (throttles, speeds); None where the drive is not known at speed."""
    drive, water = craft.design.drive, craft.design.water
    speeds = np.linspace(0.0, 1.2 * float(still.speeds[-1]), GRID_SPEEDS)
    throttles = np.linspace(0.0, 1.0, GRID_THROTTLES)
    if not drive.motors:
        return None
    found = pushes_at(drive, throttles[1:, None], speeds[None, :], water.density, water.viscosity)
    states = [p for p in found if p is not None and p.at_speed]
    if len(states) < len(found):
        return None
    nothing = np.zeros((1, speeds.size))
    thrust = np.sum([direction(m)[0] * s.thrust for m, s in zip(drive.motors, states, strict=True)], axis=0)
    amps = np.sum([s.current for s in states], axis=0) + BESIDE
    return speeds, throttles, np.concatenate((nothing, thrust)), np.concatenate((nothing + BESIDE, amps))


def _planes_after(still: Resistance, motion: Followed) -> Seconds | None:
    if not still.boat.pads:
        return None
    at = PLANES_FROM * float(still.speeds[-1]) / volumetric_froude(float(still.speeds[-1]), still.boat.volume)
    over = np.flatnonzero(motion.speed >= at)
    return float(motion.time[over[0]]) if over.size else None


def _coasts(motion: Followed) -> Metres | None:
    """How far it goes after the last throttle; None where it ends under power."""
    if motion.throttle[-1] > 0:
        return None
    powered = np.flatnonzero(motion.throttle > 0)
    begin = int(powered[-1]) if powered.size else 0
    return float(motion.distance[-1] - motion.distance[begin])


def _findings(
    motion: Followed, left: Floats | None, planes: Seconds | None, coasts: Metres | None, has_bottom: bool
) -> tuple[Finding, ...]:
    values: dict[str, float | str] = {"far": float(motion.distance[-1]), "fast": float(motion.speed.max()), "time": float(motion.time[-1])}
    text = "At most {fast:speed}, on flat water; what a turn itself costs is not in it."
    out = [Finding("underway.run", "note", "{far:room} in {time:span}", text, MECHANICS, values)]
    if has_bottom:
        word = "After {planes:span} it planes" if planes is not None else "It does not get on the plane"
        values["planes"] = planes or 0.0
        out.append(Finding("underway.run_planes", "note", word, "By the speed at which the bottom carries it.", MECHANICS, values))
    if coasts is not None:
        values["coasts"] = coasts
        text = "That much room the pond must have; with the drive dead it is out there."
        out.append(Finding("underway.coasts", "note", "It coasts {coasts:room} after the throttle is shut", text, MECHANICS, values))
    if left is not None and left[-1] < RESERVE:
        values["left"] = max(float(left[-1]), 0.0)
        empty = np.flatnonzero(left < RESERVE)
        values["when"] = float(motion.time[empty[0]])
        text = "A fifth is left after {when:span}; at the end {left:percent}."
        out.append(Finding("underway.run_empty", "near", "The pack is below its reserve", text, MECHANICS, values))
    return tuple(out)


@dataclass(frozen=True, slots=True)
class Logged:
    """A line of the virtual pond's log: time, place (metres north and east of the start), speed, current, trim, what is used."""

    time: Seconds
    north: Metres
    east: Metres
    speed: MetresPerSecond
    current: float
    trim_deg: float
    used: AmpereHours


def logged(run: RunAssessment, seed: int, every: Seconds = 0.2) -> tuple[Logged, ...]:
    """A seeded stand-in's log of a run, as loggers give it: places off by metres that wander, speeds and currents with noise."""
    chance = random.Random(seed)
    bearing = chance.uniform(0, 2 * math.pi)
    drift = [0.0, 0.0]
    rows = []
    motion = run.motion
    for t in np.arange(0.0, float(motion.time[-1]) + 1e-9, every).tolist():
        x, v, i, q = (float(np.interp(t, motion.time, a)) for a in (motion.place, motion.speed, motion.current, motion.used))
        trim = math.degrees(float(np.interp(t, motion.time, run.trim)))
        drift = [0.98 * d + chance.gauss(0.0, 0.12) for d in drift]
        rows.append(
            Logged(
                time=round(t, 2),
                north=x * math.cos(bearing) + drift[0],
                east=x * math.sin(bearing) + drift[1],
                speed=max(v + chance.gauss(0.0, 0.08), 0.0),
                current=max(i + chance.gauss(0.0, 0.1 + 0.01 * i), 0.0),
                trim_deg=trim + chance.gauss(0.0, 0.2),
                used=q,
            )
        )
    return tuple(rows)
