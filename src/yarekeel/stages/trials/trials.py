"""Trials: what the water said, beside what was predicted, and what would explain the difference."""

import dataclasses
import math
from dataclasses import dataclass, field

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.found import Found
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.hydrostatics.afloat import Afloat, Outputs, float_boat, outputs_of
from yarekeel.core.hydrostatics.inside import Laden
from yarekeel.core.quantities import AmpereHours, Celsius, Kilograms, Metres, MetresPerSecond
from yarekeel.core.sources import COMMON_PRACTICE, GUM, MECHANICS
from yarekeel.core.trials.float_test import DRAFT_READING, HEEL_READING, SCALE_READING, Explanation, explain
from yarekeel.stages.afloat import afloat, flooding
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.trials.readings import Inclining, Pull, Readings, ReadTo, Rolls, Run, out_of

SYMPTOMS: dict[str, str] = {
    "bow_down": "Bow sits low",
    "stern_down": "Stern sits low",
    "leans": "Leans to one side",
    "tippy": "Wobbles, tips easily",
    "slow_roll": "Rolls slowly, hangs",
    "low": "Sits deeper than meant",
    "deck_wet": "Water on deck",
    "water_inside": "Water inside",
    "stern_squats": "Stern sinks with throttle",
    "bow_digs": "Bow digs in, will not lift",
    "flips": "Lifts its bow and goes over backwards",
    "crabs": "Crabs, or swaps ends",
    "no_steer": "Does not steer at speed",
    "porpoises": "Hops, porpoises",
    "pull_collapses": "Pull collapses with throttle",
    "fades": "Throttle fades after a moment",
    "hot": "Hot parts, or smoke",
    "vibrates": "Vibrates, rattles",
    "slow": "Slower than meant, does not plane",
    "front_foil_up": "Front foil lifts, rear stays down",
    "tows_badly": "Tows badly, bow up",
}


@dataclass(frozen=True, slots=True)
class Conditions:
    """What the day was like; what was not noted is None or empty."""

    wind_ms: MetresPerSecond | None = None
    gust_ms: MetresPerSecond | None = None
    surface: str = ""
    water: str = ""
    water_c: Celsius | None = None
    depth_m: Metres | None = None

    def __post_init__(self) -> None:
        limits = {
            "wind_ms": ("Wind", 0, 60, "speed"),
            "gust_ms": ("Gusts", 0, 90, "speed"),
            "water_c": ("Water temperature", -3, 45, "temperature"),
            "depth_m": ("Depth", 0, 12000, "length"),
        }
        for name, (label, low, high, unit) in limits.items():
            value = getattr(self, name)
            if value is not None and not (math.isfinite(value) and low <= value <= high):
                raise out_of(name, label, low, high, unit)


@dataclass(frozen=True, slots=True)
class Struck:
    """A reading that was struck out: what it was, what was typed in each of its fields, and why it does not count."""

    what: str
    typed: tuple[tuple[str, str], ...]
    reason: str


@dataclass(frozen=True, slots=True)
class FloatTest:
    """What was read. A reading that was not taken is None. ``heel_deg`` positive leans to starboard."""

    date: str
    place: str = ""
    load: str = ""
    mass_kg: Kilograms | None = None
    draft_bow_m: Metres | None = None
    draft_stern_m: Metres | None = None
    heel_deg: float | None = None
    water_kg: Kilograms | None = None
    seen: tuple[str, ...] = ()
    notes: str = ""
    rolls: Rolls | None = None
    inclining: Inclining | None = None
    pulls: tuple[Pull, ...] = ()
    runs: tuple[Run, ...] = ()
    conditions: Conditions | None = None
    charge_ah: AmpereHours | None = None
    rating: int | None = None
    photos: tuple[str, ...] = ()
    struck: tuple[Struck, ...] = ()
    read_to: ReadTo = field(default_factory=ReadTo)

    @property
    def readings(self) -> Readings:
        """Everything that the fit can use."""
        return Readings(
            mass_kg=self.mass_kg,
            bow_m=self.draft_bow_m,
            stern_m=self.draft_stern_m,
            heel_deg=self.heel_deg,
            water_inside_kg=self.water_kg,
            rolls=self.rolls,
            inclining=self.inclining,
            pulls=self.pulls,
            runs=self.runs,
            wind_ms=self.conditions.wind_ms if self.conditions else None,
            depth_m=(self.conditions.depth_m or None) if self.conditions else None,
            read_to=self.read_to,
        )

    def __post_init__(self) -> None:
        limits = {
            "mass_kg": ("Weighed-in mass", 1e-6, 1e7, "mass"),
            "draft_bow_m": ("Draft at the bow mark", -10, 1000, "length"),
            "draft_stern_m": ("Draft at the stern mark", -10, 1000, "length"),
            "heel_deg": ("Heel", -180, 180, "°"),
            "water_kg": ("Water taken in", 0, 1e6, "mass"),
            "charge_ah": ("Charge put back", 0, 1e4, "Ah"),
            "rating": ("The rating", 1, 5, ""),
        }
        for name, (label, low, high, unit) in limits.items():
            value = getattr(self, name)
            if value is not None and not (math.isfinite(value) and low <= value <= high):
                raise out_of(name, label, low, high, unit)
        for code in self.seen:
            if code not in SYMPTOMS:
                raise InvalidInput("seen", f"{code} is not one of the things that can be ticked.")
        single = (self.mass_kg, self.draft_bow_m, self.draft_stern_m, self.heel_deg, self.rolls, self.inclining)
        if all(v is None for v in single) and not self.pulls and not self.runs:
            raise InvalidInput("draft_bow_m", "Enter at least one reading: a mass, a draft, the heel, rolls, a pull or a run.")
        _ = self.readings  # checks them


