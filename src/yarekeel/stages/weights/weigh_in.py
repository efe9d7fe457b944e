"""The weigh-in: what was measured against what is listed, and the list corrected by it."""

import dataclasses
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.found import Found
from yarekeel.core.parameters import parameter_of
from yarekeel.core.quantities import Kilograms, Point
from yarekeel.core.sources import GUM, MECHANICS
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.weigh_in import Weighed, are_swapped, unit_slip, weighed
from yarekeel.stages.design import listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design

PRACTICE = "A stand-in's readings correct no list. Put the boat on a scale, and type what it shows over them."
UNACCOUNTED = "Unaccounted, by weighing"


@dataclass(frozen=True, slots=True)
class Compared:
    """A figure as listed and as measured; ``kind`` is the units' word for it."""

    title: str
    kind: str
    listed: Found
    measured: Found | None

    @property
    def agrees(self) -> bool:
        """Whether the two bands meet."""
        return self.measured is None or abs(self.measured.value - self.listed.value) <= self.measured.half_width + self.listed.half_width


@dataclass(frozen=True, slots=True)
class WeighInAssessment:
    """What was found, beside the list; ``corrections`` are (code, title, the design it makes, why it cannot be done)."""

    found: Weighed | None
    lines: tuple[Compared, ...]
    findings: tuple[Finding, ...]
    corrections: tuple[tuple[str, Finding, Design | None], ...]


def assess(craft: Craft) -> WeighInAssessment:
    """Read the weigh-in, set it beside the list, notice slips, and offer corrections."""
    if not any(i.mass_kg > 0 for i in craft.items):
        note = Finding(
            "weigh_in.no_list", "note", "List something first", "A weigh-in is set beside the list of weights.", source=MECHANICS
        )
        return WeighInAssessment(None, (), (note,), ())
    total, readings, gravity = craft.total, craft.design.weigh_in, craft.gravity
    centre = tuple(Found(gravity[k], total.centre_half_width[k]) for k in range(3))
    try:
        found = weighed(readings, centre[0], centre[1])
    except InvalidInput as error:
        return WeighInAssessment(
            None, (), (Finding("weigh_in.contradiction", "fails", "It cannot be so", error.sentence, source=MECHANICS),), ()
        )
    lines = (
        Compared("All up", "mass", Found(craft.mass, total.half_width), found.mass),
        Compared("LCG", "draft", centre[0], found.lcg),
        Compared("TCG", "draft", centre[1], found.tcg),
        Compared("VCG", "draft", centre[2], found.vcg),
    )
    findings = [*_practice(craft), *_findings(craft, lines)]
    corrections = tuple(_corrections(craft, found)) if found.mass else ()
    if readings.practice and not craft.design.practice:
        findings = [dataclasses.replace(f, severity="note") for f in findings]
        corrections = (
            ("practice", Finding("weigh_in.practice_only", "note", "Nothing is corrected by practice", PRACTICE, MECHANICS), None),
        )
    return WeighInAssessment(found, lines, tuple(findings), corrections)


def _practice(craft: Craft) -> list[Finding]:
    readings = craft.design.weigh_in
    names = ", ".join(p.label.lower() for name in readings.practice if (p := parameter_of(readings, name)) is not None)
    if not names:
        return []
    text = "Off a stand-in that weighs this list with errors of its own: {names}. It says nothing of the boat."
    return [Finding("weigh_in.practice", "note", "Practice readings among these", text, source=MECHANICS, values={"names": names})]


