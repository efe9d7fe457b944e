"""What is asked of a set of patterns, as typed: on the page and on the command line alike."""

import dataclasses
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.folded_tray import FoldedTray
from yarekeel.core.kept import kept
from yarekeel.core.patterns.frames import Frame, SetUp, Wanted, frames_of, set_up, stations_of
from yarekeel.core.patterns.joints import blank_of, lapped
from yarekeel.core.patterns.panels import Panel, panels_of
from yarekeel.core.patterns.seams import Fold, folds_of, seams_of, stitches
from yarekeel.core.quantities import Kilograms, KilogramsPerCubicMetre, Metres, Point
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.materials import Material
from yarekeel.drawing.lines import nice_spacing
from yarekeel.exchange.patterns.sheet import Pattern, blank_pattern, panel_pattern, pattern_of
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design

CLEAR: Metres = 0.1
"""Between the strongback and the part of the hull that is nearest."""
Length = Callable[[str, str], float]
"""Reads a length: what was typed, and the field's name."""


@dataclass(frozen=True, slots=True)
class Order:
    """As typed: how far apart, or stations with ; between, what is taken off, ring, notches as "width x depth", a limber hole's radius."""

    every: str = ""
    at: str = ""
    skin: str = ""
    ring: str = ""
    keelson: str = ""
    clamp: str = ""
    limber: str = ""
    upside_down: bool = True


@dataclass(frozen=True, eq=False)
class Ordered:
    """The frames, each as a pattern, and where they stand on the strongback."""

    frames: tuple[Frame, ...]
    patterns: tuple[Pattern, ...]
    set_up: tuple[SetUp, ...]


def sides(text: str, field: str, length: Length, parts: str, such_as: str) -> tuple[Metres, ...]:
    """Sizes that were typed with x between, as many as ``parts`` has in words. Raises InvalidInput for another number."""
    found = [part for part in text.lower().replace("×", "x").split("x") if part.strip()]
    if len(found) != len(parts.split(" x ")):
        raise InvalidInput(field, f"Write it as {parts}, such as {such_as}.")
    return tuple(length(part, field) for part in found)


def ordered(craft: Craft, number: int, order: Order, length: Length) -> Ordered:
    """The frames of a body. Raises InvalidInput with the field that is wrong."""
    mesh = craft.piece(number)
    low, high = mesh.bounds

    def of(text: str, name: str) -> Metres:
        value = length(text, name) if text.strip() else 0.0
        if value < 0:
            raise InvalidInput(name, "A thickness, a width or a depth is more than nothing.")
        return value

    def pair(text: str, name: str) -> tuple[Metres, Metres]:
        if not text.strip():
            return 0.0, 0.0
        width, depth = sides(text, name, of, "width x depth", "20 mm x 12 mm")
        return width, depth

    listed = tuple(length(one, "at") for one in order.at.split(";") if one.strip())
    every = length(order.every, "every") if order.every.strip() else None if listed else nice_spacing(float(high[0] - low[0]))
    wanted = Wanted(
        skin=of(order.skin, "skin"),
        ring=of(order.ring, "ring"),
        keelson=pair(order.keelson, "keelson"),
        clamp=pair(order.clamp, "clamp"),
        limber=of(order.limber, "limber"),
    )
    spacing = nice_spacing(float(high[2] - low[2]))
    waterlines = tuple(float(low[2]) + k * spacing for k in range(1, int(float(high[2] - low[2]) / spacing) + 1))
    frames = frames_of(mesh, stations_of(mesh, every, listed), wanted, waterlines)
    patterns = tuple(pattern_of(f, craft.design.name) for f in frames)
    return Ordered(frames, patterns, set_up(frames, CLEAR, upside_down=order.upside_down))


@kept
def panels_cut(craft: Craft, number: int) -> tuple[Panel, ...]:
    """The panels of a body that are cut: of an open hull not the one that closes it at the sheer."""
    found = panels_of(craft.piece(number))
    return tuple(p for p in found if not (craft.design.bodies[number].deck == "open" and p.name.startswith("deck")))


