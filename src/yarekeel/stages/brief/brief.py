"""Brief: what the boat must do. The defaults, each with its reason."""

from dataclasses import dataclass

from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.sources import BRIEF, SMALL_CRAFT
from yarekeel.stages.design.brief import Brief, Kind
from yarekeel.stages.design.craft import Craft

REASONS: dict[str, dict[Kind, str]] = {
    "target_mass_kg": {
        "model": "All-up, ready to launch. A guess until parts are weighed: printed parts come out heavier than expected.",
        "people": "All-up with crew. A person counts {person:mass} unless you know better (from memory).",
    },
    "least_freeboard_m": {
        "model": "Height of the lowest deck edge over still water. "
        "{ripples:length} clears the ripples of a sheltered pond (common practice).",
        "people": "Lowest point of the sheer over still water. {sheltered:length} is modest for sheltered water (common practice).",
    },
    "allowed_trim_deg": {
        "model": "At rest, either way, and the same for heel. 1° is what the eye notices at the waterline (common practice).",
        "people": "At rest with crew seated, either way, and the same for heel. People shift, so 2° is enough (common practice).",
    },
    "least_gm_m": {
        "model": "Stiffness against tipping. {small:length} keeps a small hull from lolling when a battery sits high (common practice).",
        "people": "Stiffness against tipping. "
        "{stiff:length} lets a person of {person:mass} move {aside:length} sideways for about 16° at {boat:mass}.",
    },
    "thrust_to_weight": {
        "model": "Pull from rest over weight. 0.2 moves a displacement model briskly; a planing one wants 0.5 and more (common practice).",
        "people": "Pull from rest over weight. 0.02 is a small electric outboard on a dinghy (common practice).",
    },
}
IN_REASONS: dict[str, float | str] = {
    "person": 75.0, "ripples": 0.03, "sheltered": 0.2, "small": 0.02, "stiff": 0.35, "aside": 0.3, "boat": 220.0,
}  # fmt: skip
"""What the reasons speak of, in SI, so that each reader has them in units of their own."""


@dataclass(frozen=True, slots=True)
class BriefAssessment:
    """What the brief itself already says."""

    findings: tuple[Finding, ...]


def assess(craft: Craft) -> BriefAssessment:
    """Can this hull carry the target at all, and who else must be asked when people go aboard."""
    brief = craft.design.brief
    capacity = craft.hull.kernel.total_volume * craft.density
    values = {"target": brief.target_mass_kg, "capacity": capacity, "share": brief.target_mass_kg / capacity}
    if values["share"] >= 1:
        fit = Finding(
            "brief.too_heavy_for_hull",
            "fails",
            "The target would sink this hull",
            "You ask for {target:mass}; the whole closed hull displaces {capacity:mass}.",
            source=BRIEF,
            values=values,
            remedies=(Remedy("Make the hull larger", "shape"),),
        )
    else:
        fit = Finding(
            "brief.fits_hull",
            "holds" if values["share"] < 0.6 else "near",
            "The hull can carry the target",
            "{target:mass} is {share:percent} of what the whole closed hull displaces, {capacity:mass}.",
            source=BRIEF,
            values=values,
        )
    return BriefAssessment((fit, *caution(brief)))


def caution(brief: Brief) -> tuple[Finding, ...]:
    """The usual caution where people go aboard, and whom these sums defer to."""
    if brief.kind != "people":
        return ()
    return (
        Finding(
            "caution.people_aboard",
            "note",
            "People aboard",
            "These sums do not replace a licensed naval architect, an official stability or flotation test, a capacity plate or "
            "local law. Life jackets on, a second person near, never alone, and beware of cold water.",
            source=SMALL_CRAFT,
        ),
    )
