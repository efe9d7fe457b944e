"""The period of a roll from a trace of angles: a swing that dies away about a steady lean, fitted by least squares."""

import math
import warnings
from dataclasses import dataclass

import numpy as np

from yarekeel.core.found import Found
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.quantities import Radians, Seconds

LEAST_READINGS = 12
LEAST_ROLLS = 1.5
"""Full rolls in the trace for a fit to mean something."""
CLEAR: float = 3.0
"""A swing must be so many times the noise."""


@dataclass(frozen=True, slots=True)
class RollFit:
    """``period`` with its band, ``offset`` the lean about which it rolls (a sensor set down crooked shows here too), ``swing`` the
    first amplitude, ``decay`` the time in which a swing falls to 1/e, ``noise`` what is left over (root mean square)."""

    period: Found
    offset: Radians
    swing: Radians
    decay: Seconds
    noise: Radians


def fit_roll(times: Floats, angles: Floats) -> RollFit | None:
    """Fit angle = offset + swing e^(-t/decay) cos(2 pi t / period + phase) to ``times`` (n,) s and ``angles`` (n,) rad; None where no
    roll stands clear of the noise. The band is twice the standard error of the fit (least squares, JCGM 100:2008, H.3)."""
    from scipy.optimize import OptimizeWarning, curve_fit  # long to load

    t, y = np.asarray(times, dtype=np.float64), np.asarray(angles, dtype=np.float64)
    if len(t) < LEAST_READINGS or not np.isfinite(y).all() or t[-1] <= t[0]:
        return None
    t = t - t[0]
    even = np.linspace(0.0, t[-1], max(64, len(t)))
    level = np.interp(even, t, y)
    mean = float(np.mean(level))
    power = np.abs(np.fft.rfft((level - mean) * np.hanning(len(even)), n=8 * len(even)))
    rates = np.fft.rfftfreq(8 * len(even), even[1] - even[0])
    usable = rates >= LEAST_ROLLS / t[-1]
    if not usable.any():
        return None
    rate = float(rates[usable][int(power[usable].argmax())])
    swing = float(np.max(np.abs(level - mean)))

    def rolling(t: Floats, offset: float, a: float, b: float, decay: float, rate: float) -> Floats:
        turn = 2 * math.pi * rate * t
        return np.asarray(offset + np.exp(-t * decay) * (a * np.cos(turn) + b * np.sin(turn)))

    best: tuple[float, Floats, Floats] | None = None
    for factor in (1.0, 0.8, 1.25):  # a peak between two bins of the spectrum
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("error", OptimizeWarning)
                found, spread = curve_fit(rolling, t, y, p0=(mean, swing, 0.0, 0.5 / t[-1], rate * factor), maxfev=4000)
        except (RuntimeError, ValueError, OptimizeWarning):
            continue
        left = float(np.sqrt(np.mean((rolling(t, *found) - y) ** 2)))
        if best is None or left < best[0]:
            best = (left, found, spread)
    if best is None:
        return None
    noise, found, spread = best
    offset, a, b, decay, rate = (float(v) for v in found)
    size, rate = math.hypot(a, b), abs(rate)
    error = math.sqrt(float(spread[4, 4])) if np.isfinite(spread[4, 4]) else math.inf
    if rate <= 0 or size < CLEAR * noise or rate * t[-1] < LEAST_ROLLS or not math.isfinite(error) or error > 0.1 * rate:
        return None
    period = 1 / rate
    return RollFit(
        period=Found(period, 2 * error * period**2), offset=offset, swing=size, decay=1 / decay if decay > 0 else math.inf, noise=noise
    )
