"""Measured from a photo: marks of known place and the waterline, by a plane seen through a camera; with an error from the marking, from
what the marks' places are known to, and, with two marks, from a camera that does not look straight at them."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.quantities import Degrees, Metres

MARKING = 1.0
"""Points of the picture, standard uncertainty of where a mark is put (common practice: within two of a sharp edge)."""
PLACED: Metres = 0.001
"""Standard uncertainty of a mark's place on the boat, by a ruler."""
TILT: Degrees = 4.0
"""Standard uncertainty of how squarely a camera was held, each way; four marks make it known."""
FIELD: Degrees = 60.0
"""Across the longer side of a phone's picture (common practice: 55 to 75)."""
COVERAGE = 1.96
CLOSEST = 40.0
"""Points of the picture between two marks, or along a waterline."""
MOST = 12
"""Marks."""


@dataclass(frozen=True, slots=True)
class MarkSeen:
    """A mark: where it is in the picture (points right and down), and on the boat (along or across, and up)."""

    x: float
    y: float
    along: Metres
    up: Metres


@dataclass(frozen=True, slots=True)
class Measured:
    """The waterline's slope against the boat (degrees, higher up the boat towards greater ``along`` positive), its height at each place
    that was asked for, and half the 95 % band of each."""

    slope: Degrees
    slope_half: Degrees
    heights: tuple[tuple[Metres, Metres], ...]
    perspective: bool


def measured(marks: Sequence[MarkSeen], water: Sequence[tuple[float, float]], at: Sequence[Metres], size: tuple[int, int]) -> Measured:
    """The waterline through two points of a picture of ``size``, from marks: two give scale and direction, four or more (no three in
    a line) also the perspective. Raises InvalidInput for marks that tell nothing."""
    _check(marks, water, size)
    seen = np.array([[m.x, m.y] for m in marks])
    placed = np.array([[m.along, m.up] for m in marks])
    line = np.array(water, dtype=float)
    count = len(marks)
    flat = np.concatenate([seen.ravel(), line.ravel(), placed.ravel()])
    sigma = np.concatenate([np.full(2 * count + 4, MARKING), np.full(2 * count, PLACED)])

    def answer(v: Floats, yaw: float = 0.0, pitch: float = 0.0) -> Floats:
        s, w = v[: 2 * count].reshape(-1, 2), v[2 * count : 2 * count + 4].reshape(-1, 2)
        p = v[2 * count + 4 :].reshape(-1, 2)
        if count == 2:
            centre, focal = s.mean(axis=0), max(size) / 2 / math.tan(math.radians(FIELD / 2))
            s, w = (_on_plane(q, centre, np.array(size) / 2, focal, yaw, pitch) for q in (s, w))
            onto = _similar(s, p)
        else:
            onto = _projective(s, p)
        (x1, z1), (x2, z2) = onto(w)
        slope = (z2 - z1) / (x2 - x1)
        return np.array([math.degrees(math.atan(slope)), *(z1 + slope * (x - x1) for x in at)])

    try:
        found = answer(flat)
        slopes = [(answer(flat + step) - answer(flat - step)) / 2 for step in np.diag(sigma)]
        if count == 2:
            tilt = math.radians(TILT)
            slopes += [(answer(flat, *d) - answer(flat, *(-v for v in d))) / 2 for d in ((tilt, 0.0), (0.0, tilt))]
            both = [sign * answer(flat, a * tilt, b * tilt) for a, b, sign in ((1, 1, 1), (1, -1, -1), (-1, 1, -1), (-1, -1, 1))]
            slopes.append(np.sum(both, axis=0) / 4)  # what both ways do together
    except (np.linalg.LinAlgError, ZeroDivisionError, FloatingPointError):
        raise InvalidInput("marks", "These marks do not fix the boat's plane; put them further apart, no three in one line.") from None
    half = COVERAGE * np.sqrt((np.array(slopes) ** 2).sum(axis=0))
    if not (np.isfinite(found).all() and np.isfinite(half).all()):
        raise InvalidInput("marks", "These marks do not fix the boat's plane; put them further apart, no three in one line.")
    return Measured(
        float(found[0]), float(half[0]), tuple((float(v), float(h)) for v, h in zip(found[1:], half[1:], strict=True)), count > 2
    )


