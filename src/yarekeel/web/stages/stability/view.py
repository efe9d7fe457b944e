"""Stability: the boat leaning, the righting-arm curve, and the verdicts."""

import math
from dataclasses import dataclass
from functools import lru_cache

from markupsafe import Markup

from yarekeel.core.hydrostatics.equilibrium import solve_held
from yarekeel.core.stability.righting import RightingCurve
from yarekeel.drawing import charts, tank
from yarekeel.stages import stability
from yarekeel.stages.design import Design
from yarekeel.units import Said, number_in
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
    if not any(w.mass_kg > 0 for w in asked.design.weights):
        return StabilityView(True, False, lean, Markup(""), Markup(""), (), ())
    result = _assessed(asked.design)
    findings = asked.reader.findings(result.findings)
    if result.afloat is None or result.curve is None:
        return StabilityView(False, True, lean, Markup(""), Markup(""), (), findings)
    say, system, craft = asked.reader.say, asked.reader.system, asked.craft
    a = result.afloat
    heel = math.radians(lean)
    held = solve_held(craft.hull.kernel, a.volume, a.gravity, heel)
    buoyancy = _buoyancy(asked, held.attitude.rows, -held.attitude.height_of(craft.hull.kernel.centre))
    return StabilityView(
        empty=False,
        sinks=False,
        lean=lean,
        leaning=Markup(tank.leaning(craft.hull, held.attitude, a.gravity, buoyancy, held.righting_arm, say)),
        chart=Markup(charts.righting(result.curve, say, system.length.label, system.length.si, craft.hull.open)),
        readouts=_readouts(asked, result.curve, a.gm_transverse),
        findings=findings,
    )


def _lean(text: str) -> int:
    return min(90, int(text)) if text.isdigit() else FIRST_LEAN


def _buoyancy(asked: Asked, rows: tuple[tuple[float, float, float], ...], d: float) -> tuple[float, float, float]:
    kernel = asked.craft.hull.kernel
    m = kernel.evaluate(rows, d)  # type: ignore[arg-type]
    world = (m.mx / m.volume, m.my / m.volume, m.mz / m.volume)
    at = [kernel.centre[k] + d * rows[2][k] + sum(world[n] * rows[n][k] for n in range(3)) for k in range(3)]
    return at[0], at[1], at[2]


def _readouts(asked: Asked, curve: RightingCurve, gm: float) -> tuple[Readout, ...]:
    system, say, brief = asked.reader.system, asked.reader.say, asked.design.brief
    length = system.length.label
    end = curve.vanishing if curve.vanishing is not None else curve.points[-1].heel
    rim = curve.rim_under
    return (
        Readout("GM", number_in(gm, "length", system), length, f"asked {say(brief.least_gm_m, 'length')}", "holds" if gm >= brief.least_gm_m else "fails"),
        Readout("Hardest push back", number_in(curve.peak.arm, "length", system), length, f"righting arm at {say(curve.peak.heel, 'angle0')}"),
        Readout("Range", f"{math.degrees(end):.0f}°", "" if curve.vanishing is not None else "and more", "comes back from any lean up to there", "" if curve.vanishing is None or end > stability.SHORT_RANGE else "near"),
        Readout("Water comes in" if asked.craft.hull.open else "Deck edge under", "–" if rim is None else f"{math.degrees(rim):.0f}°", "", "sheer at the surface" if rim is not None else "not before the curve ends"),
    )  # fmt: skip
