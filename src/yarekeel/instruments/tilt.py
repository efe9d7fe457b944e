"""A tilt sensor that sends lines of plain text, and a stand-in for one aboard a boat that rolls.

A line is a word or two, a signed number and "deg": "HEEL +1.23 deg", starboard down positive. ``Trace`` reads a port, times and numbers
the readings, and takes off the offset that was read when the boat stood still.
"""

import math
import random
import re
import threading
import time
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Radians, Seconds

_LINE = re.compile(r"(?P<sign>[+\-−]?)\s*(?P<number>\d+(?:[.,]\d+)?)\s*(deg|°)", re.IGNORECASE)
KEPT = 1500
MOST_BEHIND: Seconds = 2.0
"""Of what was sent while nobody looked."""
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


class Port(Protocol):
    """Where lines come from. ``line`` gives the next one, None while nothing answers."""

    def line(self, now: Seconds) -> str | None: ...


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


class Trace:
    """Reads one port for every page that looks on; thread-safe. ``zero`` is the angle taken off every reading."""

    def __init__(self, port: Port, clock: Callable[[], Seconds] = time.monotonic, every: Seconds = 0.02) -> None:
        self.port, self.clock, self._every = port, clock, every
        self._kept: deque[Tilt] = deque(maxlen=KEPT)
        self._last: Seconds = -math.inf
        self._number = 0
        self._lock = threading.Lock()
        self.zero: Radians = 0.0
        self.is_open = True

    def after(self, number: int) -> list[Tilt]:
        """The readings since ``number``, oldest first, with the zero taken off; the port is asked for what came since the last look."""
        with self._lock:
            now = self.clock()
            self._last = max(self._last, now - MOST_BEHIND)
            while self._last + self._every <= now:  # what came since the last look, as a port keeps it
                self._last += self._every
                self._number += 1
                self._kept.append(Tilt(self._number, self._last, self._next(self._last)))
            return [Tilt(r.number, r.at, None if r.heel is None else r.heel - self.zero) for r in self._kept if r.number > number]

    def _next(self, now: Seconds) -> Radians | None:
        line = self.port.line(now)
        try:
            return None if line is None else read_line(line)
        except InvalidInput:
            return None  # noise on the line is no reading

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
        self.zero += self.still()
