"""Every load case side by side: how each floats, and which is the worst for each number."""

import math
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding
from yarekeel.core.quantities import Metres
from yarekeel.core.sources import BRIEF
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.judge import at_rest, judge

AS_LISTED = "As listed"
LEAST_APART = 1e-4
"""Kilograms, metres or radians by which loads must differ for one to be called the worst."""


@dataclass(frozen=True, slots=True)
class CaseLine:
    """A load case (empty name: the list as it stands) and its float; None while nothing of it weighs anything."""

    name: str
    title: str
    float: afloat.FloatAssessment | None
    draft: Metres | None
    misses: tuple[str, ...]
    nearly: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class CasesAssessment:
    """All cases, the number of the worst line for each figure, and the verdicts."""

    lines: tuple[CaseLine, ...]
    worst: dict[str, int]
    findings: tuple[Finding, ...]


def assess(craft: Craft) -> CasesAssessment:
    """The list as it stands and every load case, each floated with its spread; the hull is built once for all."""
    lines = []
    for name in ("", *(c.name for c in craft.design.cases)):
        case = craft.in_case(name)
        try:
            result = afloat.assess(case)
        except InvalidInput:
            result = None
        lines.append(_line(case, name, result))
    worst = _worst(lines)
    return CasesAssessment(tuple(lines), worst, tuple(_findings(lines, worst)))


def _line(craft: Craft, name: str, result: afloat.FloatAssessment | None) -> CaseLine:
    """A load as it floats, against the brief by the one judge."""
    title = name or AS_LISTED
    if result is None:
        return CaseLine(name=name, title=title, float=None, draft=None, misses=(), nearly=())
    figures = Figures.floated(craft, result)
    judged = judge(figures, at_rest(craft), unsure=True)
    return CaseLine(name=name, title=title, float=result, draft=figures["draft"], misses=judged.misses, nearly=judged.nearly)


def _worst(lines: list[CaseLine]) -> dict[str, int]:
    """Which line is worst for each figure; a case that sinks or rolls over is worst for all."""
    figures: dict[str, dict[int, float]] = {"mass": {}, "draft": {}, "trim": {}, "heel": {}, "freeboard": {}, "gm": {}}
    for n, line in enumerate(lines):
        if line.float is None:
            continue
        a = line.float.afloat
        if a is None or a.is_capsized:
            for by in figures.values():
                by[n] = math.inf
            continue
        for name, bad in (
            ("mass", a.mass),
            ("draft", line.draft or 0.0),
            ("trim", abs(a.attitude.trim)),
            ("heel", abs(a.attitude.heel)),
            ("freeboard", -a.freeboard),
            ("gm", -a.judged_gm),
        ):
            figures[name][n] = bad
    apart = {name: by for name, by in figures.items() if len(by) > 1 and max(by.values()) - min(by.values()) > LEAST_APART}
    return {name: max(by, key=by.__getitem__) for name, by in apart.items()}


def _findings(lines: list[CaseLine], worst: dict[str, int]) -> list[Finding]:
    afloat_ones = [line for line in lines if line.float is not None]
    failing = [line for line in afloat_ones if line.misses]
    if len(lines) == 1:
        return [
            Finding("cases.none", "note", "One load only", "Name the loads the boat will carry: light, laden, one adult aft.", source=BRIEF)
        ]
    if not failing:
        count = float(len(afloat_ones))
        title = "Both loads meet the brief" if count == 2 else "All {n:loads} meet the brief"
        return [Finding("cases.all", "holds", title, "Each was floated by itself.", source=BRIEF, values={"n": count})]
    # The one that sinks, else the one that misses most, else the one with the least freeboard.
    lowest = worst.get("freeboard", -1)
    first = max(failing, key=lambda c: (c.float is not None and c.float.afloat is None, len(c.misses), lines.index(c) == lowest))
    values: dict[str, float | str] = {
        "n": float(len(failing)),
        "all": float(len(afloat_ones)),
        "name": first.title,
        "misses": ", ".join(first.misses),
    }
    return [
        Finding(
            "cases.some",
            "fails",
            "{n:count} of {all:loads} misses the brief" if len(failing) == 1 else "{n:count} of {all:loads} miss the brief",
            "The worst is {name}: it misses on {misses}.",
            source=BRIEF,
            values=values,
        )
    ]