def _findings(craft: Craft, lines: tuple[Compared, ...]) -> list[Finding]:
    out = []
    mass = lines[0].measured
    if mass is not None and (slip := unit_slip(mass, lines[0].listed)):
        values: dict[str, float | str] = {"measured": mass.value, "listed": lines[0].listed.value, "slip": slip}
        text = "The scales give {measured:mass} against {listed:mass} listed, which is what taking {slip} does. Look at the scale's unit."
        out.append(Finding("weigh_in.unit", "fails", "A unit was mixed up, it seems", text, source=MECHANICS, values=values))
    if are_swapped(craft.design.weigh_in, lines[1].listed):
        text = "The other way round the two readings put the centre where the list has it. Look which scale stood where."
        out.append(Finding("weigh_in.swapped", "fails", "Fore and aft readings are swapped, it seems", text, source=MECHANICS))
    measured = [line for line in lines if line.measured is not None]
    if not measured:
        text = "Begin with the whole boat on one scale; each drawing shows what to read."
        return [*out, Finding("weigh_in.none", "note", "Nothing weighed yet", text, source=MECHANICS)]
    off = [line for line in measured if not line.agrees]
    if not off:
        names = ", ".join(line.title for line in measured)
        text = "Measured and listed agree within their bands: {names}."
        return [*out, Finding("weigh_in.agrees", "holds", "The list stands", text, source=GUM, values={"names": names})]
    for line in off:
        assert line.measured is not None
        values = {"listed": line.listed.value, "measured": line.measured.value, "by": abs(line.measured.value - line.listed.value)}
        remedy = "Correct the list" if mass is not None else "Weigh it all up too, and the list can be corrected"
        title = line.title + " is off by {by:" + line.kind + "}"
        text = "Measured {measured:" + line.kind + "}, listed {listed:" + line.kind + "}: more than both bands together."
        out.append(Finding("weigh_in.off", "near", title, text, source=GUM, values=values, remedies=(Remedy(remedy, None),)))
    return out


def target_of(craft: Craft, found: Weighed) -> tuple[Kilograms, Point]:
    """Mass and centre of the weights to correct to: what was measured, what is in tanks taken off, else what is listed."""
    total, liquid = craft.total, craft.liquid_mass
    mass = total.mass if found.mass is None else found.mass.value - liquid
    out = list(total.centre)
    for k, f in enumerate((found.lcg, found.tcg, found.vcg)):
        if f is not None:
            in_tanks = (total.mass + liquid) * craft.gravity[k] - total.mass * total.centre[k]
            out[k] = ((mass + liquid) * f.value - in_tanks) / mass if mass > 0 else f.value
    return mass, (out[0], out[1], out[2])


def _corrections(craft: Craft, found: Weighed) -> list[tuple[str, Finding, Design | None]]:
    total = craft.total
    mass, centre = target_of(craft, found)
    extra = mass - total.mass
    out: list[tuple[str, Finding, Design | None]] = []
    values: dict[str, float | str] = {"extra": extra, "factor": 0.0}
    if extra > 1e-9 * total.mass:
        x, y, z = ((mass * centre[k] - total.mass * total.centre[k]) / extra for k in range(3))
        values |= {"x": x, "z": z}
        low, high = craft.hull.mesh.bounds
        outside = not all(low[k] - 1e-9 <= v <= high[k] + 1e-9 for k, v in enumerate((x, y)))
        text = "One line more, {x:length} from aft and {z:length} up, makes mass and centre as measured."
        if outside:
            text += " That is outside the boat: rather something listed is in another place."
        item = WeightItem(UNACCOUNTED, round(extra, 9), (round(x, 6), round(y, 6), round(z, 6)), "weighed", group="structure")
        finding = Finding(
            "weigh_in.unaccounted", "near" if outside else "note", "{extra:mass} unaccounted for", text, source=MECHANICS, values=values
        )
        out.append(("unaccounted", finding, listing.appended(craft.design, [item])))
    else:
        text = "The boat weighs no more than listed, so nothing is missing from the list."
        out.append(("unaccounted", Finding("weigh_in.nothing_missing", "note", "No line is missing", text, source=MECHANICS), None))
    if abs(extra) > 1e-9 * total.mass:
        design, _, factor = listing.factored(craft, mass)
        values |= {"factor": factor}
        text = "All that was not weighed counts {factor:percent1} of what it did; each stays where it is."
        out.append(
            ("factor", Finding("weigh_in.factor", "note", "The guesses by one factor", text, source=MECHANICS, values=values), design)
        )
    return out


def corrected(craft: Craft, how: str) -> Design:
    """The list corrected by the weigh-in. Raises InvalidInput if that is not offered."""
    for code, finding, design in assess(craft).corrections:
        if code == how:
            if design is None:
                raise InvalidInput("weights", finding.sentence)
            return design
    raise InvalidInput("weights", "There is nothing to correct: no all-up mass was read, or it is the list's own.")
