"""A chart of friction over speed, and the steps of an axis. Axes named with units, labels on the lines."""

import math
from collections.abc import Callable

import numpy as np

from yarekeel.core.quantities import MetresPerSecond, Newtons
from yarekeel.drawing import svg

Say = Callable[[float, str], str]


def nice_step(span: float, most: int) -> float:
    """A step of 1, 2 or 5 times a power of ten that divides ``span`` into at most ``most`` parts."""
    raw = span / max(most, 1)
    power = 10 ** math.floor(math.log10(raw)) if raw > 0 else 1.0
    return next((m * power for m in (1, 2, 5, 10) if m * power >= raw * (1 - 1e-9)), 10 * power)


def friction(curve: tuple[tuple[MetresPerSecond, Newtons], ...], say: Say, unit: str, per_unit: float, thrust: Newtons) -> str:
    """Skin friction over speed up to the hull speed, beside the thrust at rest."""
    width, height = 784.0, 420.0
    left, right, top, bottom = 62.0, 104.0, 54.0, 48.0
    speed = [0.0] + [v for v, _ in curve]
    drag = [0.0] + [d for _, d in curve]
    most_v, most_d = speed[-1], max(drag[-1] * 1.6, 1e-9)

    def x(v: float) -> float:
        return left + v / most_v * (width - left - right)

    def y(d: float) -> float:
        return height - bottom - d / most_d * (height - top - bottom)

    parts = [svg.text(14.0, 26.0, "Skin friction over speed", "tank-title")]
    step = nice_step(most_d / per_unit, 5) * per_unit
    for k in range(int(most_d / step) + 1):
        parts += [
            svg.line(left, y(k * step), width - right, y(k * step), "grid"),
            svg.text(left - 8, y(k * step) + 4, f"{k * step / per_unit:g}", "axis-text", "end"),
        ]
    v_step = nice_step(most_v, 6)
    for k in range(int(most_v / v_step + 1e-9) + 1):
        parts.append(svg.text(x(k * v_step), height - bottom + 18, f"{k * v_step:g}", "axis-text", "middle"))
    parts += [
        svg.line(left, height - bottom, width - right, height - bottom, "axis"),
        svg.line(left, top, left, height - bottom, "axis"),
        svg.text(left, top - 6, unit, "axis-text"),
        svg.text(width - right, height - 10, "speed, m/s, up to hull speed", "axis-text", "end"),
        svg.path(svg.path_of(np.array([[x(v), y(d)] for v, d in zip(speed, drag, strict=True)])), "gz-line"),
        svg.text(x(most_v) + 6, y(drag[-1]) + 4, say(drag[-1], "force"), "dim-text"),
    ]
    if 0 < thrust <= most_d:
        parts += [
            svg.line(left, y(thrust), width - right, y(thrust), "wanted"),
            svg.text(width - right + 6, y(thrust) + 4, f"thrust {say(thrust, 'force')}", "dim-text"),
        ]
    return svg.svg(width, height, parts, "Skin friction over speed", "chart")