def _check(marks: Sequence[MarkSeen], water: Sequence[tuple[float, float]], size: tuple[int, int]) -> None:
    if not (len(marks) == 2 or 4 <= len(marks) <= MOST):
        raise InvalidInput("marks", "Two marks, or four to allow for perspective.")
    points = [(m.x, m.y) for m in marks]
    if len(water) != 2 or math.dist(*water) < CLOSEST:
        raise InvalidInput("water", "Mark the waterline at two places well apart.")
    for k, one in enumerate(points):
        if any(math.dist(one, other) < CLOSEST for other in points[k + 1 :]):
            raise InvalidInput("marks", "Two marks lie in one place of the picture; put each on its own.")
    for k, mark in enumerate(marks):
        if any(math.dist((mark.along, mark.up), (o.along, o.up)) < 5 * PLACED for o in marks[k + 1 :]):
            raise InvalidInput("marks", "Two marks are said to be at one place of the boat; their distance gives the scale.")
    if not all(-0.5 * s <= v <= 1.5 * s for p in (*points, *water) for v, s in zip(p, size, strict=True)):
        raise InvalidInput("marks", "A mark lies outside the picture.")


def _on_plane(points: Floats, centre: Floats, middle: Floats, focal: float, yaw: float, pitch: float) -> Floats:
    """Points (n, 2) of a picture as points (n, 2) of a plane through ``centre`` at unit distance, turned by yaw and pitch."""
    rays = np.column_stack([(points - middle) / focal, np.ones(len(points))])
    at = np.append((centre - middle) / focal, 1.0)
    cy, sy, cp, sp = math.cos(yaw), math.sin(yaw), math.cos(pitch), math.sin(pitch)
    right, down = np.array([cy, 0.0, sy]), np.array([sy * sp, cp, -cy * sp])
    normal = np.cross(right, down)
    hit = rays * (at @ normal / (rays @ normal))[:, None] - at
    out: Floats = np.column_stack([hit @ right, hit @ down])
    return out


def _similar(seen: Floats, placed: Floats) -> Callable[[Floats], Floats]:
    """From a plane with y down to the boat's, by two points; of the two ways round the one that has up upwards."""
    s, p = complex(*(seen[1] - seen[0])), complex(*(placed[1] - placed[0]))
    ways = []
    for mirrored in (True, False):  # bow to the right with y down is mirrored; bow to the left is turned
        turn = p / (s.conjugate() if mirrored else s)
        up = (turn * (complex(0, -1).conjugate() if mirrored else complex(0, -1))).imag
        ways.append((up, mirrored, turn))
    _, mirrored, turn = max(ways)

    def onto(points: Floats) -> Floats:
        out = []
        for q in points:
            z = complex(*(q - seen[0]))
            z = turn * (z.conjugate() if mirrored else z)
            out.append([placed[0][0] + z.real, placed[0][1] + z.imag])
        return np.array(out)

    return onto


def _projective(seen: Floats, placed: Floats) -> Callable[[Floats], Floats]:
    """The homography through four points or nearest to more (direct linear transformation on normalised points, from memory). Raises
    LinAlgError where three of four lie in a line."""
    (s, to_s), (p, to_p) = _normalised(seen), _normalised(placed)
    rows = []
    for (x, y), (u, v) in zip(s, p, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y, -u], [0, 0, 0, x, y, 1, -v * x, -v * y, -v]]
    _, size, vt = np.linalg.svd(np.array(rows))
    if size[7] < 1e-6 * size[0]:
        raise np.linalg.LinAlgError
    whole = np.linalg.inv(to_p) @ vt[-1].reshape(3, 3) @ to_s

    def onto(points: Floats) -> Floats:
        h = np.column_stack([points, np.ones(len(points))]) @ whole.T
        out: Floats = h[:, :2] / h[:, 2:]
        return out

    return onto


def _normalised(points: Floats) -> tuple[Floats, Floats]:
    middle = points.mean(axis=0)
    scale = math.sqrt(2) / float(np.hypot(*(points - middle).T).mean())
    turn = np.array([[scale, 0, -scale * middle[0]], [0, scale, -scale * middle[1]], [0, 0, 1]])
    return (points - middle) * scale, turn
