"""Edits of the list of weights and of the load cases: each gives a new design. Raises InvalidInput where one cannot be done."""

import dataclasses
import re
from collections.abc import Callable, Iterable

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Kilograms, Point, Ratio
from yarekeel.core.weights.items import GROUPS, Group, WeightItem
from yarekeel.core.weights.materials import MATERIALS, Material
from yarekeel.core.weights.recipes import RECIPES
from yarekeel.core.weights.recipes.person import Person
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design, LoadCase, LoadCount

MOST_LINES = 5000
NEW = "New weight"
"""What a new line is called until it is named."""
_NAMED: tuple[tuple[Group, str], ...] = (
    ("foam", r"foam|noodle"),
    ("structure", r"hull|skin|shell|deck|frame|bulkhead|keel|ply|plank|thwart|transom|gunwale|casing|print|sheet|tray|beam"),
    ("drive", r"motor|propeller|prop|outboard|engine|shaft|fan|jet|sail|mast|rudder|oar|paddle\b"),
    ("electrics", r"batter|cell|pack|radio|receiver|servo|wire|wiring|pump|control|camera|lamp"),
    ("ballast", r"lead|ballast|shot"),
    ("crew", r"person|rower|paddler|crew|passenger|skipper|driver|child|adult|rider|helm|angler|cutter"),
)
"""Groups by words in a name; the first that fits."""
SEAT_UP: Ratio = 0.35
"""Of the depth: where a seat is until its height is given (common practice)."""
LEAST_FACTOR = 0.05
"""A list is not corrected to less than this share: it must be another boat's."""


def put(craft: Craft, index: int, to: Point, *, alone: bool = False) -> Design:
    """Line ``index`` put so that its centre lies at ``to`` (boat axes); a pair keeps its distance from the centreline, and
    what moves with it comes along unless it goes ``alone``."""
    item, now = craft.design.weights[index], craft.items[index]
    if item.fixed:
        raise InvalidInput(f"weights.{index}.at_m", f"{item.name} follows the hull; drop its recipe to put it elsewhere.")
    dx, dy, dz = (to[k] - now.at_m[k] for k in range(3))
    by = (dx, 0.0 if item.pair else dy, dz)
    return shifted(craft.design, index, by, alone=alone)


def shifted(design: Design, index: int, by: Point, *, alone: bool = False) -> Design:
    """Line ``index`` moved by a distance, and all that moves with it, however far down the chain."""
    if design.weights[index].fixed:
        raise InvalidInput(f"weights.{index}.at_m", f"{design.weights[index].name} follows the hull; drop its recipe to put it elsewhere.")
    going = {index}
    names = {design.weights[index].name}
    while not alone:
        more = {k for k, w in enumerate(design.weights) if w.moves_with in names and not w.fixed} - going
        if not more:
            break
        going |= more
        names = {design.weights[k].name for k in more}
    return _each(design, going, lambda w: dataclasses.replace(w, at_m=_sum(w.at_m, by)))


def _sum(a: Point, b: Point) -> Point:
    """To a thousandth of a millimetre: no builder sets a weight finer, and the file stays readable."""
    x, y, z = (round(p + q, 6) + 0.0 for p, q in zip(a, b, strict=True))
    return (x, y, z)


def _each(design: Design, lines: Iterable[int], change: Callable[[WeightItem], WeightItem]) -> Design:
    chosen = set(lines)
    return dataclasses.replace(design, weights=tuple(change(w) if k in chosen else w for k, w in enumerate(design.weights)))


def renamed(design: Design, index: int, name: str) -> Design:
    """A line's new name; what moves with it, the load cases and a fitted part keep to it, unless another line has the old name too."""
    if not name.strip():
        raise InvalidInput("name", "Name needs 1 to 80 characters.")
    old = design.weights[index].name
    if old == NEW and design.weights[index].group == "payload":
        design = in_group(design, [index], group_of(name))
    lines = [dataclasses.replace(w, name=name) if k == index else w for k, w in enumerate(design.weights)]
    if any(w.name == old for w in lines):
        return dataclasses.replace(design, weights=tuple(lines))
    lines = [dataclasses.replace(w, moves_with=name) if w.moves_with == old else w for w in lines]
    cases = tuple(
        dataclasses.replace(c, counts=tuple(dataclasses.replace(n, item=name) if n.item == old else n for n in c.counts))
        for c in design.cases
    )
    fitted = tuple(dataclasses.replace(f, line=name) if f.line == old else f for f in design.drive.fitted)
    drive = dataclasses.replace(design.drive, fitted=fitted)
    return dataclasses.replace(design, weights=tuple(lines), cases=cases, drive=drive)


