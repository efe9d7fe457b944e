"""What puts an answer of Stability in, and what is taken from the tilt sensor."""

import dataclasses
import math

from yarekeel.core.quantities import Metres
from yarekeel.core.stability.inclining import Shift, with_shift
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.stability import floats, rolling
from yarekeel.units import parse
from yarekeel.web.stages.commands import Arguments, Command, Doing


class By(Arguments):
    by: Metres


class Height(Arguments):
    height: Metres


class Moved(Arguments):
    text: str = ""


class Nothing(Arguments):
    text: str = ""


def _lower(doing: Doing, a: By) -> Design:
    changed = floats.with_floats_lower(doing.design, a.by)
    Craft(changed).hull  # noqa: B018 a hull that cannot be built is refused here
    return changed


def _angle(doing: Doing, a: Moved) -> Design:
    """The angle it lies at, with how far the weight is moved."""
    moved = parse(a.text or "0", "length", doing.system, "tilt.angle")
    heel = round(math.degrees(doing.shelf.tilt(doing.boat).still()), 3)
    return dataclasses.replace(doing.design, incline=with_shift(doing.design.incline, Shift(moved, heel, practice=True)))


def _period(doing: Doing, a: Nothing) -> Design:
    """The period of the roll since the last push, as ten rolls."""
    fit = doing.shelf.tilt(doing.boat).fitted()
    limit = max(0.001, round(10 * fit.period.half_width / 2, 4))
    read = dataclasses.replace(
        doing.design.incline, rolls=10, time_s=round(10 * fit.period.value, 3), time_limit_s=limit, time_practice=True
    )
    return dataclasses.replace(doing.design, incline=read)


COMMANDS = (
    Command("answer.floats", By, _lower, "lower the floats"),
    Command("answer.vcg", Height, lambda doing, a: rolling.corrected(doing.craft, a.height), "correct heights by a test"),
    Command("tilt.angle", Moved, _angle, "take the angle"),
    Command("tilt.period", Nothing, _period, "take the period"),
)
REDRAWS: tuple[str, ...] = ()
