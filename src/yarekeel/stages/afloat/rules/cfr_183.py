"""The sums of US 33 CFR 183 on this boat, for boats it covers; what is marked on a boat is decided elsewhere."""

from collections.abc import Mapping

import numpy as np

from yarekeel.core.errors import NoRest
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.geometry.attitude import rotation
from yarekeel.core.geometry.families import beam_of
from yarekeel.core.hydrostatics.afloat import float_boat
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Kilograms, Metres, Point
from yarekeel.core.rules import cfr_183
from yarekeel.core.rules.cfr_183 import CFR_183, Power
from yarekeel.core.search import edge
from yarekeel.core.sources import SMALL_CRAFT
from yarekeel.stages.afloat import swamped
from yarekeel.stages.afloat.rules.rule import Choice, Clause, Rule, RuleAssessment
from yarekeel.stages.design.craft import Craft

FRESH = 62.4 * cfr_183.POUND / cfr_183.FOOT**3
"""kg/m3: the rule weighs water at 62.4 lb a cubic foot."""


POWER = Choice("power", "Power", (("outboard", "outboard over 2 hp"), ("manual", "oars, paddle, up to 2 hp")))
STEERING = Choice("steering", "Remote steering", (("no", "no"), ("yes", "yes, and a 20 in transom")))
BOTTOM = Choice("bottom", "Flat bottom, hard chine", (("no", "no"), ("yes", "yes")))


def covers(craft: Craft) -> str:
    """Why the rule does not cover this boat; empty where it does."""
    design = craft.design
    hulls = [b for b in design.bodies if b.role == "hull"]
    if design.brief.kind != "people":
        return "It is made for boats that carry people."
    if len(hulls) != 1 or hulls[0].mirrored or beam_of(hulls[0].shape).multihull:
        return "It covers monohulls only (183.21)."
    if craft.hull.mesh.length >= cfr_183.LENGTH_LIMIT:
        return "It covers boats under 20 ft, 6.096 m (183.21)."
    return ""


def maximum_displacement(craft: Craft) -> Kilograms:
    """Weight of water displaced, level, when it just comes aboard at the lowest point of the rim (183.35 (b))."""
    low = float(craft.hull.rim[:, 2].min())
    kernel = craft.hull.kernel
    return kernel.evaluate(rotation(0.0, 0.0), low - kernel.centre[2]).volume * FRESH


@kept
def one_side(craft: Craft, seat: Metres | None = None) -> Kilograms:
    """What can be added along one side of the passenger area, at the height of the seats, until water would come over the rim
    (183.41 (c), 183.43 (c)); the boat without its crew and goods."""
    rim, kernel = craft.hull.rim, craft.hull.kernel
    low, high = craft.hull.mesh.bounds
    middle = (float(low[0]) + float(high[0])) / 2
    near = rim[abs(rim[:, 0] - middle) <= 0.3 * craft.hull.mesh.length]
    near = near if len(near) else rim
    y = 0.9 * float(near[:, 1].max())
    z = min(seat if seat is not None else float(near[:, 2].min()), float(near[:, 2].min()))
    base, places = _boat(craft)

    def left(mass: Kilograms) -> Metres:
        whole = base + mass
        x, by, bz = ((base * places[k] + mass * (middle, -y, z)[k]) / whole for k in range(3))
        try:
            a = float_boat(craft.hull, whole, (x, by, bz), FRESH)
        except NoRest:
            return -1.0
        return -1.0 if a.is_capsized else a.freeboard

    most = kernel.total_volume * FRESH - base
    least = 1e-6 * most
    if most <= 0 or left(least) <= 0:
        return 0.0
    return edge(left, most, least, 1e-9 * most)


def _boat(craft: Craft) -> tuple[Kilograms, tuple[float, float, float]]:
    """Mass and centre of the boat itself and its motor: what is structure, drive, electrics, foam or ballast."""
    items = [i for i in craft.items if i.mass_kg > 0 and i.group not in ("crew", "payload")]
    mass = sum(i.mass_kg for i in items)
    if mass <= 0:
        return 0.0, (0.0, 0.0, 0.0)
    x, y, z = (sum(i.mass_kg * i.at_m[k] for i in items) / mass for k in range(3))
    return mass, (x, y, z)


