"""Planing: trim and drag over speed on the bottom alone, and where the law ends."""

from dataclasses import dataclass

import numpy as np
from markupsafe import Markup

from yarekeel.drawing.plots import Axis, Trace, plot
from yarekeel.stages.underway import planing
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Planing", 3
WHY = (
    "It needs a planing bottom: one hull, a hard chine and a keel that runs straight aft to a transom in the water. This hull has none, "
    "so it is taken to float at every speed."
)
ROWS = 8


@dataclass(frozen=True)
class PlaningMore:
    why: str
    rows: tuple[tuple[str, ...], ...]


def view(asked: PageRequest) -> Tab:
    """The chart of trims, the figures and a table."""
    found = planing.assess(asked.craft)
    if found is None:
        return Tab(title="On the plane", more=PlaningMore(WHY, ()))
    reader, say = asked.reader, asked.reader.say
    readouts = [
        reader.figure("Planes from about", found.from_speed, "speed", "volumetric Froude number 2.75"),
        reader.figure("Chine beam", found.bottom.beam, "length", "read near the stern"),
        reader.figure("Deadrise", found.bottom.deadrise, "degrees", "read near the stern"),
    ]
    if found.hump is not None:
        readouts.append(reader.figure("Hump", found.hump[1], "force", f"at {say(found.hump[0], 'speed')}"))
    rows = []
    for k in np.linspace(0, len(found.points) - 1, min(ROWS, len(found.points))).astype(int).tolist():
        p = found.points[k]
        keel, chine = planing.wetted(p)
        drag = f"{say(p.planing.drag, 'force')} ±{say(planing.in_band(p) * p.planing.drag, 'force')}"
        inside = "yes" if p.in_range else "outside"
        rows.append((say(p.speed, "speed"), say(p.planing.trim, "degrees"), say(keel, "length"), say(chine, "length"), drag, inside))
    return Tab(
        picture=_chart(asked, found),
        readouts=tuple(readouts),
        findings=reader.findings(found.findings),
        title="On the plane",
        more=PlaningMore("", tuple(rows)),
    )


def _chart(asked: PageRequest, found: planing.PlaningAssessment) -> Markup:
    if not found.points:
        return Markup("")
    system = asked.reader.system
    v = [p.speed for p in found.points]
    sure = [p.planing.trim if p.in_range else float("nan") for p in found.points]
    lines = [
        Trace(v, [p.planing.trim for p in found.points], "trim of the bottom", "faint"),
        Trace(v, sure, "within the law", "soft"),
        Trace(v, [p.hops_at for p in found.points], "begins to hop, low confidence", "warm"),
    ]
    speeds = Axis(f"speed, {system.speed.label}", system.speed.si)
    return Markup(plot(lines, speeds, Axis("degrees", 1.0, 0.0), "Trim on the plane", height=320.0))
