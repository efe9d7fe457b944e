"""A scale that sends lines of plain text, and a stand-in for one.

A port gives one line at a time, as a serial or network scale does: an optional word for its state, a signed number, a unit
("  1.234 kg", "ST,+0001.234 kg", "US 12.5 g"), or a word for overload ("OL", "OVER", "-----").
"""

import math
import random
import re
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from yarekeel.core.errors import Conflict, InvalidInput
from yarekeel.core.quantities import Kilograms, Seconds
from yarekeel.instruments.bench import Bench
from yarekeel.instruments.truth import true_boat
from yarekeel.plain_text import whole
from yarekeel.stages.design.craft import Craft

State = Literal["settling", "settled", "overload", "off"]
_UNITS = {"kg": 1.0, "g": 0.001, "lb": 0.45359237, "oz": 0.028349523125}
_LINE = re.compile(r"(?P<sign>[+\-−]?)\s*(?P<number>\d+(?:[.,]\d+)?)\s*(?P<unit>kg|g|lb|oz)\b", re.IGNORECASE)
_OVER = re.compile(r"\b(OL|OVER|OVERLOAD|ERR)\b|-{4,}", re.IGNORECASE)
SETTLED_READINGS = 6
"""Readings in a row that must lie within two steps of each other."""


def read_line(line: str) -> Kilograms | None:
    """Kilograms in a line; None for overload. Raises InvalidInput for a line that says neither."""
    if _OVER.search(line):
        return None
    found = _LINE.search(line)
    if not found:
        raise InvalidInput("scale", f"The scale sent “{line.strip()[:40]}”, which is not a weight.")
    value = float(found["number"].replace(",", ".")) * _UNITS[found["unit"].lower()]
    return -value if found["sign"] in ("-", "−") else value


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


class ScaleBench(Bench[Reading]):
    """A scale for every page that looks on; it judges for itself whether readings have settled, and gives each away once."""

    every = behind = 0.12
    kept = 200

    def __init__(self, port: StandIn | None = None, clock: Callable[[], Seconds] = time.monotonic) -> None:
        self.scale = port or StandIn(capacity_kg=300.0)
        super().__init__(self.scale, clock)
        self._taken: dict[int, str] = {}

    def read(self, number: int, at: Seconds, line: str | None) -> Reading:
        if line is None:
            return Reading(number, None, "off")
        try:
            kg = read_line(line)
        except InvalidInput:
            return Reading(number, None, "off")
        if kg is None:
            return Reading(number, None, "overload")
        before = [r.kg for r in list(self._kept)[1 - SETTLED_READINGS :]]
        values = [v for v in before if v is not None]
        steady = len(values) == SETTLED_READINGS - 1 and max(*values, kg) - min(*values, kg) <= 2.001 * self.scale.step_kg
        return Reading(number, kg, "settled" if steady else "settling")

    def put(self, kg: Kilograms) -> None:
        """Put something on the pan in place of what was there."""
        with self._lock:
            self.scale.put(kg, self.clock())

    def tare(self) -> None:
        """Take what is on the pan as zero."""
        with self._lock:
            self.scale.tare(self.clock())

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


def load_of(craft: Craft, what: str) -> Kilograms:
    """What the stand-in feels of the true boat on it. Raises InvalidInput for what cannot be put there."""
    real = [i.mass_kg for i in true_boat(craft).design.weights]
    if what == "nothing":
        return 0.0
    if what == "boat":
        return math.fsum(real)
    if (number := whole(what)) is not None and number < len(real):
        return real[int(what)]
    if what in ("aft", "fore", "port", "starboard"):
        return _on_support(craft, real, what)
    raise InvalidInput("scale", "Choose what to put on the scale.")


def _on_support(craft: Craft, real: list[Kilograms], which: str) -> Kilograms:
    """The share that one of two supports carries."""
    r, along = craft.design.weigh_in, which in ("aft", "fore")
    low, high = (r.aft_x_m, r.fore_x_m) if along else (r.starboard_y_m, r.port_y_m)
    if low is None or high is None or not high > low:
        raise InvalidInput("scale", "Say first where the two supports stand.")
    axis, mass = 0 if along else 1, math.fsum(real)
    centre = math.fsum(m * i.at_m[axis] for m, i in zip(real, craft.items, strict=True)) / mass if mass else 0.0
    share = (centre - low) / (high - low)
    if not 0 <= share <= 1:
        raise InvalidInput("scale", "The centre of gravity lies outside the two supports: the boat would tip off them.")
    return mass * (share if which in ("fore", "port") else 1 - share)
