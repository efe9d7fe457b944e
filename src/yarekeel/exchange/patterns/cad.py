"""Patterns as DXF (named layers, millimetres) and as SVG (one user unit a millimetre)."""

import io
from collections.abc import Sequence
from html import escape

import numpy as np

from yarekeel.exchange.patterns.sheet import CUT, HOLE, LAYERS, LETTERS, MARK, Pattern, Title, side_by_side
from yarekeel.plain_text import plain


def dxf(patterns: Sequence[Pattern], title: Title) -> bytes:
    """All patterns side by side in one drawing."""
    import ezdxf.filemanagement  # a third of a second to load
    from ezdxf import units

    drawing = ezdxf.filemanagement.new("R2010")
    drawing.units = units.MM
    space = drawing.modelspace()
    for layer, colour in LAYERS:
        drawing.layers.add(layer, color=colour)
    for p, shift in side_by_side(patterns):
        for layer, rounds in ((CUT, p.outlines), (HOLE, p.holes)):
            for one in rounds:
                space.add_lwpolyline((one + np.array([shift, 0.0])).tolist(), close=True, dxfattribs={"layer": layer})
        for one in p.marks:
            space.add_lwpolyline((one + np.array([shift, 0.0])).tolist(), dxfattribs={"layer": MARK})
        for w in p.words:
            space.add_text(w.text, height=LETTERS, dxfattribs={"layer": w.layer, "insert": (w.x + shift, w.y)})
    space.add_text(title.line, height=LETTERS, dxfattribs={"layer": "TEXT", "insert": (0.0, min(p.bounds[1] for p in patterns) - 30)})
    text = io.StringIO()
    drawing.write(text)
    return text.getvalue().encode()


def svg(p: Pattern, title: Title, line: float = 0.25) -> bytes:
    """One pattern at full size, its lines so many mm thick."""
    left, low, right, high = p.bounds
    left, low, right, high = left - 20, low - 30, right + 60, high + 30
    wide, tall = right - left, high - low

    def path(points: object, closed: bool) -> str:
        pairs = [f"{x - left:.4f} {high - y:.4f}" for x, y in points]  # type: ignore[attr-defined]
        return "M" + "L".join(pairs) + ("Z" if closed else "")

    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.3f}mm" height="{tall:.3f}mm" viewBox="0 0 {wide:.3f} {tall:.3f}">',
        f"<title>{escape(plain(title.line))}: {escape(p.name)}</title>",
    ]
    for layer, rounds, closed, ink in ((CUT, p.outlines, True, "#000"), (HOLE, p.holes, True, "#c00"), (MARK, p.marks, False, "#06c")):
        parts.append(f'<g id="{layer}" fill="none" stroke="{ink}" stroke-width="{line:g}">')
        parts += [f'<path d="{path(one, closed)}"/>' for one in rounds]
        parts.append("</g>")
    parts.append('<g id="TEXT" font-family="sans-serif" font-size="4">')
    for w in p.words:
        parts.append(f'<text x="{w.x - left:.3f}" y="{high - w.y:.3f}">{escape(plain(w.text))}</text>')
    parts.append(f'<text x="4" y="{tall - 6:.3f}">{escape(plain(title.line))}</text></g></svg>')
    return "\n".join(parts).encode()