def mass_of(frames: Sequence[Frame], thickness: Metres, density: KilogramsPerCubicMetre) -> tuple[Kilograms, Point]:
    """What frames weigh, cut from a sheet, and where: each at its own station."""
    from shapely import Polygon

    total, moment = 0.0, np.zeros(3)
    for f in frames:
        holes = [Polygon(h) for h in f.holes]
        for outline in f.outlines:
            shape = Polygon(outline)
            for hole in holes:
                shape = shape.difference(hole)
            total += shape.area
            moment += shape.area * np.array([f.x, shape.centroid.x, shape.centroid.y])
    if total <= 0:
        raise InvalidInput("frames", "There is no frame to weigh.")
    x, y, z = (moment / total).tolist()
    return thickness * density * total, (x, y, z)


@dataclass(frozen=True, slots=True)
class PanelOrder:
    """As typed: holes for stitches as "how far apart x how far off the edge", how wide laps are, a fold as "inner radius x thickness"; each
    empty for none."""

    stitch: str = ""
    lap: str = ""
    bend: str = ""


def panels_drawn(craft: Craft, number: int, order: PanelOrder, length: Length) -> tuple[Pattern, ...]:
    """The panels of a body that develop as patterns, and the blank of one that is folded. Raises InvalidInput where none develops, or what
    was asked cannot be."""
    panels, boat = panels_cut(craft, number), craft.design.name
    every, off = (
        sides(order.stitch, "stitch", length, "how far apart x how far off the edge", "100 mm x 8 mm")
        if order.stitch.strip()
        else (0.0, 0.0)
    )
    wide = length(order.lap, "lap") if order.lap.strip() else 0.0
    flat = tuple(
        panel_pattern(
            p,
            boat,
            stitches(p, panels, every, off) if order.stitch.strip() else None,
            lapped(p, panels, wide) if order.lap.strip() else None,
        )
        for p in panels
        if p.develops
    )
    if not flat:
        raise InvalidInput("panels", "No panel of this hull develops: it is curved two ways all over.")
    folded = folded_from(craft, number, order.bend, length)
    return (*flat, folded.blank) if folded is not None and folded.blank is not None else flat


@dataclass(frozen=True, eq=False)
class Folded:
    """The folds of a hull, and the blank that it is folded from; None with ``why`` where it cannot be one sheet."""

    folds: tuple[Fold, ...]
    blank: Pattern | None
    why: str = ""


USUAL_BEND = "2 mm x 1 mm"


def folded_from(craft: Craft, number: int, bend: str, length: Length) -> Folded | None:
    """The folds of a tray, bent as sharply as its sheet is thick, or of any hull once a bend is typed; None for one that is not folded.
    Raises InvalidInput for a bend that is none."""
    body = craft.design.bodies[number]
    if bend.strip():
        radius, thick = sides(bend, "bend", length, "inner radius x thickness", USUAL_BEND)
    elif isinstance(body.shape, FoldedTray):
        radius = thick = body.shape.thickness_m
    else:
        return None
    panels = panels_cut(craft, number)
    folds = folds_of(seams_of(craft.piece(number), panels, open_top=body.deck == "open"), radius, thick)
    turns = {next(n for n in f.seam.panels if n != "bottom"): f.seam.turn for f in folds if "bottom" in f.seam.panels}
    try:
        return Folded(folds, blank_pattern(blank_of(panels, turns, radius, thick), craft.design.name))
    except InvalidInput as no:
        return Folded(folds, None, no.sentence)


FRAMES = "Frames, as cut"
"""The line of the list that the frames' mass goes into."""


def weighed(design: Design, frames: Sequence[Frame], thickness: Metres, material: Material) -> Design:
    """The boat with what its frames weigh, cut from a sheet, as a line of its list: a new one, or the one that is there. As unsure as the
    material's range. Raises InvalidInput for a thickness that is none."""
    if thickness <= 0:
        raise InvalidInput("thickness", "Frames are cut from a sheet of some thickness.")
    mass, at = mass_of(frames, thickness, material.density)
    line = WeightItem(FRAMES, round(mass, 6), at, "data", material.spread, "structure")
    there = any(w.name == FRAMES for w in design.weights)
    others = tuple(line if w.name == FRAMES else w for w in design.weights)
    return dataclasses.replace(design, weights=others if there else (*others, line))
