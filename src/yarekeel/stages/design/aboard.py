"""What is aboard in a load case: quantities, recipes and pairs worked out, one line for every line of the list."""

import dataclasses
import math
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Any, cast

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.mesh_file import MeshFile
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.kept import kept
from yarekeel.core.once import cached_property
from yarekeel.core.quantities import KilogramsPerCubicMetre, Point, Ratio
from yarekeel.core.weights.extent import MADE_UNSURE, Extent, extent_of
from yarekeel.core.weights.gyration import Gyration, gyration_of
from yarekeel.core.weights.inertia import inertia_of
from yarekeel.core.weights.items import PLACED, SPREAD, ActingItem, WeightItem
from yarekeel.core.weights.materials import MATERIALS, Material
from yarekeel.core.weights.recipes import AnyRecipe, Basis, Made
from yarekeel.core.weights.recipes.person import Person
from yarekeel.core.weights.recipes.tank import Tank
from yarekeel.stages.design.design import Design

POSTURE_UNKNOWN: Ratio = 0.06
"""Of stature: how far a person's centre may lie from where it is typed, sitting, kneeling or standing (from memory)."""
SIDEWAYS: Ratio = 1 / 3
"""Of that: a seat holds a person nearer to its middle than to a height (from memory)."""
FIELDS = tuple(f.name for f in dataclasses.fields(WeightItem))


@dataclass(frozen=True, eq=False)
class Aboard:
    """``items`` are the list as it acts on the water, in its order: the mass of all there are of a line, at their common
    centre; what is not aboard weighs 0. ``made`` is what each line's recipe gave, ``faults`` (line, sentence) why one could
    not and its last mass stands, ``beside`` how far from the centreline the two of a pair are. ``shells`` is the hull that a
    typed line of structure builds and whether by itself, None for other lines; ``densities`` what a line says it is made of,
    None where it does not."""

    items: tuple[ActingItem, ...]
    made: tuple[Made | None, ...]
    faults: tuple[tuple[int, str], ...]
    beside: tuple[float, ...]
    shells: tuple[tuple[Hull, bool] | None, ...]
    densities: tuple[KilogramsPerCubicMetre | None, ...]

    @cached_property
    def extents(self) -> tuple[Extent, ...]:
        """How far out each line's own mass lies; the two of a pair stand apart."""
        return tuple(self._extent(k) for k in range(len(self.items)))

    def _extent(self, k: int) -> Extent:
        item, made, away = self.items[k], self.made[k], self.beside[k]
        sides = 2 if away else 1
        if made is not None and made.mass > 0 and made.inertia.any():
            one = Extent(made.inertia * (item.mass_kg / made.mass), MADE_UNSURE, "its estimate")
        else:
            density = made.mass / made.solid if made is not None and made.mass > 0 and made.solid > 0 else self.densities[k]
            hull, alone = self.shells[k] or (None, False)
            one = extent_of(item.mass_kg / sides, item.group, density, hull, alone)
            one = dataclasses.replace(one, inertia=one.inertia * sides)
        if not away:
            return one
        apart = item.mass_kg * away**2 * np.diag([1.0, 0.0, 1.0])
        whole = one.inertia + apart
        share = one.unsure * float(np.trace(one.inertia)) / float(np.trace(whole)) if whole.any() else 0.0
        return Extent(whole, share, f"{one.taken}, on each side")

    @cached_property
    def inertia(self) -> Floats:
        """Tensor (3, 3) about the centre of gravity, kg m2, boat axes."""
        return inertia_of([i.mass_kg for i in self.items], [i.at_m for i in self.items], [e.inertia for e in self.extents])

    def gyration(self, axis: int) -> Gyration | None:
        """Radius of gyration about the lengthwise (axis 0) or the athwart (1) axis; None where nothing has a mass."""
        unsure = np.array([e.unsure for e in self.extents])
        return gyration_of(self.items, np.array([e.inertia for e in self.extents]).reshape(-1, 3, 3), unsure, axis)


def aboard_of(design: Design, body: Callable[[str], Hull]) -> Aboard:
    """The list in the design's load case; ``body`` gives a body's hull by its name, the whole hull for no name."""
    counts = design.counts
    size, main = _size(body), _main(design)
    drawn = any(not isinstance(b.shape, MeshFile) for b in design.bodies if b.role == "hull")
    named = {**MATERIALS, **{m.code: m for m in design.materials}}
    items: list[ActingItem] = []
    made: list[Made | None] = []
    faults: list[tuple[int, str]] = []
    beside: list[float] = []
    shells: list[tuple[Hull, bool] | None] = []
    densities: list[KilogramsPerCubicMetre | None] = []
    for number, item in enumerate(design.weights):
        count = counts.get(item.name, item.quantity if item.on else 0.0)
        one, result = item, None
        if item.recipe is not None:
            try:
                one, result, count = _estimated(item=item, recipe=item.recipe, count=count, body=body, materials=design.materials)
            except InvalidInput as error:
                faults.append((number, error.sentence))
        twice = item.pair and not (item.recipe and item.recipe.follows_hull)
        x, y, z = one.at_m
        mass = one.mass_kg * count * (2 if twice else 1)
        if twice or mass != one.mass_kg:
            one = dataclasses.replace(one, mass_kg=mass, at_m=(x, 0.0 if twice else y, z))
        items.append(_acting(one, _place_width(one, result, size, drawn)))
        made.append(result)
        beside.append(y if twice else 0.0)
        shells.append(_shell(design, item, body, main) if item.structure and result is None else None)
        stuff = named.get(item.material)
        densities.append(stuff.density if stuff else None)
    return Aboard(tuple(items), tuple(made), tuple(faults), tuple(beside), tuple(shells), tuple(densities))


