"""Planing: trim and drag over speed on the bottom alone, and where the law ends."""

import math
from dataclasses import dataclass

import numpy as np
from markupsafe import Markup

from yarekeel.drawing.plots import Axis, Trace, plot
from yarekeel.stages.underway import pads, planing
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Planing", 3
WHY = (
    "It needs a planing bottom: one hull, a hard chine and a keel that runs straight aft to a transom in the water, or pads that end in "
    "steps. This hull has none, so it is taken to float at every speed, or until its foils lift it."
)
ROWS = 8
HEADS = ("Speed", "Trim", "Keel wet", "Chine wet", "Drag", "In range")


@dataclass(frozen=True)
class PlaningMore:
    why: str
    rows: tuple[tuple[str, ...], ...]
    heads: tuple[str, ...] = HEADS
    title: str = "On the bottom alone"
    law: str = "Savitsky's equations"


def view(asked: PageRequest) -> Tab:
    """The chart of trims, the figures and a table; of a hull that runs on pads, what each of them carries."""
    on_pads = pads.assess(asked.craft)
    if on_pads is not None:
        return _on_pads(asked, on_pads)
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


def _on_pads(asked: PageRequest, found: pads.PadsAssessment) -> Tab:
    reader, say, system = asked.reader, asked.reader.say, asked.reader.system
    alike = [p for p in found.pads if p.keel[1] >= 0]
    names = [p.name.removesuffix(", port") + (", each" if p.keel[1] > 0 else "") for p in alike]
    index = [found.pads.index(p) for p in alike]
    readouts = []
    if found.carries is not None:
        readouts.append(reader.figure("Runs on its pads from", found.carries, "speed", "95 % of the weight on them"))
    for pad, name in zip(alike, names, strict=True):
        readouts.append(reader.figure(f"{name.capitalize()}: beam", pad.beam, "length", f"ends {say(pad.keel[0], 'length')} from aft"))
    if found.spacing is not None:
        readouts.append(reader.figure("Between the sponsons", found.spacing, "length", "middle to middle"))
    v = [r.speed for r in found.rows]
    lines = []
    for k, name, look in zip(index, names, ("soft", "warm", "over", "faint"), strict=False):
        words = [f"{say(r.pads[k].lift, 'force')} at {say(r.speed, 'speed')}, {say(r.pads[k].angle, 'degrees')}" for r in found.rows]
        lines.append(Trace(v, [r.pads[k].lift for r in found.rows], name, look, words))
    lines.append(Trace(v, [math.fsum(p.lift for p in r.pads) for r in found.rows], "all pads", "faint"))
    picture = plot(
        lines,
        Axis(f"speed, {system.speed.label}", system.speed.si, 0.0),
        Axis(f"carried, {system.force.label}", system.force.si, 0.0),
        "What each pad carries over speed",
        height=320.0,
    )
    rows = []
    for r in pads.speeds_of(found.rows, ROWS):
        cells = [say(r.speed, "speed"), say(r.trim, "trim")]
        cells += [f"{say(r.pads[k].lift, 'force')} at {say(r.pads[k].angle, 'degrees')}" if r.pads[k].wet else "dry" for k in index]
        cells.append(f"{say(abs(r.couple), 'moment')} {'up' if r.couple > 0 else 'down'}")
        if found.spacing is not None:
            cells += [say(one, "angle") for one in r.leans] if r.leans is not None else ["", "", ""]
        rows.append(tuple(cells))
    leans = ("Leans, a fifth closer", "as it is", "a fifth wider") if found.spacing is not None else ()
    heads = ("Speed", "Trim", *(n.capitalize() for n in names), "Couple, bow", *leans)
    return Tab(
        picture=Markup(picture),
        readouts=tuple(readouts),
        findings=reader.findings(found.findings),
        title="On its pads",
        more=PlaningMore("", tuple(rows), heads, "Pad by pad", "loads by the balance; leans under a tenth of the weight on one sponson"),
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
