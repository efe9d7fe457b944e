"""What is done with compartments, and what puts an answer of Float in."""

import dataclasses
import re

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Kilograms, Metres, Newtons, Point, Ratio
from yarekeel.stages.afloat import compartments, forced
from yarekeel.stages.changes import loading
from yarekeel.stages.changes.ways import added_float, foam, tank
from yarekeel.stages.design import listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.units import parse
from yarekeel.web.stages.commands import Arguments, Command, Doing


class Inside(Arguments):
    body: str


class Divided(Inside):
    text: str


class Space(Arguments):
    space: int


class Move(Arguments):
    line: int
    place: Point


class Moves(Arguments):
    moves: list[Move]


class Load(Arguments):
    name: str
    group: str
    material: str = ""
    mass: Kilograms
    place: Point


class Foam(Arguments):
    spare: Kilograms
    material: str = "xps"


class Tank(Arguments):
    inlet_out: Metres = 0.0


class Trim(Arguments):
    lead_x: Metres
    foam_x: Metres


class Float(Arguments):
    what: added_float.What
    throttle: Ratio
    tow: Newtons
    tow_at: Point
    hand: Newtons
    wind: float


def _divide(doing: Doing, a: Divided) -> Design:
    """Places of bulkheads as typed: 300 mm, 0.8 m."""
    typed = [t for t in re.split(r"[;,]\s+|;|\s+and\s+", a.text.strip()) if t.strip()]
    places = [parse(t, "length", doing.system, "compartments.divide") for t in typed]
    return compartments.divided(doing.craft, a.body, places)


def _move(doing: Doing, a: Moves) -> Design:
    craft = doing.craft
    for one in a.moves:
        if not 0 <= one.line < len(craft.design.weights):
            raise InvalidInput("answer.move", "There is no such weight any more.")
        craft = Craft(listing.put(craft, one.line, one.place))
    return craft.design


def _foam(doing: Doing, a: Foam) -> Design:
    """Solved again, so that it fits the boat as it is."""
    return foam.with_foam(doing.craft, foam.foam_for(doing.craft, a.spare, a.material), a.material)


def _tank(doing: Doing, a: Tank) -> Design:
    one = tank.tank_for(doing.craft, a.inlet_out)
    return dataclasses.replace(doing.design, compartments=(*doing.design.compartments, one))


def _float(doing: Doing, a: Float) -> Design:
    forces = forced.checked(forced.Forces(throttle=a.throttle, tow=a.tow, tow_at=a.tow_at, hand=a.hand, wind=a.wind))
    return added_float.with_float(doing.craft, added_float.sized(doing.craft, forces, a.what))


COMMANDS = (
    Command("compartments.add", Inside, lambda doing, a: compartments.with_one(doing.craft, a.body), "compartments"),
    Command("compartments.divide", Divided, _divide, "compartments"),
    Command("compartments.remove", Space, lambda doing, a: compartments.without(doing.design, a.space), "compartments"),
    Command("answer.move", Moves, _move, "move weights"),
    Command(
        "answer.load",
        Load,
        lambda doing, a: loading.with_load(
            craft=doing.craft, load=loading.Load(a.mass, a.place), name=a.name, group=a.group, material=a.material
        ),
        "add a weight",
    ),
    Command("answer.foam", Foam, _foam, "add foam"),
    Command("answer.tank", Tank, _tank, "add a ballast tank"),
    Command(
        "answer.trim",
        Trim,
        lambda doing, a: tank.with_trim(doing.craft, tank.trim_out(doing.craft, a.lead_x, a.foam_x)),
        "trim with lead and foam",
    ),
    Command("answer.size", Float, _float, "add a float"),
)
REDRAWS = ("compartments.*.*",)