def _acting(item: WeightItem, width: Point) -> ActingItem:
    values = {name: getattr(item, name) for name in FIELDS}
    return ActingItem(**values, place_width=width)


def _size(body: Callable[[str], Hull]) -> Point:
    """Length, beam and depth of the boat; nothing where it cannot be built, which is said elsewhere."""
    try:
        low, high = body("").mesh.bounds
    except InvalidInput:
        return (0.0, 0.0, 0.0)
    length, beam, depth = (float(v) for v in high - low)
    return (length, beam, depth)


def _place_width(item: WeightItem, made: Made | None, size: Point, drawn: bool) -> Point:
    """How far the place of a line may be off, half widths of 95 % bands: as it says itself, else by how it is known and by how such
    things lie. What follows a hull drawn by a family is off as by data, on the hull's own mesh by half of that."""
    if item.place_spread_m is not None:
        return (item.place_spread_m,) * 3
    own = made.place_width if made is not None else 0.0
    if item.group == "crew" and made is None:
        own = POSTURE_UNKNOWN * Person().stature_m * (item.mass_kg / Person().mass_kg) ** (1 / 3)
    share = 1.0 if not item.fixed or drawn else 0.5
    by_kind = zip(size, PLACED["data" if item.fixed else item.known], (own, SIDEWAYS * own, own), strict=True)
    x, y, z = (math.hypot(share * s * width, posture) for s, width, posture in by_kind)
    return (x, y, z)


def _main(design: Design) -> WeightItem | None:
    """The typed line that is the hull, where no estimate gives its skin: the heaviest of the structure."""
    built = [w for w in design.weights if w.structure and w.on]
    return None if any(w.fixed for w in built) else max(built, key=lambda w: w.mass_kg, default=None)


def _shell(design: Design, item: WeightItem, body: Callable[[str], Hull], main: WeightItem | None) -> tuple[Hull, bool] | None:
    """The hull that a typed line of structure builds: of the body that it has the name of, else the boat's; and whether it is the
    whole of it."""
    named = next((b.name for b in design.bodies if b.name.lower() in item.name.lower()), None)
    try:
        return body(named if named and len(design.bodies) > 1 else ""), named is not None or item is main
    except InvalidInput:
        return None


def _estimated(
    item: WeightItem, recipe: AnyRecipe, count: float, body: Callable[[str], Hull], materials: tuple[Material, ...]
) -> tuple[WeightItem, Made, float]:
    """The item with mass, place and spread from its recipe, what was made, and how many: a tank filled otherwise is one tank."""
    if isinstance(recipe, Tank) and count:
        recipe, count = dataclasses.replace(recipe, fill=min(1.0, recipe.fill * count)), 1.0
    result = _made(cast(Hashable, recipe), body(recipe.body) if hasattr(recipe, "body") else None, materials)
    dx, dy, dz = result.offset
    x, y, z = (0.0, 0.0, 0.0) if recipe.follows_hull else item.at_m
    return (
        dataclasses.replace(
            item,
            mass_kg=result.mass * item.factor,
            at_m=(x + dx, y + dy, z + dz),
            spread=spread_of_estimate(item, result),
            together=item.together or getattr(recipe, "lot", ""),
        ),
        result,
        count,
    )


def spread_of_estimate(item: WeightItem, made: Made) -> Ratio:
    """What an estimate is unsure by: what was said, else the usual or its materials' range, whichever is wider."""
    if item.spread is not None:
        return item.spread
    return SPREAD[item.known] if item.known == "weighed" else max(SPREAD[item.known], made.spread)


@kept
def _made(recipe: Any, hull: Hull | None, materials: tuple[Material, ...]) -> Made:
    def body(_: str) -> Hull:
        assert hull is not None
        return hull

    result = recipe.made(Basis(body, {**MATERIALS, **{m.code: m for m in materials}}))
    assert isinstance(result, Made)
    return result


def refreshed(design: Design, aboard: Aboard) -> Design:
    """The design with what its recipes give written into the lines, so that the boat file says it to others too."""
    lines = tuple(_written(item, made) for item, made in zip(design.weights, aboard.made, strict=True))
    return design if all(a is b for a, b in zip(lines, design.weights, strict=True)) else dataclasses.replace(design, weights=lines)


def _written(item: WeightItem, made: Made | None) -> WeightItem:
    if made is None or item.recipe is None:
        return item
    x, y, z = (round(v, 6) for v in made.offset)
    place: Point = (x, y, z) if item.recipe.follows_hull else item.at_m
    mass = round(made.mass * item.factor, 9)
    return item if (mass, place) == (item.mass_kg, item.at_m) else dataclasses.replace(item, mass_kg=mass, at_m=place)
