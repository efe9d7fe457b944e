"""What a boat with a fix is compared by: a row each, with which way is better and from what step on it counts."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from yarekeel.core.errors import InvalidInput, YareKeelError
from yarekeel.core.kept import kept
from yarekeel.core.once import cached_property
from yarekeel.core.quantities import Ratio
from yarekeel.stages.changes.aims import failing
from yarekeel.stages.changes.takes import Takes
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive import match
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.outcome import Outcome, outcome_of
from yarekeel.stages.stability.plain_tests import Tested, worst
from yarekeel.stages.underway import flip

Group = Literal["afloat", "tipped", "running", "work"]
GROUPS: tuple[tuple[Group, str], ...] = (("afloat", "Afloat"), ("tipped", "Tipped"), ("running", "Under way"), ("work", "Work and cost"))


class Priced:
    """A boat with a fix, and each of its figures as it is asked for: what none asks for is not worked out."""

    def __init__(self, craft: Craft, takes: Takes | None = None) -> None:
        self.craft, self.takes = craft, takes

    @cached_property
    def outcome(self) -> Outcome | None:
        """How it floats; None where it sinks."""
        return outcome_of(self.craft)

    @cached_property
    def figures(self) -> Figures:
        """Its figures tipped."""
        return Figures(self.craft)

    @cached_property
    def test(self) -> Tested | None:
        """The plain test that leaves it worst off."""
        try:
            return worst(self.figures.tests)
        except (InvalidInput, YareKeelError):
            return None

    @cached_property
    def match(self) -> match.Match | None:
        """Thrust against drag; None for a boat that does not run."""
        try:
            return match.assess(self.craft)
        except (InvalidInput, YareKeelError):
            return None

    @cached_property
    def flips_at(self) -> float | None:
        """The flip speed in calm air, where it is one that its drive might reach; None where not."""
        m = self.match
        if m is None or not self.craft.design.drive.motors:
            return None
        try:
            found = flip.assess(self.craft)
        except (InvalidInput, YareKeelError):
            return None
        return found.calm if found is not None and math.isfinite(found.calm) and found.calm < FLIP_MATTERS * m.top.speed else None

    @cached_property
    def misses(self) -> tuple[str, ...]:
        """What of the brief it misses, with what of its drive fails."""
        drive = ("the drive",) if failing(self.craft) else ()
        return (*(self.outcome.misses if self.outcome else ("floating at all",)), *drive)


FLIP_MATTERS = 3.0
"""Top speeds up to which a flip speed is worth telling."""


@kept
def priced(craft: Craft, takes: Takes | None = None) -> Priced:
    """A boat's figures, kept while there is room."""
    return Priced(craft, takes)


Value = Callable[[Priced], float | None]


@dataclass(frozen=True, slots=True)
class Column:
    """A row: its heading, its group, the units' kind, the figure (SI), which way is better (1 more, -1 less, 0 neither; by its size where
    ``of_size``) and from what difference on."""

    code: str
    title: str
    group: Group
    kind: str
    of: Value
    better: int = 0
    step: float = 0.0
    of_size: bool = False

    def key(self, p: Priced) -> float | None:
        """What it is ordered by: more is better."""
        value = self.of(p)
        if value is None:
            return None
        return (self.better or 1) * (abs(value) if self.of_size else value)

    def gain(self, p: Priced, now: Priced) -> int:
        """1 where it is better than now, -1 where worse, 0 where neither."""
        a, b = self.key(p), self.key(now)
        if a is None or b is None or not self.better or abs(a - b) < self.step:
            return 0
        return 1 if a > b else -1


def _afloat(name: str) -> Value:
    return lambda p: None if p.outcome is None else float(getattr(p.outcome, name))


def _running(of: Callable[[match.Match], float]) -> Value:
    def value(p: Priced) -> float | None:
        found = of(p.match) if p.match is not None and p.craft.design.drive.motors else math.inf
        return found if math.isfinite(found) else None

    return value


def _lean(p: Priced) -> float | None:
    return None if p.test is None else math.pi if p.test.lean is None else p.test.lean


def _range(p: Priced) -> float | None:
    try:
        return p.figures["range"]
    except (InvalidInput, YareKeelError):
        return None


DEGREE = math.radians(0.05)
ROWS: tuple[Column, ...] = (
    Column("trim", "Trim", "afloat", "trim", _afloat("trim"), -1, DEGREE, of_size=True),
    Column("heel", "Heel", "afloat", "heel", _afloat("heel"), -1, DEGREE, of_size=True),
    Column("freeboard", "Freeboard", "afloat", "length", _afloat("freeboard"), 1, 5e-4),
    Column("gm", "GM", "afloat", "length", _afloat("gm"), 1, 5e-4),
    Column("draft", "Draft", "afloat", "draft", _afloat("draft")),
    Column("mass", "All-up mass", "afloat", "mass", _afloat("mass"), -1, 5e-5),
    Column("carried", "Carried ashore", "afloat", "mass", lambda p: sum(i.mass_kg for i in p.craft.items if i.group != "crew"), -1, 5e-5),
    Column("gm_tipped", "GM", "tipped", "length", _afloat("gm"), 1, 5e-4),
    Column("range", "Range", "tipped", "angle", _range, 1, math.radians(0.5)),
    Column("test", "Worst plain test", "tipped", "angle", _lean, -1, math.radians(0.2)),
    Column("ratio", "Thrust to weight", "running", "ratio", _afloat("thrust_to_weight"), 1, 0.005),
    Column("top", "Top speed", "running", "speed", _running(lambda m: m.top.speed), 1, 0.01),
    Column("time", "Run time, flat out", "running", "minutes", _running(lambda m: m.top.time), 1, 5.0),
    Column("far", "Goes farthest", "running", "distance", _running(lambda m: m.economical.distance), 1, 5.0),
    Column("flip", "Goes over at", "running", "speed", lambda p: p.flips_at, 1, 0.05),
    Column("hours", "Work", "work", "hours", lambda p: p.takes.hours if p.takes else None, -1, 0.1),
    Column("cost", "Cost", "work", "cost", lambda p: float(p.takes.cost) if p.takes else None, -1, 0.5),
)


def of_group(group: Group) -> tuple[Column, ...]:
    """The columns of a group."""
    return tuple(row for row in ROWS if row.group == group)


def gain_for_effort(p: Priced, now: Priced) -> Ratio:
    """Limits that it mends, less those that it breaks, for each hour of its work; half a limit counts for a boat that only comes out
    better in more figures afloat than it comes out worse in."""
    if p.takes is None:
        return 0.0
    mended = len(set(now.misses) - set(p.misses)) - len(set(p.misses) - set(now.misses))
    sides = sum(row.gain(p, now) for row in of_group("afloat"))
    return (mended + 0.5 * (sides > 0) - 0.5 * (sides < 0)) / p.takes.hours
