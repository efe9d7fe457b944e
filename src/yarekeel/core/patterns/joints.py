"""Panels made to be joined: laps along their seams, and all of a tray as one flat blank with the lines that it is folded at."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.geometry.sections import flat_area
from yarekeel.core.patterns.panels import Panel
from yarekeel.core.patterns.seams import bend_deduction, sewn_edges
from yarekeel.core.quantities import Degrees, Metres, Ratio

STRAIGHT: Ratio = 1e-3
"""Of a fold's length, that it may be off a straight line by."""
SLIVER: Ratio = 1e-7
"""Of a blank's area: less than that is rounding."""
RELIEF: Ratio = 2.0
"""Of a bend's outer radius: sides and ends that lie over each other in more than a square so wide do not fold from one sheet."""


@dataclass(frozen=True, eq=False)
class Lapped:
    """A panel's flat outline (n, 2) with its laps, and the lines (k, 2) that they are glued or folded at: the panel's own edges."""

    outline: Floats
    lines: tuple[Floats, ...]


def lapped(panel: Panel, panels: Sequence[Panel], width: Metres) -> Lapped:
    """A flat panel with laps of a ``width`` along the seams where it meets a larger panel, which is glued over them; their ends are cut
    off at 45°. Raises InvalidInput for a width that is none, or too wide for the panel."""
    if width <= 0:
        raise InvalidInput("lap", "A lap is wider than nothing.")
    place = {id(p): k for k, p in enumerate(panels)}
    owners = sewn_edges(panel, panels)
    carries = [any(place[id(p)] < place[id(panel)] for p in own) for own in owners]
    flat = panel.outline
    turn = 1.0 if flat_area(flat) > 0 else -1.0
    runs = _runs(flat, carries)
    if not runs:
        return Lapped(flat, ())
    from shapely import MultiPolygon, Polygon, unary_union

    whole = unary_union([Polygon(flat), *(_lap(run, width, turn) for run in runs)])
    if isinstance(whole, MultiPolygon) or whole.interiors or not whole.is_valid:
        raise InvalidInput("lap", f"Laps so wide would lie over each other on {panel.name}; make them narrower.")
    return Lapped(np.asarray(whole.exterior.coords)[:-1], tuple(runs))


def _runs(flat: Floats, carries: Sequence[bool]) -> list[Floats]:
    """The stretches of an outline (n, 2) whose edges carry a lap, each as a line (k, 2)."""
    count = len(flat)
    if all(carries):
        return [np.vstack([flat, flat[:1]])]
    first = next((k for k in range(count) if not carries[k]), 0)
    out: list[Floats] = []
    line: list[Floats] = []
    for j in range(first, first + count):
        k = j % count
        if carries[k]:
            line = [*(line or [flat[k]]), flat[(k + 1) % count]]
        elif line:
            out.append(np.array(line))
            line = []
    if line:
        out.append(np.array(line))
    return out


def _lap(line: Floats, width: Metres, turn: float) -> object:
    """The strip beside a line (k, 2), to the right of it on an outline that runs round to the left, as a polygon."""
    from shapely import LineString, Polygon

    long = float(np.hypot(*np.diff(line, axis=0).T).sum())
    if long <= 2 * width:
        raise InvalidInput("lap", "A lap is less than half as wide as its seam is long.")
    beyond = LineString(line).offset_curve(-turn * width, join_style="mitre")
    if beyond.geom_type != "LineString" or len(beyond.coords) < 2:
        raise InvalidInput("lap", "A seam of this hull turns too sharply for laps so wide; make them narrower, or leave them out.")
    edge = np.asarray(beyond.coords)
    if np.linalg.norm(edge[0] - line[0]) > np.linalg.norm(edge[-1] - line[0]):
        edge = edge[::-1]
    for end, beside in ((0, 1), (-1, -2)):  # cut off at 45°
        along = edge[beside] - edge[end]
        size = float(np.linalg.norm(along))
        edge[end] = edge[end] + along / size * min(width, 0.9 * size)
    return Polygon(np.vstack([line, edge[::-1]])).buffer(0)


@dataclass(frozen=True, eq=False)
class Blank:
    """A tray before it is folded: its outline (n, 2), and for each fold its line (2, 2), which panel is turned up there and by how
    much."""

    outline: Floats
    folds: tuple[tuple[Floats, str, Degrees], ...]