@dataclass(frozen=True, slots=True)
class Comparison:
    """One figure, predicted and measured, with the half width within which they agree."""

    name: str
    kind: str
    predicted: float
    measured: float
    half_width: float

    @property
    def inside(self) -> bool:
        return abs(self.measured - self.predicted) <= self.half_width

    @property
    def offset(self) -> float:
        """Measured less predicted, in half widths."""
        return (self.measured - self.predicted) / self.half_width if self.half_width > 0 else math.inf


@dataclass(frozen=True, slots=True)
class TrialAssessment:
    """Rows, the explanation from two drafts (None without both) and the verdicts."""

    rows: tuple[Comparison, ...]
    explanation: Explanation | None
    findings: tuple[Finding, ...]


def check_readings(craft: Craft, test: FloatTest) -> None:
    """Raise InvalidInput for a draft that no boat of this depth could show afloat."""
    low, high = craft.hull.mesh.bounds
    deep = float(high[2])
    for name, value in (("draft_bow_m", test.draft_bow_m), ("draft_stern_m", test.draft_stern_m)):
        if value is not None and not float(low[2]) - deep <= value <= 2 * deep:
            raise InvalidInput(name, "A mark cannot read that on a hull of this depth; check the unit and the sign.")


def assess(craft: Craft, test: FloatTest) -> TrialAssessment:
    """Compare every reading with the prediction; the band joins the weights' spread and the reading's own by squares.

    Raises InvalidInput for a reading that this boat could not show.
    """
    check_readings(craft, test)
    predicted = afloat.assess(craft)
    if predicted.outputs is None or predicted.afloat is None:
        return TrialAssessment((), None, predicted.findings[:1])
    o, s = as_it_lay(craft, test, predicted.afloat, predicted.outputs), predicted.spread
    draft_off = max(DRAFT_READING, test.read_to.draft_m)
    pairs = (
        ("Mass afloat", "mass", o.mass, test.mass_kg, s and s.mass, SCALE_READING * o.mass),
        ("Draft at bow mark", "draft", o.draft_bow, test.draft_bow_m, s and s.draft_bow, draft_off),
        ("Draft at stern mark", "draft", o.draft_stern, test.draft_stern_m, s and s.draft_stern, draft_off),
        ("Heel", "heel", o.heel, None if test.heel_deg is None else math.radians(test.heel_deg), s and s.heel, HEEL_READING),
    )
    rows = tuple(
        Comparison(name=name, kind=kind, predicted=value, measured=measured, half_width=math.hypot(spread or 0.0, reading))
        for name, kind, value, measured, spread, reading in pairs
        if measured is not None
    )
    explanation = explanation_of(craft, test)
    findings = [_agreement(rows)]
    if explanation:
        findings += _explained(craft, test, explanation)
    if test.water_kg:
        findings.append(
            Finding(
                "trial.water",
                "near",
                "{water:mass} of water came in",
                "It lay in the bilge while the drafts were read, and is taken off what they say. Dry it, seal it, and test again.",
                source=COMMON_PRACTICE,
                values={"water": test.water_kg},
            )
        )
    return TrialAssessment(rows, explanation, tuple(findings))


def kernel_of(craft: Craft, test: FloatTest) -> Flotation | Laden:
    """What floated: the hull with its tanks, and the water that had come in loose in its bilge."""
    rooms = flooding.places(craft)
    litres = (test.water_kg or 0.0) / craft.density
    if litres <= 0 or not rooms:
        return craft.kernel
    try:
        return flooding.with_water(craft, litres, rooms[-1])
    except InvalidInput:  # more than the bilge holds: it was not all in there
        return craft.kernel


def as_it_lay(craft: Craft, test: FloatTest, rest: Afloat, outputs: Outputs) -> Outputs:
    """The figures predicted with the water that was aboard when they were read; the mass is that of the boat, weighed dry."""
    if not test.water_kg:
        return outputs
    total, marks = craft.total, craft.marks
    try:
        wet = float_boat(craft.hull, total.mass, total.centre, craft.density, rest.attitude, kernel_of(craft, test))
    except NoRest:
        return outputs
    return dataclasses.replace(outputs_of(wet, craft.hull, marks.bow_x_m, marks.stern_x_m), mass=outputs.mass)


