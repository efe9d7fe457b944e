"""The lines of a hull: profile, plan and body plan at one scale, upright on its baseline."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.attitude import Attitude
from yarekeel.drawing import svg
from yarekeel.drawing.view import ABOVE, STARBOARD, View, hull_drawing

WIDTH = 784.0
Say = Callable[[float, str], str]


def draw(hull: Hull, say: Say) -> str:
    """Profile above, plan below, sections at the right: after stations to the left of the centreline, fore to the right."""
    low, high = hull.mesh.bounds
    length, beam, depth = (float(v) for v in high - low)
    scale = min(470.0 / length, 226.0 / (depth + beam), 232.0 / beam)
    level = Attitude(0.0, 0.0, 0.0)
    left = 28.0 - float(low[0]) * scale
    x_end = left + float(high[0]) * scale
    base = 44.0 + depth * scale
    plan_at = base + 46.0 + beam * scale / 2
    height = plan_at + beam * scale / 2 + 22.0
    room = WIDTH - x_end - 64.0
    centre = x_end + 44.0 + room / 2
    body_scale = min(room / beam, (height - 120.0) / depth)
    half = room / 2
    body_base = 48.0 + depth * body_scale
    parts = [
        svg.text(16.0, 26.0, "Profile", "tank-title"),
        svg.text(16.0, base + 38.0, "Plan", "tank-title"),
        svg.text(centre - half, 26.0, "Sections", "tank-title"),
        svg.line(14.0, base, x_end + 16, base, "baseline"),
        hull_drawing(hull, View(STARBOARD, level, scale, left, base + float(low[2]) * scale)),
        svg.line(14.0, plan_at, x_end + 16, plan_at, "baseline"),
        hull_drawing(hull, View(ABOVE, level, scale, left, plan_at)),
        *_body_plan(hull, centre, body_base, body_scale),
        _across(left + float(low[0]) * scale, x_end, base + 14, say(length, "length")),
        _across(centre - beam * body_scale / 2, centre + beam * body_scale / 2, body_base + 16, f"{say(beam, 'length')} beam"),
        svg.text(centre - half, body_base + 54, "left: amidships to stern", "tank-note"),
        svg.text(centre + half, body_base + 54, "right: amidships to bow", "tank-note", "end"),
    ]
    return svg.svg(WIDTH, height, parts, "Profile, plan and sections of the hull", "lines")


def _across(x1: float, x2: float, y: float, words: str) -> str:
    return svg.path(f"M{x1:.1f} {y - 4:.1f}v8M{x2:.1f} {y - 4:.1f}v8M{x1:.1f} {y:.1f}H{x2:.1f}", "dim") + svg.text(
        (x1 + x2) / 2, y + 15, words, "dim-text", "middle"
    )


def _body_plan(hull: Hull, centre: float, base: float, scale: float) -> list[str]:
    stations = hull.stations
    low, _ = hull.mesh.bounds
    middle = (len(stations) - 1) / 2
    twin = hull.parts.max() > 0
    out = [svg.line(centre, base + 8, centre, 40.0, "baseline"), svg.line(centre - 60, base, centre + 60, base, "baseline")]
    for number, (_, pieces, _) in enumerate(stations):
        y, z = pieces[..., 1], pieces[..., 2]
        if number == middle:
            keep: NDArray[np.bool_] = np.ones(len(pieces), dtype=bool)
        elif number < middle:
            keep = np.asarray((y >= -1e-12).all(axis=1))  # port is left, seen from astern
        else:
            keep = np.asarray((y <= 1e-12).all(axis=1))
        page = np.stack([centre - scale * y[keep], base - scale * (z[keep] - low[2])], axis=-1)
        out.append(svg.path(svg.segments_of(page), "section-mid" if number == middle else "section" + (" section-twin" if twin else "")))
    return out
