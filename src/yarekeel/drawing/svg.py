"""SVG as text: a few elements, every attribute escaped, coordinates to a tenth of a pixel."""

import re
from collections.abc import Iterable
from functools import cache
from html import escape

import numpy as np
from numpy.typing import NDArray

from yarekeel.core.geometry.mesh import Floats, Ints


def attributes(values: dict[str, object]) -> str:
    """`` name="value"`` for each; underscores become hyphens, a trailing one is dropped (class_), None is left out."""
    out = ""
    for name, v in values.items():
        if v is not None:
            out += f' {_hyphened(name)}="{number(v) if isinstance(v, float) else escaped(str(v))}"'
    return out


def escaped(words: str) -> str:
    """Words as they may stand in an element or an attribute. Most have nothing that means anything there, which is quick to see."""
    return escape(words) if _meaning(words) else words


_meaning = re.compile("[&<>\"']").search


@cache
def _hyphened(name: str) -> str:
    return name.rstrip("_").replace("_", "-")


def number(value: float) -> str:
    """A coordinate: a tenth of a pixel is finer than the eye."""
    return f"{value:.1f}".removesuffix(".0")


def element(name: str, *children: str, **values: object) -> str:
    """One element around its children."""
    inner = "".join(children) if name not in ("title", "desc") else escaped("".join(children))
    return f"<{name}{attributes(values)}>{inner}</{name}>" if inner else f"<{name}{attributes(values)}/>"


def text(x: float, y: float, content: str, class_: str, anchor: str = "start", **values: object) -> str:
    """A line of text; its content is escaped."""
    return element("text", escaped(content), x=x, y=y, class_=class_, text_anchor=anchor, **values)


def line(x1: float, y1: float, x2: float, y2: float, class_: str) -> str:
    """A straight line."""
    return element("line", x1=x1, y1=y1, x2=x2, y2=y2, class_=class_)


def path_of(points: Floats, closed: bool = False) -> str:
    """Path data through points (n, 2), one format string for all of them: a drag draws thousands of coordinates."""
    pattern = "M%.1f %.1f" + "L%.1f %.1f" * (len(points) - 1) + ("Z" if closed else "")
    return pattern % tuple(points.ravel().tolist())


BLUNT = 0.5
"""Tenths of a pixel by which a corner may lie off the straight line that replaces it."""


def segments_of(pieces: Floats) -> str:
    """Path data of separate segments (k, 2, 2): end to end where one starts where another ends, those too short to see left out."""
    tenths = np.rint(pieces * 10).astype(np.int64)
    tenths = tenths[(tenths[:, 0] != tenths[:, 1]).any(axis=1)]
    if not len(tenths):
        return ""
    order, first = _end_to_end(tenths[..., 0] * (1 << 24) + tenths[..., 1])
    start, step = tenths[order, 0], tenths[order, 1] - tenths[order, 0]
    # Every other step is taken along with the one before where the corner between them is too blunt to see.
    corner = np.abs(step[:-1, 0] * step[1:, 1] - step[:-1, 1] * step[1:, 0])
    blunt = (corner <= BLUNT * np.abs(step[:-1] + step[1:]).sum(axis=1)) & ~first[1:]
    blunt &= (step[:-1] * step[1:]).sum(axis=1) > 0  # not where a line turns back on itself
    blunt[1::2] = False
    step[:-1][blunt] += step[1:][blunt]
    kept = np.append(True, ~blunt)
    start, step, first = start[kept], step[kept], first[kept]
    said = np.concatenate([start, step], axis=1)[np.repeat(first[:, None], 4, axis=1) | [False, False, True, True]] / 10
    return "".join("M%.1f %.1fl%.1f %.1f" if new else " %.1f %.1f" for new in first.tolist()) % tuple(said.tolist())


def _end_to_end(points: Ints) -> tuple[Ints, NDArray[np.bool_]]:
    """An order (k,) in which segments between numbered points (k, 2) follow each other, and which of them (k,) start anew."""
    count = len(points)
    starts = np.argsort(points[:, 0], kind="stable")
    ends = np.argsort(points[:, 1], kind="stable")
    start, end = points[starts, 0], points[ends, 1]
    # The n-th segment to end at a point goes on with the n-th to start there.
    place = np.searchsorted(start, end) + np.arange(count) - np.searchsorted(end, end)
    goes_on = place < np.searchsorted(start, end, "right")
    after = np.full(count, -1)
    after[ends[goes_on]] = starts[place[goes_on]]
    follows = np.zeros(count, dtype=bool)
    follows[after[after >= 0]] = True
    following = after.tolist()
    order: list[int] = []
    first: list[bool] = []
    met = bytearray(count)
    for head in [*np.flatnonzero(~follows).tolist(), *np.flatnonzero(follows).tolist()]:
        at, new = head, True
        while at >= 0 and not met[at]:
            met[at] = 1
            order.append(at)
            first.append(new)
            at, new = following[at], False
    return np.array(order), np.array(first)


def path(d: str, class_: str, **values: object) -> str:
    """A path with given data; nothing for no data."""
    return element("path", d=d, class_=class_, **values) if d else ""


def dimension(x: float, y1: float, y2: float, class_: str = "dim") -> str:
    """An upright dimension line with end ticks."""
    return path(f"M{x - 5:.1f} {y1:.1f}h10M{x - 5:.1f} {y2:.1f}h10M{x:.1f} {y1:.1f}V{y2:.1f}", class_)


def svg(width: float, height: float, children: Iterable[str], label: str, class_: str, **values: object) -> str:
    """A whole drawing with a text alternative; ``role`` is img unless told."""
    role = values.pop("role", "img")
    return element("svg", *children, viewBox=f"0 0 {width:g} {height:g}", role=role, aria_label=label, class_=class_, **values)


def quartered(x: float, y: float, radius: float) -> str:
    """The mark of a centre of gravity: a circle quartered black and white."""
    r = f"{radius:g}"
    return element(
        "g",
        element("circle", cx=x, cy=y, r=radius, class_="cg-disc"),
        path(f"M{x:.1f} {y:.1f}v-{r}a{r} {r} 0 0 1 {r} {r}zM{x:.1f} {y:.1f}v{r}a{r} {r} 0 0 1 -{r} -{r}z", "cg-quarters"),
        class_="mark-cg",
        data_touch="cg",
    )
