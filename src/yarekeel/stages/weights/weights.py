"""Weights: the total against the target, how sure it is, and what weighs most."""

import math
from dataclasses import dataclass

from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.quantities import Ratio
from yarekeel.core.sources import BRIEF, COMMON_PRACTICE, GUM, MECHANICS
from yarekeel.core.weights.items import MassTotal, WeightItem
from yarekeel.core.weights.recipes.foam import Foam
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import limit_always

WELL_WEIGHED: Ratio = 0.5
"""Share of the mass that should have been on a scale before the first float test (common practice)."""


@dataclass(frozen=True, slots=True)
class WeightsAssessment:
    """The total (None for an empty list), the items heaviest first with their place in the list, and the verdicts."""

    total: MassTotal | None
    heaviest: tuple[tuple[int, WeightItem], ...]
    findings: tuple[Finding, ...]


def assess(craft: Craft) -> WeightsAssessment:
    """Over or under the target, and by how much it may be wrong."""
    items = craft.items  # all there are of a line, a pair as two
    order = tuple(sorted(enumerate(items), key=lambda pair: -pair[1].mass_kg))
    if not any(i.mass_kg > 0 for i in items):
        empty = Finding(
            "weights.none", "note", "Nothing aboard yet", "Add the hull, the battery and the motor first: they weigh most.", source=BRIEF
        )
        return WeightsAssessment(None, order, (empty,))
    total, limit = craft.total, limit_always(craft.design.brief, "mass")
    target, mass = limit.asked, craft.mass
    over, word = mass - target, limit.severity(craft.mass, total.half_width)
    heaviest = order[0][1]
    unsure = max(items, key=lambda i: i.half_width if i.known != "weighed" else 0.0)
    values: dict[str, float | str] = {
        "total": mass,
        "target": target,
        "over": abs(over),
        "spread": total.half_width,
        "share": total.weighed_share,
        "name": heaviest.name,
        "heaviest": heaviest.mass_kg,
        "unsure": unsure.name,
        "by": unsure.half_width,
    }
    if word == "fails":
        verdict = Finding(
            "weights.over",
            word,
            "{over:mass} over the target",
            "{total:mass} aboard against {target:mass} asked. The heaviest is {name}, {heaviest:mass}.",
            source=BRIEF,
            values=values,
            remedies=(Remedy("Take {over:mass} out, or ask for more in the brief", "brief"),),
        )
    else:
        verdict = Finding(
            "weights.within",
            word,
            "{over:mass} under the target",
            "{total:mass} aboard against {target:mass} asked; the list may be wrong by ±{spread:mass}.",
            source=BRIEF,
            values=values,
        )
    sure = Finding(
        "weights.weighed",
        "holds" if total.weighed_share >= WELL_WEIGHED else "near",
        "{share:percent} has been on a scale",
        "The rest is guessed or from data, so the total is good to ±{spread:mass}, 19 times in 20.",
        source=GUM,
        values=values,
        remedies=() if total.weighed_share >= WELL_WEIGHED else (Remedy("Weigh {unsure} first: it may be off by {by:mass}", "weights"),),
    )
    return WeightsAssessment(total, order, (verdict, sure, *_outside(craft), *_faulty(craft), _turning(craft), *_caution(craft)))


def _outside(craft: Craft) -> tuple[Finding, ...]:
    """What lies outside the hull's own length, breadth or depth below: allowed (an outboard does), and said."""
    low, high = craft.hull.mesh.bounds
    names = []
    for item in craft.items:
        x, y, z = item.at_m
        if item.mass_kg > 0 and not (low[0] <= x <= high[0] and low[1] <= y <= high[1] and z >= low[2]):
            names.append(item.name)
    if not names:
        return ()
    text = "{names}: ahead of, behind, beside or under the hull. Right for an outboard or a keel, a slip for most else."
    said = ", ".join(names[:4]) + (f" and {len(names) - 4} more" if len(names) > 4 else "")
    count = float(len(names))
    title = "{n:count} outside the hull"
    return (Finding("weights.outside", "note", title, text, source=MECHANICS, values={"names": said, "n": count}),)


def _turning(craft: Craft) -> Finding:
    """How far out the weights lie, which sets how slowly it rolls and pitches."""
    roll, pitch = (math.sqrt(craft.aboard.inertia[k, k] / craft.total.mass) for k in (0, 1))
    values: dict[str, float | str] = {"roll": roll, "pitch": pitch}
    text = (
        "Radius of gyration about the centre of gravity; what has no estimate counts as a cube of its mass, a seated person, or the "
        "skin of its hull. Far out rolls slowly, close in quickly."
    )
    return Finding("weights.inertia", "note", "{roll:length} in roll, {pitch:length} in pitch", text, source=MECHANICS, values=values)


def _faulty(craft: Craft) -> tuple[Finding, ...]:
    """Estimates that could not be worked out; their last mass is kept."""
    out = []
    for index, sentence in craft.aboard.faults[:3]:
        values: dict[str, float | str] = {"name": craft.items[index].name, "why": sentence}
        out.append(
            Finding(
                "weights.estimate", "near", "{name} cannot be estimated", "{why} Its last mass is kept.", source=MECHANICS, values=values
            )
        )
    return tuple(out)


def _caution(craft: Craft) -> tuple[Finding, ...]:
    """The usual caution where the list says that resin, cloth or foam is worked."""
    if not any(isinstance(w.recipe, Foam) or (isinstance(w.recipe, Skin) and w.recipe.cloth_kg_m2 > 0) for w in craft.design.weights):
        return ()
    text = "Gloves, a dust mask and fresh air; the dust of cured glass and foam is no better, and a hot wire in foam gives off fumes."
    return (Finding("caution.resin", "note", "Resin, glass and foam", text, source=COMMON_PRACTICE),)
