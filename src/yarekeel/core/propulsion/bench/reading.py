"""What a sheet of bench readings says: which readings count and why others do not, and the curves of pull and current.

Explanations compete: a clean sweep, a pull that falls as things warm, a joint that slipped at some reading, a propeller that draws air
from some throttle on. Each costs what the terms it adds cost by the Bayesian information criterion, and is taken only where it beats
the plainer one by far.
"""

import dataclasses
import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np

from yarekeel.core.formulas import formula
from yarekeel.core.propulsion.bench.curves import FLOOR, Curve, Model, fitted, rough_squares
from yarekeel.core.propulsion.bench.rig import pull_per_reading
from yarekeel.core.propulsion.bench.sheet import BenchPoint, BenchTest
from yarekeel.core.quantities import Floats, Newtons, Ratio
from yarekeel.core.sources import SCHWARZ_1978

FaultCode = Literal["drift", "air", "slip", "jump", "saturated", "warm"]
FAR = 12.0
"""By which the criterion must fall for a fault to be said: 10 is "very strong" (Kass and Raftery, J. Am. Stat. Assoc. 90 (1995) 773)."""
LEAST: dict[str, Ratio] = {"slip": 0.03, "warm": 0.02, "air": 0.05, "drift": 0.005}
"""Shares of the full pull below which a fault is not worth a word."""
AIR_FROM: Ratio = 0.3
"""Below such a throttle a propeller pulls too little to draw air down (common practice)."""
AT_ONCE: Ratio = 0.075
"""Of what it should be, by which a pull that falls short from one throttle on is air: a pack that sags bends the curve by less."""
STEP_SIGMAS = 6.0
"""Of the doubt of the two halves of a held reading, by which they must differ for the reading to have jumped."""
FLAT: Ratio = 0.003
"""Of the reading: topmost readings so close together while throttle rises are a scale at its end."""
LEAST_AGAIN = 2
"""Throttles that a sweep must come back to before it can tell warming from the shape of its curve."""
HELD = 20
"""Readings in a hold of the usual length: its two halves' means are each off by the scatter over the root of half of that."""


@dataclass(frozen=True, slots=True)
class Fault:
    """What is wrong: the readings (by their numbers) that it touches, and how large: of drift a force, else a share of the pull."""

    code: FaultCode
    points: tuple[int, ...]
    size: float
    throttle: Ratio = 0.0


@dataclass(frozen=True, slots=True)
class Judged:
    """A reading as judged: its pull with the zero off (None past the scale's end), whether it counts, and the fault that says why not."""

    pull: Newtons | None
    counts: bool
    reason: FaultCode | Literal["", "you", "astern"] = ""


@dataclass(frozen=True, slots=True, eq=False)
class BenchReading:
    """One direction of a test: every reading judged, the faults, and the curves; None where too few readings count. ``clean`` has the
    current over throttle in the same form."""

    judged: tuple[Judged, ...]
    faults: tuple[Fault, ...]
    pull: Curve | None
    current: Curve | None

    @property
    def left_out(self) -> int:
        """How many readings do not count."""
        return sum(not j.counts for j in self.judged)


@formula("BIC = n ln(S / n') + k ln n", SCHWARZ_1978, "explanations of the same n readings, n' of them fitted; the least is taken")
def criterion(curve: Curve | None, readings: int, excused: int = 0) -> Ratio:
    """The criterion of a fit; each reading that is excused from it is a number of its own. Infinite for no fit."""
    if curve is None:
        return math.inf
    return readings * math.log(curve.squares / curve.count) + (curve.numbers + excused) * math.log(max(readings, 2))


def read(test: BenchTest, astern: bool = False) -> BenchReading:
    """Judge a test's readings of one direction and fit its curves; readings at no throttle count for both."""
    ratio = pull_per_reading(test.rig)
    side = -1 if astern else 1
    mine = [k for k, p in enumerate(test.points) if p.throttle * side >= 0]
    state = _State(test, mine, ratio, side)
    judged: list[Judged] = []
    for k, p in enumerate(test.points):
        if k not in mine:
            judged.append(Judged(None, False, "astern"))
            continue
        i = mine.index(k)
        pull = None if p.reading_n is None else float(state.pull[i] - state.zero_at(i))
        reason = state.reason[i]
        counts = p.keep == "in" or (p.keep == "judged" and not reason)
        if pull is None:
            counts, reason = False, "saturated"
        judged.append(Judged(pull, counts, "" if counts else ("you" if p.keep == "out" else reason)))
    return BenchReading(tuple(judged), tuple(state.faults), state.curve, _current(test, mine, side))


@lru_cache(maxsize=64)
def read_ahead(test: BenchTest) -> BenchReading:
    """``read`` ahead, kept for as long as the test is the same."""
    return read(test)


