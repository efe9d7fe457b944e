"""How likely it is that a load keeps the brief, given how sure its weights are."""

from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.hydrostatics import chance
from yarekeel.core.hydrostatics.chance import Chances, Limits
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Ratio
from yarekeel.core.sources import GUM
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import limit_always

SURE, DOUBTFUL = 0.95, 0.5
"""Nineteen in twenty, as bands are given, counts as sure; less than even is failing (common practice)."""
NAMES = {"freeboard": "freeboard", "trim": "trim", "heel": "heel", "gm": "GM", "openings": "openings dry", "all": "the whole brief"}


@dataclass(frozen=True, slots=True)
class ChanceAssessment:
    """``chances`` is None for a boat that sinks or that a small change tips elsewhere."""

    chances: Chances | None
    findings: tuple[Finding, ...]


def limits_of(brief: Brief) -> Limits:
    """The brief as limits; heel is allowed as much as trim."""
    freeboard, trim, heel, gm = (limit_always(brief, code).asked for code in ("freeboard", "trim", "heel", "gm"))
    return Limits(freeboard, trim, heel, gm)


def severity_of(share: Ratio) -> Severity:
    """How a chance stands."""
    return "holds" if share >= SURE else "near" if share >= DOUBTFUL else "fails"


@kept
def assess(craft: Craft) -> ChanceAssessment:
    """The chances by linear propagation, and the verdict on the whole brief."""
    try:
        afloat = craft.rest()
    except (NoRest, InvalidInput):
        return ChanceAssessment(None, ())
    marks = craft.marks
    rows = None if afloat.is_unsteady else chance.drawn(craft.hull, craft.acting, afloat, marks.bow_x_m, marks.stern_x_m, craft.kernel)
    if rows is None:
        text = "A small change of weight tips it elsewhere: no chance can be worked out."
        return ChanceAssessment(None, (Finding("chance.none", "near", "Too tender to say how likely", text, source=GUM),))
    found = chance.chances(rows, limits_of(craft.design.brief), [p for _, p in craft.openings])
    least = min(("freeboard", "trim", "heel", "gm", "openings"), key=lambda name: float(getattr(found, name)))
    weakest = max(craft.items, key=lambda i: i.half_width)
    values: dict[str, float | str] = {"all": found.all, "least": getattr(found, least), "what": NAMES[least], "item": weakest.name}
    remedies = (Remedy("Weigh {item}: it is the least sure", "weights"),) if found.all < SURE else ()
    return ChanceAssessment(
        found,
        (
            Finding(
                "chance.brief",
                severity_of(found.all),
                "{all:percent} likely to keep the brief",
                "Given how sure the weights are; the weakest is {what}, {least:percent}.",
                source=GUM,
                values=values,
                remedies=remedies,
            ),
        ),
    )
