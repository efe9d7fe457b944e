"""The gravest verdict of all stages: what a boat's card says of it."""

from collections.abc import Iterator
from dataclasses import dataclass

from yarekeel.core.errors import YareKeelError
from yarekeel.core.findings import Finding
from yarekeel.core.kept import kept
from yarekeel.core.sources import BRIEF
from yarekeel.stages.afloat.rules import RULES
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.judging import cases
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.judge import at_rest, judge
from yarekeel.stages.judging.report import report

ORDER = ("float", "stability", "rules", "cases", "brief", "weights", "drive", "underway", "shape")
"""What harms most comes first among verdicts that stand alike."""
GRAVE = ("fails", "near", "holds", "note")


@dataclass(frozen=True, slots=True)
class Gravest:
    """``finding`` as its stage has it, and how many ``more`` stand as badly."""

    finding: Finding
    more: int


@kept
def gravest(craft: Craft) -> Gravest | None:
    """Of every stage, of the published rules that cover the boat, of its load cases and of every limit of the brief; None for a boat
    of which nothing is judged yet."""
    judged = [f for f in _all(craft) if f.severity != "note"]
    if not judged:
        return None
    worst = min(judged, key=lambda f: GRAVE.index(f.severity))
    return Gravest(worst, sum(f.severity == worst.severity for f in judged) - 1)


def _all(craft: Craft) -> Iterator[Finding]:
    """In the order of ``ORDER``; what cannot be worked out is said by its stage."""
    by_stage: dict[str, list[Finding]] = {r.stage: list(r.findings) for r in report(craft)}
    if any(i.mass_kg > 0 for i in craft.items):
        for name, more in (("rules", _rules), ("cases", _cases), ("brief", _missed)):
            try:
                by_stage.setdefault(name, []).extend(more(craft))
            except YareKeelError:
                continue
    for name in ORDER:
        yield from by_stage.get(name, [])


def _rules(craft: Craft) -> list[Finding]:
    return [f for rule in RULES for f in rule.assess(craft, {}).findings]


def _cases(craft: Craft) -> list[Finding]:
    return [f for f in cases.assess(craft).findings if f.code == "cases.some"]


def _missed(craft: Craft) -> list[Finding]:
    """Limits that no stage has a verdict on by itself: what must go on the car, on the printer, on the sheet."""
    missed = judge(Figures(craft), tuple(row for row in at_rest(craft) if row.code in UNSAID)).misses
    if not missed:
        return []
    words = ", ".join(missed)
    text = "You asked for it in the brief: {names}."
    return [Finding("brief.missed", "fails", "Misses the brief on {names}", text, source=BRIEF, values={"names": words})]


UNSAID = ("draft", "reserve", "length", "beam", "bed_length", "bed_width", "bed_height", "sheet", "rail")