def blank_of(panels: Sequence[Panel], turns: dict[str, Degrees], radius: Metres, thickness: Metres) -> Blank:
    """All panels that meet the bottom along a straight edge, laid flat around it: each nearer by the bend's deduction, since panels are
    measured to where their outer faces would meet; ``turns`` says by how much each is bent. Raises InvalidInput where there is no flat
    bottom, an edge is no straight line, or what is folded up would lie over itself flat."""
    bottom = next((p for p in panels if p.name == "bottom" and p.develops), None)
    if bottom is None:
        raise InvalidInput("bend", "Only a hull with a flat bottom is folded from one sheet.")
    from shapely import Polygon, unary_union

    parts, folds = [Polygon(bottom.outline)], []
    for p in panels:
        if p is bottom or not p.develops or p.name not in turns:
            continue
        less = bend_deduction(turns[p.name], radius, thickness)
        for mirrored in (False, True) if p.pair else (False,):
            laid = _laid(bottom, p, mirrored=mirrored)
            if laid is None:
                continue
            flat, edge, inward = laid
            parts.append(Polygon(flat + less * inward))
            folds.append((edge + less / 2 * inward, p.name, turns[p.name]))
    if not folds:
        raise InvalidInput("bend", "No panel meets the bottom along a straight edge to be folded at.")
    turned_up = parts[1:]
    over = [a.intersection(b).difference(parts[0]) for k, a in enumerate(turned_up) for b in turned_up[k + 1 :]]
    most = (RELIEF * (radius + thickness)) ** 2
    whole = unary_union(parts)
    for one in over:
        if one.area > SLIVER * whole.area:  # a round notch where two bends meet, as wide as either
            left = whole.difference(one.centroid.buffer(radius + thickness))
            whole = max(getattr(left, "geoms", [left]), key=lambda part: part.area)
    if whole.geom_type != "Polygon" or whole.interiors or any(one.area > most for one in over):
        raise InvalidInput("bend", "Laid flat its sides and ends would lie over each other: cut it from single panels.")
    return Blank(np.asarray(whole.exterior.coords)[:-1], tuple(folds))


def _laid(bottom: Panel, panel: Panel, *, mirrored: bool) -> tuple[Floats, Floats, Floats] | None:
    """A panel laid flat beside the bottom, on the edge that they share: its outline (n, 2), the edge (2, 2) and the direction into the
    bottom (2,). None where they share none. Raises InvalidInput for an edge that is not straight."""
    corners = panel.corners * ([1.0, -1.0, 1.0] if mirrored else [1.0, 1.0, 1.0])
    outline = panel.outline * ([-1.0, 1.0] if mirrored else [1.0, 1.0])
    places = {tuple(np.round(c, 6) + 0.0): k for k, c in enumerate(bottom.corners)}
    shared = [(places[key], k) for k, c in enumerate(corners) if (key := tuple(np.round(c, 6) + 0.0)) in places]
    if len(shared) < 2:
        return None
    on_bottom, on_panel = bottom.outline[[i for i, _ in shared]], outline[[k for _, k in shared]]
    apart = np.linalg.norm(on_bottom[:, None] - on_bottom[None], axis=2)
    i, j = (int(k) for k in np.unravel_index(int(apart.argmax()), apart.shape))
    edge, own = on_bottom[[i, j]], on_panel[[i, j]]
    long = float(apart[i, j])
    along = (edge[1] - edge[0]) / long
    across = np.array([-along[1], along[0]])
    if float(np.abs((on_bottom - edge[0]) @ across).max()) > STRAIGHT * long:
        raise InvalidInput("bend", f"The bottom meets {panel.name} along a curve, and a sheet is folded along straight lines.")
    heading, wanted = own[1] - own[0], edge[1] - edge[0]
    by = math.atan2(wanted[1], wanted[0]) - math.atan2(heading[1], heading[0])
    turn = np.array([[math.cos(by), -math.sin(by)], [math.sin(by), math.cos(by)]])
    flat = (outline - own[0]) @ turn.T + edge[0]
    side = float((bottom.outline.mean(axis=0) - edge[0]) @ across)
    inward = math.copysign(1.0, side) * across
    if float((flat.mean(axis=0) - edge[0]) @ inward) > 0:  # seen from its other face: turned over about the edge
        flat = flat - 2 * np.outer((flat - edge[0]) @ inward, inward)
    return flat, edge, inward
