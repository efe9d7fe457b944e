"""Changes solved together: the least of each that, with the others, mends what all of them are for and breaks nothing else."""

import dataclasses
import itertools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Values
from yarekeel.core.quantities import Ratio
from yarekeel.core.search import edge
from yarekeel.core.sources import COMMON_PRACTICE
from yarekeel.stages.changes import aims
from yarekeel.stages.changes.change import Change, NoWay, Solved, Way
from yarekeel.stages.changes.register import CHANGES
from yarekeel.stages.changes.solving import no_answer, solve
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.judge import at_rest, judge

MOST = 3
"""Changes that are joined at most."""
SCANNED = 5
"""Steps over which the way to all of them at once is looked at."""
CLOSE: Ratio = 2e-3
"""Of a range: an amount is known to that."""
KEPT = "The boat keeps already what these are to mend."
ROUNDS = 2
"""Times that each is made less with the others as they are."""


@dataclass(frozen=True, slots=True)
class Step:
    """A change in its turn: how it goes on the boat that those before it made, and the share of its range that is taken."""

    change: Change
    way: Way
    share: Ratio
    amount: float


@dataclass(frozen=True, eq=False)
class Joined:
    """The boat with all of them, None where they have no answer together; ``shares`` of their ranges in the order
    in which they are made, 0 for one that the others do without."""

    solved: Solved
    steps: tuple[Step, ...] = ()
    craft: Craft | None = None
    shares: tuple[Ratio, ...] = ()


def ordered(codes: Sequence[str]) -> tuple[Change, ...]:
    """The changes in the order they are made: those with one amount of their own (level it, ballast that levels) last, since they answer
    the boat that the others made. Raises InvalidInput."""
    if not 2 <= len(set(codes)) <= MOST or any(c not in CHANGES for c in codes):
        raise InvalidInput("join", f"Tick two changes to join, or {MOST}.")
    rows = [CHANGES[c] for c in dict.fromkeys(codes)]
    return tuple(sorted(rows, key=lambda row: row.aim is None))


def margin_of(base: Craft, changes: Sequence[Change]) -> Callable[[Craft], Ratio]:
    """What all of them together must keep: what each is to mend, with every limit at rest that the boat keeps now and nothing of its drive
    failing that does not fail now."""
    wanted = tuple(dict.fromkeys(c.aim or aims.LEVEL for c in changes))
    rows = at_rest(base)
    now = judge(Figures(base), rows).margins
    held = tuple(row for row in rows if now.get(row.code, 0.0) >= 0)
    fails = set(aims.failing(base))

    def margin(craft: Craft) -> Ratio:
        least = min(judge(Figures(craft), held).margins.values(), default=aims.SPARE)
        least = min(least, -float(len(set(aims.failing(craft)) - fails)) or aims.SPARE)
        for aim in wanted:
            least = min(least, aim.margin(craft)) if least >= 0 else least
        return least

    return margin


def made(base: Craft, changes: Sequence[Change], shares: Sequence[Ratio]) -> tuple[Craft, tuple[Step, ...]]:
    """The boat with so much of each, one after the other. A change that is not wanted (a share of nothing) is left out. Raises InvalidInput
    where it cannot be built, NoWay where one of them has no way on what the others made."""
    boat, steps = base, []
    for change, share in zip(changes, shares, strict=True):
        if share == 0:
            continue
        way = change.way(boat)
        amount = _amount(way, share)
        boat = way.built(amount)
        steps.append(Step(change, way, share, amount))
    return boat, tuple(steps)


def _amount(way: Way, share: Ratio) -> float:
    amount = way.low + share * (way.high - way.low)
    return way.low + math.copysign(math.ceil(abs(amount - way.low) / way.step - 1e-6), share) * way.step if way.step else amount


def solve_together(base: Craft, codes: Sequence[str]) -> Joined:
    """The changes joined: first all at once, in proportion to what each would need alone, then each as little as the others allow. Raises
    InvalidInput for fewer than two, more than three, or unknown ones."""
    changes = ordered(codes)
    prefix = "fix"
    name = "+".join(c.code for c in changes)
    title = " and ".join(c.title[:1].lower() + c.title[1:] if k else c.title for k, c in enumerate(changes))
    stand_in = dataclasses.replace(changes[0], code=name, title=title)
    margin = margin_of(base, changes)
    free = [k for k, c in enumerate(changes) if c.aim is not None]
    alone = [_alone(base, c) for c in changes]

    def at(shares: Sequence[Ratio]) -> Ratio:
        try:
            return margin(made(base, changes, shares)[0])
        except (InvalidInput, NoWay):
            return -math.inf

    if at([0.0] * len(changes)) >= 0:
        return Joined(no_answer(prefix, stand_in, KEPT, {}))
    needed = [k for k in free if (aim := changes[k].aim) is not None and aim.margin(base) < 0]
    tries = [(which, leaning) for which in (needed, free) for leaning in leanings(len(which))]
    shares = next(
        (s for which, leaning in tries if (s := _along(at, alone, free, dict(zip(which, leaning, strict=True)))) is not None), None
    )
    if shares is None:
        return Joined(no_answer(prefix, stand_in, "No amounts of them together mend it without breaking something else.", {}))
    for _ in range(ROUNDS):
        for k in free:
            shares = _less(at, shares, k)
    craft, steps = made(base, changes, shares)
    idle = tuple(c.title for c, share in zip(changes, shares, strict=True) if share == 0)
    return Joined(_said(prefix, name, steps, craft, idle), steps, craft, tuple(shares))


