"""The lines of a hull: profile, plan and body plan at one scale, upright on its baseline."""

from collections.abc import Callable

import numpy as np

from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.attitude import Attitude
from yarekeel.drawing import svg
from yarekeel.drawing.view import ABOVE, STARBOARD, View, hull_drawing

WIDTH, HEIGHT = 784.0, 470.0
Say = Callable[[float, str], str]


def draw(hull: Hull, say: Say) -> str:
    """Profile above, plan below, sections at the right: after stations to the left of the centreline, fore to the right."""
    low, high = hull.mesh.bounds
    size = high - low
    scale = float(min(520.0 / size[0], 150.0 / size[2], 195.0 / size[1]))
    level = Attitude(0.0, 0.0, 0.0)
    left = 36.0 - float(low[0]) * scale
    base = 196.0
    profile = View(STARBOARD, level, scale, left, base + float(low[2]) * scale)
    plan = View(ABOVE, level, scale, left, 346.0)
    x_end = left + float(high[0]) * scale
    centre = min((x_end + WIDTH) / 2 + 8, WIDTH - 24 - float(size[1]) * scale / 2)
    body_scale = float(min(210.0 / size[1], 150.0 / size[2]))
    centre = WIDTH - 118.0
    parts = [
        svg.text(16.0, 26.0, "Profile", "tank-title"),
        svg.text(16.0, 236.0, "Plan", "tank-title"),
        svg.text(centre - 102, 26.0, "Sections", "tank-title"),
        svg.line(16.0, base, x_end + 20, base, "baseline"),
        hull_drawing(hull, profile),
        svg.line(16.0, 346.0, x_end + 20, 346.0, "baseline"),
        hull_drawing(hull, plan),
        *_body_plan(hull, centre, base, body_scale),
        _across(left + float(low[0]) * scale, x_end, base + 16, say(float(size[0]), "length")),
        svg.text(centre, base + 22, f"{say(float(size[1]), 'length')} beam", "dim-text", "middle"),
        svg.text(centre - 102, 268.0, "Left: from amidships aft", "tank-note"),
        svg.text(centre - 102, 285.0, "Right: from amidships forward", "tank-note"),
        svg.text(16.0, HEIGHT - 12, "Baseline at the lowest point; distances forward from the stern", "tank-note"),
    ]
    return svg.svg(WIDTH, HEIGHT, parts, "Profile, plan and sections of the hull", "lines")


def _across(x1: float, x2: float, y: float, words: str) -> str:
    return svg.path(f"M{x1:.1f} {y - 4:.1f}v8M{x2:.1f} {y - 4:.1f}v8M{x1:.1f} {y:.1f}H{x2:.1f}", "dim") + svg.text(
        (x1 + x2) / 2, y + 15, words, "dim-text", "middle"
    )


def _body_plan(hull: Hull, centre: float, base: float, scale: float) -> list[str]:
    stations = hull.stations
    low, _ = hull.mesh.bounds
    middle = (len(stations) - 1) / 2
    twin = hull.parts.max() > 0
    out = [svg.line(centre, base + 8, centre, 40.0, "baseline"), svg.line(centre - 104, base, centre + 104, base, "baseline")]
    for number, (_, pieces, _) in enumerate(stations):
        y, z = pieces[..., 1], pieces[..., 2]
        if number == middle:
            keep = np.ones(len(pieces), dtype=bool)
        elif number < middle:
            keep = (y >= -1e-12).all(axis=1)  # port is left, seen from astern
        else:
            keep = (y <= 1e-12).all(axis=1)
        page = np.stack([centre - scale * y[keep], base - scale * (z[keep] - low[2])], axis=-1)
        out.append(svg.path(svg.segments_of(page), "section-mid" if number == middle else "section" + (" section-twin" if twin else "")))
    return out
