"""Plain tests: somebody steps on the rail, leans, stands up; a catch, wind, a turn, a tow, a wake. Where each leaves the boat."""

import dataclasses
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import NoRest, Unsolved
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.hydrostatics.afloat import LEAST_UP, Afloat
from yarekeel.core.hydrostatics.equilibrium import required_volume, solve_equilibrium
from yarekeel.core.hydrostatics.forces import wind_force
from yarekeel.core.propulsion.sail import effort
from yarekeel.core.quantities import Kilograms, Metres, MetresPerSecond, Point, Radians
from yarekeel.core.sources import BRIEF, COMMON_PRACTICE, MECHANICS, SMALL_CRAFT
from yarekeel.core.stability.heeling import Lever, outward, steady, thrown, turning
from yarekeel.core.stability.righting import Righted, RightingCurve, RightingPoint
from yarekeel.core.stability.tipping import Tipping
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.recipes.person import Person
from yarekeel.stages.afloat.forced import exposed, lateral_area, rail_at
from yarekeel.stages.afloat.margins import margin
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.limits import limit_of
from yarekeel.stages.stability.stability import StabilityAssessment, end_of

LEAST_PERSON: Kilograms = 25.0
"""From there on what is put on the rail steps there."""
SMALL: float = 0.10
"""Of a model's mass: what is lifted over its side unless told (common practice)."""


@dataclass(frozen=True, slots=True)
class Tested:
    """One test: where it ends (the lean in rad, 0 or more, None where it goes over or sinks), what is left before water comes in
    there and by what, to which side the worse was, and the verdict. ``limit`` is the lean the brief allows, None for none asked."""

    code: str
    title: str
    lean: Radians | None
    attitude: Attitude | None
    left: Metres
    where: str
    side: int
    limit: Radians | None
    finding: Finding

    @property
    def badness(self) -> float:
        """For finding the worst: over its limit counts as a share of it, going over counts most."""
        if self.lean is None:
            return math.inf
        over = self.lean / self.limit if self.limit else self.lean / math.radians(90)
        return over + (10.0 if self.left <= 0 else 0.0)


@dataclass(frozen=True, eq=False)
class _Case:
    """What every test needs: the boat at rest, its curves, and the tests' numbers."""

    craft: Craft
    r: StabilityAssessment
    afloat: Afloat
    boat: Righted
    tipping: Tipping


def usual(design: Design, length: Metres, mass: Kilograms) -> Tipping:
    """The tests a boat of its kind is put to unless told (common practice)."""
    if design.brief.kind == "people":
        return Tipping(
            lean_m=0.15,
            stand_m=0.70,
            inboard_m=0.15,
            catch_kg=15.0,
            catch_out_m=0.20,
            catch_up_m=0.50,
            wind_ms=8.0,
            gust=1.4,
            turn_ms=2.5,
            turn_m=round(2 * length, 1),
            tow_n=100.0,
            tow_up_m=0.0,
            wake_deg=15.0,
        )
    return Tipping(
        lean_m=0.0,
        stand_m=0.0,
        inboard_m=0.0,
        catch_kg=round(SMALL * mass, 3),
        catch_out_m=0.05,
        catch_up_m=0.10,
        wind_ms=6.0,
        gust=1.4,
        turn_ms=1.5,
        turn_m=round(2 * length, 2),
        tow_n=round(0.5 * mass, 1),
        tow_up_m=0.0,
        wake_deg=20.0,
    )


def tipping_of(craft: Craft) -> Tipping:
    """The tests' numbers, the usual where nothing was said; a tow point at the rail's height unless told."""
    design, mass = craft.design, craft.total.mass
    base = usual(design, craft.hull.mesh.length, mass)
    filled = design.tipping.filled(base)
    return filled if design.tipping.tow_up_m is not None else dataclasses.replace(filled, tow_up_m=round(rail_at(craft, 1.0)[2], 3))


def rail_mass(craft: Craft) -> Kilograms:
    """What the brief asks to be put on the rail; 0 where it asks for nothing."""
    return craft.design.brief.rail_mass_kg or 0.0


def assess(craft: Craft, r: StabilityAssessment) -> tuple[Tested, ...]:
    """Every test that applies, the worse of both sides of each; nothing for a boat that has no attitude."""
    if r.afloat is None or r.boat is None or r.starboard is None or r.port is None:
        return ()
    case = _Case(craft=craft, r=r, afloat=r.afloat, boat=r.boat, tipping=tipping_of(craft))
    out: list[Tested] = []
    for test in _TESTS:
        found = test(case)
        if found:
            out.append(max(found, key=lambda t: t.badness))
    return tuple(out)