def transom_width(craft: Craft) -> Metres:
    """Breadth over all at the after end of the rim."""
    rim = craft.hull.rim
    aft = rim[rim[:, 0] <= rim[:, 0].min() + 0.02 * np.ptp(rim[:, 0]) + 1e-9]
    return float(np.ptp(aft[:, 1]))


def assess(craft: Craft, power: Power, remote_and_high: bool, flat_hard_chine: bool) -> RuleAssessment:
    """Capacity, persons, power and flotation, clause by clause."""
    reason = covers(craft)
    if reason:
        return RuleAssessment((), (Finding("rule.not_covered", "note", "33 CFR 183 does not cover this boat", reason, source=CFR_183),))
    items = craft.items
    own = sum(i.mass_kg for i in items if i.group in ("structure", "foam", "ballast"))
    machinery = sum(i.mass_kg for i in items if i.group in ("drive", "electrics"))
    most = maximum_displacement(craft)
    weight = cfr_183.weight_capacity(power, most, own)
    side = one_side(craft)
    people_kg = cfr_183.persons_capacity(power, weight, machinery, side)
    count = cfr_183.persons(people_kg)
    aboard = sum(i.mass_kg for i in items if i.group == "crew")
    share, clause = ("a fifth", "183.35") if power == "outboard" else ("three tenths", "183.37")
    less = "less motor and battery" if power == "outboard" else "times 0.9"
    clauses = [
        Clause(
            clause="183.35 (b)",
            title="Maximum displacement",
            value=most,
            kind="mass",
            how="level, water just short of coming aboard, at 62.4 lb/ft³",
        ),
        Clause(
            clause=clause,
            title="Weight of persons, motor and gear",
            value=weight,
            kind="mass",
            how=f"{share} of that less the boat's own weight",
        ),
        Clause(
            clause="183.41, 183.43",
            title="Added along one side",
            value=side,
            kind="mass",
            how="until water would come aboard; over 0.6 below",
        ),
        Clause(
            clause="183.41" if power == "outboard" else "183.43",
            title="Weight of persons",
            value=people_kg,
            kind="mass",
            how=f"least of weight {less}, side / 0.6",
        ),
        Clause(clause="183.39 (b)", title="Persons", value=float(count), kind="count", how="(pounds + 32) / 141, half up"),
    ]
    if power == "outboard":
        factor = cfr_183.power_factor(craft.hull.mesh.length, transom_width(craft))
        power_hp = cfr_183.horsepower(factor, remote_and_high, flat_hard_chine)
        clauses.append(Clause(clause="183.53", title="Factor", value=factor, kind="count", how="length times transom width, feet"))
        clauses.append(
            Clause(clause="183.53", title="Horsepower", value=power_hp, kind="horsepower", how="by the table, or the formula above 52")
        )
        clauses.append(
            Clause(
                clause="183.225",
                title="To carry when swamped",
                value=cfr_183.flotation_weight(people_kg),
                kind="mass",
                how="half of 550 lb of persons, an eighth of the rest, amidships at half depth",
            )
        )
        clauses.append(
            Clause(
                clause="183.225",
                title="Dead weight when swamped",
                value=cfr_183.dead_weight(weight, people_kg, machinery),
                kind="mass",
                how="a quarter of what is left for gear",
            )
        )
    load = cfr_183.flotation_weight(people_kg) + cfr_183.dead_weight(weight, people_kg, machinery)
    findings = [_people(aboard, people_kg, count), *(_flotation(craft, load) if power == "outboard" and craft.hull.open else ())]
    findings.append(
        Finding(
            "rule.defer",
            "note",
            "These sums do not certify a boat",
            "Clauses are given from memory. The text in force, the maker's or the Coast Guard's capacity plate, and in Europe "
            "ISO 12217-3 and the Recreational Craft Directive decide; ask a licensed naval architect or surveyor.",
            source=SMALL_CRAFT,
        )
    )
    return RuleAssessment(tuple(clauses), tuple(findings))


