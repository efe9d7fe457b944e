"""A tilt sensor that sends lines of plain text, and a stand-in for one aboard a boat that rolls.

A line is a word or two, a signed number and "deg": "HEEL +1.23 deg", starboard down positive. The bench takes off the offset that
was read when the boat stood still.
"""

import math
import random
import re
import time
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.hydrostatics.afloat import float_boat
from yarekeel.core.quantities import Metres, Radians, Ratio, Seconds
from yarekeel.core.stability.inclining import ADDED, roll_period, with_added
from yarekeel.core.stability.roll_fit import RollFit, fit_roll
from yarekeel.instruments.bench import Bench
from yarekeel.instruments.truth import true_boat
from yarekeel.stages.design.craft import Craft

_LINE = re.compile(r"(?P<sign>[+\-−]?)\s*(?P<number>\d+(?:[.,]\d+)?)\s*(deg|°)", re.IGNORECASE)
PUSH: Radians = math.radians(8)
DAMPING: Ratio = 0.05
"""Of critical: a small hull's swings die away in some ten rolls (common practice)."""
NOISE: Radians = math.radians(0.06)
CROOKED: Radians = math.radians(1.3)
STILL: Seconds = 1.0
"""Readings of so long are averaged for an angle or a zero."""
STILL_WITHIN: Radians = math.radians(0.4)
"""Readings must lie so close together for the boat to stand still."""


def read_line(line: str) -> Radians:
    """The angle in a line. Raises InvalidInput for a line that has none."""
    found = _LINE.search(line)
    if not found:
        raise InvalidInput("tilt", f"The sensor sent “{line.strip()[:40]}”, which is not an angle.")
    value = math.radians(float(found["number"].replace(",", ".")))
    return -value if found["sign"] in ("-", "−") else value


@dataclass(frozen=True, slots=True)
class Tilt:
    """A numbered reading; ``heel`` is None while nothing answers."""

    number: int
    at: Seconds
    heel: Radians | None


class StandIn:
    """A sensor stuck into a boat, a little crooked: the boat rolls at its own period after a push, each swing smaller than the last,
    about the lean at which it rests. ``seed`` makes every run the same; times are given in, so that a test need not wait."""

    def __init__(self, seed: int = 1, noise: Radians = NOISE, crooked: Radians = CROOKED) -> None:
        self._random = random.Random(seed)
        self._noise, self._crooked = noise, crooked
        self.plugged = True
        self.aboard(1.5, 0.0, 0.08)

    def aboard(self, period: Seconds, rest: Radians, damping: float) -> None:
        """Put it aboard a boat of a roll period, a lean at rest and a share of critical damping. Raises InvalidInput."""
        if not (math.isfinite(period) and period > 0 and math.isfinite(rest)):
            raise InvalidInput("tilt", "This boat does not come back from a roll, so it has no period.")
        self._rate, self._damping, self._rest = 2 * math.pi / period, damping, rest
        self._swing, self._speed, self._since = 0.0, 0.0, -math.inf

    def lean(self, rest: Radians, now: Seconds) -> None:
        """Something aboard was moved: it swings over to another lean."""
        angle, speed = self._state(now)
        self._rest, self._swing, self._speed, self._since = rest, angle - rest, speed, now

    def push(self, by: Radians, now: Seconds) -> None:
        """Push it over by an angle and let go."""
        self._swing, self._speed, self._since = by, 0.0, now

    def _state(self, now: Seconds) -> tuple[Radians, float]:
        past = now - self._since
        if past > 600 or not math.isfinite(past):
            return self._rest, 0.0
        fall, turn = self._damping * self._rate, self._rate * math.sqrt(1 - self._damping**2)
        shrink, c, s = math.exp(-fall * past), math.cos(turn * past), math.sin(turn * past)
        b = (self._speed + fall * self._swing) / turn
        angle = shrink * (self._swing * c + b * s)
        speed = shrink * ((b * turn - fall * self._swing) * c - (self._swing * turn + fall * b) * s)
        return self._rest + angle, speed

    def line(self, now: Seconds) -> str | None:
        """What the sensor sends at a moment."""
        if not self.plugged:
            return None
        angle = self._state(now)[0] + self._crooked + self._random.gauss(0.0, self._noise)
        return f"HEEL {math.degrees(angle):+.2f} deg"


