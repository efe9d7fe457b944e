"""Float: where it rests, how deep, level or not, and how sure that is."""

import math
from dataclasses import dataclass

from yarekeel.core.errors import BoatSinks, NoRest
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.hydrostatics.afloat import Afloat, Outputs, level_centre, outputs_of, spread_of
from yarekeel.core.quantities import Metres
from yarekeel.core.sources import BRIEF, MECHANICS
from yarekeel.stages.brief.brief import caution
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import limit_always
from yarekeel.stages.shape.shape import rim_finding, walls_finding


@dataclass(frozen=True, slots=True)
class FloatAssessment:
    """``afloat`` is None when it sinks or no balance was found; ``spread`` when a small change tips it elsewhere. The findings say so."""

    afloat: Afloat | None
    outputs: Outputs | None
    spread: Outputs | None
    findings: tuple[Finding, ...]

    @property
    def floats(self) -> bool:
        return self.afloat is not None

    @property
    def why_not(self) -> str:
        """Why it does not float, as a sentence goes on; empty where it does."""
        title = "" if self.floats else self.findings[0].title
        return title[:1].lower() + title[1:]


@dataclass(frozen=True, slots=True)
class LevelMove:
    """One weight's move that floats the boat level: forward (+) and to port (+), metres."""

    index: int
    name: str
    forward: Metres
    to_port: Metres


def assess(craft: Craft, start: Attitude | None = None) -> FloatAssessment:
    """The equilibrium in sinkage, heel and trim, against the brief. ``start`` is where a drag last left it."""
    try:
        afloat = craft.settled if start is None else craft.rest(start)
    except NoRest as lost:
        return FloatAssessment(None, None, None, (_lost(lost), *caution(craft.design.brief)))
    marks = craft.marks
    outputs = outputs_of(afloat, craft.hull, marks.bow_x_m, marks.stern_x_m)
    spread = spread_of(
        hull=craft.hull, items=craft.acting, afloat=afloat, bow_x=marks.bow_x_m, stern_x=marks.stern_x_m, kernel=craft.kernel
    )
    of_mesh = (*walls_finding(craft), *(f for f in rim_finding(craft) if f.severity != "note"))
    findings = [*of_mesh, *_posture(craft, afloat), _freeboard(craft, afloat, spread), *_opening(craft, afloat)]
    if not afloat.is_capsized:
        findings += [_trim(craft, afloat, spread), *_heel(craft, afloat, spread)]
    if not afloat.is_unsteady:
        findings.append(_stiffness(craft, afloat, spread))
    if afloat.equilibrium.neutral:
        findings.append(
            Finding(
                "float.neutral",
                "near",
                "It stays wherever it is turned",
                "A round body with its weight on the axis has no upright.",
                source=MECHANICS,
            )
        )
    return FloatAssessment(afloat, outputs, spread, (*sorted(findings, key=_rank), *caution(craft.design.brief)))


def _rank(finding: Finding) -> int:
    return ("fails", "near", "holds", "note").index(finding.severity)


def _lost(lost: NoRest) -> Finding:
    """Why it comes to no rest."""
    if isinstance(lost, BoatSinks):
        return _sinking(lost)
    way = (Remedy("Check the mesh for slivers and the weights for their places", "shape"),)
    text = "Within the tries allowed no attitude balanced its weight; nothing that follows from one can be said."
    return Finding("float.unsolved", "fails", "No balance was found", text, source=MECHANICS, values={}, remedies=way)


def _sinking(sinks: BoatSinks) -> Finding:
    over = sinks.mass_kg - sinks.capacity_kg
    return Finding(
        "float.sinks",
        "fails",
        "It sinks",
        "It weighs {mass:mass}; the whole hull displaces {capacity:mass}. {over:mass} must go, or the hull grow {scale:percent} in "
        "every length.",
        source=MECHANICS,
        values={
            "mass": sinks.mass_kg,
            "capacity": sinks.capacity_kg,
            "over": over,
            "scale": (sinks.mass_kg / sinks.capacity_kg) ** (1 / 3) - 1,
        },
        remedies=(Remedy("Take {over:mass} out", "weights"), Remedy("Make the hull larger", "shape")),
    )


