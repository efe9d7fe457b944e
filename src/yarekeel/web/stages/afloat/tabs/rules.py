"""Published rules, clause by clause."""

from dataclasses import dataclass

from yarekeel.core.rules.cfr_183 import POUND
from yarekeel.stages.afloat.rules import RULES
from yarekeel.stages.afloat.rules.rule import Clause, Rule
from yarekeel.units import WordedFinding
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Published rules", 8


@dataclass(frozen=True)
class RuleShown:
    """A rule on the page: what it asks, its clauses, and what it says where it does not cover the boat."""

    title: str
    heading: str
    note: str
    selects: tuple[tuple[str, str, tuple[tuple[str, str], ...], str], ...]
    clauses: tuple[tuple[str, str, str, str], ...]
    uncovered: str


def offered(asked: PageRequest) -> bool:
    """Boats that carry people have rules."""
    return asked.design.brief.kind == "people"


def view(asked: PageRequest) -> Tab:
    """Every rule, with the answers to what it asks."""
    shown: list[RuleShown] = []
    findings: list[WordedFinding] = []
    for rule in RULES:
        one, said = _shown(asked, rule)
        shown.append(one)
        findings += said
    return Tab(findings=tuple(findings), title=" and ".join(rule.title for rule in RULES), more=tuple(shown))


def _shown(asked: PageRequest, rule: Rule) -> tuple[RuleShown, tuple[WordedFinding, ...]]:
    result = rule.assess(asked.craft, asked.ask)
    findings = asked.reader.findings(result.findings)
    selects = tuple((c.name, c.label, c.answers, c.of(asked.ask)) for c in rule.choices)
    clauses = tuple((c.clause, c.title, _value(asked, c), c.how) for c in result.clauses)
    return RuleShown(
        title=rule.title,
        heading=rule.heading,
        note=rule.note,
        selects=selects,
        clauses=clauses,
        uncovered="" if clauses else findings[0].sentence,
    ), findings


def _value(asked: PageRequest, c: Clause) -> str:
    if c.kind == "mass":
        return f"{asked.reader.say(c.value, 'mass')} ({c.value / POUND:.0f} lb)"
    return f"{c.value:g} hp" if c.kind == "horsepower" else f"{c.value:g}"
