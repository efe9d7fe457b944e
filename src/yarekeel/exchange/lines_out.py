"""Lines out: stations, waterlines and buttocks as closed outlines, in DXF (written by ezdxf) and SVG, in millimetres.

The three families lie side by side as on paper: stations in the body plan, buttocks in profile, waterlines in plan. Every
outline is closed and keeps its area, so that another program can check it.
"""

import io
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from html import escape

import numpy as np

from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.geometry.sections import outlines
from yarekeel.core.quantities import Metres
from yarekeel.plain_text import plain

MILLIMETRES = 1000.0
MARGIN = 0.08
"""Room round each view, as a share of the hull's length."""


@dataclass(frozen=True, eq=False)
class DrawnLine:
    """One closed outline: its layer, its name, its place along the axis it is cut across, and its points (n, 2) on paper, mm."""

    layer: str
    name: str
    at: Metres
    points: Floats


def lines_of(mesh: Mesh, stations: tuple[Metres, ...], waterlines: tuple[Metres, ...], buttocks: tuple[Metres, ...]) -> list[DrawnLine]:
    """The outlines cut at the given places, laid out on paper: x to the right, y up, millimetres."""
    low, high = mesh.bounds
    gap = MARGIN * float(high[0] - low[0])
    beyond = float(high[0]) + gap + float(high[1] - low[1]) / 2
    under = float(low[2]) - gap - float(high[1])
    kinds: tuple[tuple[str, str, int, tuple[Metres, ...], Callable[[Floats], Floats]], ...] = (
        ("STATIONS", "station", 0, stations, lambda p: np.stack([beyond - p[:, 1], p[:, 2]], axis=1)),
        ("BUTTOCKS", "buttock", 1, buttocks, lambda p: np.stack([p[:, 0], p[:, 2]], axis=1)),
        ("WATERLINES", "waterline", 2, waterlines, lambda p: np.stack([p[:, 0], under + p[:, 1]], axis=1)),
    )
    out = []
    for layer, word, axis, places, paper in kinds:
        for number, at in enumerate(places):
            for piece, outline in enumerate(outlines(mesh, axis, at)):
                out.append(DrawnLine(layer, f"{word}-{number}" + (f"-{piece}" if piece else ""), at, MILLIMETRES * paper(outline)))
    return out


def dxf(lines: list[DrawnLine]) -> bytes:
    """A DXF drawing (R2010, millimetres), a closed polyline for each outline on its layer."""
    import ezdxf.filemanagement  # a third of a second to load, so only when a file is asked for
    from ezdxf import units

    drawing = ezdxf.filemanagement.new("R2010")
    drawing.units = units.MM
    space = drawing.modelspace()
    for layer, colour in (("STATIONS", 7), ("BUTTOCKS", 3), ("WATERLINES", 5)):
        drawing.layers.add(layer, color=colour)
    for line in lines:
        space.add_lwpolyline(line.points.tolist(), close=True, dxfattribs={"layer": line.layer})
    text = io.StringIO()
    drawing.write(text)
    return text.getvalue().encode()


def svg(lines: list[DrawnLine], title: str) -> bytes:
    """An SVG drawing, one user unit a millimetre, a closed path for each outline, named and grouped by layer."""
    points = np.vstack([line.points for line in lines]) if lines else np.zeros((1, 2))
    low, high = points.min(axis=0) - 10, points.max(axis=0) + 10
    width, height = high - low
    return "".join(
        _svg(lines=lines, title=title, left=float(low[0]), top=float(high[1]), width=float(width), height=float(height))
    ).encode()


def _svg(lines: list[DrawnLine], title: str, left: float, top: float, width: float, height: float) -> Iterator[str]:
    yield f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.2f}mm" height="{height:.2f}mm" viewBox="0 0 {width:.2f} {height:.2f}">'
    yield f"<title>{escape(plain(title))}</title>"
    for layer, colour in (("STATIONS", "#15232B"), ("BUTTOCKS", "#3B7350"), ("WATERLINES", "#1F6770")):
        yield f'<g id="{layer.lower()}" fill="none" stroke="{colour}" stroke-width="0.35">'
        for line in lines:
            if line.layer == layer:
                d = "L".join(f"{x - left:.4f} {top - y:.4f}" for x, y in line.points.tolist())
                yield f'<path id="{line.name}" data-at-mm="{MILLIMETRES * line.at:.4f}" d="M{d}Z"/>'
        yield "</g>"
    yield "</svg>\n"
