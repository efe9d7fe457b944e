"""Every stage's figures and findings of a boat, as the pages have them: for builders who script, and to compare before and after."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, YareKeelError
from yarekeel.core.findings import Finding
from yarekeel.stages.afloat import afloat
from yarekeel.stages.brief import brief
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.faults import fault_of
from yarekeel.stages.drive import drive
from yarekeel.stages.judging.figures import FIGURES, Figure, Figures
from yarekeel.stages.shape import shape
from yarekeel.stages.underway import underway
from yarekeel.stages.weights import weights

SUFFIX = {
    "length": "_m",
    "mass": "_kg",
    "area": "_m2",
    "volume": "_m3",
    "angle": "_deg",
    "force": "_n",
    "current": "_a",
    "seconds": "_s",
    "speed": "_ms",
    "ratio": "",
}
"""What a figure's name ends in, by the unit's word for it: SI, but for angles."""


@dataclass(frozen=True, slots=True)
class Reported:
    """A stage: its figures with their values (SI, angles in radians; None where the boat has none) and its findings."""

    stage: str
    figures: tuple[tuple[Figure, float | None], ...]
    findings: tuple[Finding, ...]

    def by_name(self) -> dict[str, float | None]:
        """The figures by the names that scripts know them by."""
        return {row.name + SUFFIX[row.kind]: _plain(row, value) for row, value in self.figures}


def _plain(row: Figure, value: float | None) -> float | None:
    if value is None or not math.isfinite(value):
        return None
    return math.degrees(value) if row.kind == "angle" else value


def _stability(figures: Figures) -> Sequence[Finding]:
    return (*figures.stability.findings, *(t.finding for t in figures.tests))


STAGES: dict[str, Callable[[Figures], Sequence[Finding]]] = {
    "brief": lambda f: brief.assess(f.craft).findings,
    "shape": lambda f: shape.assess(f.craft).findings,
    "weights": lambda f: weights.assess(f.craft).findings,
    "float": lambda f: afloat.assess(f.craft).findings,
    "stability": _stability,
    "drive": lambda f: drive.assess(f.craft).findings,
    "underway": lambda f: underway.assess(f.craft).findings,
    "trials": lambda f: (),
    "fixes": lambda f: (),
}
"""The stages in their order; what was tried and mended is not in a boat file."""


def report(craft: Craft, stage: str = "") -> tuple[Reported, ...]:
    """Every stage, or the one asked for. A stage that cannot be worked out says so and spoils no other. Raises InvalidInput for a stage
    that is none."""
    if stage and stage not in STAGES:
        raise InvalidInput("stage", f"A stage is one of: {', '.join(STAGES)}.")
    figures = Figures(craft)
    return tuple(_reported(figures, name, of) for name, of in STAGES.items() if stage in ("", name))


def _reported(figures: Figures, name: str, of: Callable[[Figures], Sequence[Finding]]) -> Reported:
    rows = tuple((row, _value(figures, row)) for row in FIGURES if row.stage == name)
    try:
        return Reported(name, rows, tuple(of(figures)))
    except YareKeelError as error:
        return Reported(name, rows, (fault_of(error),))


def _value(figures: Figures, row: Figure) -> float | None:
    try:
        return figures[row.name]
    except YareKeelError:
        return None