def group_of(name: str) -> Group:
    """The group that a thing of such a name belongs to, payload for what tells nothing."""
    return next((group for group, words in _NAMED if re.search(rf"\b(?:{words})", name.lower())), "payload")


def with_body_renamed(design: Design, number: int, new: str) -> Design:
    """A body by a new name; recipes and compartments that name it follow."""
    old = design.bodies[number].name
    bodies = (*design.bodies[:number], dataclasses.replace(design.bodies[number], name=new), *design.bodies[number + 1 :])
    if any(b.name == old for b in bodies):
        return dataclasses.replace(design, bodies=bodies)
    spaces = tuple(dataclasses.replace(c, body=new) if c.body == old else c for c in design.compartments)
    design = dataclasses.replace(design, bodies=bodies, compartments=spaces)

    def follow(w: WeightItem) -> WeightItem:
        recipe = w.recipe
        if recipe is None or getattr(recipe, "body", "") != old or not old:
            return w
        return dataclasses.replace(w, recipe=dataclasses.replace(recipe, body=new))  # type: ignore[type-var]

    return _each(design, range(len(design.weights)), follow)


def with_mass(craft: Craft, index: int, mass: Kilograms) -> Design:
    """The mass of one; of an estimate, the factor that makes it so."""
    item, made = craft.design.weights[index], craft.aboard.made[index]
    if item.recipe is None:
        return _each(craft.design, [index], lambda w: dataclasses.replace(w, mass_kg=mass))
    whole = made.mass if made else 0.0
    if whole <= 0 or mass <= 0:
        raise InvalidInput("mass_kg", "An estimate of nothing cannot be corrected; change its recipe, or drop it.")
    return _each(craft.design, [index], lambda w: dataclasses.replace(w, factor=mass / whole, mass_kg=mass))


def factored(craft: Craft, mass: Kilograms) -> tuple[Design, frozenset[int], Ratio]:
    """The list with all that was not weighed times one factor, so that it sums to ``mass``; which lines those are (all, if
    everything was weighed), and the factor."""
    items = craft.items
    unsure = [k for k, w in enumerate(items) if w.known != "weighed" and w.mass_kg > 0]
    unsure = unsure or [k for k, w in enumerate(items) if w.mass_kg > 0]
    factor = max(LEAST_FACTOR, 1 + (mass - craft.total.mass) / sum(items[k].mass_kg for k in unsure))

    def change(w: WeightItem) -> WeightItem:
        if w.recipe is not None:
            return dataclasses.replace(w, factor=w.factor * factor, mass_kg=w.mass_kg * factor)
        return dataclasses.replace(w, mass_kg=round(w.mass_kg * factor, 9))

    return _each(craft.design, unsure, change), frozenset(unsure), factor


def with_recipe(craft: Craft, index: int, kind: str) -> Design:
    """Line ``index`` estimated by a recipe of ``kind``; an empty kind drops it, the last figures stay."""
    design, item = craft.design, craft.design.weights[index]
    if not kind:
        now = craft.aboard.made[index]
        if item.recipe is None or now is None:
            return _each(design, [index], lambda w: dataclasses.replace(w, recipe=None, factor=1.0))
        x, y, z = (round(v, 6) for v in now.offset)
        at = (x, y, z) if item.fixed else _sum(item.at_m, now.offset)
        mass = round(now.mass * item.factor, 9)
        return _each(design, [index], lambda w: dataclasses.replace(w, recipe=None, factor=1.0, mass_kg=mass, at_m=at))
    if kind not in RECIPES:
        raise InvalidInput(f"weights.{index}.recipe", "Choose one of the estimates listed.")
    made = RECIPES[kind]
    known = "data" if item.known == "guessed" else item.known
    fresh = made() if item.recipe is None or item.recipe.kind != kind else item.recipe
    changed = _each(design, [index], lambda w: dataclasses.replace(w, recipe=fresh, factor=1.0, known=known, group=made.group))
    typed = item.mass_kg if item.recipe is None else 0.0
    return _with_typed_mass(Craft(changed), index, typed) if typed > 0 else changed


