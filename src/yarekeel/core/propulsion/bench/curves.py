"""Curves of pull and current over throttle, fitted by least squares; and which of several explanations readings bear out.

Pull rises from a throttle at which the motor starts: T = T_full s^p with s = (d - d_0) / (1 - d_0). A scale's zero and its drift, a
pull that falls as things warm, and a joint that slipped each add a term that is linear once d_0 and p are known, so that every
explanation is one batch of small linear systems over a grid of (d_0, p), and the best of them is refined.
"""

import dataclasses
import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.formulas import formula
from yarekeel.core.found import Found
from yarekeel.core.quantities import Floats, Ratio
from yarekeel.core.sources import COMMON_PRACTICE, GUM

STARTS = np.linspace(0.0, 0.36, 13)
POWERS = np.linspace(0.8, 3.2, 25)
NEVER: Ratio = 0.45
"""A motor that starts later than at so much throttle is not fitted: something else holds it back."""
LAW_OFF: Ratio = 0.03
"""By which the law may miss a drive's true rise at any throttle: so held on drives solved from their parts (see the tests)."""
FLOOR: Ratio = 0.0005
"""Of the largest reading: no bench reads finer (common practice)."""


@formula("T = T_full ((d - d_0) / (1 - d_0))^p", COMMON_PRACTICE, "one direction, pack and water unchanged; p near 2 behind a stiff pack")
def rise(throttle: Floats | Ratio, start: Ratio, power: Ratio) -> Floats:
    """The share of the full pull at throttles (n,), 0 below ``start``."""
    return np.asarray(np.maximum((np.asarray(throttle) - start) / (1 - start), 0.0) ** power)


@dataclass(frozen=True, slots=True, eq=False)
class Model:
    """What the readings hold besides the rise: the terms ``zero``, ``drift``, ``warm``, ``slip``; ``after`` is the first reading after a
    slip, ``used``
    (n,) those that count."""

    terms: tuple[str, ...] = ()
    after: int = 0
    used: np.ndarray | None = None


@dataclass(frozen=True, slots=True, eq=False)
class Curve:
    """A fitted curve: full, start and power with their 95 % half widths; ``zero`` and ``drift`` (of the whole sweep) of the scale,
    ``warm`` and ``slip`` as shares of the full pull; 0 where not in the model. ``covariance`` is of (full, start, power, then terms)."""

    full: Found
    start: Found
    power: Found
    extra: dict[str, Found]
    scatter: float
    freedom: int
    covariance: Floats
    squares: float
    """Sum of squares left over, each as a share of the largest reading."""
    count: int
    numbers: int
    """How many readings were fitted, and how many numbers to them."""

    def value(self, throttle: Floats) -> Floats:
        """Pull at throttles (n,), as at the beginning of the sweep."""
        return self.full.value * rise(throttle, self.start.value, self.power.value)

    def half_width(self, throttle: Floats) -> Floats:
        """Half the width of the curve's 95 % band at throttles (n,)."""
        d = np.asarray(throttle, dtype=float)
        centre = np.array([self.full.value, self.start.value, self.power.value])
        rows = []
        for k, step in enumerate((1e-6 * max(self.full.value, 1e-6), 1e-6, 1e-6)):
            moved = centre.copy()
            moved[k] += step
            rows.append((moved[0] * rise(d, moved[1], moved[2]) - self.value(d)) / step)
        slopes = np.array(rows)
        read = coverage(self.freedom) * np.sqrt(np.einsum("kn,kl,ln->n", slopes, self.covariance[:3, :3], slopes))
        return np.asarray(np.hypot(read, LAW_OFF * self.value(d)))


@formula("u = t_95(n - k) s sqrt(diag (J^T J)^-1)", GUM, "readings that scatter alike, independent of each other")
def coverage(freedom: int) -> Ratio:
    """Standard deviations in half a 95 % band, for so many readings more than numbers fitted."""
    from scipy.special import stdtrit  # long to load

    return float(stdtrit(max(freedom, 1), 0.975))


@dataclass(frozen=True, slots=True, eq=False)
class _Terms:
    """The readings of a model, and its columns for a rise: what goes with the rise and what stands beside it."""

    d: Floats
    y: Floats
    with_rise: Floats
    """(n, a): the rise is multiplied by each; the first is all ones."""
    beside: Floats
    """(n, b)."""

    def columns(self, s: Floats) -> Floats:
        """(..., n, a + b) for a rise (..., n)."""
        beside = np.broadcast_to(self.beside, (*s.shape, self.beside.shape[1]))
        return np.concatenate((s[..., None] * self.with_rise, beside), axis=-1)


ALONG = ("warm", "slip")
"""Terms that go with the rise; they stand before the others."""


