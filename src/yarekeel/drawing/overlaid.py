"""Two states of a boat laid over each other on one surface: the later one drawn, the earlier one's outline dashed, and the weights that
were moved or came with it."""

from collections.abc import Sequence
from dataclasses import dataclass

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.quantities import Point
from yarekeel.core.weights.items import WeightItem
from yarekeel.drawing import svg
from yarekeel.drawing.view import ASTERN, STARBOARD, View, fitted, hull_drawing, outline_of_part

NEAR = 1e-6
"""m: a place that differs by less is the same."""


@dataclass(frozen=True)
class Laid:
    """A boat as it lies: its hull, its attitude at rest, and what is aboard."""

    hull: Hull
    attitude: Attitude
    items: Sequence[WeightItem]


@dataclass(frozen=True)
class Shift:
    """A weight's place before and after; None where it was not aboard."""

    name: str
    before: Point | None
    after: Point | None


def shifts(before: Laid, after: Laid) -> tuple[Shift, ...]:
    """Weights that were moved, came aboard or went ashore, by their names; what is built with the hull does not count."""
    one, two = ({i.name: i.at_m for i in b.items if i.mass_kg > 0 and not i.fixed} for b in (before, after))
    out = []
    for name in dict.fromkeys([*one, *two]):
        a, b = one.get(name), two.get(name)
        if a is None or b is None or max(abs(u - v) for u, v in zip(a, b, strict=True)) > NEAR:
            out.append(Shift(name, a, b))
    return tuple(out)


def draw(before: Laid, after: Laid, width: float, height: float, label: str, *, both: bool = False) -> str:
    """From starboard, with ``both`` from astern beside it, at one scale."""
    sizes = [b.hull.mesh.bounds[1] - b.hull.mesh.bounds[0] for b in (before, after)]
    long, wide, tall = (float(max(s[k] for s in sizes)) for k in range(3))
    pad = 0.07 * width
    across = long + (wide + 2 * pad / width * long if both else 0.0)
    scale = min((width - 2 * pad) / across, (height - 12) / (1.5 * tall))
    surface = height * 0.58
    middles = [(STARBOARD, width / 2 if not both else pad + long * scale / 2)]
    if both:
        middles.append((ASTERN, width - pad - wide * scale / 2))
    parts = [svg.element("rect", x=0.0, y=surface, width=width, height=height - surface, class_="water")]
    moved = shifts(before, after)
    for side, middle in middles:
        parts.append(_side(before, after, moved, side, scale, middle=middle, surface=surface))
    parts += [
        svg.element("rect", x=0.0, y=surface, width=width, height=height - surface, class_="water-over"),
        svg.line(0.0, surface, width, surface, "surface"),
    ]
    return svg.svg(width, height, parts, label, "overlaid")


def _side(before: Laid, after: Laid, moved: Sequence[Shift], side: str, scale: float, *, middle: float, surface: float) -> str:
    seen = fitted(side, after.attitude, after.hull, scale, middle, surface)
    ghost = View(side=side, attitude=before.attitude, scale=scale, left=seen.left, top=surface)  # one origin for both
    outlines = "".join(svg.path_of(one, closed=True) for part in before.hull.drawn for one in outline_of_part(part, ghost)[0])
    parts = [hull_drawing(after.hull, seen, with_stations=False), svg.path(outlines, "laid-before")]
    for one in moved:
        a = ghost.point(one.before) if one.before is not None else None
        b = seen.point(one.after) if one.after is not None else None
        if a is not None and b is not None:
            parts.append(svg.line(*a, *b, "shift-line"))
        if a is not None:
            parts.append(svg.element("circle", cx=a[0], cy=a[1], r=2.6, class_="shift-from"))
        if b is not None:
            parts.append(svg.element("circle", cx=b[0], cy=b[1], r=3.2, class_="shift-to"))
    return svg.element("g", *parts)