def explanation_of(craft: Craft, test: FloatTest) -> Explanation | None:
    """Mass and LCG of the weights, water inside and in tanks taken off, from both drafts; None when one was not read. A heel that
    was not read is taken as predicted."""
    if test.draft_bow_m is None or test.draft_stern_m is None:
        return None
    marks, kernel = craft.marks, kernel_of(craft, test)
    heel = math.radians(test.heel_deg) if test.heel_deg is not None else craft.settled.attitude.heel
    bow, stern = (marks.bow_x_m, test.draft_bow_m), (marks.stern_x_m, test.draft_stern_m)
    return explain(craft.hull, craft.density, craft.total.centre[2], *bow, *stern, heel, kernel, max(DRAFT_READING, test.read_to.draft_m))


def mass_found(craft: Craft, test: FloatTest, explained: Explanation | None) -> Found | None:
    """Mass of the weights by the scale and by the drafts, each counted by how sure it is (least squares); what is in tanks is taken
    off what the scale shows. None where neither was read."""
    by_scale = None if test.mass_kg is None else Found(test.mass_kg - craft.liquid_mass, SCALE_READING * test.mass_kg)
    by_draft = None if explained is None else Found(explained.mass, explained.mass_half_width)
    found = [f for f in (by_scale, by_draft) if f is not None]
    if not found:
        return None
    weights = [1 / max(f.half_width, 1e-9) ** 2 for f in found]
    mean = math.fsum(w * f.value for w, f in zip(weights, found, strict=True)) / math.fsum(weights)
    return Found(mean, 1 / math.sqrt(math.fsum(weights)))


def _agreement(rows: tuple[Comparison, ...]) -> Finding:
    if not rows:
        text = "No mass, draft or heel was read; what else was read stands below."
        return Finding("trial.agrees", "note", "Its float was not read", text, source=GUM, values={"count": "0", "out": ""})
    outside = [r for r in rows if not r.inside]
    values: dict[str, float | str] = {"count": str(len(rows)), "out": ", ".join(r.name.lower() for r in outside)}
    if not outside:
        return Finding("trial.agrees", "holds", "As predicted", "Every reading lies inside the expected band.", source=GUM, values=values)
    return Finding(
        "trial.disagrees",
        "fails",
        "Not as predicted",
        "Outside the expected band: {out}. Something aboard is not as listed.",
        source=GUM,
        values=values,
    )


def _explained(craft: Craft, test: FloatTest, e: Explanation) -> list[Finding]:
    total = craft.total
    values: dict[str, float | str] = {
        "found": e.mass,
        "listed": total.mass,
        "over": abs(e.mass - total.mass),
        "sure": e.mass_half_width,
        "shift": e.lcg - total.centre[0],
        "lcg": e.lcg,
        "lcg_sure": e.lcg_half_width,
        "more": "more" if e.mass > total.mass else "less",
    }
    findings = []
    band = math.hypot(e.mass_half_width, total.half_width)
    heavy = abs(e.mass - total.mass) > e.mass_half_width
    findings.append(
        Finding(
            "trial.mass",
            "holds" if not heavy else ("near" if abs(e.mass - total.mass) <= band else "fails"),
            "The drafts weigh it at {found:mass}" if not heavy else "It floats as if {over:mass} {more} were aboard",
            "The two drafts mean {found:mass} ±{sure:mass}; the list says {listed:mass}.",
            source=MECHANICS,
            values=values,
            remedies=(Remedy("Weigh it all-up and correct the list", "weights"),) if heavy else (),
        )
    )
    shifted = abs(e.lcg - total.centre[0]) > e.lcg_half_width
    findings.append(
        Finding(
            "trial.lcg",
            "fails" if shifted else "holds",
            "CG is {shift:fore_aft} of the list" if shifted else "CG is where the list says",
            "The drafts put LCG {lcg:length} from aft, ±{lcg_sure:length}."
            if shifted
            else "LCG {lcg:length} from aft, ±{lcg_sure:length}.",
            source=MECHANICS,
            values=values,
            remedies=(Remedy("Price the fixes for it", "fixes"),) if shifted else (),
        )
    )
    afloat_mass = e.mass + craft.liquid_mass
    if test.mass_kg is not None and abs(test.mass_kg - afloat_mass) > e.mass_half_width + SCALE_READING * test.mass_kg:
        findings.append(
            Finding(
                "trial.scale_against_drafts",
                "near",
                "Scale and drafts disagree",
                "The scale says {scale:mass}, the drafts {found:mass}. Check the marks, the hull's true size, or water inside.",
                source=COMMON_PRACTICE,
                values=values | {"scale": test.mass_kg, "found": afloat_mass},
            )
        )
    return findings