def _posture(craft: Craft, afloat: Afloat) -> list[Finding]:
    values = {"heel": afloat.attitude.heel, "gm": afloat.upright_gm, "lower": -afloat.upright_gm}
    mend = Remedy("Lower the weights by {lower:length} together, or make it wider", "weights")
    if afloat.is_capsized:
        return [
            Finding(
                "float.capsizes",
                "fails",
                "It rolls over",
                "Left alone it {heel:heel} and rests there. Upright, GM is {gm:length}.",
                source=MECHANICS,
                values=values,
                remedies=(mend,),
            )
        ]
    if afloat.is_lolling:
        return [
            Finding(
                "float.loll",
                "fails",
                "It will not stand upright",
                "Upright is unstable (GM {gm:length}): it flops to one side and rests there, {heel:heel} (angle of loll).",
                source=MECHANICS,
                values=values,
                remedies=(mend,),
            )
        ]
    return []


def _opening(craft: Craft, afloat: Afloat) -> list[Finding]:
    """The lowest of the openings, against the water and the freeboard asked for."""
    if not craft.openings:
        return []
    name, place = min(craft.openings, key=lambda o: afloat.attitude.height_of(o[1]))
    height, limit = afloat.attitude.height_of(place), limit_always(craft.design.brief, "freeboard")
    count = float(len(craft.openings))
    values: dict[str, float | str] = {"name": name, "height": height, "under": -height, "asked": limit.asked, "count": count}
    if height <= 0:
        sentence = "It lies {under:length} below the surface: the boat fills through it, and these sums no longer hold."
        remedy = Remedy("Move it higher or close it", "shape")
        return [
            Finding(
                "float.opening_under",
                "fails",
                "Water comes in at the {name}",
                sentence,
                source=MECHANICS,
                values=values,
                remedies=(remedy,),
            )
        ]
    sentence = "The lowest of {count:count}; you asked for {asked:length} of freeboard."
    title = "{name} stands {height:length} above the water"
    return [Finding("float.opening", limit.severity(height), title, sentence, source=BRIEF, values=values)]


def _freeboard(craft: Craft, afloat: Afloat, spread: Outputs | None) -> Finding:
    limit = limit_always(craft.design.brief, "freeboard")
    asked, sure = limit.asked, spread.freeboard if spread else 0.0
    severity = limit.severity(afloat.freeboard, sure)
    x, y, _ = afloat.freeboard_at
    values: dict[str, float | str] = {
        "free": afloat.freeboard,
        "asked": asked,
        "short": asked - afloat.freeboard,
        "sure": sure,
        "x": x,
        "side": _side(y),
        "under": -afloat.freeboard,
    }
    where = "at {x:length} from aft, {side}"
    if afloat.freeboard < 0:
        what = "water comes in over the rim" if craft.hull.open else "the deck edge is awash"
        return Finding(
            "float.rim_under",
            "fails",
            "The deck edge is {under:length} under",
            f"It is lowest {where}: {what}.",
            source=MECHANICS,
            values=values,
            remedies=(Remedy("Lighten it or raise the side", "shape"),),
        )
    if severity == "fails":
        return Finding(
            "float.freeboard_short",
            severity,
            "Freeboard {free:length}: {short:length} short",
            f"You asked for {{asked:length}}; the lowest point is {where}.",
            source=BRIEF,
            values=values,
            remedies=(Remedy("Level it, lighten it, or raise the side", "shape"),),
        )
    return Finding(
        "float.freeboard",
        severity,
        "Floats with {free:length} to spare",
        f"You asked for {{asked:length}} at the lowest point, {where}; ±{{sure:length}} from the weights.",
        source=BRIEF,
        values=values,
    )


def _side(y: Metres) -> str:
    return "on the centreline" if abs(y) < 1e-6 else ("port" if y > 0 else "starboard")


