"""A plain force over time, as a table."""

import math
import re
from dataclasses import dataclass
from itertools import pairwise
from typing import ClassVar

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding
from yarekeel.core.formulas import formula
from yarekeel.core.parameters import check_parameters, text
from yarekeel.core.propulsion.bench.sheet import BenchTest
from yarekeel.core.propulsion.push import Push
from yarekeel.core.quantities import Floats, KilogramsPerCubicMetre, Newtons, NewtonSeconds, Seconds
from yarekeel.core.sources import COMMON_PRACTICE, MECHANICS, Source

LONGEST = 600
MOST_ROWS = 60
MOST_FORCE: Newtons = 5000.0
_PAIR = re.compile(r"\s*(\d+(?:[.,]\d+)?)\s*s?\s*[ :]\s*(\d+(?:[.,]\d+)?)\s*N?\s*", re.IGNORECASE)
SENTENCE = "Write seconds and newtons in pairs, the times rising: 0 0; 0.2 12; 1.5 10; 1.8 0."


@dataclass(frozen=True, slots=True)
class ForceOverTime:
    """Force in newtons over seconds, by straight lines, once it is set off; whatever makes it."""

    kind: ClassVar[str] = "force_over_time"
    title: ClassVar[str] = "A force over time"
    rank: ClassVar[int] = 8
    in_air: ClassVar[bool] = True
    electric: ClassVar[bool] = False
    law: ClassVar[Source] = MECHANICS
    table: str = text("0 0; 0.2 5; 1.8 5; 2 0", "Seconds and newtons", LONGEST)

    def __post_init__(self) -> None:
        check_parameters(self)
        rows_of(self.table)

    @property
    def rows(self) -> tuple[tuple[Seconds, Newtons], ...]:
        """The table."""
        return rows_of(self.table)

    def push(self, throttle: Floats, speed: Floats, tests: tuple[BenchTest, ...], density: KilogramsPerCubicMetre) -> Push:
        """The most that it pushes, at any throttle but none: it cannot be throttled."""
        most = max(f for _, f in self.rows)
        return Push(np.where(throttle > 0, most, 0.0), np.zeros(throttle.shape), 0.1)

    def findings(self, tests: tuple[BenchTest, ...] = ()) -> tuple[Finding, ...]:
        """What it gives in all, and why no motor is designed here."""
        values = {"impulse": impulse(self.rows), "time": self.rows[-1][0], "most": max(f for _, f in self.rows)}
        return (
            Finding(
                "caution.force_over_time",
                "near",
                "A force that nothing stops",
                "{impulse:impulse} in {time:seconds}, {most:force} at most. Solid rocket motors cannot be stopped once lit and are "
                "regulated: none is designed here, only what such a force does to the boat. Keep to your law and a club's rules.",
                source=COMMON_PRACTICE,
                values=values,
            ),
        )


def rows_of(table: str) -> tuple[tuple[Seconds, Newtons], ...]:
    """The rows of a table as typed. Raises InvalidInput with how to write one."""
    rows: list[tuple[float, float]] = []
    for piece in re.split(r"[;\n]", table):
        if not piece.strip():
            continue
        found = _PAIR.fullmatch(piece)
        if found is None:
            raise InvalidInput("table", SENTENCE)
        t, f = (float(g.replace(",", ".")) for g in found.groups())
        if (rows and t <= rows[-1][0]) or f > MOST_FORCE or not math.isfinite(t):
            raise InvalidInput("table", SENTENCE if f <= MOST_FORCE else f"A force may be at most {MOST_FORCE:g} N.")
        rows.append((t, f))
    if not 2 <= len(rows) <= MOST_ROWS:
        raise InvalidInput("table", f"A force over time needs 2 to {MOST_ROWS} rows. {SENTENCE}")
    return tuple(rows)


@formula("J = integral of F dt, by trapezia", MECHANICS, "straight lines between the rows")
def impulse(rows: tuple[tuple[Seconds, Newtons], ...]) -> NewtonSeconds:
    """Impulse of a force over time."""
    return math.fsum((b[0] - a[0]) * (a[1] + b[1]) / 2 for a, b in pairwise(rows))
