"""What would have to go for the boat to weigh what the brief asks: each a single change, with what it takes off."""

import dataclasses
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding
from yarekeel.core.quantities import Kilograms
from yarekeel.core.sources import MECHANICS
from yarekeel.core.weights.recipes.printed import Printed
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design, with_value

MOST_SHOWN = 6
MOST_OF_A_KIND = 3
LEAST_SHARE = 0.03
"""Of what has to go; less than this is not worth a line."""


@dataclass(frozen=True, slots=True)
class Lightening:
    """A change of one field (``path`` to ``value``), what it takes off, and whether the target is then met."""

    finding: Finding
    path: str
    value: float | bool
    saved: Kilograms
    reaches: bool


def lightenings(craft: Craft) -> tuple[Lightening, ...]:
    """Ways to the target, those that reach it first and of them the one that gives up least; none when it is met."""
    over = craft.mass - craft.design.brief.target_mass_kg if any(i.mass_kg > 0 for i in craft.items) else 0.0
    if over <= 0:
        return ()
    found = [*_left_out(craft, over), *_fewer(craft, over), *_thinner(craft, over)]
    worth = [f for f in found if f.saved >= LEAST_SHARE * over]
    order = sorted(worth, key=lambda f: (not f.reaches, f.saved if f.reaches else -f.saved))
    # A thing is not offered six times over: the best three of each kind.
    first: list[Lightening] = []
    kinds: dict[str, int] = {}
    for one in order:
        kinds[one.finding.code] = kinds.get(one.finding.code, 0) + 1
        if kinds[one.finding.code] <= MOST_OF_A_KIND:
            first.append(one)
    return tuple(first[:MOST_SHOWN])


def apply(craft: Craft, path: str) -> Design:
    """The design with one of the ways taken. Raises InvalidInput if it is not offered any more."""
    for way in lightenings(craft):
        if way.path == path:
            return with_value(craft.design, path, way.value)
    raise InvalidInput("weights", "That is not offered any more; the list has changed meanwhile.")


def _way(code: str, title: str, path: str, value: float | bool, saved: Kilograms, over: Kilograms, **values: float | str) -> Lightening:
    reaches = saved >= over - 1e-9
    finding = Finding(
        code,
        "holds" if reaches else "near",
        title,
        "Takes {saved:mass} off: {over:mass} has to go." if reaches else "Takes {saved:mass} off, of {over:mass} that has to go.",
        source=MECHANICS,
        values={"saved": saved, "over": over, **values},
    )
    return Lightening(finding=finding, path=path, value=value, saved=saved, reaches=reaches)


def _left_out(craft: Craft, over: Kilograms) -> Iterator[Lightening]:
    if craft.design.case:
        return
    loose = sorted((k for k, i in enumerate(craft.items) if i.mass_kg > 0 and not i.structure), key=lambda k: craft.items[k].mass_kg)
    enough = next((n for n, k in enumerate(loose) if craft.items[k].mass_kg >= over), len(loose))
    for k in loose[max(0, enough - 3) : enough + 3]:
        item = craft.items[k]
        yield _way("weights.leave_out", "Leave {name} ashore", f"weights.{k}.on", False, item.mass_kg, over, name=item.name)


def _fewer(craft: Craft, over: Kilograms) -> Iterator[Lightening]:
    for k, item in enumerate(craft.design.weights):
        aboard = craft.items[k].mass_kg
        if item.quantity < 2 or item.quantity != int(item.quantity) or aboard <= 0 or not item.on or craft.design.case:
            continue
        one = aboard / item.quantity
        fewer = min(int(item.quantity) - 1, max(1, math.ceil(over / one - 1e-9)))
        left = item.quantity - fewer
        title = "{left:count} of {name} instead of {all:count}"
        yield _way("weights.fewer", title, f"weights.{k}.quantity", left, fewer * one, over, name=item.name, left=left, all=item.quantity)


def _thinner(craft: Craft, over: Kilograms) -> Iterator[Lightening]:
    for k, item in enumerate(craft.design.weights):
        recipe, aboard = item.recipe, craft.items[k].mass_kg
        if aboard <= 0:
            continue
        if isinstance(recipe, Printed) and recipe.walls > 1:
            for walls in range(recipe.walls - 1, 0, -1):
                saved = aboard - _with(craft, k, walls=walls)
                if saved >= over or walls == 1:
                    title = "{name} with {walls:count} walls instead of {now:count}"
                    path = f"weights.{k}.recipe.walls"
                    yield _way(
                        "weights.walls", title, path, walls, saved, over, name=item.name, walls=float(walls), now=float(recipe.walls)
                    )
                    break
        if isinstance(recipe, Skin) and recipe.thickness_m > 0:
            whole = aboard - _with(craft, k, thickness_m=0.0)
            need = recipe.thickness_m * max(0.5, 1 - over / whole) if whole > 0 else recipe.thickness_m
            to = math.floor(need * 1e4) / 1e4  # a tenth of a millimetre
            saved = aboard - _with(craft, k, thickness_m=to)
            title, path = "{name} {to:thin} thick instead of {now:thin}", f"weights.{k}.recipe.thickness_m"
            yield _way("weights.thinner", title, path, to, saved, over, name=item.name, to=to, now=recipe.thickness_m)


def _with(craft: Craft, index: int, **changes: Any) -> Kilograms:
    """The mass aboard of a line whose recipe is changed."""
    item = craft.design.weights[index]
    recipe: Any = dataclasses.replace(item.recipe, **changes)  # type: ignore[type-var]
    lines = (*craft.design.weights[:index], dataclasses.replace(item, recipe=recipe), *craft.design.weights[index + 1 :])
    return Craft(dataclasses.replace(craft.design, weights=lines)).items[index].mass_kg