def worst(tests: Sequence[Tested]) -> Tested | None:
    """The one that leaves the boat worst off."""
    return max(tests, key=lambda t: t.badness, default=None)


# Weights that move


def _loaded(case: _Case, changes: Sequence[tuple[WeightItem, Point]], more: Sequence[tuple[Kilograms, Point]] = ()) -> Attitude | None:
    """Where it rests with weights at other places and more of them; None where it sinks or rolls over."""
    total = case.craft.total
    mass = total.mass + math.fsum(m for m, _ in more)
    moments = [total.mass * total.centre[k] for k in range(3)]
    for item, to in changes:
        for k in range(3):
            moments[k] += item.mass_kg * (to[k] - item.at_m[k])
    for m, at in more:
        for k in range(3):
            moments[k] += m * at[k]
    kernel, centre = case.boat.kernel, (moments[0] / mass, moments[1] / mass, moments[2] / mass)
    try:
        after = solve_equilibrium(kernel, required_volume(kernel, mass, case.craft.density), centre, case.afloat.attitude)
    except NoRest:
        return None
    return None if after.attitude.up[2] <= LEAST_UP else after.attitude


def _crew(case: _Case) -> list[WeightItem]:
    return sorted((i for i in case.craft.acting if i.group == "crew" and i.mass_kg > 0), key=lambda i: -i.mass_kg)


def _sides(case: _Case) -> tuple[int, ...]:
    """The sides to be tried (1 starboard, -1 port): one where both are alike."""
    return (1,) if case.r.symmetric else (1, -1)


def _rail(case: _Case) -> list[Tested]:
    mass = rail_mass(case.craft)
    if not mass:
        return []
    title = "{mass:mass} steps on the rail" if mass >= LEAST_PERSON else "{mass:mass} on the rail"
    return [
        _tested(case, "test.rail", title, {"mass": mass}, side, _loaded(case, (), ((mass, rail_at(case.craft, -side)),)))
        for side in _sides(case)
    ]


def _lean(case: _Case) -> list[Tested]:
    crew, by = _crew(case), case.tipping.lean_m or 0.0
    if not crew or not by:
        return []
    title = "All aboard lean {by:length}" if len(crew) > 1 else "{name} leans {by:length}"
    values: dict[str, float | str] = {"by": by, "name": crew[0].name}
    return [
        _tested(
            case,
            "test.lean",
            title,
            values,
            side,
            _loaded(case, [(i, (i.at_m[0], i.at_m[1] - side * by, i.at_m[2])) for i in crew]),
        )
        for side in _sides(case)
    ]


def _stand(case: _Case) -> list[Tested]:
    crew = [(i, by) for i in _crew(case) if (by := _rise(case, i)) > 0]
    if not crew:
        return []
    one, by = crew[0]
    attitude = _loaded(case, [(one, (one.at_m[0], one.at_m[1], one.at_m[2] + by))])
    side = 1 if attitude is None or attitude.heel >= 0 else -1
    return [_tested(case, "test.stand", "{name} stands up, {by:length} higher", {"name": one.name, "by": by}, side, attitude)]


def _rise(case: _Case, person: WeightItem) -> Metres:
    """How far the centre of a person rises standing up: as typed, else by the person's own estimate (nothing for one who stands
    already), else as usual. The feet are where a seated person has them, on the bottom at the lowest."""
    recipe = person.recipe
    if case.craft.design.tipping.stand_m is not None or not isinstance(recipe, Person):
        return case.tipping.stand_m or 0.0
    if recipe.posture == "standing":
        return 0.0
    bottom = float(case.craft.hull.mesh.bounds[0][2])
    place = person.at_m[2] - recipe.centre_height
    feet = max(bottom, place - (recipe.seat_height if recipe.posture == "seated" else 0.0))
    return max(0.0, feet + dataclasses.replace(recipe, posture="standing").centre_height - person.at_m[2])


