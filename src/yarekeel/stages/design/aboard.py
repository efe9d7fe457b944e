"""What is aboard in a load case: quantities, recipes and pairs worked out, one line for every line of the list."""

import dataclasses
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from functools import cached_property
from typing import Any, cast

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Point, Ratio
from yarekeel.core.weights.inertia import inertia_of
from yarekeel.core.weights.items import SPREAD, WeightItem
from yarekeel.core.weights.materials import MATERIALS, Material
from yarekeel.core.weights.recipes import AnyRecipe, Basis, Made
from yarekeel.core.weights.recipes.tank import Tank
from yarekeel.stages.design.design import Design


@dataclass(frozen=True, eq=False)
class Aboard:
    """``items`` are the list as it acts on the water, in its order: the mass of all there are of a line, at their common
    centre; what is not aboard weighs 0. ``made`` is what each line's recipe gave, ``faults`` (line, sentence) why one could
    not and its last mass stands, ``beside`` how far from the centreline the two of a pair are."""

    items: tuple[WeightItem, ...]
    made: tuple[Made | None, ...]
    faults: tuple[tuple[int, str], ...]
    beside: tuple[float, ...]

    @cached_property
    def inertia(self) -> Floats:
        """Tensor (3, 3) about the centre of gravity, kg m2, boat axes; the two of a pair stand apart."""
        own = np.zeros((3, 3))
        for item, made, away in zip(self.items, self.made, self.beside, strict=True):
            if made is not None and made.mass > 0:
                own = own + made.inertia * (item.mass_kg / made.mass)
            if away:
                own = own + item.mass_kg * away**2 * np.diag([1.0, 0.0, 1.0])
        return inertia_of([i.mass_kg for i in self.items], [i.at_m for i in self.items]) + own


def aboard_of(design: Design, body: Callable[[str], Hull]) -> Aboard:
    """The list in the design's load case; ``body`` gives a body's hull by its name, the whole hull for no name."""
    case = next((c for c in design.cases if c.name == design.case), None)
    counts = {c.item: c.quantity for c in case.counts} if case else {}
    items: list[WeightItem] = []
    made: list[Made | None] = []
    faults: list[tuple[int, str]] = []
    beside: list[float] = []
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
        items.append(one)
        made.append(result)
        beside.append(y if twice else 0.0)
    return Aboard(tuple(items), tuple(made), tuple(faults), tuple(beside))


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
