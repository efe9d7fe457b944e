"""Under way: hull speed, friction, and what full thrust does to the trim."""

from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.drawing import charts
from yarekeel.stages.design.fitted import pulls_of
from yarekeel.stages.underway import underway
from yarekeel.units import WordedFinding
from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest

PARTS = ("live", "side")


@dataclass(frozen=True)
class UnderwayView:
    empty: bool
    chart: Markup
    readouts: tuple[Readout, ...]
    findings: tuple[WordedFinding, ...]
    now: AfloatNow


def view(asked: PageRequest) -> UnderwayView:
    """The curve and the readouts; empty while the boat weighs nothing or sinks."""
    now = afloat_now(asked.design, asked.reader)
    if not any(w.mass_kg > 0 for w in asked.craft.items):
        return UnderwayView(empty=True, chart=Markup(""), readouts=(), findings=(), now=now)
    r = underway.assess(asked.craft)
    findings = asked.reader.findings(r.findings)
    if r.hull_speed is None or r.waterline is None or r.wetted is None:
        return UnderwayView(empty=False, chart=Markup(""), readouts=(), findings=findings, now=now)
    reader = asked.reader
    system, say = reader.system, reader.say
    thrust = sum(pulls_of(asked.design))
    readouts = [
        reader.figure("Hull speed", r.hull_speed, "speed", f"Fn 0.40 on {say(r.waterline, 'length')} waterline"),
        reader.figure("Wetted surface", r.wetted, "area", "at rest, waterplane not counted"),
        reader.figure("Skin friction", r.curve[-1][1], "force", "at hull speed, ITTC 1957 line"),
    ]
    if r.thrust_trim is not None:
        readouts.append(reader.turn("Trim by full thrust", r.thrust_trim, "trim", "added to the rest trim; lift not counted"))
    chart = charts.friction(r.curve, say, system.force.label, system.force.si, thrust)
    return UnderwayView(empty=False, chart=Markup(chart), readouts=tuple(readouts), findings=findings, now=now)
