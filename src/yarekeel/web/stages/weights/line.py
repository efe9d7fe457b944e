"""The line in hand: everything about one weight, and its estimate with every assumption."""

from dataclasses import dataclass

from yarekeel.core.parameters import parameters_of
from yarekeel.core.weights.recipes import RECIPES
from yarekeel.core.weights.recipes.person import Person
from yarekeel.web.shared.fields import Field
from yarekeel.web.stages.page_request import PageRequest


@dataclass(frozen=True)
class WeightForm:
    """A weight in hand."""

    index: int
    name: str
    fields: tuple[Field, ...]
    recipe: str
    recipe_title: str
    recipes: tuple[tuple[str, str], ...]
    parameters: tuple[Field, ...]
    facts: tuple[tuple[str, str, str], ...]
    sum: str
    fault: str
    photo: str
    corrected: bool
    sits: bool


def line_of(asked: PageRequest, index: int) -> WeightForm:
    """The fields of line ``index`` that the table has no room for, its recipe's parameters and what they gave."""
    craft, say = asked.craft, asked.reader.say
    item, acting, made = asked.design.weights[index], craft.items[index], craft.aboard.made[index]
    hidden = ({"pair"} if item.fixed else set()) | ({"material"} if hasattr(item.recipe, "material") else set())
    fields = [asked.field(f"weights.{index}.{name}", hint) for name, hint in _FIELDS if name not in hidden]
    parameters: list[Field] = []
    if item.recipe is not None:
        parameters = [asked.field(f"weights.{index}.recipe.{p.name}", p.meaning) for p in parameters_of(item.recipe)]
    total = ""
    if made is not None:
        total = f"{say(made.mass, 'mass')} by the sum"
        if abs(item.factor - 1) > 5e-4:
            total += f", times {item.factor:.3g} as corrected"
        total += f"; its materials' range makes it unsure by ±{say(made.spread, 'percent')}" if made.spread else ""
    if acting.mass_kg > 0 and item.spread is None:
        total += ("; " if total else "") + f"counted ±{say(acting.share, 'percent')}"
    if acting.mass_kg > 0:
        x, y, z = (say(w, "draft") for w in acting.place_width)
        total += ("; " if total else "") + f"its place ±{x} along, ±{y} across, ±{z} up"
    fault = next((sentence for k, sentence in craft.aboard.faults if k == index), "")
    return WeightForm(
        index=index,
        name=item.name,
        fields=tuple(fields),
        recipe=item.recipe.kind if item.recipe else "",
        recipe_title=item.recipe.title if item.recipe else "",
        recipes=_recipes(asked),
        parameters=tuple(parameters),
        facts=tuple((f.label, say(f.value, f.units_kind), f.note) for f in made.facts) if made else (),
        sum=total,
        fault=f"{fault} Its last mass is kept." if fault else "",
        photo=item.photo,
        corrected=item.recipe is not None and abs(item.factor - 1) > 5e-4,
        sits=isinstance(item.recipe, Person) and item.recipe.posture != "standing",
    )


def _recipes(asked: PageRequest) -> tuple[tuple[str, str], ...]:
    """The estimates; where people go aboard the person first."""
    people = asked.design.brief.kind == "people"
    kinds = sorted(RECIPES, key=lambda kind: not (people and kind == Person.kind))
    return tuple((kind, RECIPES[kind].title) for kind in kinds)


_FIELDS = (
    ("on", ""),
    ("pair", ""),
    ("material", "for what it weighs under water"),
    ("spread", "empty: the usual for how it is known"),
    ("place_spread_m", "empty: the usual for how it is known"),
    ("moves_with", "a name from the list: it goes where that goes"),
    ("together", "a word that all share whose errors are the same"),
    ("hung_m", "0 for what lies or stands; what swings acts where it hangs from"),
    ("note", ""),
)
