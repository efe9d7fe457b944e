"""Fixes of the drive: pitch, size and cells, each the least that leaves no verdict of the drive failing."""

from collections.abc import Callable
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, YareKeelError
from yarekeel.core.findings import Finding, Values
from yarekeel.core.propulsion.drive import cells_in
from yarekeel.core.quantities import Ratio
from yarekeel.core.sources import COMMON_PRACTICE
from yarekeel.stages.changes.change import NoWay, Solved
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.drive import drive, pack_verdicts
from yarekeel.stages.drive.what_if import WhatIf, altered

STEP: Ratio = 0.05
"""Between two shares of pitch or size that are tried: propellers are not sold closer."""
MOST_STEPS = 10
MOST_CELLS = 4
"""More than are fitted."""


@dataclass(frozen=True, slots=True)
class DriveFix:
    """A row: its code, what it is called with an amount, what it takes, and the amounts that are tried in order."""

    code: str
    title: str
    work: str
    tried: Callable[[Craft], tuple[tuple[float, WhatIf], ...]]


def _has_blades(craft: Craft) -> None:
    """Raises NoWay where every motor is known by its pull alone, which no other propeller changes."""
    if all(altered(craft.design, WhatIf(size=0.9)).drive.motors[k] == m for k, m in enumerate(craft.design.drive.motors)):
        raise NoWay("Its pull is known by a test alone; say on Drive which propeller turns, then another can be tried.")


def _flatter(craft: Craft) -> tuple[tuple[float, WhatIf], ...]:
    _has_blades(craft)
    return tuple((k * STEP, WhatIf(pitch=1 - k * STEP)) for k in range(1, MOST_STEPS + 1))


def _larger(craft: Craft) -> tuple[tuple[float, WhatIf], ...]:
    _has_blades(craft)
    return tuple((k * STEP, WhatIf(size=1 + k * STEP)) for k in range(1, MOST_STEPS + 1))


def _cells(craft: Craft) -> tuple[tuple[float, WhatIf], ...]:
    battery = craft.design.drive.battery
    if battery is None:
        raise NoWay("It has no pack.")
    now = cells_in(battery)
    return tuple((float(k), WhatIf(cells=now + k)) for k in range(1, MOST_CELLS + 1))


ROWS: tuple[DriveFix, ...] = (
    DriveFix("pitch", "A propeller {by:percent} flatter", "one propeller, an hour; test its current on the bench", _flatter),
    DriveFix("propeller", "A propeller {by:percent} larger", "one propeller, room for it; test its current on the bench", _larger),
    DriveFix("cells", "{by:count} more cells in series", "a pack that motor and control bear; mind their limits of voltage", _cells),
)
BY_CODE = {row.code: row for row in ROWS}
TITLES = {"pitch": "A flatter propeller", "propeller": "A larger propeller", "cells": "More cells in series"}
"""Of those that have no answer."""


def failing(craft: Craft) -> tuple[str, ...]:
    """Codes of the drive's verdicts that fail."""
    found = (*drive.judged(craft), *pack_verdicts.wired(craft.design))
    return tuple(dict.fromkeys(f.code for f in found if f.severity == "fails"))


def solve(base: Craft, code: str) -> tuple[Solved, Design]:
    """The least of a drive fix that leaves nothing of the drive failing. Raises NoWay, with the sentence, where none does."""
    row = BY_CODE[code]
    before = failing(base)
    if not before:
        raise NoWay("Nothing of the drive misses its limit, so there is nothing for it to mend.")
    for amount, what in row.tried(base):
        try:
            design = altered(base.design, what)
            if failing(Craft(design)):
                continue
        except (InvalidInput, YareKeelError):
            continue
        values: Values = {"by": amount}
        name = f"fix.{code}"
        title = Finding(name, "note", row.title, "", source=COMMON_PRACTICE, values=values)
        work = Finding(name, "note", row.work, "", source=COMMON_PRACTICE)
        return Solved(name, title, work, design), design
    raise NoWay("No such amount leaves every limit of the drive kept.")
