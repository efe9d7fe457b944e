"""Over draft: the hydrostatic curves as small charts, a table and a CSV file."""

from dataclasses import dataclass

import numpy as np
from markupsafe import Markup

from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.hydrostatics.curves import Curves, curves, levels
from yarekeel.core.kept import kept
from yarekeel.drawing import svg
from yarekeel.drawing.plots import Axis, Frame, Mark, Trace, panel
from yarekeel.units import System, number_in, unit_of
from yarekeel.web.shared.page import float_of
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Over draft", 2

MOST_COEFFICIENT = 1.3
FEW, MANY = 25, 50
"""Drafts in the table on the page, and in the file."""
COLUMNS: tuple[tuple[str, str, str, str], ...] = (
    ("drafts", "Draft", "length", "over the baseline"),
    ("volume", "Volume", "volume", "of water pushed aside"),
    ("mass", "Carries", "mass", "all up at that draft"),
    ("lcb", "LCB", "length", "from aft"),
    ("kb", "KB", "length", ""),
    ("bm", "BM", "length", ""),
    ("km", "KM", "length", ""),
    ("area", "Waterplane", "area", ""),
    ("lcf", "LCF", "length", "from aft"),
    ("wetted", "Wetted", "area", "surface"),
    ("block", "Cb", "ratio", ""),
    ("prismatic", "Cp", "ratio", ""),
    ("midship", "Cm", "ratio", ""),
    ("waterplane", "Cwp", "ratio", ""),
)


@dataclass(frozen=True)
class CurvesMore:
    heads: tuple[tuple[str, str], ...]
    rows: tuple[tuple[bool, tuple[str, ...]], ...]


@kept
def curves_of(hull: Hull, count: int) -> Curves:
    """The curves of a hull; kept, since the load does not change them."""
    return curves(hull, levels(hull, count))


def values(c: Curves, name: str, density: float) -> Floats:
    """A column by name."""
    return c.volume * density if name == "mass" else np.asarray(getattr(c, name))


def view(asked: PageRequest) -> Tab:
    """Six charts with the present draft in them, and the table."""
    craft, system = asked.craft, asked.reader.system
    c = curves_of(craft.hull, MANY)
    result = float_of(asked.design)
    a = result.afloat if result else None
    now = None if a is None or a.is_capsized else -a.attitude.origin_height + craft.hull.kernel.centre[0] * -np.sin(a.attitude.trim)
    few = curves_of(craft.hull, FEW)
    near = None if now is None else int(np.abs(few.drafts - now).argmin())
    columns = [
        (title, unit_of(kind, system).label, [_cell(v, kind, system) for v in values(few, n, craft.density)])
        for n, title, kind, _ in COLUMNS
    ]
    rows = tuple((k == near, tuple(column[2][k] for column in columns)) for k in range(len(few.drafts)))
    more = CurvesMore(tuple((title, unit) for title, unit, _ in columns), rows)
    return Tab(
        picture=Markup(_charts(asked, c, now)), findings=asked.reader.findings(result.findings if result else ()), title="Now", more=more
    )


def _cell(value: float, kind: str, system: System) -> str:
    return f"{value:.3f}" if kind == "ratio" else number_in(float(value), kind, system, 1 if kind in ("length", "volume") else 0)


_PANELS: tuple[tuple[str, str, tuple[tuple[str, str, str], ...]], ...] = (
    ("Carries", "mass", (("mass", "", ""),)),
    ("KB and KM", "length", (("kb", "KB", "soft"), ("km", "KM", ""))),
    ("Waterplane and wetted", "area", (("area", "waterplane", ""), ("wetted", "wetted", "soft"))),
    ("LCB and LCF, from aft", "length", (("lcb", "LCB", "soft"), ("lcf", "LCF", ""))),
    ("BM", "length", (("bm", "BM", ""),)),
    (
        "Coefficients",
        "ratio",
        (("block", "Cb", ""), ("prismatic", "Cp", "soft"), ("midship", "Cm", "faint"), ("waterplane", "Cwp", "warm")),
    ),
)


def _charts(asked: PageRequest, c: Curves, now: float | None) -> str:
    """Draft upward in all six, as it is on the boat."""
    system = asked.reader.system
    width, height = 784.0, 452.0
    parts = [svg.text(14.0, 25.0, "Over draft, level and upright", "tank-title")]
    draft = unit_of("length", system)
    for k, (title, kind, lines) in enumerate(_PANELS):
        column, row = k % 3, k // 3
        frame = Frame(52.0 + column * 252.0, 62.0 + row * 202.0, 196.0, 128.0)
        unit = unit_of(kind, system)
        drawn = []
        for name, label, look in lines:
            v = values(c, name, asked.craft.density).copy()
            if name in ("bm", "km"):  # at the very keel BM runs away
                v[v > 3 * np.median(v)] = np.nan
            elif kind == "ratio":  # a last sliver of waterline has no form
                v[v > MOST_COEFFICIENT] = np.nan
            drawn.append(_on_its_side(c, v, label, look))
        marks = () if now is None else (Mark(now, "now" if not k else "", "wanted"),)
        x = Axis(
            f"{title}, {unit.label}" if unit.label else title, unit.si, 0.0 if kind != "length" or lines[0][0] in ("kb", "bm") else None
        )
        some, _ = panel(frame, drawn, x, Axis(f"draft, {draft.label}", draft.si), across=marks)
        parts += some
    return svg.svg(width, height, parts, "Hydrostatic curves over draft", "chart plot wide")


def _on_its_side(c: Curves, v: Floats, label: str, look: str) -> Trace:
    return Trace(v.tolist(), c.drafts.tolist(), label, look)


def csv_of(asked: PageRequest) -> str:
    """The table as text, with the units of the page in its heads, every figure in full."""
    system, density = asked.reader.system, asked.craft.density
    c = curves_of(asked.craft.hull, MANY)
    heads, columns = [], []
    for name, title, kind, note in COLUMNS:
        unit = unit_of(kind, system)
        heads.append(f"{title}{', ' + note if note else ''}{' (' + unit.label + ')' if unit.label else ''}")
        columns.append([f"{v / unit.si:.6g}" for v in values(c, name, density).tolist()])
    lines = [",".join(f'"{h}"' if "," in h else h for h in heads)]
    lines += [",".join(row) for row in zip(*columns, strict=True)]
    return "\ufeff" + "\r\n".join(lines) + "\r\n"