def _terms(throttle: Floats, value: Floats, when: Floats, model: Model) -> _Terms:
    used = np.ones(throttle.size, bool) if model.used is None else model.used
    late = (np.arange(throttle.size) >= model.after)[used].astype(float)
    d, y, tau = throttle[used], value[used], when[used]
    each = {"warm": tau, "slip": late, "zero": np.ones(d.size), "drift": tau}
    along = np.stack([np.ones(d.size), *(each[t] for t in ALONG if t in model.terms)], axis=-1)
    beside = [each[t] for t in model.terms if t not in ALONG]
    return _Terms(d, y, along, np.stack(beside, axis=-1) if beside else np.zeros((d.size, 0)))


def _few(terms: _Terms, model: Model) -> bool:
    return terms.y.size < 3 + len(model.terms) or np.unique(terms.d[terms.d > 0]).size < 3


def rough_squares(throttle: Floats, value: Floats, when: Floats, model: Model) -> Ratio:
    """Sum of squares left over at the best of the grid, as a share of the largest reading; infinite for too few readings."""
    terms = _terms(throttle, value, when, model)
    if _few(terms, model):
        return math.inf
    return max(float(_batch(terms).min()) / (float(np.abs(terms.y).max()) or 1.0) ** 2, terms.y.size * FLOOR**2)


def fitted(throttle: Floats, value: Floats, when: Floats, model: Model) -> Curve | None:
    """The curve through values (n,) at throttles (n,) taken at ``when`` (n,), 0 at the first and 1 at the last; None for too few."""
    terms = _terms(throttle, value, when, model)
    if _few(terms, model):
        return None
    size = float(np.abs(terms.y).max()) or 1.0
    best = int(np.argmin(_batch(terms)))
    names = tuple(sorted(model.terms, key=lambda t: t not in ALONG))
    return _refined(dataclasses.replace(terms, y=terms.y / size), (float(_GRID[0][best]), float(_GRID[1][best])), names, size)


_GRID = tuple(a.ravel() for a in np.meshgrid(STARTS, POWERS, indexing="ij"))


def _batch(terms: _Terms) -> Floats:
    """Sum of squares left over at each (start, power) of the grid."""
    starts, powers = _GRID
    distinct, where = np.unique(terms.d, return_inverse=True)
    s = (np.maximum((distinct - starts[:, None]) / (1 - starts[:, None]), 0.0) ** powers[:, None])[:, where]
    a = terms.columns(s)
    turned = a.transpose(0, 2, 1)
    right = turned @ terms.y
    answer = np.linalg.solve(turned @ a + 1e-10 * np.eye(a.shape[-1]), right[..., None])[..., 0]
    return np.asarray(float(terms.y @ terms.y) - (right * answer).sum(axis=1))


def _refined(terms: _Terms, first: tuple[Ratio, Ratio], names: tuple[str, ...], size: float) -> Curve | None:
    from scipy.optimize import least_squares  # long to load

    d, y = terms.d, terms.y
    along = terms.with_rise.shape[1]

    def residual(x: Floats) -> Floats:
        return np.asarray(terms.columns(rise(d, x[0], x[1])) @ x[2:] - y)

    def slopes(x: Floats) -> Floats:
        share = np.maximum((d - x[0]) / (1 - x[0]), 1e-12)
        s = rise(d, x[0], x[1])
        weight = terms.with_rise @ x[2 : 2 + along]
        by_start = np.where(s > 0, x[1] * share ** (x[1] - 1) * (d - 1) / (1 - x[0]) ** 2, 0.0)
        return np.column_stack((by_start * weight, s * np.log(share) * weight, terms.columns(s)))

    linear = np.linalg.lstsq(terms.columns(rise(d, *first)), y, rcond=None)[0]
    low = np.concatenate(([0.0, 0.5], np.full(linear.size, -np.inf)))
    high = np.concatenate(([NEVER, 4.0], np.full(linear.size, np.inf)))
    begin = np.clip(np.concatenate((first, linear)), low + 1e-9, high - 1e-9)
    found = least_squares(residual, begin, jac=slopes, bounds=(low, high), x_scale="jac", max_nfev=60)
    n, k = y.size, found.x.size
    freedom = n - k
    squares = max(2 * float(found.cost), n * FLOOR**2)
    scatter = math.sqrt(squares / max(freedom, 1))
    order = [2, 0, 1, *range(3, k)]
    information = (found.jac.T @ found.jac)[np.ix_(order, order)]
    try:
        covariance = scatter**2 * np.linalg.inv(information)
    except np.linalg.LinAlgError:
        return None
    values = found.x[order]
    widths = coverage(freedom) * np.sqrt(np.maximum(np.diag(covariance), 0.0))
    if not np.isfinite(widths).all() or values[0] <= 0:
        return None
    scale = np.array([size if c not in (1, 2) else 1.0 for c in range(k)])
    full, start, power = (Found(float(v * m), float(w * m)) for v, w, m in zip(values[:3], widths[:3], scale[:3], strict=True))
    extra = {}
    for t, v, w in zip(names, values[3:], widths[3:], strict=True):
        share = 1 / values[0] if t in ALONG else size
        extra[t] = Found(float(v * share), float(abs(w * share)))
    return Curve(full, start, power, extra, scatter * size, freedom, covariance * np.outer(scale, scale), squares, n, k)