class _State:
    """Readings of one direction on their way to a verdict."""

    def __init__(self, test: BenchTest, mine: list[int], ratio: Ratio, side: int) -> None:
        points = [test.points[k] for k in mine]
        self.mine = mine
        self.throttle = np.array([abs(p.throttle) for p in points])
        raw = np.array([np.nan if p.reading_n is None else p.reading_n for p in points])
        if side < 0 and np.nansum(raw[self.throttle > 0]) < 0:
            raw = -raw
        self.pull = raw * ratio
        self.when = _when(points)
        self.reason: list[FaultCode | Literal[""]] = [""] * len(points)
        self.faults: list[Fault] = []
        self.kept = np.array([p.keep != "out" and p.reading_n is not None for p in points], dtype=bool)
        self.forced = np.array([p.keep == "in" for p in points], dtype=bool)
        self.terms: tuple[str, ...] = ()
        self.curve: Curve | None = None
        if not points:
            return
        self._saturated(points, test, ratio)
        self._jumped(points, ratio)
        self._zero()
        self._compete()

    def zero_at(self, i: int) -> Newtons:
        """What the scale read with nothing on it, at reading ``i``."""
        if self.curve is None:
            return 0.0
        extra = self.curve.extra
        return (extra["zero"].value if "zero" in extra else 0.0) + (extra["drift"].value * float(self.when[i]) if "drift" in extra else 0.0)

    def _leave_out(self, which: list[int], code: FaultCode, size: float, throttle: Ratio = 0.0) -> None:
        for i in which:
            self.reason[i] = code
            if not self.forced[i]:
                self.kept[i] = False
        self.faults.append(Fault(code, tuple(self.mine[i] for i in which), size, throttle))

    def _saturated(self, points: list[BenchPoint], test: BenchTest, ratio: Ratio) -> None:
        """Readings at the scale's end: past it, at what it reads up to, or the same however the throttle rises."""
        over = [i for i, p in enumerate(points) if p.reading_n is None]
        if test.rig.scale_most_n:
            over += [i for i, p in enumerate(points) if p.reading_n is not None and p.reading_n >= 0.999 * test.rig.scale_most_n]
        elif self.kept.any():
            top = float(np.nanmax(self.pull))
            high = [i for i in np.flatnonzero(self.kept).tolist() if self.pull[i] >= (1 - FLAT) * top > 0]
            if np.unique(self.throttle[high]).size >= 3 and float(np.ptp(self.throttle[high])) >= 0.15:
                over += high
        if over:
            self._leave_out(sorted(set(over)), "saturated", float(np.nanmax(self.pull)) if np.isfinite(self.pull).any() else 0.0)

    def _jumped(self, points: list[BenchPoint], ratio: Ratio) -> None:
        """Held readings whose later half differs from their earlier."""
        top = float(np.nanmax(np.where(self.kept, self.pull, 0.0))) or 1.0
        for i, p in enumerate(points):
            if self.kept[i] and p.step_n is not None and p.spread_n is not None:
                doubt = max(p.spread_n * 2 / np.sqrt(HELD), FLOOR * top / ratio / 4)
                # a step inside a hold widens its own scatter, to half of itself at the most
                alone = np.sqrt(max(p.spread_n**2 - p.step_n**2 / 4, 0.0)) * 2 / np.sqrt(HELD)
                doubt = min(doubt, max(alone, FLOOR * top / ratio / 4))
                if abs(p.step_n) > STEP_SIGMAS * doubt and abs(p.step_n) * ratio > LEAST["slip"] * max(abs(self.pull[i]), 0.1 * top):
                    self._leave_out([i], "jump", p.step_n * ratio / max(abs(float(self.pull[i])), 1e-9), float(self.throttle[i]))

    def _zero(self) -> None:
        """Whether readings at no throttle show the zero and how it wanders."""
        still = self.kept & (self.throttle == 0)
        if still.any():
            self.terms = ("zero",)
            if float(np.ptp(self.when[still])) > 0.5:
                self.terms = ("zero", "drift")

    def _fit(self, model: Model) -> Curve | None:
        return fitted(self.throttle, np.nan_to_num(self.pull), self.when, model)

    def _rough(self, model: Model) -> float:
        return rough_squares(self.throttle, np.nan_to_num(self.pull), self.when, model)

    def _model(self, terms: tuple[str, ...] = (), after: int = 0, without: np.ndarray | None = None) -> Model:
        used = self.kept if without is None else self.kept & ~without
        return Model((*self.terms, *terms), after, used)

    def _compete(self) -> None:
        """The best explanation, then the best of what is left, while each beats the plainer one by far."""
        self.curve = self._fit(self._model())
        for _ in range(3):
            if self.curve is None:
                return
            n = int(self.kept.sum())
            base = criterion(self.curve, n)
            options = [*self._slips(n), *self._airs(n), *self._warms(n)]
            best = min(options, key=lambda o: o.criterion, default=None)
            if best is None or base - best.criterion < FAR:
                break
            if best.code == "warm":
                self.terms, self.curve = best.terms, best.curve
                self.faults.append(Fault("warm", tuple(self.mine[i] for i in best.which), best.size))
            else:
                self._leave_out(best.which, best.code, best.size, best.throttle)
                self.curve = self._fit(self._model())
        self._drifted()

    def _drifted(self) -> None:
        drift = self.curve.extra.get("drift") if self.curve else None
        if self.curve is None or drift is None:
            return
        if abs(drift.value) > max(1.5 * drift.half_width, LEAST["drift"] * self.curve.full.value):
            self.faults.append(Fault("drift", tuple(self.mine), drift.value))

    def _slips(self, n: int) -> "list[_Option]":
        """A joint that slipped before some reading, or while one was held: all later pulls are the same share of what they were."""
        live = [i for i in np.flatnonzero(self.kept).tolist() if self.throttle[i] > 0]
        out = []
        for spoilt in (0, 1):  # readings that were held while it slipped
            models = {}
            for k in live[3 : -1 - spoilt]:
                during = np.zeros(len(self.mine), bool)
                during[k : k + 1] = bool(spoilt)
                models[k] = self._model(("slip",), k, during)
            if not models:
                continue
            k = min(models, key=lambda k: self._rough(models[k]))
            curve = self._fit(models[k])
            if curve is None or curve.freedom < 3 or abs(curve.extra["slip"].value) < LEAST["slip"]:
                continue
            size, later = curve.extra["slip"].value, [i for i in live if i >= k]
            out.append(_Option(criterion(curve, n, 1 + spoilt), "slip", later, size, float(self.throttle[k]), curve, self.terms))
        return out

    def _airs(self, n: int) -> "list[_Option]":
        """A propeller that draws air from some throttle on: pulls there fall short at once, or fall though the throttle rises."""
        throttles = np.unique(self.throttle[self.kept & (self.throttle > AIR_FROM)]).tolist()[1:]
        models = {d: self._model(without=self.throttle >= d - 1e-9) for d in throttles}
        rough = {
            d: n * math.log(squares / np.count_nonzero(m.used)) + math.log(n) * np.count_nonzero(self.kept & ~m.used)
            for d, m in models.items()
            if m.used is not None and math.isfinite(squares := self._rough(m))
        }
        out = []
        for d in sorted(rough, key=lambda d: rough[d])[:2]:
            curve, without = self._fit(models[d]), self.throttle >= d - 1e-9
            lost = np.flatnonzero(without & self.kept).tolist()
            if curve is None or curve.freedom < 2 or not lost:
                continue
            short = np.array([1 - self.pull[i] / v for i, v in zip(lost, curve.value(self.throttle[lost]), strict=True)])
            before = float(np.max(self.pull[self.kept & ~without]))
            falls = min(float(self.pull[i]) for i in lost) < before - 4 * curve.scatter
            at_once = float(short[self.throttle[lost] <= d + 1e-9].mean()) > AT_ONCE
            if short.min() > LEAST["air"] / 2 and short.mean() > LEAST["air"] and (falls or at_once):
                out.append(_Option(criterion(curve, n, len(lost) + 1), "air", lost, float(short.max()), d, curve, self.terms))
        return out

    def _warms(self, n: int) -> "list[_Option]":
        """A pull that falls through the sweep: things warm, the pack sags."""
        again = self.throttle[self.kept & (self.throttle > 0)]
        twice = again.size - np.unique(again).size >= LEAST_AGAIN
        curve = self._fit(self._model(("warm",))) if twice and "warm" not in self.terms else None
        if curve is None or curve.freedom < 2 or abs(curve.extra["warm"].value) < LEAST["warm"]:
            return []
        which = np.flatnonzero(self.kept).tolist()
        return [_Option(criterion(curve, n), "warm", which, curve.extra["warm"].value, 0.0, curve, (*self.terms, "warm"))]