LEANS: tuple[Ratio, ...] = (1.0, 0.4, 0.1)
"""Of what one would need alone: ways in which one of several does less than its share."""


def leanings(count: int) -> list[tuple[Ratio, ...]]:
    """Proportions in which several changes are tried, all alike first; one of them always does its whole share."""
    return sorted((p for p in itertools.product(LEANS, repeat=count) if not p or max(p) == 1.0), key=lambda p: -sum(p))


def _along(
    at: Callable[[Sequence[Ratio]], Ratio], alone: Sequence[Ratio], free: Sequence[int], part: Mapping[int, Ratio]
) -> list[Ratio] | None:
    """The first shares that keep it, in proportion to what each needs alone times its ``part``; None where none do. Of those that have an
    amount, what has no part is left out."""

    def shares(t: Ratio) -> list[Ratio]:
        return [math.copysign(min(abs(a) * part.get(k, 0.0) * t, 1.0), a) if k in free else 1.0 for k, a in enumerate(alone)]

    if not part:
        return shares(1.0) if at(shares(1.0)) >= 0 else None
    longest = max(1 / (abs(alone[k]) * p) for k, p in part.items())
    scan = sorted({*(longest * (k / SCANNED) ** 2 for k in range(1, SCANNED + 1)), 1.0})
    below = 0.0
    for t in scan:
        if at(shares(t)) >= 0:
            return shares(edge(lambda t: at(shares(t)), below, t, CLOSE * longest))
        below = t
    return None


def _alone(base: Craft, change: Change) -> Ratio:
    """What share of its range a change needs alone for what it is to mend; the whole where it has no answer."""
    answer = solve(base, change, "fix")
    if answer.way is None or answer.amount == answer.way.low:
        return 1.0
    return (answer.amount - answer.way.low) / (answer.way.high - answer.way.low)


def _less(at: Callable[[Sequence[Ratio]], Ratio], shares: list[Ratio], k: int) -> list[Ratio]:
    """As little of one as the others allow, none at all if they do without."""

    def with_share(share: Ratio) -> list[Ratio]:
        return [share if n == k else s for n, s in enumerate(shares)]

    if at(with_share(0.0)) >= 0:
        return with_share(0.0)
    below = 0.0
    for step in range(1, SCANNED + 1):  # it may help, then harm: the first stretch that keeps it
        share = shares[k] * step / SCANNED
        if at(with_share(share)) >= 0:
            return with_share(edge(lambda s: at(with_share(s)), below, share, CLOSE))
        below = share
    return shares


def _said(prefix: str, name: str, steps: Sequence[Step], craft: Craft, idle: Sequence[str]) -> Solved:
    """Titles and work of all, each with its own values."""
    titles: list[str] = []
    works: list[str] = []
    values: dict[str, float | str] = {}
    for n, step in enumerate(steps):
        for words, into in ((step.way.title, titles), (step.way.work, works)):
            text, found = words(step.amount, craft)
            into.append(_numbered(text, found, n))
            values |= {f"{key}_{n}": value for key, value in found.items()}
    title = "; ".join(t[:1].lower() + t[1:] if k else t for k, t in enumerate(titles))
    works += [f"{words[:1].lower()}{words[1:]}: not needed beside that" for words in idle]
    code = f"{prefix}.{name}"
    return Solved(
        code,
        Finding(code, "note", title, "", source=COMMON_PRACTICE, values=values),
        Finding(code, "note", "; ".join(works), "", source=COMMON_PRACTICE, values=values),
        craft.design,
    )


def _numbered(text: str, values: Values, n: int) -> str:
    """A sentence whose places are named apart from those of other sentences."""
    for key in values:
        text = text.replace(f"{{{key}:", f"{{{key}_{n}:").replace(f"{{{key}}}", f"{{{key}_{n}}}")
    return text