class TiltBench(Bench[Tilt]):
    """A tilt sensor for every page that looks on. ``zero`` is the angle taken off every reading."""

    every = 0.02
    behind = 2.0
    kept = 1500

    def __init__(self, port: StandIn | None = None, clock: Callable[[], Seconds] = time.monotonic) -> None:
        self.sensor = port or StandIn()
        super().__init__(self.sensor, clock)
        self.zero: Radians = 0.0
        self.pushed: Seconds = -math.inf

    def read(self, number: int, at: Seconds, line: str | None) -> Tilt:
        try:
            return Tilt(number, at, None if line is None else read_line(line))
        except InvalidInput:
            return Tilt(number, at, None)

    def after(self, number: int) -> list[Tilt]:
        """The readings since ``number``, oldest first, with the zero taken off."""
        return [Tilt(r.number, r.at, None if r.heel is None else r.heel - self.zero) for r in super().after(number)]

    def put_aboard(self, craft: Craft) -> None:
        """Put the stand-in aboard the true boat. Raises InvalidInput where that does not float, or has no period."""
        boat = true_boat(craft)
        try:
            rest = boat.rest()
        except NoRest:
            raise InvalidInput("tilt", "The boat must float before a sensor can go aboard.") from None
        gyration = math.sqrt(max(float(boat.aboard.inertia[0, 0]), 1e-9) / boat.total.mass)
        period = roll_period(with_added(gyration, sum(ADDED) / 2), rest.gm_transverse)
        with self._lock:
            self.sensor.aboard(period, rest.attitude.heel, DAMPING)

    def push(self, by: Radians = PUSH) -> None:
        """Push the boat over and let go."""
        with self._lock:
            self.pushed = self.clock()
            self.sensor.push(by, self.pushed)

    def lean_over(self, craft: Craft, moved: Metres) -> None:
        """The test's weight moved to starboard on the true boat. Raises InvalidInput where it does not hold that."""
        heel = lean_with(craft, moved)
        with self._lock:
            self.sensor.lean(heel, self.clock())

    def fitted(self) -> RollFit:
        """The roll since the last push. Raises InvalidInput where there is none to fit."""
        readings = self.since(max(self.pushed + 0.05, self.clock() - 25.0))
        found = fit_roll(np.array([r.at for r in readings]), np.array([r.heel for r in readings], dtype=float)) if readings else None
        if found is None:
            text = "No roll stands clear in the trace: push it, and let it swing for three rolls or more. It must last ten readings."
            raise InvalidInput("tilt", text)
        return found

    def since(self, at: Seconds) -> list[Tilt]:
        """The readings that have an angle since a moment."""
        return [r for r in self.after(0) if r.at >= at and r.heel is not None]

    def still(self) -> Radians:
        """The mean angle of the last second. Raises InvalidInput where the sensor is silent or the boat still moves."""
        readings = [r.heel for r in self.since(self.clock() - STILL) if r.heel is not None]
        if len(readings) < 5:
            raise InvalidInput("tilt", "The sensor does not answer; look at its plug.")
        if max(readings) - min(readings) > STILL_WITHIN:
            raise InvalidInput("tilt", "The boat still moves; wait until it lies still.")
        return math.fsum(readings) / len(readings)

    def set_zero(self) -> None:
        """Take the angle it lies at now as nothing: the sensor's own slant is gone. Raises InvalidInput as ``still``."""
        with self._lock:
            self.zero += self.still()


def lean_with(craft: Craft, moved: Metres) -> Radians:
    """The lean of the true boat with the test's weight moved to starboard. Raises InvalidInput."""
    weight = craft.design.incline.weight_kg
    if weight is None:
        raise InvalidInput("tilt", "Say first how heavy the weight is that is moved.")
    boat = true_boat(craft)
    total = boat.total
    x, y, z = total.centre
    try:
        after = float_boat(
            hull=boat.hull,
            mass=total.mass,
            gravity=(x, y - weight * moved / total.mass, z),
            density=boat.density,
            start=None,
            kernel=boat.kernel,
        )
    except NoRest:
        raise InvalidInput("tilt", "The boat does not hold that.") from None
    if after.is_capsized:
        raise InvalidInput("tilt", "So far over the boat capsizes; move it less.")
    return after.attitude.heel