def _trim(craft: Craft, afloat: Afloat, spread: Outputs | None) -> Finding:
    limit = limit_always(craft.design.brief, "trim")
    allowed, severity = limit.asked, limit.severity(afloat.attitude.trim, spread.trim if spread else 0.0)
    move = best_move(craft, afloat)
    values: dict[str, float | str] = {"trim": afloat.attitude.trim, "allowed": allowed}
    remedies: tuple[Remedy, ...] = ()
    if move:
        values |= {"name": move.name, "move": move.forward}
        remedies = (Remedy("{name} {move:fore_aft} levels it", "float"),)
    if severity != "fails":
        return Finding(
            "float.trim",
            severity,
            "Trim: {trim:trim}",
            "Within the ±{allowed:angle} you allow.",
            source=BRIEF,
            values=values,
        )
    return Finding(
        "float.trim_off",
        severity,
        "Trim: {trim:trim}",
        "You allow ±{allowed:angle}.",
        source=BRIEF,
        values=values,
        remedies=remedies,
    )


def _heel(craft: Craft, afloat: Afloat, spread: Outputs | None) -> list[Finding]:
    limit = limit_always(craft.design.brief, "heel")
    if afloat.is_lolling or abs(afloat.attitude.heel) <= math.radians(0.05):
        return []
    severity = limit.severity(afloat.attitude.heel, spread.heel if spread else 0.0)
    move = best_move(craft, afloat)
    values: dict[str, float | str] = {"heel": afloat.attitude.heel, "allowed": limit.asked, "tcg": afloat.gravity[1]}
    remedies: tuple[Remedy, ...] = ()
    if move and abs(move.to_port) > 1e-4:
        values |= {"name": move.name, "move": move.to_port}
        remedies = (Remedy("{name} {move:athwart} brings it upright", "float"),)
    return [
        Finding(
            "float.heel",
            severity,
            "It {heel:heel}",
            "Its weight lies {tcg:athwart} of the centreline; you allow ±{allowed:angle}.",
            source=BRIEF,
            values=values,
            remedies=remedies if severity == "fails" else (),
        )
    ]


def _stiffness(craft: Craft, afloat: Afloat, spread: Outputs | None) -> Finding:
    limit, gm = limit_always(craft.design.brief, "gm"), afloat.judged_gm
    severity = limit.severity(gm, spread.gm if spread else 0.0)
    values = {"gm": gm, "asked": limit.asked, "short": limit.asked - gm, "lower": limit.asked - gm}
    if severity == "fails":
        return Finding(
            "float.gm_short",
            severity,
            "Tippy: GM {gm:length}",
            "You asked for {asked:length} at least; it is {short:length} short.",
            source=BRIEF,
            values=values,
            remedies=(Remedy("All weights {lower:length} lower, or a wider hull", "weights"),),
        )
    return Finding(
        "float.gm", severity, "Stiff enough: GM {gm:length}", "You asked for {asked:length} at least.", source=BRIEF, values=values
    )


def level_move(craft: Craft, index: int) -> LevelMove:
    """Where weight ``index`` must go, at its height, for the boat to float level: then G lies over the level hull's B.

    Exact for the mesh: M dx = M (LCB_level - LCG), and the same athwartships.
    """
    item = craft.items[index]
    total = craft.total
    b = level_centre(craft.kernel, total.mass / craft.density)
    lever = total.mass / item.mass_kg
    return LevelMove(index, item.name, lever * (b[0] - total.centre[0]), lever * (b[1] - total.centre[1]))


def best_move(craft: Craft, afloat: Afloat) -> LevelMove | None:
    """The loose weight whose move levels the boat and keeps it inside; the shortest of them, None if none stays inside."""
    low, high = craft.hull.mesh.bounds
    b = level_centre(craft.kernel, afloat.listed_volume)
    items = craft.items
    # The heavier the weight, the shorter its move: the first that stays inside is the one.
    for index in sorted(range(len(items)), key=lambda k: -items[k].mass_kg):
        item = items[index]
        if item.mass_kg <= 0:
            break
        if item.structure or item.fixed:
            continue
        lever, g = afloat.listed / item.mass_kg, afloat.listed_gravity
        move = LevelMove(index, item.name, lever * (b[0] - g[0]), lever * (b[1] - g[1]))
        if low[0] <= item.at_m[0] + move.forward <= high[0]:
            return move
    return None