@dataclass(frozen=True, slots=True, eq=False)
class _Option:
    """An explanation, with its criterion, the readings that it leaves out, its size, from which throttle, and what then is fitted."""

    criterion: float
    code: FaultCode
    which: list[int]
    size: float
    throttle: Ratio
    curve: Curve
    terms: tuple[str, ...]


def _when(points: list[BenchPoint]) -> Floats:
    """When each was taken, 0 at the first and 1 at the last: by the clock where all have a time, else in their order."""
    times = [p.at_s for p in points]
    known = [t for t in times if t is not None]
    at = np.array(known if len(known) == len(times) else list(range(len(times))), dtype=float)
    span = float(np.ptp(at)) if at.size else 0.0
    return (at - at.min()) / span if span > 0 else np.zeros(at.size)


def _current(test: BenchTest, mine: list[int], side: int) -> Curve | None:
    known = [test.points[k] for k in mine if test.points[k].amps is not None and test.points[k].keep != "out"]
    if len(known) < 4:
        return None
    amps = np.array([p.amps for p in known], dtype=float)
    return fitted(np.array([abs(p.throttle) for p in known]), amps, np.zeros(len(known)), Model(()))


def with_point(test: BenchTest, point: BenchPoint) -> BenchTest:
    """The test with one more reading at its end."""
    return dataclasses.replace(test, points=(*test.points, point))
