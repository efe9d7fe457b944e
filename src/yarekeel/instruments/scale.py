"""A scale that sends lines of plain text, and a stand-in for one.

A port gives one line at a time, as a serial or network scale does: an optional word for its state, a signed number, a unit
("  1.234 kg", "ST,+0001.234 kg", "US 12.5 g"), or a word for overload ("OL", "OVER", "-----"). ``Bench`` reads a port, judges
for itself whether readings have settled, numbers them, and gives each away once.
"""

import math
import random
import re
import threading
import time
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, Protocol

from yarekeel.core.errors import Conflict, InvalidInput
from yarekeel.core.quantities import Kilograms, Seconds

State = Literal["settling", "settled", "overload", "off"]
_UNITS = {"kg": 1.0, "g": 0.001, "lb": 0.45359237, "oz": 0.028349523125}
_LINE = re.compile(r"(?P<sign>[+\-−]?)\s*(?P<number>\d+(?:[.,]\d+)?)\s*(?P<unit>kg|g|lb|oz)\b", re.IGNORECASE)
_OVER = re.compile(r"\b(OL|OVER|OVERLOAD|ERR)\b|-{4,}", re.IGNORECASE)
SETTLED_READINGS = 6
"""Readings in a row that must lie within two steps of each other."""
KEPT = 200
"""Readings remembered, so that a page that lost its line can catch up."""


def read_line(line: str) -> Kilograms | None:
    """Kilograms in a line; None for overload. Raises InvalidInput for a line that says neither."""
    if _OVER.search(line):
        return None
    found = _LINE.search(line)
    if not found:
        raise InvalidInput("scale", f"The scale sent “{line.strip()[:40]}”, which is not a weight.")
    value = float(found["number"].replace(",", ".")) * _UNITS[found["unit"].lower()]
    return -value if found["sign"] in ("-", "−") else value


class Port(Protocol):
    """Where lines come from. ``line`` gives the next one, None while nothing answers."""

    step_kg: Kilograms

    def line(self, now: Seconds) -> str | None: ...


@dataclass(frozen=True, slots=True)
class Reading:
    """A numbered reading; ``kg`` is None at overload and while nothing answers."""

    number: int
    kg: Kilograms | None
    state: State


class StandIn:
    """A bench scale that behaves like one: it swings and settles, drifts, flickers by a step, tares, and reads OL past its end.

    ``seed`` makes every run the same. Times are given in, so that a test need not wait.
    """

    def __init__(
        self,
        seed: int = 1,
        capacity_kg: Kilograms = 30.0,
        step_kg: Kilograms = 0.001,
        drift_kg_per_s: float = 2e-6,
        noise_kg: Kilograms = 0.0004,
    ) -> None:
        self.capacity_kg, self.step_kg = capacity_kg, step_kg
        self._random = random.Random(seed)
        self._drift, self._noise = drift_kg_per_s, noise_kg
        self._load = self._before = 0.0
        self._since: Seconds = -math.inf
        self._began: Seconds | None = None
        self._zero = 0.0
        self.plugged = True

    def put(self, kg: Kilograms, now: Seconds) -> None:
        """Put something on the pan in place of what was there. Raises InvalidInput for a mass that is none."""
        if not math.isfinite(kg) or kg < 0:
            raise InvalidInput("scale", "What is put on the scale must weigh 0 or more.")
        self._before, self._load, self._since = self._at(now), kg, now

    def tare(self, now: Seconds) -> None:
        """Take what is on the pan as zero."""
        self._zero = self._at(now) + self._drifted(now)

    def _at(self, now: Seconds) -> Kilograms:
        """The pan's load as the cell feels it: a swing that dies away with a time of 0.35 s."""
        past = now - self._since
        swing = math.exp(-past / 0.35) * math.cos(2 * math.pi * 1.8 * past) if past < 20 else 0.0
        return self._load + (self._before - self._load) * swing

    def _drifted(self, now: Seconds) -> Kilograms:
        if self._began is None:
            self._began = now
        return self._drift * (now - self._began)

    def line(self, now: Seconds) -> str | None:
        """What the scale sends at a moment."""
        if not self.plugged:
            return None
        gross = self._at(now) + self._drifted(now)
        if gross > self.capacity_kg:
            return "OL"
        net = gross - self._zero + self._random.gauss(0.0, self._noise)
        shown = round(net / self.step_kg) * self.step_kg + 0.0
        return f"{shown:+.4f} kg"


class Bench:
    """Reads one port for every page that looks on; thread-safe."""

    def __init__(self, port: Port, clock: Callable[[], Seconds] = time.monotonic, every: Seconds = 0.12) -> None:
        self.port, self.clock, self._every = port, clock, every
        self._kept: deque[Reading] = deque(maxlen=KEPT)
        self._last: Seconds = -math.inf
        self._number = 0
        self._taken: dict[int, str] = {}
        self._lock = threading.Lock()
        self.is_open = True  # pages listen while it is

    def after(self, number: int) -> list[Reading]:
        """The readings since ``number``, oldest first; the port is asked when it is time for the next."""
        with self._lock:
            now = self.clock()
            if now - self._last >= self._every:
                self._last = now
                self._number += 1
                self._kept.append(self._next(now))
            return [r for r in self._kept if r.number > number]

    def _next(self, now: Seconds) -> Reading:
        line = self.port.line(now)
        if line is None:
            return Reading(self._number, None, "off")
        try:
            kg = read_line(line)
        except InvalidInput:
            return Reading(self._number, None, "off")  # noise on the line is no reading
        if kg is None:
            return Reading(self._number, None, "overload")
        before = [r.kg for r in list(self._kept)[1 - SETTLED_READINGS :]]
        values = [v for v in before if v is not None]
        steady = len(values) == SETTLED_READINGS - 1 and max(*values, kg) - min(*values, kg) <= 2.001 * self.port.step_kg
        return Reading(self._number, kg, "settled" if steady else "settling")

    def take(self, number: int, purpose: str) -> Kilograms:
        """The settled reading of a number, for one purpose: asked again for the same it is the same reading, for another it is
        refused, so none is taken twice. Raises Conflict or InvalidInput with the reason."""
        with self._lock:
            reading = next((r for r in self._kept if r.number == number), None)
            if reading is None:
                raise Conflict("That reading is too old to be taken; hold a new one.")
            if reading.kg is None or reading.state != "settled":
                raise InvalidInput("scale", "The scale had not settled at that reading; wait until it has, and take the next.")
            if self._taken.setdefault(number, purpose) != purpose:
                raise Conflict("That reading was taken already, for another place; hold a new one.")
            return reading.kg
