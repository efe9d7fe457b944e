"""What a trial's readings say for or against a cause: how likely they are with it and without, on this boat's own model.

Readings r are off from the prediction y by what no cause explains (reading errors, and what the list and the laws do not know), a normal
variate of covariance N = S + J P J', and by a cause's effect g(a) of some amount a. The ratio of likelihoods with and without is averaged
over the amounts that the cause has (a Bayes factor; Kass and Raftery, J. Am. Stat. Assoc. 90 (1995) 773-795, eq. 1, from memory).
"""

import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import NoRest
from yarekeel.core.once import cached_property
from yarekeel.core.quantities import Floats, Ratio
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.trials.fitting import slopes_of
from yarekeel.stages.trials.found import DRAG_LAW, THRUST_LAW
from yarekeel.stages.trials.model import COVERAGE, OPEN, OPEN_OFF, PACK, Line, Model, gyration_doubt, lines_of
from yarekeel.stages.trials.readings import Readings

DRAW_LAW: Ratio = 0.12
"""Half the band of what a drive draws."""
PACK_LAW: Ratio = 0.4
"""The same of a pack's resistance."""
LEAST_MASS, LEAST_PLACE, LEAST_HEIGHT = 0.01, 0.003, 0.015
"""Half bands that no list is better than: of the mass; of length and breadth; of depth (common practice)."""
LEAST_OFF = 1e-9
AMOUNTS = 25
"""Steps that a cause's amounts are averaged over."""


def _shown_or_nothing(line: Line, model: Model, u: Floats) -> float:
    try:
        return line.shown(model, u)
    except NoRest:
        return math.nan


@dataclass(frozen=True, slots=True)
class Weight:
    """How much the readings speak for a cause: the logarithm of the Bayes factor, and the amount that fits best."""

    log: float
    amount: float


class Evidence:
    """The readings of a day beside the prediction."""

    def __init__(self, craft: Craft, readings: Readings) -> None:
        self.craft, self.readings = craft, readings
        self.model = Model(craft, readings)
        self.lines: tuple[Line, ...] = tuple(line for line in lines_of(craft, readings) if self._predicted(line) is not None)

    def _predicted(self, line: Line) -> float | None:
        try:
            return line.shown(self.model, self.model.listed)
        except NoRest:
            return None

    @cached_property
    def expected(self) -> Floats:
        """What the list and the laws predict of each reading, (n,)."""
        return np.array([line.shown(self.model, self.model.listed) for line in self.lines])

    @cached_property
    def off(self) -> Floats:
        """Measured less predicted, (n,)."""
        return np.array([line.measured for line in self.lines]) - self.expected

    @cached_property
    def slopes(self) -> Floats:
        """Of each reading over each unknown, (n, 11); nothing where a step makes it float no more."""
        return np.nan_to_num(slopes_of(self.model, self.lines, self.model.listed, steps=3.0, shows=_shown_or_nothing))

    @cached_property
    def usual(self) -> Floats:
        """Standard uncertainties of the unknowns of a boat with nothing wrong, (11,): as the list and the laws have them."""
        total, size = self.craft.total, self.model.size
        listed = [max(total.half_width, LEAST_MASS * total.mass)]
        for k, least in enumerate((LEAST_PLACE, LEAST_PLACE, LEAST_HEIGHT)):
            listed.append(max(total.centre_half_width[k], least * float(size[1 + k])))
        drive = (THRUST_LAW, DRAG_LAW, DRAW_LAW, min(gyration_doubt(self.craft), 0.3))
        return np.array([*listed, *drive, 0.0, PACK_LAW * size[PACK], OPEN_OFF * size[OPEN] * COVERAGE]) / COVERAGE

    @cached_property
    def sigma(self) -> Floats:
        """Of each reading alone, (n,)."""
        return np.array([max(line.sigma_at(y), LEAST_OFF) for line, y in zip(self.lines, self.expected.tolist(), strict=True)])

    @cached_property
    def _inverse(self) -> Floats:
        spread = np.diag(self.sigma**2) + self.slopes @ np.diag(self.usual**2) @ self.slopes.T
        return np.asarray(np.linalg.inv(spread))

    @cached_property
    def doubt(self) -> Floats:
        """Standard uncertainty of how far each reading is off where nothing is wrong, (n,)."""
        return np.asarray(np.sqrt(self.sigma**2 + ((self.slopes * self.usual) ** 2).sum(axis=1)))

    def by(self, k: int, amount: float) -> Floats:
        """What a change of an unknown does to the readings, (n,)."""
        out: Floats = self.slopes[:, k] * amount
        return out

    def where(self, part: str) -> Floats:
        """1 for each reading of a part, 0 for the others, (n,)."""
        return np.array([float(line.part == part) for line in self.lines])

    def weigh(self, effects: Floats, amounts: Floats) -> Weight:
        """How much the readings speak for effects (m, n) of amounts (m,), each as likely as the others."""
        if not len(self.lines):
            return Weight(0.0, 0.0)
        pointed = np.asarray(effects @ self._inverse)
        logs = np.asarray(pointed @ self.off - 0.5 * np.einsum("ij,ij->i", pointed, effects))
        top = float(logs.max())
        return Weight(top + math.log(float(np.exp(logs - top).mean())), float(amounts[int(np.argmax(logs))]))

    def apart(self, one: Floats, other: Floats) -> float:
        """By how many standard deviations the readings tell two effects (n,) apart."""
        by = one - other
        return math.sqrt(max(float(by @ self._inverse @ by), 0.0)) if len(self.lines) else 0.0
