"""A boat's life: figures over its revisions, predicted with their band and measured, and what its trials keep finding."""

import dataclasses
import math
from collections.abc import Sequence
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, YareKeelError
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Ratio
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design import listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.fixes.expected import measured_of
from yarekeel.stages.trials import found
from yarekeel.stages.trials.trials import FloatTest

FEWEST = 2
"""Trials from which it is said what they keep finding."""
WORTH_SAYING: Ratio = 0.03
"""Of a factor, that it must be off by."""


@dataclass(frozen=True, slots=True)
class FigureRow:
    """A figure that is followed: its name, the units' kind, and its label."""

    name: str
    kind: str
    label: str


FIGURES = (
    FigureRow("mass", "mass", "All-up mass"),
    FigureRow("trim", "trim", "Trim, bow up"),
    FigureRow("heel", "heel", "Heel, to starboard"),
    FigureRow("draft_bow", "draft", "Draft at the bow mark"),
    FigureRow("draft_stern", "draft", "Draft at the stern mark"),
    FigureRow("freeboard", "length", "Least freeboard"),
    FigureRow("gm", "length", "GM"),
)


@kept
def predicted(craft: Craft) -> dict[str, tuple[float, float]]:
    """Each figure of a boat with half its 95 % band, in SI; empty for one that comes to no rest."""
    try:
        result = afloat.assess(craft)
    except YareKeelError:
        return {}
    if result.outputs is None:
        return {}
    o, s = result.outputs, result.spread
    return {f.name: (float(getattr(o, f.name)), float(getattr(s, f.name)) if s else 0.0) for f in FIGURES}


def measured(craft: Craft, test: FloatTest) -> dict[str, float]:
    """What a trial says to the same figures."""
    out = {k: v for k, v in measured_of(craft, test).items() if k != "speed"}
    for name, value in (("draft_bow", test.draft_bow_m), ("draft_stern", test.draft_stern_m)):
        if value is not None:
            out[name] = value
    return out


@dataclass(frozen=True, slots=True)
class Learnt:
    """A factor that trials keep finding: its name, its mean, how many trials tell it, and half the 95 % band of the mean."""

    name: str
    factor: Ratio
    trials: int
    half: Ratio


def counted_with(craft: Craft, v: Learnt) -> Design:
    """A boat whose list, pull or drag counts with what trials keep finding: all that was not weighed times one factor for the mass."""
    design = craft.design
    if v.name == "mass":
        return listing.factored(craft, v.factor * craft.total.mass)[0]
    if v.name == "thrust_factor":
        pulls = round(v.factor * design.drive.pull_factor, 3)
        return dataclasses.replace(design, drive=dataclasses.replace(design.drive, pull_factor=pulls))
    return dataclasses.replace(design, drag_factor=round(v.factor * design.drag_factor, 3))


LATEST = 12
"""Trials that it is looked for in, the latest: a yard's habits change, and each takes its time."""


@kept
def factors(craft: Craft, test: FloatTest) -> dict[str, tuple[float, float]]:
    """Mass, pull and drag over what was predicted, each with half its interval, as far as a trial tells them."""
    try:
        told = found.told_of(craft, test.readings)
    except (InvalidInput, YareKeelError):
        return {}
    out = {}
    for name in ("mass", "thrust_factor", "drag_factor"):
        t = told[name]
        if t.value is not None:
            out[name] = (t.value / t.listed, max(t.half / t.listed, 1e-3))
    return out


def learnt(days: Sequence[tuple[Craft, FloatTest]]) -> tuple[Learnt, ...]:
    """What the latest trials tell of these factors where some agree that they are off. Practice does not count beside true trials; who
    calls gives only those that do."""
    rows: dict[str, list[tuple[float, float]]] = {}
    for craft, test in days[-LATEST:]:
        for name, told in factors(craft, test).items():
            rows.setdefault(name, []).append(told)
    out = []
    for name, each in rows.items():
        if len(each) < FEWEST:
            continue
        weights = [1 / half**2 for _, half in each]
        mean = sum(w * f for w, (f, _) in zip(weights, each, strict=True)) / sum(weights)
        spread = math.sqrt(sum((f - mean) ** 2 for f, _ in each) / max(len(each) - 1, 1) / len(each))
        half = 1.96 * max(math.sqrt(1 / sum(weights)) / 1.96, spread)
        if abs(mean - 1) > max(half, WORTH_SAYING):
            out.append(Learnt(name, mean, len(each), half))
    return tuple(out)