def _move(case: _Case) -> list[Tested]:
    crew = _crew(case)[:2]
    if not crew:
        return []
    out = []
    for side in _sides(case):
        y = -side * max(abs(rail_at(case.craft, -side)[1]) - (case.tipping.inboard_m or 0.0), 0.0)
        attitude = _loaded(case, [(i, (i.at_m[0], y, i.at_m[2])) for i in crew])
        title = "Two move to one side" if len(crew) == 2 else "{name} moves to one side"
        out.append(_tested(case, "test.move", title, {"name": crew[0].name}, side, attitude))
    return out


def _catch(case: _Case) -> list[Tested]:
    t = case.tipping
    if not t.catch_kg:
        return []
    out = []
    for side in _sides(case):
        x, y, z = rail_at(case.craft, -side)
        hangs = (x, y - side * (t.catch_out_m or 0.0), z + (t.catch_up_m or 0.0))
        attitude = _loaded(case, (), ((t.catch_kg, hangs),))
        out.append(_tested(case, "test.catch", "{mass:mass} lifted over the side", {"mass": t.catch_kg}, side, attitude))
    return out


# Levers


def answer_height(craft: Craft, attitude: Attitude) -> Metres:
    """Height over the surface (less than 0) at which the water answers a sideways push: the centre of lateral area."""
    return attitude.height_of(lateral_area(craft.hull.sketch.mesh, attitude)[1])


def lever_of_wind(craft: Craft, afloat: Afloat, speed: MetresPerSecond) -> Lever:
    """Heeling lever of wind abeam on what stands over the water and on the sails. On the hull, people and spars it stays, as the IMO
    2008 IS Code (part A, 2.3.2) takes it; a sail leans away from it."""
    weight, answer = afloat.mass * STANDARD_GRAVITY, answer_height(craft, afloat.attitude)
    area, at = exposed(craft, afloat.attitude)
    hull = wind_force(speed, area) * (afloat.attitude.height_of(at) - answer) / weight if area else 0.0
    spread, centre, coefficient = effort(craft.design.sails)
    sail = wind_force(speed, spread, coefficient) * (afloat.attitude.height_of(centre) - answer) / weight if spread else 0.0
    return Lever(firm=hull, sail=sail)


def _curve(case: _Case, side: int) -> tuple[RightingCurve, tuple[RightingPoint, ...]]:
    assert case.r.starboard is not None
    assert case.r.port is not None
    one, other = (case.r.starboard, case.r.port) if side > 0 else (case.r.port, case.r.starboard)
    return one, outward(one.points, other.points)


def _under(case: _Case, code: str, title: str, values: dict[str, float | str], lever: Lever, gust: float | None = None) -> list[Tested]:
    """Under a lever that stays; ``gust`` then multiplies the wind at once."""
    out = []
    for side in _sides(case):
        curve, points = _curve(case, side)
        try:
            at = steady(boat=case.boat, points=points, side=side, rest=case.afloat.attitude.heel, lever=lever)
            if at is not None and gust is not None:
                at = thrown(boat=case.boat, points=points, side=side, start=at, lever=lever.times(gust**2))
        except Unsolved:
            at = None
        # Past its range a lever meets the curve again: lying over, which is no holding.
        held = at is not None and curve.rights and side * at.heel <= abs(end_of(curve))
        out.append(_tested(case, code, title, values, side, at.attitude if at and held else None))
    return out


def _wind(case: _Case) -> list[Tested]:
    speed = case.tipping.wind_ms or 0.0
    if not speed:
        return []
    return _under(
        case=case,
        code="test.wind",
        title="Wind of {speed:speed} abeam",
        values={"speed": speed},
        lever=lever_of_wind(case.craft, case.afloat, speed),
    )


def _gust(case: _Case) -> list[Tested]:
    t = case.tipping
    if not t.wind_ms or not t.gust or t.gust <= 1:
        return []
    lever = lever_of_wind(case.craft, case.afloat, t.wind_ms)
    return _under(
        case=case, code="test.gust", title="Then a gust of {speed:speed}", values={"speed": t.wind_ms * t.gust}, lever=lever, gust=t.gust
    )


def _turn(case: _Case) -> list[Tested]:
    t = case.tipping
    if not t.turn_ms or not t.turn_m:
        return []
    a = case.afloat
    height = a.attitude.height_of(a.gravity) - answer_height(case.craft, a.attitude)
    values: dict[str, float | str] = {"speed": t.turn_ms, "radius": t.turn_m}
    title = "A turn of {radius:length} radius at {speed:speed}"
    lever = turning(t.turn_ms, t.turn_m, abs(height))
    return _under(case=case, code="test.turn", title=title, values=values, lever=lever)


