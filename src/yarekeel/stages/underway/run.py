"""A run followed in time: a throttle profile, or out, turn and back; the virtual pond's noisy log of it."""

import math
import random
import re
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.drive import direction
from yarekeel.core.propulsion.pulls import pushes_at
from yarekeel.core.quantities import AmpereHours, Floats, Metres, MetresPerSecond, Ratio, Seconds
from yarekeel.core.running.following import Followed, Leg, follow
from yarekeel.core.running.regime import PLANES_FROM, volumetric_froude
from yarekeel.core.sources import MECHANICS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive.match import BESIDE
from yarekeel.stages.running.resistance import Resistance, resistance_of

LONGEST: Seconds = 1800.0
MOST_LEGS = 60
SENTENCE = "Write legs as seconds and throttle, with a head wind where there is one: 10 100%; 60 70%; 20 0% 3 m/s."
_LEG = re.compile(r"\s*(\d+(?:[.,]\d+)?)\s*s?\s+(-?\d+(?:[.,]\d+)?)\s*%?(?:\s+(-?\d+(?:[.,]\d+)?)\s*(?:m/s)?)?\s*", re.IGNORECASE)
GRID_SPEEDS, GRID_THROTTLES = 40, 21


def legs_of(text: str) -> tuple[Leg, ...]:
    """Legs as typed. Raises InvalidInput with how to write them, for a throttle over 100 %, or a run of more than half an hour."""
    legs: list[Leg] = []
    for piece in re.split(r"[;\n]", text):
        if not piece.strip():
            continue
        found = _LEG.fullmatch(piece)
        if found is None:
            raise InvalidInput("course", SENTENCE)
        seconds, percent, wind = (float(g.replace(",", ".")) if g else 0.0 for g in found.groups())
        legs.append(checked_leg(Leg(seconds, percent / 100, wind)))
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
    how far it coasts after its last throttle."""

    motion: Followed
    trim: Floats
    left: Floats | None
    planes_after: Seconds | None
    coasts: Metres | None
    findings: tuple[Finding, ...]


@kept
def assess(craft: Craft, legs: tuple[Leg, ...]) -> RunAssessment | None:
    """The run of a course; None where the boat does not run or its drive is not known at speed. Raises InvalidInput."""
    checked_course(tuple(checked_leg(leg) for leg in legs))
    winds = sorted({leg.wind for leg in legs})
    holds = {w: resistance_of(craft, w) for w in winds}
    still = resistance_of(craft)
    tables = _drive_tables(craft, still) if still is not None else None
    if still is None or tables is None:
        return None
    speeds, throttles, thrust, amps = tables
    boat = still.boat
    curves = {w: h for w, h in holds.items() if h is not None}
    if len(curves) < len(winds):
        return None

    def between(table: Floats, speed: MetresPerSecond, throttle: Ratio) -> float:
        i = min(max(speed / speeds[-1], 0.0), 1.0) * (speeds.size - 1)
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
    planes = _planes_after(still, motion)
    coasts = _coasts(motion)
    return RunAssessment(motion, trim, left, planes, coasts, _findings(motion, left, planes, coasts, bool(boat.pads)))


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
    text = "At most {fast:speed}; straight ahead on flat water, turns not taken in."
    out = [Finding("underway.run", "note", "{far:room} in {time:seconds}", text, MECHANICS, values)]
    if has_bottom:
        word = "After {planes:seconds} it planes" if planes is not None else "It does not get on the plane"
        values["planes"] = planes or 0.0
        out.append(Finding("underway.run_planes", "note", word, "By the speed at which the bottom carries it.", MECHANICS, values))
    if coasts is not None:
        values["coasts"] = coasts
        text = "That much room the pond must have; with the drive dead it is out there."
        out.append(Finding("underway.coasts", "note", "It coasts {coasts:room} after the throttle is shut", text, MECHANICS, values))
    if left is not None and left[-1] < 0.2:
        values["left"] = max(float(left[-1]), 0.0)
        empty = np.flatnonzero(left < 0.2)
        values["when"] = float(motion.time[empty[0]])
        text = "A fifth is left after {when:seconds}; at the end {left:percent}."
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
        x, v, i, q = (float(np.interp(t, motion.time, a)) for a in (motion.distance, motion.speed, motion.current, motion.used))
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
