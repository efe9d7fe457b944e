"""What is done to the bodies of a boat."""

from collections.abc import Callable

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Point
from yarekeel.exchange import offsets_csv
from yarekeel.stages.design import editing, resizing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.shape import bodies
from yarekeel.web.stages.commands import Arguments, Command, Doing, Done


class Family(Arguments):
    family: str


class Body(Arguments):
    body: int


class Arranged(Body):
    what: str


class Station(Body):
    station: str = ""


class Pasted(Body):
    text: str


class Opening(Body):
    opening: int


class Change(Body):
    change: int


class Stretched(Arguments):
    factors: Point


def _known(craft: Craft, number: int) -> int:
    if not 0 <= number < len(craft.design.bodies):
        raise InvalidInput("bodies", "There is no such body.")
    return number


def _shown(result: tuple[Design, int]) -> Done:
    """A body that was made or moved is the one asked about next."""
    design, number = result
    return Done(design, {"body": str(number)})


def _on_body(act: Callable[[Craft, int], tuple[Design, int]]) -> Callable[[Doing, Body], Done]:
    return lambda doing, a: _shown(act(doing.craft, _known(doing.craft, a.body)))


def _named(verb: str) -> Callable[[Body, Design], str]:
    return lambda a, design: f"{verb} {design.bodies[min(a.body, len(design.bodies) - 1)].name}"


def _paste(doing: Doing, a: Pasted) -> Done:
    number = _known(doing.craft, a.body)
    table = offsets_csv.read(a.text, "bodies.paste", doing.system.length.si, doing.design.bodies[number].shape)
    return Done(editing.set_field(doing.craft, f"bodies.{number}.shape", table), {"body": str(number)})


def _moved_change(how: str) -> Callable[[Doing, Change], Done]:
    return lambda doing, a: _shown(bodies.moved_change(doing.craft, _known(doing.craft, a.body), a.change, how))


def _stretched(doing: Doing, a: Stretched) -> Design:
    changed = resizing.stretched(doing.craft, a.factors)
    Craft(changed).hull  # noqa: B018 a hull that cannot be built is refused here
    return changed


COMMANDS = (
    Command("boat.stretch", Stretched, _stretched, "stretch"),
    Command(
        "bodies.add",
        Family,
        lambda doing, a: _shown(bodies.added(doing.craft, a.family)),
        lambda a, design: f"add {design.bodies[-1].name}",
    ),
    Command("bodies.duplicate", Body, _on_body(bodies.duplicated), _named("duplicate")),
    Command("bodies.remove", Body, _on_body(bodies.removed), "remove a body"),
    Command("bodies.up", Body, _on_body(bodies.swapped(-1)), "order of the bodies"),
    Command("bodies.down", Body, _on_body(bodies.swapped(1)), "order of the bodies"),
    Command(
        "bodies.arrange",
        Arranged,
        lambda doing, a: _shown(bodies.arranged(doing.craft, _known(doing.craft, a.body), a.what)),
        _named("arrange"),
    ),
    Command("bodies.table", Body, _on_body(bodies.to_table), _named("table")),
    Command("bodies.paste", Pasted, _paste, _named("paste")),
    Command(
        "bodies.change",
        Arranged,
        lambda doing, a: _shown(bodies.changed(doing.craft, _known(doing.craft, a.body), a.what)),
        _named("change"),
    ),
    Command("bodies.change_up", Change, _moved_change("up"), _named("order of changes of")),
    Command("bodies.change_down", Change, _moved_change("down"), _named("order of changes of")),
    Command("bodies.change_remove", Change, _moved_change("remove"), _named("remove a change of")),
    Command("bodies.work_in", Body, _on_body(bodies.worked_in), _named("work in changes of")),
    Command(
        "bodies.add_station",
        Station,
        lambda doing, a: _shown(bodies.with_station(doing.craft, _known(doing.craft, a.body), a.station)),
        _named("add a station of"),
    ),
    Command(
        "bodies.drop_station",
        Station,
        lambda doing, a: _shown(bodies.without_station(doing.craft, _known(doing.craft, a.body), a.station)),
        _named("remove a station of"),
    ),
    Command("bodies.opening", Body, _on_body(bodies.with_opening), _named("add an opening of")),
    Command(
        "bodies.opening_remove",
        Opening,
        lambda doing, a: _shown(bodies.without_opening(doing.craft, _known(doing.craft, a.body), a.opening)),
        _named("remove an opening of"),
    ),
)
REDRAWS = ("bodies.*.shape.kind", "bodies.*.role", "bodies.*.name", "bodies.*.shape.changes.**", "bodies.*.shape.sections")