def _tow(case: _Case) -> list[Tested]:
    t = case.tipping
    if not t.tow_n or t.tow_up_m is None:
        return []
    a = case.afloat
    height = a.attitude.height_of((a.gravity[0], 0.0, t.tow_up_m)) - answer_height(case.craft, a.attitude)
    lever = Lever(leaning=t.tow_n * abs(height) / (a.mass * STANDARD_GRAVITY))
    return _under(case=case, code="test.tow", title="A tow pulls sideways with {pull:force}", values={"pull": t.tow_n}, lever=lever)


def _wake(case: _Case) -> list[Tested]:
    angle = math.radians(case.tipping.wake_deg or 0.0)
    if not angle:
        return []
    out = []
    for side in _sides(case):
        curve, points = _curve(case, side)
        near = min(points, key=lambda p: abs(p.heel - side * angle))
        try:
            at = case.boat.near(near, side * angle)
        except Unsolved:
            at = None
        back = at is not None and curve.rights and angle < abs(end_of(curve))
        values: dict[str, float | str] = {"roll": angle, "end": abs(end_of(curve))}
        out.append(
            _tested(case, "test.wake", "A wake rolls it {roll:angle0}", values, side, at.attitude if at and back else None, wake=True)
        )
    return out


_TESTS: tuple[Callable[[_Case], list[Tested]], ...] = (_rail, _lean, _stand, _move, _catch, _wind, _gust, _turn, _tow, _wake)


# Verdict


def _tested(
    case: _Case,
    code: str,
    title: str,
    values: dict[str, float | str],
    side: int,
    attitude: Attitude | None,
    *,
    wake: bool = False,
) -> Tested:
    row = limit_of(case.craft.design.brief, code)
    limit = None if row is None else row.asked
    way = (Remedy("See what each cure costs", "stability?tab=cures"),)
    source = COMMON_PRACTICE if limit is None else BRIEF
    if attitude is None:
        text = "From that roll it does not come back." if wake else "Nothing holds it: it goes over."
        finding = Finding(code, "fails", title, text, source=MECHANICS, values=values, remedies=way)
        return Tested(code=code, title=title, lean=None, attitude=None, left=-math.inf, where="", side=side, limit=limit, finding=finding)
    lean = abs(attitude.heel)
    left, where = margin(case.craft, attitude)
    values = values | {"heel": attitude.heel, "lean": lean, "left": left, "under": -left, "where": where, "limit": limit or 0.0}
    wet = left <= 0 and (case.craft.hull.open or bool(case.craft.openings))
    severity: Severity = "fails" if wet else row.severity(lean) if row else "holds" if wake else "note"
    text = "It {heel:heel}; {left:length} left at {where}." if left > 0 else "It {heel:heel}; {where} is {under:length} under."
    if wet:
        text = "It {heel:heel}, and water comes in: {where} is {under:length} under."
    if wake and not wet:
        text = "It comes back, {left:length} left at {where}." if left > 0 else "It comes back; {where} is {under:length} under."
    if limit is not None:
        text += " You allow {limit:angle0}."
    finding = Finding(code, severity, title, text, source=source, values=values, remedies=way if severity == "fails" else ())
    return Tested(code=code, title=title, lean=lean, attitude=attitude, left=left, where=where, side=side, limit=limit, finding=finding)


def notes(craft: Craft) -> tuple[Finding, ...]:
    """How wind is reckoned; and where people go aboard the official tests, named and not replaced."""
    text = (
        "Side force on hull, people and spars, levered from the centre of lateral area; what stands behind something else counts half. "
        "The roll to windward before the gust, which the IMO 2008 IS Code (part A, 2.3) adds for ships in waves, is left out: still water."
    )
    wind = Finding("test.wind_how", "note", "How wind is reckoned", text, source=COMMON_PRACTICE)
    return (wind, *_official(craft))


def _official(craft: Craft) -> tuple[Finding, ...]:
    if craft.design.brief.kind != "people":
        return ()
    text = (
        "The small-craft standards have tests of their own (offset load, resistance to wind and waves, downflooding, swamped load). "
        "These plain tests show how the boat behaves; they do not stand in for those."
    )
    return (Finding("test.official", "note", "Official tests are others", text, source=SMALL_CRAFT),)
