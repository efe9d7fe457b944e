"""What puts an answer of Sizing in."""

from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.sizing import size_map, sizing, stock
from yarekeel.web.stages.commands import Arguments, Command, Doing


class Resized(Arguments):
    unknown: str
    value: float


class Point(Arguments):
    across: str
    x: float
    up: str
    y: float


class Stocked(Arguments):
    path: str
    size: str


def _built(design: Design) -> Design:
    """The same design. Raises InvalidInput for a hull that cannot be built."""
    Craft(design).hull  # noqa: B018 refused here
    return design


def _resize(doing: Doing, a: Resized) -> Design:
    return _built(sizing.with_unknown(doing.craft, sizing.unknown(doing.craft, a.unknown).path, a.value))


COMMANDS = (
    Command("answer.resize", Resized, _resize, "resize"),
    Command(
        "answer.point",
        Point,
        lambda doing, a: _built(size_map.at_point(craft=doing.craft, across=a.across, x=a.x, up=a.up, y=a.y)),
        "take a point of the size map",
    ),
    Command("answer.stock", Stocked, lambda doing, a: stock.taken(doing.craft, a.path, a.size), "take a size off the shelf"),
)
REDRAWS = ("brief.kind",)