def _people(aboard: Kilograms, allowed: Kilograms, count: int) -> Finding:
    values = {"aboard": aboard, "allowed": allowed, "count": float(count), "over": aboard - allowed}
    if aboard > allowed:
        return Finding(
            "rule.persons_over",
            "fails",
            "{over:mass} of people too many",
            "The clauses give {allowed:mass}, {count:persons}; {aboard:mass} are aboard in this load.",
            source=CFR_183,
            values=values,
        )
    return Finding(
        "rule.persons",
        "holds",
        "Within its persons' weight",
        "The clauses give {allowed:mass}, {count:persons}; {aboard:mass} are aboard.",
        source=CFR_183,
        values=values,
    )


def _flotation(craft: Craft, needed: Kilograms) -> list[Finding]:
    """Whether the swamped boat carries what stands for persons and gear, and whether it floats level and upright with it."""
    spare = swamped.assess(craft).carries
    afloat = swamped.loaded(craft, [(needed, _passenger_place(craft))])
    values: dict[str, float | str] = {"carries": max(spare, 0.0), "needed": needed, "limit": cfr_183.HEEL_LIMIT}
    if afloat is None:
        kernel, _, _ = swamped.displacers(craft)
        values["short"] = _boat(craft)[0] + needed - kernel.total_volume * craft.density
        sentence = "It would have to carry {needed:mass} of persons and gear; what it is made of leaves {carries:mass}."
        return [
            Finding("rule.flotation_short", "fails", "Swamped it carries {short:mass} too little", sentence, source=CFR_183, values=values)
        ]
    values |= {"heel": afloat.attitude.heel, "trim": afloat.attitude.trim}
    rim = craft.hull.rim
    middle = (float(rim[:, 0].min()) + float(rim[:, 0].max())) / 2
    ends = [
        max(afloat.attitude.height_of((x, y, z)) for x, y, z in part.tolist())
        for part in (rim[rim[:, 0] < middle], rim[rim[:, 0] >= middle])
    ]
    if afloat.is_capsized:
        title = "Swamped with {needed:mass} in it, it rolls over"
        sentence = "Level flotation asks that it leans {limit:angle} at most; it {heel:heel}."
    elif abs(afloat.attitude.heel) > cfr_183.HEEL_LIMIT:
        title = "Swamped with {needed:mass} in it, it {heel:heel}"
        sentence = "Level flotation asks for {limit:angle} at most."
    elif max(ends) <= 0:
        title = "Swamped with {needed:mass} in it, both ends are under"
        sentence = "Level flotation asks that one end stays out of the water; it floats {trim:trim}."
    else:
        sentence = "It has to carry {needed:mass} of persons and gear, leaning {limit:angle} at most; it floats {trim:trim}, {heel:heel}."
        return [Finding("rule.flotation", "holds", "Swamped it floats level with {needed:mass}", sentence, source=CFR_183, values=values)]
    return [Finding("rule.flotation_level", "fails", title, sentence, source=CFR_183, values=values, remedies=(LEVEL,))]


LEVEL = Remedy("Move the foam up, to the sides", "float")


def _passenger_place(craft: Craft) -> Point:
    """Where what stands for persons and gear is put: amidships, half way up to the rim."""
    low, high = craft.hull.mesh.bounds
    rim = float(craft.hull.rim[:, 2].min())
    return (float(low[0]) + float(high[0])) / 2, 0.0, (float(low[2]) + rim) / 2


def _asked(craft: Craft, answers: Mapping[str, str]) -> RuleAssessment:
    power: Power = "manual" if POWER.of(answers) == "manual" else "outboard"
    return assess(craft, power, STEERING.of(answers) == "yes", BOTTOM.of(answers) == "yes")


RULE = Rule(
    "cfr_183",
    0,
    "33 CFR 183",
    "Sums of US 33 CFR 183, clause by clause",
    "All clauses are given from memory. They apply to monohulls under 20 ft, not to sailboats, canoes, kayaks and inflatables.",
    (POWER, STEERING, BOTTOM),
    _asked,
)
