"""A pattern as it is drawn at full size: outlines to cut, holes, marks and words by layer, in millimetres, y up."""

import hashlib
import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.patterns.frames import Frame
from yarekeel.core.patterns.joints import Blank, Lapped
from yarekeel.core.patterns.panels import Panel
from yarekeel.core.quantities import Metres
from yarekeel.stages.design.design import Design

MILLIMETRES = 1000.0
CUT, HOLE, MARK, BEVEL, TEXT = "CUT", "HOLE", "MARK", "BEVEL", "TEXT"
LAYERS = ((CUT, 7), (HOLE, 1), (MARK, 5), (BEVEL, 3), (TEXT, 8))
"""Each with its colour's number in a DXF."""
STITCH = 1.0
"""mm, radius of a hole for a stitch of wire."""
_ROUND = np.array([[math.cos(2 * math.pi * k / 12), math.sin(2 * math.pi * k / 12)] for k in range(12)])
LETTERS = 4.0
"""mm, height of the words."""


@dataclass(frozen=True, slots=True)
class Word:
    """Words at a place, mm."""

    x: float
    y: float
    text: str
    layer: str = TEXT


@dataclass(frozen=True, eq=False)
class Pattern:
    """A piece: closed outlines and holes (n, 2), marks as open lines (n, 2), words; all mm."""

    name: str
    outlines: tuple[Floats, ...]
    holes: tuple[Floats, ...]
    marks: tuple[Floats, ...]
    words: tuple[Word, ...]

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, low, right, high, mm, of all that is drawn."""
        points = np.vstack([*self.outlines, *self.marks])
        (left, low), (right, high) = points.min(axis=0), points.max(axis=0)
        return float(left), float(low), float(right), float(high)


@dataclass(frozen=True, slots=True)
class Title:
    """What a sheet says of itself."""

    boat: str
    letter: str
    load: str
    day: str
    code: str

    @property
    def line(self) -> str:
        """In one line."""
        return f"{self.boat}, revision {self.letter}, shape {self.code}, {self.load}, {self.day}"


def code_of(design: Design) -> str:
    """A short code of the shape: it changes when any body does, and a printed pattern shows whether it is still of this hull."""
    return hashlib.sha256(repr(design.bodies).encode()).hexdigest()[:6]


def title_of(design: Design, letter: str, day: str) -> Title:
    """The title of a boat's patterns."""
    return Title(design.name, letter, design.case or "load as listed", day, code_of(design))


def pattern_of(frame: Frame, boat: str) -> Pattern:
    """A frame as a pattern, centreline at x = 0, heights as they stand in the boat."""
    outlines = tuple(MILLIMETRES * o for o in frame.outlines)
    points = np.vstack(outlines)
    (left, low), (right, high) = points.min(axis=0), points.max(axis=0)
    marks = [np.array([[0.0, low - 8], [0.0, high + 8]])] if left < 0 < right else []
    marks += [np.array([[left - 8, 1000 * z], [right + 8, 1000 * z]]) for z in frame.marks]
    words = [
        Word(float(left), float(high) + 12, f"{boat} {frame.name}, {1000 * frame.x:.0f} mm from aft"),
        *(Word(float(right) + 10, 1000 * z, f"waterline {1000 * z:.0f}") for z in frame.marks),
        *(Word(1000 * b.y, 1000 * b.z, f"{b.angle:+.0f}°", BEVEL) for b in frame.bevels),
    ]
    return Pattern(frame.name, outlines, tuple(MILLIMETRES * h for h in frame.holes), tuple(marks), tuple(words))


def laid_along(panel: Panel) -> tuple[Floats, tuple[Floats, Floats]]:
    """A panel that develops laid with its length along x (n, 2), metres; and where a place of the boat's length comes to lie in it, as
    two rising rows."""
    flat = panel.outline
    middle = flat.mean(axis=0)
    _, _, axes = np.linalg.svd(flat - middle, full_matrices=False)
    if np.linalg.det(axes) < 0:
        axes[1] = -axes[1]  # turned, never mirrored
    flat = (flat - middle) @ axes.T
    order = np.argsort(panel.corners[:, 0])
    along = np.maximum.accumulate(flat[order, 0]) if flat[order[-1], 0] > flat[order[0], 0] else np.minimum.accumulate(flat[order, 0])
    return flat, (panel.corners[order, 0], along)


def panel_pattern(panel: Panel, boat: str, stitched: Floats | None = None, laps: Lapped | None = None) -> Pattern:
    """A panel that develops as a pattern, its length along x, with its longest diagonal drawn and measured to check the cut by; with holes
    at places ``stitched`` (n, 2) of the flat panel, and with its laps."""
    flat = MILLIMETRES * laid_along(panel)[0]
    middle = panel.outline.mean(axis=0)
    turn = np.linalg.lstsq(panel.outline - middle, flat, rcond=None)[0]

    def placed(points: Floats) -> Floats:
        return np.asarray((points - middle) @ turn)

    holes = tuple(spot + STITCH * _ROUND for spot in placed(stitched)) if stitched is not None and len(stitched) else ()
    outline, lines = (flat, ()) if laps is None else (placed(laps.outline), tuple(placed(line) for line in laps.lines))
    apart = np.linalg.norm(flat[:, None] - flat[None], axis=2)
    i, j = (int(k) for k in np.unravel_index(int(apart.argmax()), apart.shape))
    left, high = float(outline[:, 0].min()), float(outline[:, 1].max())
    twice = ", cut two, one turned over" if panel.pair else ""
    words = [
        Word(left, high + 12, f"{boat}, {panel.name}{twice}"),
        Word(float(flat[i, 0] + flat[j, 0]) / 2, float(flat[i, 1] + flat[j, 1]) / 2 + 2, f"diagonal {apart[i, j]:.1f}"),
        *(_beside(line[len(line) // 2], "lap") for line in lines),
    ]
    return Pattern(panel.name.replace(" ", "-"), (outline,), holes, (flat[[i, j]], *lines), tuple(words))


def _beside(at: Floats, words: str) -> Word:
    return Word(float(at[0]) + 2, float(at[1]) + 2, words)


def blank_pattern(blank: Blank, boat: str) -> Pattern:
    """A tray's flat blank as a pattern, its length along x, with the middle of every fold as a line."""
    middle = blank.outline.mean(axis=0)
    corners = np.vstack([line for line, _, _ in blank.folds])
    _, _, axes = np.linalg.svd(corners - corners.mean(axis=0), full_matrices=False)
    if np.linalg.det(axes) < 0:
        axes[1] = -axes[1]
    outline = MILLIMETRES * (blank.outline - middle) @ axes.T
    folds = [(MILLIMETRES * (line - middle) @ axes.T, name, turn) for line, name, turn in blank.folds]
    words = [Word(float(outline[:, 0].min()), float(outline[:, 1].max()) + 12, f"{boat}, blank to fold")]
    words += [_beside(line.mean(axis=0), f"{name} up {turn:.0f}°") for line, name, turn in folds]
    return Pattern("blank", (outline,), (), tuple(line for line, _, _ in folds), tuple(words))


def side_by_side(patterns: Iterable[Pattern], gap: Metres = 0.05) -> list[tuple[Pattern, float]]:
    """Each with how far it is set to the right, mm, so that none touches the next."""
    out, at = [], 0.0
    for p in patterns:
        left, _, right, _ = p.bounds
        out.append((p, at - left))
        at += right - left + MILLIMETRES * gap
    return out