def _with_typed_mass(craft: Craft, index: int, mass: Kilograms) -> Design:
    """The estimate of a line that a mass was typed for: a person's own mass, else the correction that makes it so."""
    recipe = craft.design.weights[index].recipe
    if isinstance(recipe, Person):
        own = dataclasses.replace(recipe, mass_kg=mass)
        return _each(craft.design, [index], lambda w: dataclasses.replace(w, recipe=own, mass_kg=mass))
    try:
        return with_mass(craft, index, mass)
    except InvalidInput:  # nothing to correct, or by more than a correction may be
        return craft.design


def uncorrected(design: Design, index: int) -> Design:
    """An estimate as its recipe has it, without a correction."""
    return _each(design, [index], lambda w: dataclasses.replace(w, factor=1.0))


def with_person(craft: Craft) -> Design:
    """A person seated on the line of the boat amidships, a little over the bottom."""
    low, high = craft.hull.mesh.bounds
    at = (round(float(low[0] + high[0]) / 2, 3), 0.0, round(float(low[2]) + SEAT_UP * float(high[2] - low[2]), 3))
    name = _fresh("Person", [w.name for w in craft.design.weights])
    return appended(craft.design, [WeightItem(name, Person().mass_kg, at, "data", group="crew", recipe=Person())])


def with_postures(craft: Craft, index: int) -> Design:
    """Two load cases, the person of a line seated and standing: standing is a line of its own, ashore as listed, the feet where a seated
    person has them. Raises InvalidInput for a line that is no person estimated, or that stands."""
    design, item = craft.design, craft.design.weights[index]
    recipe = item.recipe
    if not isinstance(recipe, Person) or recipe.posture == "standing":
        raise InvalidInput(f"weights.{index}", "Estimate the line as a person, seated, first.")
    low = float(craft.hull.mesh.bounds[0][2])
    x, y, z = item.at_m
    feet = max(low, z - (recipe.seat_height if recipe.posture == "seated" else 0.0))
    name = _fresh(f"{item.name}, standing", [w.name for w in design.weights])
    upright = dataclasses.replace(recipe, posture="standing")
    stands = dataclasses.replace(item, name=name, recipe=upright, at_m=(x, y, round(feet, 4)), on=False)
    titles = [c.name for c in design.cases]
    seated = LoadCase(_fresh("seated", titles), (LoadCount(item.name, 1.0), LoadCount(name, 0.0)))
    standing = LoadCase(_fresh("standing", titles), (LoadCount(item.name, 0.0), LoadCount(name, 1.0)))
    return dataclasses.replace(appended(design, [stands]), cases=(*design.cases, seated, standing))


def with_photo(design: Design, index: int, photo: str) -> Design:
    """A photo on a line."""
    if index >= len(design.weights):
        raise InvalidInput("photo", "There is no such weight in the list.")
    return _each(design, [index], lambda w: dataclasses.replace(w, photo=photo))


def appended(design: Design, items: Iterable[WeightItem]) -> Design:
    """More lines at the end."""
    weights = (*design.weights, *items)
    if len(weights) > MOST_LINES:
        raise InvalidInput("weights", f"A list holds at most {MOST_LINES} weights; this would make {len(weights)}.")
    return dataclasses.replace(design, weights=weights)


def removed(design: Design, lines: Iterable[int]) -> Design:
    """The list without some lines."""
    gone = set(lines)
    return dataclasses.replace(design, weights=tuple(w for k, w in enumerate(design.weights) if k not in gone))


def duplicated(design: Design, lines: Iterable[int]) -> Design:
    """Copies of lines at the end, each with a name of its own."""
    names = [w.name for w in design.weights]
    copies = []
    for k in lines:
        copies.append(dataclasses.replace(design.weights[k], name=_fresh(design.weights[k].name, names)))
        names.append(copies[-1].name)
    return appended(design, copies)


def in_group(design: Design, lines: Iterable[int], group: str) -> Design:
    """Lines put in a group. Raises InvalidInput for none there is."""
    if group not in GROUPS:
        raise InvalidInput("weights", "Choose what to do with the lines that are ticked.")
    return _each(design, lines, lambda w: dataclasses.replace(w, group=group))


