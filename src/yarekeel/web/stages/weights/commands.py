"""What is done to the list of weights, the load cases, the boat's own materials, and with the scale."""

import re
from collections.abc import Callable

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Point
from yarekeel.core.weights.weigh_in import READINGS
from yarekeel.exchange import weights_csv
from yarekeel.stages.changes import lightening
from yarekeel.stages.design import editing, listing
from yarekeel.stages.design.design import Design
from yarekeel.stages.weights import weigh_in
from yarekeel.web.shared.fields import spec_of
from yarekeel.web.stages.commands import Arguments, Command, Doing


class OfLine(Arguments):
    line: int


class Placed(OfLine):
    place: Point


class Estimated(OfLine):
    kind: str


class Many(Arguments):
    lines: list[int]


class Grouped(Many):
    to: str


class Text(Arguments):
    text: str = ""


class Case(Arguments):
    case: int


class Material(Arguments):
    material: int


class Taken(Arguments):
    number: int
    path: str


def _known(doing: Doing, line: int) -> int:
    if not 0 <= line < len(doing.design.weights):
        raise InvalidInput("weights", "There is no such weight in the list.")
    return line


def _on_case(act: Callable[[Design, int], Design]) -> Callable[[Doing, Case], Design]:
    def done(doing: Doing, a: Case) -> Design:
        if not 0 <= a.case < len(doing.design.cases):
            raise InvalidInput("cases", "There is no such load case.")
        return act(doing.design, a.case)

    return done


def _on_many(act: Callable[[Design, list[int]], Design]) -> Callable[[Doing, Many], Design]:
    def done(doing: Doing, a: Many) -> Design:
        if not a.lines:
            raise InvalidInput("weights", "Choose the lines first: tick the boxes at their left.")
        return act(doing.design, [_known(doing, k) for k in a.lines])

    return done


def _to(act: Callable[[Design, list[int], str], Design]) -> Callable[[Doing, Grouped], Design]:
    return lambda doing, a: _on_many(lambda design, lines: act(design, lines, a.to))(doing, a)


def _take(doing: Doing, a: Taken) -> Design:
    if a.path.partition(".")[2] not in READINGS or not re.fullmatch(r"weigh_in\.\w+_kg", a.path):
        raise InvalidInput("scale.take", "Say which reading is taken, and for what.")
    taken = doing.shelf.scale(doing.boat).take(a.number, f"{doing.design.name} {a.path}")
    design = editing.set_field(doing.craft, a.path, round(taken, 6))
    return editing.as_practice(design, a.path.partition(".")[2])


def _paste(doing: Doing, a: Text) -> Design:
    return listing.appended(doing.design, weights_csv.read(a.text, "weights.paste", doing.system, doing.craft))


COMMANDS = (
    Command(
        "weights.place",
        Placed,
        lambda doing, a: listing.put(doing.craft, _known(doing, a.line), a.place),
        lambda a, design: f"move {design.weights[a.line].name}",
        redraws=(),
    ),
    Command("weights.recipe", Estimated, lambda doing, a: listing.with_recipe(doing.craft, _known(doing, a.line), a.kind), "estimate"),
    Command(
        "weights.uncorrect", OfLine, lambda doing, a: listing.uncorrected(doing.design, _known(doing, a.line)), "take the estimate as it is"
    ),
    Command("weights.person", Arguments, lambda doing, a: listing.with_person(doing.craft), "add a person"),
    Command("weights.postures", OfLine, lambda doing, a: listing.with_postures(doing.craft, _known(doing, a.line)), "seated and standing"),
    Command("weights.no_photo", OfLine, lambda doing, a: listing.with_photo(doing.design, _known(doing, a.line), ""), "remove a photo"),
    Command("weights.many.remove", Many, _on_many(listing.removed), "remove weights"),
    Command("weights.many.duplicate", Many, _on_many(listing.duplicated), "duplicate weights"),
    Command("weights.many.on", Many, _on_many(lambda design, lines: listing.aboard_or_not(design, lines, on=True)), "put aboard"),
    Command("weights.many.off", Many, _on_many(lambda design, lines: listing.aboard_or_not(design, lines, on=False)), "put ashore"),
    Command("weights.many.group", Grouped, _to(listing.in_group), "group"),
    Command("weights.paste", Text, _paste, "paste"),
    Command("weights.lighten", Text, lambda doing, a: lightening.apply(doing.craft, a.text), "lighten"),
    Command("weights.correct", Text, lambda doing, a: weigh_in.corrected(doing.craft, a.text), "correct the list"),
    Command("cases.add", Text, lambda doing, a: listing.with_case(doing.design, a.text), "add a load case"),
    Command("cases.use", Text, lambda doing, a: listing.in_force(doing.design, a.text), "load in force"),
    Command("cases.duplicate", Case, _on_case(listing.with_case_copied), "duplicate a load case"),
    Command("cases.remove", Case, _on_case(listing.without_case), "remove a load case"),
    Command("materials.add", Text, lambda doing, a: listing.with_material(doing.design, a.text), "add a material"),
    Command("materials.remove", Material, lambda doing, a: listing.without_material(doing.design, a.material), "remove a material"),
    Command("scale.take", Taken, _take, lambda a, design: f"take {spec_of(design, a.path).label.lower()}"),
)
REDRAWS = ("case", "cases.*.name", "cases.*.counts.*", "weights.*.recipe.**", "weights.*.pair", "weigh_in.*", "materials.**")
