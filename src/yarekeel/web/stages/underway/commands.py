"""What is done to the foils of a boat from its page."""

from typing import Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.stages.design.design import Design
from yarekeel.stages.shape import bodies
from yarekeel.stages.underway import fitting, foils
from yarekeel.web.stages.commands import Arguments, Command, Doing


class Where(Arguments):
    """At which end."""

    where: Literal["front", "rear"]


class OfFoil(Arguments):
    """The number of its body."""

    body: int


class Angled(OfFoil):
    """Degrees of its chord to the boat's x axis."""

    degrees: float


def _remove(doing: Doing, a: OfFoil) -> Design:
    if a.body not in fitting.numbers(doing.craft):
        raise InvalidInput("foils.remove", "There is no such foil on this boat.")
    return bodies.removed(doing.craft, a.body)[0]


COMMANDS = (
    Command("foils.add", Where, lambda doing, a: fitting.added(doing.craft, a.where), "add a foil", redraws=("form", "more")),
    Command("foils.remove", OfFoil, _remove, "remove a foil", redraws=("form", "more")),
    Command("foils.angle", Angled, lambda doing, a: foils.with_angle(doing.design, a.body, a.degrees), "set a foil's angle"),
)
REDRAWS = ("bodies.*.shape.flap",)