def aboard_or_not(design: Design, lines: Iterable[int], *, on: bool) -> Design:
    """Lines put aboard or ashore."""
    return _each(design, lines, lambda w: dataclasses.replace(w, on=on))


def with_case(design: Design, name: str) -> Design:
    """A new load case, in force from here."""
    case = LoadCase(_fresh(name.strip() or "New load", [c.name for c in design.cases]))
    return dataclasses.replace(design, cases=(*design.cases, case), case=case.name)


def with_case_copied(design: Design, number: int) -> Design:
    """A copy of a load case, in force from here."""
    copy = dataclasses.replace(design.cases[number], name=_fresh(design.cases[number].name, [c.name for c in design.cases]))
    return dataclasses.replace(design, cases=(*design.cases, copy), case=copy.name)


def without_case(design: Design, number: int) -> Design:
    """The boat without a load case; where that was in force, the list is as it stands."""
    gone = design.cases[number].name
    rest = tuple(c for k, c in enumerate(design.cases) if k != number)
    return dataclasses.replace(design, cases=rest, case="" if design.case == gone else design.case)


def in_force(design: Design, name: str) -> Design:
    """A load case in force; empty for the list as it stands. Raises InvalidInput for none there is."""
    return dataclasses.replace(design, case=name)


def count_in_case(design: Design, number: int, line: int) -> float | None:
    """How many of a line are aboard in a load case; None for as listed. Raises InvalidInput for no such case or line."""
    return next((c.quantity for c in _case(design, number).counts if c.item == _counted(design, line)), None)


def _case(design: Design, number: int) -> LoadCase:
    if number >= len(design.cases):
        raise InvalidInput("cases", "There is no such load case.")
    return design.cases[number]


def _counted(design: Design, line: int) -> str:
    """What a load case counts: the weights in their order, after them the compartments."""
    names = [*(w.name for w in design.weights), *(c.name for c in design.compartments)]
    if line >= len(names):
        raise InvalidInput("cases", "There is no such weight in the list.")
    return names[line]


def with_count(design: Design, number: int, line: int, quantity: float | None) -> Design:
    """So many of a line aboard in a load case; None for as listed."""
    case, name = _case(design, number), _counted(design, line)
    if quantity is not None and line >= len(design.weights) and quantity > 1:
        raise InvalidInput("quantity", "A tank holds from 0 to 1 of what it can; 0.5 is half full.")
    counts = [c for c in case.counts if c.item != name]
    if quantity is not None:
        counts.append(LoadCount(name, quantity))
    changed = dataclasses.replace(case, counts=tuple(counts))
    return dataclasses.replace(design, cases=(*design.cases[:number], changed, *design.cases[number + 1 :]))


def with_material(design: Design, name: str) -> Design:
    """One more material of the boat's own."""
    title = _fresh(name.strip() or "My material", [m.title for m in (*MATERIALS.values(), *design.materials)])
    code = re.sub(r"[^a-z0-9]+", "_", title.lower()).strip("_")[:30] or "own"
    codes = {*MATERIALS, *(m.code for m in design.materials)}
    code = next(c for c in (code, *(f"{code}_{n}" for n in range(2, 200))) if c not in codes)
    return dataclasses.replace(design, materials=(*design.materials, Material(code, title, "wood", 500.0, 450.0, 550.0)))


def without_material(design: Design, number: int) -> Design:
    """The boat without one of its own materials. Raises InvalidInput where something is made of it."""
    if not 0 <= number < len(design.materials):
        raise InvalidInput("materials", "There is no such material to remove.")
    code = design.materials[number].code
    user = next((w.name for w in design.weights if getattr(w.recipe, "material", "") == code), None)
    if user:
        raise InvalidInput("materials", f"{user} is made of it; give that another material first.")
    return dataclasses.replace(design, materials=design.materials[:number] + design.materials[number + 1 :])


def _fresh(name: str, names: Iterable[str]) -> str:
    """The name, with a number after it if it is taken."""
    taken = set(names)
    base = re.sub(r" \d+$", "", name)[:70]
    return next(n for n in (name, *(f"{base} {k}" for k in range(2, len(taken) + 3))) if n not in taken)
