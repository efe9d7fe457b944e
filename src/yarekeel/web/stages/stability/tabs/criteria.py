"""Criteria: the 2008 IS Code's numbers and the brief's own, against the worse side."""

from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.drawing import righting
from yarekeel.drawing.righting import Curve, Happening
from yarekeel.stages.design.limits import Limit
from yarekeel.stages.judging import criteria
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.stability.plain_tests import Tested
from yarekeel.web.shared.fields import Field
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.stability.heeled import heeled, tested
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Criteria", 4


@dataclass(frozen=True)
class CriteriaRow:
    clause: str
    title: str
    asked: str
    has: str
    tone: str


@dataclass(frozen=True)
class CriteriaMore:
    code: tuple[CriteriaRow, ...]
    own: tuple[CriteriaRow, ...]
    limits: tuple[Field, ...]
    chart: Markup


def view(asked: PageRequest) -> Tab:
    """Both tables, and the curve with the angles the code looks at."""
    h, tests = heeled(asked), tested(asked)
    result = criteria.assess(Figures.found(h.craft, h.result, tests))
    limits = tuple(asked.field(f"brief.{n}") for n in ("least_gm_m", "least_peak_m", "least_range_deg", "most_lean_deg"))
    if result is None or h.result.worse is None:
        return Tab(findings=asked.reader.findings(h.result.findings), title="Criteria", more=CriteriaMore((), (), limits, Markup("")))
    say, system = asked.reader.say, asked.reader.system
    code = tuple(
        CriteriaRow(
            clause=c.clause,
            title=c.title,
            asked=f"at least {say(c.asked, c.kind)}",
            has=say(c.has, c.kind),
            tone="holds" if c.holds else "near",
        )
        for c in result.clauses
    )
    own = tuple(
        CriteriaRow(
            clause="brief",
            title=_title(asked, o.limit, tests),
            asked=f"{'at least' if o.limit.at_least else 'at most'} {say(o.limit.asked, o.limit.kind)}",
            has="goes over" if o.has is None else say(o.has, o.limit.kind),
            tone="holds" if o.holds else "fails",
        )
        for o in result.own
    )
    marks = [Happening(f"{say(a, 'angle0')}", a) for a in sorted({criteria.THIRTY, result.flooding})]
    worse = h.result.worse
    wet = h.result.water_in(worse.side)
    chart = righting.draw([Curve("worse side", worse)], marks, abs(wet.heel) if wet else None, say, system.length.label, system.length.si)
    return Tab(findings=asked.reader.findings(result.findings), title="Yardsticks", more=CriteriaMore(code, own, limits, Markup(chart)))


def _title(asked: PageRequest, limit: Limit, tests: tuple[Tested, ...]) -> str:
    found = next((t for t in tests if t.code == limit.code), None)
    return asked.reader.findings((found.finding,))[0].title if found else limit.title
