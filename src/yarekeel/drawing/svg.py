"""SVG as text: a few elements, every attribute escaped, coordinates to a tenth of a pixel."""

from collections.abc import Iterable
from html import escape

import numpy as np

from yarekeel.core.geometry.mesh import Floats


def attributes(values: dict[str, object]) -> str:
    """`` name="value"`` for each; underscores become hyphens, a trailing one is dropped (class_), None is left out."""
    return "".join(
        f' {name.rstrip("_").replace("_", "-")}="{escape(number(v) if isinstance(v, float) else str(v))}"'
        for name, v in values.items()
        if v is not None
    )


def number(value: float) -> str:
    """A coordinate: a tenth of a pixel is finer than the eye."""
    return f"{value:.1f}".removesuffix(".0")


def element(name: str, *children: str, **values: object) -> str:
    """One element around its children."""
    inner = "".join(children) if name not in ("title", "desc") else escape("".join(children))
    return f"<{name}{attributes(values)}>{inner}</{name}>" if inner else f"<{name}{attributes(values)}/>"


def text(x: float, y: float, content: str, class_: str, anchor: str = "start", **values: object) -> str:
    """A line of text; its content is escaped."""
    return element("text", escape(content), x=x, y=y, class_=class_, text_anchor=anchor, **values)


def line(x1: float, y1: float, x2: float, y2: float, class_: str) -> str:
    """A straight line."""
    return element("line", x1=x1, y1=y1, x2=x2, y2=y2, class_=class_)


def path_of(points: Floats, closed: bool = False) -> str:
    """Path data through points (n, 2), one format string for all of them: a drag draws thousands of coordinates."""
    pattern = "M%.1f %.1f" + "L%.1f %.1f" * (len(points) - 1) + ("Z" if closed else "")
    return pattern % tuple(points.ravel().tolist())


def segments_of(pieces: Floats) -> str:
    """Path data of separate segments (k, 2, 2)."""
    ends = np.round(pieces, 1)
    ends[:, 1] -= ends[:, 0]  # a short step is a short number
    return ("M%.1f %.1fl%.1f %.1f" * len(ends)) % tuple(ends.ravel().tolist())


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
