"""What a published rule says of a boat, clause by clause."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from yarekeel.core.findings import Finding
from yarekeel.stages.design.craft import Craft


@dataclass(frozen=True, slots=True)
class Clause:
    """A clause, what it gives (SI; ``kind`` is the unit's word: mass, count, horsepower), and how."""

    clause: str
    title: str
    value: float
    kind: str
    how: str


@dataclass(frozen=True, slots=True)
class Choice:
    """What the rule asks: its name, its label, and the answers (code, words); the first stands until another is chosen."""

    name: str
    label: str
    answers: tuple[tuple[str, str], ...]

    def of(self, answers: Mapping[str, str]) -> str:
        """The code chosen."""
        code = answers.get(self.name, "")
        return code if code in dict(self.answers) else self.answers[0][0]


@dataclass(frozen=True, slots=True)
class RuleAssessment:
    """Its clauses on this boat, none where it does not cover it, and its findings."""

    clauses: tuple[Clause, ...]
    findings: tuple[Finding, ...]


@dataclass(frozen=True, slots=True)
class Rule:
    """A row. ``assess`` is given the answers to ``choices`` by their names; ``note`` is said under the clauses."""

    code: str
    rank: int
    title: str
    heading: str
    note: str
    choices: tuple[Choice, ...]
    assess: Callable[[Craft, Mapping[str, str]], RuleAssessment]
