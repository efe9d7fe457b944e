"""The boat as found: one fit of mass, centre of gravity, thrust and drag from whatever was measured.

Weighted least squares on the true models of float, roll, inclining and speed, with what is known beforehand as readings of their own (JCGM
100:2008; the fit itself is scipy's least_squares). The list is not believed to within its own spread here: boats come out heavier and
otherwise trimmed than listed, so what is known beforehand is wide (common practice), and the readings decide.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Floats, Ratio
from yarekeel.core.stopping import told
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.trials.model import COVERAGE, MASS, STEPS, TOUCHED, WATER, Line, Model, lines_of
from yarekeel.stages.trials.readings import Readings

TELLS: Ratio = 0.7
"""Of what was known beforehand: a figure whose doubt is still more than that was told by nothing measured."""
OUT = 3.6
"""Standard deviations by which a reading is off that stands against all others."""
DRIVEN = ("force", "speed", "current", "voltage")
"""Kinds of readings that the drive has a part in."""
Shows = Callable[[Line, Model, Floats], float]


@dataclass(frozen=True, slots=True, eq=False)
class Fit:
    """Unknowns (11,) with their covariance (11, 11), what was known beforehand, the readings with what the fitted boat shows of each, the
    slopes of the readings (n, 11), how far each reading stands off all others (standard deviations), and the number of one that cannot be
    right, if one is."""

    values: Floats
    covariance: Floats
    before: tuple[Floats, Floats]
    lines: tuple[Line, ...]
    shown: Floats
    slopes: Floats
    off: Floats
    out: int | None
    around: tuple[float, ...]
    """Near which resistance was worked out (``Holding.around``)."""

    def half(self, k: int) -> float:
        """Half the 95 % interval of an unknown."""
        return COVERAGE * math.sqrt(max(float(self.covariance[k, k]), 0.0))

    def is_told(self, k: int) -> bool:
        """Whether anything that was measured tells an unknown."""
        return math.sqrt(float(self.covariance[k, k])) < TELLS * float(self.before[1][k])


@kept
def fitted(craft: Craft, readings: Readings, leave_out: frozenset[int] = frozenset()) -> Fit:
    """The boat that the readings and what was known beforehand make most likely. Raises InvalidInput where there is nothing to go by, and
    NoRest for a boat that does not float."""
    model = Model(craft, readings)
    lines = tuple(line for k, line in enumerate(lines_of(craft, readings)) if k not in leave_out)
    if not lines:
        raise InvalidInput("readings", "Nothing was read that tells of this boat; read a mass, a draft, a heel, a pull or a speed.")
    before, doubt = model.before
    begin = _begin(model, readings, before, doubt)
    still = tuple(line for line in lines if line.kind not in DRIVEN)
    if 0 < len(still) < len(lines):  # what floats is found first, so that resistance is worked out near it
        begin, _, _ = _solved(model, still, begin)
        near = before + begin * doubt
        model.holding.near(float(near[0]), near[1:4])
    found, jacobian, residuals = _solved(model, lines, begin)
    covariance: Floats = np.asarray(np.linalg.inv(jacobian.T @ jacobian))
    values = before + found * doubt
    sigma = np.array([line.sigma for line in lines])
    off = _standing_off(residuals, jacobian, covariance, len(lines))
    worst = int(np.argmax(np.abs(off)))
    return Fit(
        values=values,
        covariance=covariance * np.outer(doubt, doubt),
        before=(before, doubt),
        lines=lines,
        shown=np.array([_safe(line, model, values) for line in lines]),
        slopes=jacobian[: len(lines)] * sigma[:, None] / doubt,
        off=off,
        out=worst if abs(off[worst]) > OUT else None,
        around=model.holding.around,
    )


def _solved(model: Model, lines: tuple[Line, ...], begin: Floats) -> tuple[Floats, Floats, Floats]:
    """Unknowns in standard uncertainties beforehand, the slopes of the residuals there (n + 11, 11), and the residuals (n + 11,)."""
    from scipy.optimize import least_squares  # a third of a second to load

    before, doubt = model.before
    measured, sigma = np.array([line.measured for line in lines]), np.array([line.sigma for line in lines])

    def residuals(w: Floats) -> Floats:
        told("fits the boat to its readings")
        u = before + w * doubt
        shown = np.array([_safe(line, model, u) for line in lines])
        return np.concatenate([(shown - measured) / sigma, w])

    def slopes(w: Floats) -> Floats:
        return np.vstack([slopes_of(model, lines, before + w * doubt) * doubt / sigma[:, None], np.eye(len(w))])

    found = least_squares(residuals, begin, jac=slopes, method="lm", xtol=1e-6, ftol=1e-7, max_nfev=20)
    return found.x, slopes(found.x), np.asarray(residuals(found.x))


def _begin(model: Model, r: Readings, before: Floats, doubt: Floats) -> Floats:
    """Where to begin, in standard uncertainties: the scale's mass where there is one."""
    start = np.zeros(len(before))
    for k, read in ((MASS, r.mass_kg), (WATER, r.water_inside_kg)):
        if read is not None:
            own = read - model.craft.liquid_mass if k == MASS else read
            start[k] = np.clip((own - before[k]) / doubt[k], -3, 3)
    return start


def _safe(line: Line, model: Model, u: Floats) -> float:
    """What a model boat shows; one that does not float shows what no reading is near."""
    try:
        return line.shown(model, u)
    except NoRest:
        return line.measured + 1e3 * line.sigma


def slopes_of(model: Model, lines: tuple[Line, ...], u: Floats, steps: float = 1.0, shows: Shows = _safe) -> Floats:
    """How much each reading (n,) grows with each unknown that is fitted, (n, 11), by one step up and one down."""
    out = np.zeros((len(lines), len(u)))
    for k in sorted(model.live):
        size = steps * float(STEPS[k] * model.size[k])
        step = np.zeros(len(u))
        step[k] = size
        for n, line in enumerate(lines):
            if k in TOUCHED[line.part]:
                out[n, k] = (shows(line, model, u + step) - shows(line, model, u - step)) / (2 * size)
    return out


def _standing_off(residuals: Floats, jacobian: Floats, covariance: Floats, count: int) -> Floats:
    """How far each reading lies from where all others put it, in standard deviations of that difference."""
    hat = np.einsum("ij,jk,ik->i", jacobian, covariance, jacobian)[:count]
    return np.asarray(residuals[:count] / np.sqrt(np.maximum(1 - hat, 1e-4)))
