"""Charts: the righting-arm curve, and friction over speed. Axes named with units, labels on the lines."""

import json
import math
from collections.abc import Callable

import numpy as np

from yarekeel.core.quantities import MetresPerSecond, Newtons
from yarekeel.core.stability.righting import RightingCurve
from yarekeel.drawing import svg

Say = Callable[[float, str], str]


def nice_step(span: float, most: int) -> float:
    """A step of 1, 2 or 5 times a power of ten that divides ``span`` into at most ``most`` parts."""
    raw = span / max(most, 1)
    power = 10 ** math.floor(math.log10(raw)) if raw > 0 else 1.0
    return next((m * power for m in (1, 2, 5, 10) if m * power >= raw * (1 - 1e-9)), 10 * power)


def righting(curve: RightingCurve, say: Say, unit: str, per_unit: float, open_boat: bool) -> str:
    """GZ over heel with peak, range and deck edge marked; the points ride along in ``data-points`` for the pointer."""
    width, height = 476.0, 430.0
    left, right, top, bottom = 58.0, 18.0, 54.0, 46.0
    heel = np.array([p.heel for p in curve.points])
    arm = np.array([p.arm for p in curve.points])
    high, low = max(float(arm.max()), 1e-9) * 1.12, min(float(arm.min()), 0.0) * 1.05
    span = heel[-1] - heel[0]

    def x(h: float) -> float:
        return left + (h - float(heel[0])) / float(span) * (width - left - right)

    def y(a: float) -> float:
        return top + (high - a) / (high - low) * (height - top - bottom)

    points = np.stack([[x(h) for h in heel], [y(a) for a in arm]], axis=-1)
    zero = y(0.0)
    area = svg.path_of(
        np.vstack(
            [
                [x(float(heel[0])), zero],
                points[arm >= 0] if (arm >= 0).any() else points[:1],
                [points[arm >= 0][-1][0] if (arm >= 0).any() else x(0), zero],
            ]
        ),
        closed=True,
    )
    parts = [svg.text(14.0, 26.0, "Righting arm GZ", "tank-title"), svg.path(area, "gz-area")]
    step = nice_step((high - low) / per_unit, 6) * per_unit
    for k in range(math.ceil(low / step), math.floor(high / step) + 1):
        parts += [
            svg.line(left, y(k * step), width - right, y(k * step), "grid"),
            svg.text(left - 8, y(k * step) + 4, f"{k * step / per_unit:g}".replace("-", "−"), "axis-text", "end"),
        ]
    for degrees in range(0, 181, 15 if span < 1.7 else 30):
        h = math.radians(degrees)
        if heel[0] <= h <= heel[-1] + 1e-9:
            parts += [
                svg.line(x(h), zero - 3, x(h), zero + 3, "axis"),
                svg.text(x(h), height - bottom + 18, f"{degrees}°", "axis-text", "middle"),
            ]
    parts += [
        svg.line(left, zero, width - right, zero, "axis"),
        svg.line(left, top, left, height - bottom, "axis"),
        svg.text(left, top - 8, f"{unit} of arm", "axis-text"),
        svg.text(width - right, height - 8, "lean to starboard", "axis-text", "end"),
        svg.path(svg.path_of(points), "gz-line"),
    ]
    peak = curve.peak
    if curve.rights:
        px = x(peak.heel)
        anchor = "start" if px < width * 0.55 else "end"
        parts += [
            svg.line(px, y(peak.arm), px, zero, "peak-line"),
            svg.text(
                px + (6 if anchor == "start" else -6),
                y(peak.arm) - 8,
                f"hardest at {say(peak.heel, 'angle0')}, {say(peak.arm, 'length')}",
                "gz-peak",
                anchor,
            ),
        ]
    if curve.rim_under is not None:
        rx = x(curve.rim_under)
        word = "water comes in" if open_boat else "deck edge under"
        parts += [
            svg.line(rx, top + 12, rx, height - bottom, "rim-line"),
            svg.text(rx + 5, zero - 10, f"{word} {say(curve.rim_under, 'angle0')}", "rim-text"),
        ]
    if curve.rights and curve.vanishing is not None:
        vx = x(curve.vanishing)
        parts += [
            svg.element("circle", cx=vx, cy=zero, r=4.5, class_="gz-end"),
            svg.text(vx - 8, zero + 18, f"goes over past {say(curve.vanishing, 'angle0')}", "gz-end-text", "end"),
        ]
    parts += [svg.line(left, top, left, height - bottom, "cursor"), svg.element("circle", cx=left, cy=zero, r=5.0, class_="cursor-dot")]
    data = json.dumps([[round(math.degrees(p.heel), 3), round(x(p.heel), 2), round(y(p.arm), 2)] for p in curve.points])
    return svg.svg(width, height, parts, "Righting arm over heel", "chart", data_points=data)


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
