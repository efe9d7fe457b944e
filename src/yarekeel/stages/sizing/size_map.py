"""The size map: two sizes on the axes, and for every limit of the brief where it is kept."""

import dataclasses
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, ClassVar, cast

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.attitude import Attitude, rotation
from yarekeel.core.geometry.families import AnyShape
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.hydrostatics.afloat import level_waterline
from yarekeel.core.quantities import Ratio
from yarekeel.core.water import Water
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.limits import Limit
from yarekeel.stages.design.resizing import refitted
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.judge import judge
from yarekeel.stages.sizing.sizing import SCALE, Tried, Unknown, size_limits, try_value, unknown, unknowns_of, with_unknown

POINTS = 40
COARSE: Ratio = 0.5
"""Of the usual detail: a map's hulls are still finer than its cells."""
REACH = (0.6, 1.6)
"""Times what a size is now: the map's span."""


@dataclass(frozen=True)
class Coarser:
    """A shape built with less detail: the same boat from farther off. Its sizes are those of ``shape``."""

    kind: ClassVar[str] = "coarser"
    shape: Any

    def build(self) -> Mesh:
        """The shape's mesh at ``COARSE`` of the detail."""
        mesh = self.shape.build(COARSE)
        assert isinstance(mesh, Mesh)
        return mesh


@dataclass(frozen=True, eq=False)
class Axes:
    """The two unknowns and the values (n,) looked at of each."""

    across: Unknown
    up: Unknown
    x: Floats
    y: Floats
    limits: tuple[Limit, ...]


@dataclass(frozen=True, eq=False)
class SizeMap:
    """Margins by limit, each (n, n) with rows up and columns across; not a number where the boat cannot be built."""

    axes: Axes
    margins: dict[str, Floats]

    @property
    def least(self) -> Floats:
        """The least margin at each point (n, n): the brief is kept where it is not less than nothing."""
        return np.asarray(np.min(np.stack(list(self.margins.values())), axis=0))


def axes_of(craft: Craft, across: str = "", up: str = "", points: int = POINTS) -> Axes:
    """The axes asked for, or the first two sizes of the boat. Raises InvalidInput for one that is not, or twice the same."""
    known = [u for u in unknowns_of(craft) if u.path != SCALE]
    if len(known) < 2:
        raise InvalidInput("unknown", "This boat has not two sizes that can change; try “Size it”.")
    a = unknown(craft, across) if across else known[0]
    b = unknown(craft, up) if up else next(u for u in known if u.path != a.path)
    if a.path == b.path or SCALE in (a.path, b.path):
        raise InvalidInput("unknown", "Choose two different sizes for the map.")
    return Axes(across=a, up=b, x=_values(a, points), y=_values(b, points), limits=size_limits(craft))


def _values(u: Unknown, points: int) -> Floats:
    return np.linspace(max(u.low, REACH[0] * u.now), min(u.high, REACH[1] * u.now), points)


def blank(axes: Axes) -> SizeMap:
    """A map with nothing worked out yet."""
    return SizeMap(axes, {w.code: np.full((len(axes.y), len(axes.x)), math.nan) for w in axes.limits})


def steps(craft: Craft, found: SizeMap) -> Iterator[None]:
    """Work the map out, row after row, so that it can be watched and stopped: as many steps as it has rows.

    Every other point is a boat built and floated; then those between, wherever a limit is kept at one neighbour and missed at
    another. Points far from every limit are read off between their neighbours: no line runs there.
    """
    axes = found.axes
    bare, across, up = _coarse(craft), _inner(craft, axes.across.path), _inner(craft, axes.up.path)
    start: Attitude | None = None

    def fill(row: int, columns: list[int]) -> None:
        nonlocal start
        if not columns:
            return
        try:
            base = Craft(refitted(bare, up, float(axes.y[row])))
        except InvalidInput:
            return
        for k in columns:
            try:
                margins, start = _margins(Craft(refitted(base, across, float(axes.x[k]))), axes.limits, start)
            except InvalidInput:
                continue
            for code, value in margins.items():
                found.margins[code][row, k] = value

    high, wide = len(axes.y), len(axes.x)
    some_rows, some = sorted({*range(0, high, 2), high - 1}), sorted({*range(0, wide, 2), wide - 1})
    for row in some_rows:
        fill(row, some)
        yield
    for row in range(high):
        fill(row, _between(found, row, row in some_rows, some))
        if row not in some_rows:  # the others were a step each already
            yield


def _between(found: SizeMap, row: int, known: bool, some: list[int]) -> list[int]:
    """The columns of a row that must be worked out; the others are read off between their neighbours and put in."""
    high = len(found.axes.y)
    above, below = (row, row) if known else (row - 1, min(row + 1, high - 1))
    out = []
    for k in range(len(found.axes.x)):
        if known and k in some:
            continue
        left, right = (k, k) if k in some else (k - 1, k + 1)
        corners = {c: m[[above, above, below, below], [left, right, left, right]] for c, m in found.margins.items()}
        if all(np.isfinite(v).all() and ((v >= 0).all() or (v < 0).all()) for v in corners.values()):
            for code, v in corners.items():
                found.margins[code][row, k] = v.mean()
        else:
            out.append(k)
    return out


def _coarse(craft: Craft) -> Craft:
    bodies = tuple(
        dataclasses.replace(b, shape=cast(AnyShape, Coarser(b.shape))) if _takes_detail(b.shape) else b for b in craft.design.bodies
    )
    bare = Craft(dataclasses.replace(craft.design, bodies=bodies))
    # What wider facets take off the volume under water, denser water gives back: on a curved hull that is 2 %.
    volume = min(craft.total.mass / craft.density, 0.9 * craft.hull.kernel.total_volume)
    d, upright = level_waterline(craft.hull.kernel, volume), rotation(0.0, 0.0)
    under = [k.evaluate(upright, d - k.centre[2]).volume for k in (craft.hull.kernel, bare.hull.kernel)]
    share = under[0] / under[1] if under[1] > 0 else 1.0
    return Craft(dataclasses.replace(bare.design, water=Water(density_kg_m3=craft.density * share)))


def _takes_detail(shape: AnyShape) -> bool:
    return shape.kind not in ("box", "mesh", "offsets")


def _inner(craft: Craft, path: str) -> str:
    """The path of a size within a coarser shape."""
    number = int(path.split(".")[1])
    return path.replace(".shape.", ".shape.shape.", 1) if _takes_detail(craft.design.bodies[number].shape) else path


def _margins(craft: Craft, limits: tuple[Limit, ...], start: Attitude | None) -> tuple[dict[str, float], Attitude | None]:
    """Margins of one boat, its attitude found from that of the one before, and that attitude."""
    judged = judge(Figures(craft, start), limits)
    rest = judged.afloat
    if rest is None:
        return judged.margins, None
    steady = abs(rest.attitude.heel) < math.radians(20) and abs(rest.attitude.trim) < math.radians(10)
    return judged.margins, rest.attitude if steady else None


def point(craft: Craft, axes: Axes, x: float, y: float) -> Tried | None:
    """The boat at a point of the map, in full detail; None where it cannot be built."""
    try:
        base = Craft(with_unknown(craft, axes.up.path, y))
    except InvalidInput:
        return None
    return try_value(base, axes.across, x, axes.limits)


def at_point(craft: Craft, across: str, x: float, up: str, y: float) -> Design:
    """The boat's design at a point. Raises InvalidInput where it cannot be built."""
    axes = axes_of(craft, across, up, 2)
    return with_unknown(Craft(with_unknown(craft, axes.up.path, y)), axes.across.path, x)
