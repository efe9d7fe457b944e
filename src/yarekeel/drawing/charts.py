"""The steps of an axis."""

import math


def nice_step(span: float, most: int) -> float:
    """A step of 1, 2 or 5 times a power of ten that divides ``span`` into at most ``most`` parts."""
    raw = span / max(most, 1)
    power = 10 ** math.floor(math.log10(raw)) if raw > 0 else 1.0
    return next((m * power for m in (1, 2, 5, 10) if m * power >= raw * (1 - 1e-9)), 10 * power)
