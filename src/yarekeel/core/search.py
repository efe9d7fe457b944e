"""Searches along one number: where a sum is nothing, and the least amount that keeps what is asked. Brent's method (scipy) does the
closing in (R. P. Brent, Algorithms for Minimization without Derivatives, 1973, ch. 4); a jump costs it a few steps more."""

import itertools
from collections.abc import Callable, Sequence

import numpy as np

from yarekeel.core.quantities import Floats, Scalar

LARGE = 1.0
"""A margin past that says no more than that it is missed, or kept: between two such the middle is tried."""
MOST_STEPS = 80
FINEST = 2 * float(np.finfo(float).eps)


class _Enough(Exception):
    """Close enough: no further step is worth its while."""


def root(of: Callable[[Scalar], float], low: Scalar, high: Scalar, close: Scalar, enough: Scalar = 0.0) -> Scalar | None:
    """Where a continuous function is nothing between two values, to ``close``, or where it is within ``enough`` of it; None where its
    ends have one sign."""
    from scipy.optimize import brentq  # long to load

    first, last = of(low), of(high)
    if abs(first) <= enough or abs(last) <= enough:
        return low if abs(first) <= abs(last) else high
    if (first > 0) == (last > 0):
        return None
    known = {low: first, high: last}
    at = [low]

    def followed(x: Scalar) -> float:
        at[0] = x
        if x not in known:
            known[x] = of(x)
        if abs(known[x]) <= enough:
            raise _Enough
        return known[x]

    try:
        return float(brentq(followed, low, high, xtol=max(close, 1e-300), maxiter=MOST_STEPS, disp=False))
    except _Enough:
        return at[0]


def roots(of: Callable[[Floats], Floats], low: Floats, high: Floats, enough: Scalar) -> Floats:
    """Where each of many continuous functions, falling from ``low`` (n,) to ``high`` (n,), is nothing, to ``enough`` of it. ``of`` takes
    one value for each, (n,), and is asked for all at once. One that is below nothing already at its low end is answered with that end.

    Chandrupatla's step (Adv. Eng. Software 28 (1997) 145-149): a parabola where it is sound, else a halving.
    """
    a, b = high, low
    fa, fb = of(a), of(b)
    hopeless = fb <= 0
    share = np.full(low.shape, 0.5)
    best = np.where(hopeless, low, high)
    live = ~hopeless & (fa < 0)
    with np.errstate(all="ignore"):
        for _ in range(MOST_STEPS):
            at = a + share * (b - a)
            found = of(at)
            same = (found > 0) == (fa > 0)
            c, fc = np.where(same, a, b), np.where(same, fa, fb)
            b, fb = np.where(same, b, a), np.where(same, fb, fa)
            a, fa = at, found
            off, other = np.abs(fa), np.abs(fb)
            best = np.where(live, np.where(off < other, a, b), best)
            least = FINEST * np.abs(a) / np.abs(b - a)
            live &= (np.minimum(off, other) > enough) & (least < 0.5)
            if not live.any():
                break
            xi, phi = (a - b) / (c - b), (fa - fb) / (fc - fb)
            sound = (phi * phi < xi) & ((1 - phi) ** 2 < 1 - xi)
            step = fa / (fb - fa) * fc / (fb - fc) + (c - a) / (b - a) * fa / (fc - fa) * fb / (fc - fb)
            share = np.where(sound, np.minimum(np.maximum(step, least), 1 - least), 0.5)
    return best


def edge(margin: Callable[[Scalar], float], missed: Scalar, kept: Scalar, close: Scalar, enough: Scalar = 0.0) -> Scalar:
    """The value next to where a margin turns from missed (less than 0) to kept, on the kept side, to ``close``; at once one that keeps
    it by ``enough`` at most. ``margin`` is asked once for each value."""
    from scipy.optimize import brentq  # long to load

    best = kept
    known: dict[Scalar, float] = {}

    def followed(x: Scalar) -> float:
        nonlocal best
        if x not in known:
            known[x] = min(max(margin(x), -LARGE), LARGE)
        if known[x] >= 0 and abs(x - missed) <= abs(best - missed):
            best = x
            if known[x] <= enough:
                raise _Enough
        return known[x]

    try:
        if followed(kept) >= 0 > followed(missed):
            brentq(followed, missed, kept, xtol=max(close, 1e-300), maxiter=MOST_STEPS, disp=False)
    except _Enough:
        pass
    return best


def first_turn(keeps: Callable[[Scalar], bool], values: Sequence[Scalar]) -> tuple[Scalar, Scalar] | None:
    """The first two neighbours of which one is kept and the other is not; None where all are alike. None beyond them is looked at."""
    for a, b in itertools.pairwise(values):
        if keeps(a) != keeps(b):
            return a, b
    return None
