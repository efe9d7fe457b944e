"""Stability: the boat leaning, the righting-arm curve, and the verdicts."""

import math
from dataclasses import dataclass
from functools import lru_cache

from markupsafe import Markup

from yarekeel.core.hydrostatics.afloat import Afloat
from yarekeel.core.hydrostatics.equilibrium import solve_held
from yarekeel.core.stability.righting import RightingCurve
from yarekeel.drawing import charts, tank
from yarekeel.stages import stability
from yarekeel.stages.design import Design
from yarekeel.units import Said
from yarekeel.web.shared.page import Readout, craft_of
from yarekeel.web.stages.asked import Asked

PARTS = ("live", "side", "lean")
FIRST_LEAN = 20


@dataclass(frozen=True)
class StabilityView:
    empty: bool
    sinks: bool
    lean: int
    leaning: Markup
    chart: Markup
    readouts: tuple[Readout, ...]
    findings: tuple[Said, ...]


@lru_cache(maxsize=32)
def _assessed(design: Design) -> stability.StabilityAssessment:
    return stability.assess(craft_of(design))


def view(asked: Asked) -> StabilityView:
    """The curve, and the boat held at the lean asked for."""
    lean = _lean(asked.ask.get("lean", ""))
    if not any(w.mass_kg > 0 for w in asked.craft.items):
        return StabilityView(True, False, lean, Markup(""), Markup(""), (), ())
    result = _assessed(asked.design)
    findings = asked.reader.findings(result.findings)
    if result.afloat is None or result.curve is None:
        return StabilityView(False, True, lean, Markup(""), Markup(""), (), findings)
    say, system, craft = asked.reader.say, asked.reader.system, asked.craft
    a = result.afloat
    heel = math.radians(lean)
    held = solve_held(craft.kernel, a.listed_volume, a.listed_gravity, heel)
    return StabilityView(
        empty=False,
        sinks=False,
        lean=lean,
        leaning=Markup(tank.leaning(craft.hull, held.attitude, a.gravity, held.buoyancy, held.righting_arm, say)),
        chart=Markup(charts.righting(result.curve, say, system.length.label, system.length.si, craft.hull.open)),
        readouts=_readouts(asked, result.curve, a),
        findings=findings,
    )


def _lean(text: str) -> int:
    return min(90, int(text)) if text.isdigit() else FIRST_LEAN


def _readouts(asked: Asked, curve: RightingCurve, a: Afloat) -> tuple[Readout, ...]:
    reader, say, brief = asked.reader, asked.reader.say, asked.design.brief
    gm = a.upright_gm if a.is_unsteady else a.gm_transverse
    end = curve.vanishing if curve.vanishing is not None else curve.points[-1].heel
    more = "" if curve.vanishing is not None else "and more"
    short = curve.vanishing is not None and end < stability.SHORT_RANGE
    rim = curve.rim_under
    edge = "Water comes in" if asked.craft.hull.open else "Deck edge under"
    if not curve.rights:
        more, short = "", True
    asked_gm = f"asked {say(brief.least_gm_m, 'length')}"
    return (
        reader.figure("GM, upright" if a.is_unsteady else "GM", gm, "length", asked_gm, "holds" if gm >= brief.least_gm_m else "fails"),
        reader.figure("Hardest push back", curve.peak.arm, "length", f"righting arm at {say(curve.peak.heel, 'angle0')}"),
        Readout("Range", say(end, "angle0"), more, "comes back from any lean up to there", "near" if short else "")
        if curve.rights
        else Readout("Range", "none", "", "comes back from no lean", "fails"),
        Readout(edge, "–", "", "not before the curve ends")
        if rim is None
        else Readout(edge, say(rim, "angle0"), "", "sheer at the surface"),
    )
