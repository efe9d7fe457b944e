"""A thrust stand that sends lines of plain text, and a stand-in for one with a unit that pulls in a tub.

A line holds the throttle, the scale's reading, volts, amps and turns: "THR 50.0 % F +12.340 N U 11.62 V I 8.41 A N 10230 rpm"; "F OL"
past the scale's end. Without a page that listens the throttle falls to nothing, as a failsafe's does.
"""

import dataclasses
import math
import random
import re
import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.propulsion.bench.curves import rise
from yarekeel.core.propulsion.bench.sheet import OVERLOAD, BenchPoint
from yarekeel.core.quantities import Amperes, Newtons, Ohms, Ratio, Seconds, Volts
from yarekeel.instruments.bench import Bench

FAULTS = ("none", "air", "slip", "overload", "drift", "warm")
Trouble = Literal["none", "air", "slip", "overload", "drift", "warm"]
SETTLE: Seconds = 1.2
"""From a change of throttle until readings count."""
HOLD: Seconds = 2.0
"""Readings of so long make a point."""
LISTENED: Seconds = 3.0
"""Without a page for so long the throttle falls to nothing."""
LEAST_READINGS = 8
_LINE = re.compile(
    r"THR\s+(?P<throttle>[+-]?\d+(?:\.\d+)?)\s*%\s+F\s+(?P<force>[+-]?\d+(?:\.\d+)?\s*N|OL)\s+U\s+(?P<volts>\d+(?:\.\d+)?)\s*V"
    r"\s+I\s+(?P<amps>\d+(?:\.\d+)?)\s*A\s+N\s+(?P<rpm>\d+)\s*rpm",
    re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class StandReading:
    """A numbered reading; ``state`` is ``off`` while nothing answers, ``settling`` after a change of throttle."""

    number: int
    at: Seconds
    state: Literal["off", "settling", "steady"]
    throttle: Ratio = 0.0
    newtons: Newtons | None = None
    volts: Volts = 0.0
    amps: Amperes = 0.0
    rpm: float = 0.0


@dataclass(frozen=True, slots=True)
class Truth:
    """What the stand-in's unit really does: pull at full throttle, where it starts, with which power of the throttle it rises; its
    current, its pack, its turns."""

    full: Newtons = 20.0
    start: Ratio = 0.06
    power: float = 1.8
    current: Amperes = 18.0
    volts: Volts = 12.4
    resistance: Ohms = 0.04
    rpm: float = 14000.0
    ratio: float = 1.0
    """Pull over what the scale feels: the rig's arms."""


class StandIn:
    """A thrust stand that behaves like one: noise, a zero that wanders, a motor that takes a moment, and one ``trouble`` at a time.

    ``seed`` makes every run the same. Times are given in, so that a test need not wait.
    """

    def __init__(self, seed: int = 1, truth: Truth | None = None, noise: Ratio = 0.006) -> None:
        self._random = random.Random(seed)
        self.truth = truth or Truth()
        self._noise = noise
        self.plugged = True
        self.trouble: Trouble = "none"
        self.size = 0.25
        self.begins: Ratio = 0.75
        self.target = self._before = 0.0
        self._since: Seconds = -math.inf
        self._began: Seconds | None = None
        self.slipped = 1.0
        self._zero = 0.0
        self._run: Seconds = 0.0
        self._seen: Seconds | None = None

    def throttle(self, value: Ratio, now: Seconds) -> None:
        """Set the throttle, -1 to 1. Raises InvalidInput beyond."""
        if not math.isfinite(value) or not -1 <= value <= 1:
            raise InvalidInput("throttle", "Throttle runs from 100 % astern to 100 % ahead.")
        self._before, self.target, self._since = self._spun(now), value, now

    def is_settled(self, now: Seconds) -> bool:
        """Whether the throttle was left alone for long enough."""
        return now - self._since >= SETTLE

    def slip(self, share: Ratio) -> None:
        """A joint of the rig gives: from now on the scale feels another share of the pull."""
        self.slipped *= share

    def tare(self, now: Seconds) -> None:
        """Take what the scale feels as zero."""
        self._zero = self._felt(now) + self._drifted(now)

    def _spun(self, now: Seconds) -> Ratio:
        past = max(now - self._since, 0.0)
        return self.target + (self._before - self.target) * math.exp(-min(past / 0.25, 50.0))

    def _pull(self, now: Seconds) -> Newtons:
        t, d = self.truth, self._spun(now)
        pulled = t.full * float(rise(math.fabs(d), t.start, t.power)) * (1.0 if d >= 0 else 0.6)
        if self.trouble == "air" and math.fabs(d) > self.begins:
            pulled *= 1 - self.size * (1 + 0.15 * self._random.gauss(0.0, 1.0)) * min((math.fabs(d) - self.begins) / 0.02, 1.0)
        if self.trouble == "warm":
            pulled *= 1 - self.size * min(self._run / 90.0, 1.0)
        return pulled

    def _felt(self, now: Seconds) -> Newtons:
        return self._pull(now) * self.slipped / self.truth.ratio

    def _drifted(self, now: Seconds) -> Newtons:
        if self._began is None:
            self._began = now
        rate = 0.08 / 90 if self.trouble == "drift" else 0.0002 / 90
        return rate * self.truth.full / self.truth.ratio * (now - self._began)

    def line(self, now: Seconds) -> str | None:
        """What the stand sends at a moment; it slips by itself once in mid-sweep where that is its trouble."""
        if not self.plugged:
            return None
        t, d = self.truth, self._spun(now)
        if self._seen is not None and math.fabs(d) > 0.02:
            self._run += max(now - self._seen, 0.0)
        self._seen = now
        if self.trouble == "slip" and self.slipped == 1.0 and math.fabs(d) >= self.begins and now - self._since > SETTLE + 0.6 * HOLD:
            self.slip(1 - self.size)
        share = float(rise(math.fabs(d), t.start, 2.4))
        amps = max(t.current * share * (1 + 0.01 * self._random.gauss(0.0, 1.0)), 0.0)
        turns = t.rpm * float(rise(math.fabs(d), t.start, 0.9))
        top = 0.6 * t.full / t.ratio if self.trouble == "overload" else 50 * t.full / t.ratio
        felt = self._felt(now) + self._drifted(now)
        net = felt - self._zero + self._random.gauss(0.0, self._noise * t.full / t.ratio)
        force = "OL" if felt > top else f"{net:+.4f} N"
        return f"THR {100 * self.target:.1f} % F {force} U {t.volts - t.resistance * amps:.3f} V I {amps:.2f} A N {turns:.0f} rpm"


class StandBench(Bench[StandReading]):
    """A thrust stand for every page that looks on; a point is the mean of what was read since the throttle had settled; times count
    from the tare."""

    every = 0.1
    behind = 1.0
    kept = 600

    def __init__(self, port: StandIn | None = None, clock: Callable[[], Seconds] = time.monotonic) -> None:
        self.stand = port or StandIn()
        super().__init__(self.stand, clock)
        self._listened = clock()
        self.began: Seconds = clock()

    def read(self, number: int, at: Seconds, line: str | None) -> StandReading:
        if at - self._listened > LISTENED and self.stand.target:
            self.stand.throttle(0.0, at)
        found = _LINE.search(line) if line else None
        if found is None:
            return StandReading(number, at, "off")
        force = found["force"]
        return StandReading(
            number=number,
            at=at,
            state="steady" if self.stand.is_settled(at) else "settling",
            throttle=float(found["throttle"]) / 100,
            newtons=None if force.upper() == "OL" else float(force.rstrip("Nn ")),
            volts=float(found["volts"]),
            amps=float(found["amps"]),
            rpm=float(found["rpm"]),
        )

    def after(self, number: int) -> list[StandReading]:
        """The readings since ``number``; whoever asks for them listens."""
        with self._lock:
            found = super().after(number)
            self._listened = self.clock()
            return found

    def throttle(self, value: Ratio) -> None:
        """Set the throttle. Raises InvalidInput."""
        with self._lock:
            self._listened = self.clock()
            self.stand.throttle(value, self.clock())

    def tare(self) -> None:
        """Take what the scale feels as zero. Raises InvalidInput while it pulls."""
        with self._lock:
            if self.stand.target:
                raise InvalidInput("stand", "Bring the throttle to nothing before you tare.")
            self.began = self.clock()
            self.stand.tare(self.began)

    def set_trouble(self, trouble: str) -> None:
        """What is wrong with the rig from now on. Raises InvalidInput for what it cannot have."""
        with self._lock:
            if trouble not in FAULTS:
                raise InvalidInput("stand", "Choose what is wrong with the rig.")
            self.stand.trouble = trouble  # type: ignore[assignment]  # checked in the line above
            self.stand.slipped = 1.0

    def clamp(self, full: Newtons, current: Amperes, ratio: Ratio) -> None:
        """Put a unit of a pull and a current on a rig whose scale feels one ``ratio``-th of it; while it pulls nothing is changed."""
        with self._lock:
            if not self.stand.target:
                self.stand.truth = dataclasses.replace(self.stand.truth, full=full, current=current, ratio=ratio)

    def held(self) -> BenchPoint | None:
        """What was read since the throttle settled, as one point; None while it settles or where nothing answers."""
        with self._lock:
            readings = self.since_settled()
            return as_point(readings, self.began) if readings else None

    def since_settled(self) -> list[StandReading]:
        """The last readings of one settled throttle, at most a hold's worth; empty for too few of them."""
        out: list[StandReading] = []
        for r in reversed(self.after(0)):
            if r.state != "steady" or (out and r.throttle != out[0].throttle) or len(out) >= round(HOLD / self.every):
                break
            out.append(r)
        return out[::-1] if len(out) >= LEAST_READINGS else []


def as_point(readings: list[StandReading], began: Seconds) -> BenchPoint:
    """The mean of a hold, its scatter, and how much its later half differs from its earlier; past the scale's end, no reading."""
    known = [r.newtons for r in readings if r.newtons is not None]
    over = len(known) < len(readings)
    half = len(known) // 2
    return BenchPoint(
        throttle=readings[-1].throttle,
        reading_n=None if over else round(statistics.fmean(known), 4),
        volts=round(statistics.fmean(r.volts for r in readings), 2),
        amps=round(statistics.fmean(r.amps for r in readings), 2),
        rpm=float(round(statistics.fmean(r.rpm for r in readings))),
        at_s=round(max(readings[0].at - began, 0.0), 2),
        spread_n=None if over else round(statistics.stdev(known), 6),
        step_n=None if over else round(statistics.fmean(known[half:]) - statistics.fmean(known[:half]), 6),
        note=OVERLOAD if over else "",
        practice=True,
    )
