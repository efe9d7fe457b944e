"""What every tab gives the page, and the questions they share."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from importlib import import_module
from pkgutil import iter_modules
from types import ModuleType
from typing import Any

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.units import WordedFinding, parse
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest


@dataclass(frozen=True)
class Question:
    """A field on the page that asks without changing the boat: as typed, and the sentence that refuses it."""

    name: str
    label: str
    text: str
    placeholder: str
    error: str = ""
    hint: str = ""


@dataclass(frozen=True)
class Answer:
    """What a solver says; ``do`` and ``args`` are the command that puts it in, empty where there is none."""

    title: str
    words: str
    do: str = ""
    args: Mapping[str, Any] = field(default_factory=dict)
    button: str = "Put it in"


@dataclass(frozen=True)
class Tab:
    """A tab's drawing, figures and verdicts, and what is its own in ``more``."""

    picture: Markup = Markup("")
    readouts: tuple[Readout, ...] = ()
    findings: tuple[WordedFinding, ...] = ()
    title: str = ""
    more: Any = None
    answers: tuple[Answer, ...] = ()
    note: str = ""
    """Said small under the verdicts."""
    figures_beside: bool = False
    """Its readouts stand with the verdicts, not under the drawing."""


def tabs_of(package: ModuleType) -> dict[str, Any]:
    """A stage's tabs by their words in addresses, in their order: the modules of ``package`` that have a ``TITLE``, a ``RANK`` and a
    ``view(asked)``, and may say with ``offered(asked)`` for which boats they are. Templates of a tab lie beside it, each only where the
    stage's own way of showing it is not enough: ``_live``, ``_form``, none (more), ``_side``."""
    found = {m.name: import_module(f"{package.__name__}.{m.name}") for m in iter_modules(package.__path__)}
    rows = [(code, m) for code, m in found.items() if hasattr(m, "TITLE")]
    return dict(sorted(rows, key=lambda row: row[1].RANK))


def titles(tabs: Mapping[str, Any], asked: PageRequest) -> tuple[tuple[str, str], ...]:
    """Code and title of every tab that has something to say of this boat."""
    return tuple((code, tab.TITLE) for code, tab in tabs.items() if getattr(tab, "offered", _always)(asked))


def _always(_: PageRequest) -> bool:
    return True


def number(asked: PageRequest, name: str, kind: str, default: float | None = None) -> tuple[float | None, str]:
    """A value asked for by name in any unit, and the sentence that refuses it; ``default`` for nothing typed."""
    text = asked.ask.get(name, "").strip()
    if not text:
        return default, ""
    try:
        return parse(text, kind, asked.reader.system, name), ""
    except InvalidInput as error:
        return default, error.sentence


def refused(ask: Question, sentence: str) -> Question:
    """The field with the sentence that refuses what was typed."""
    return replace(ask, error=sentence)


def question(
    asked: PageRequest, name: str, label: str, kind: str, placeholder: str, default: float | None = None, hint: str = ""
) -> tuple[Question, float | None]:
    """The field and its value."""
    value, error = number(asked, name, kind, default)
    return Question(name=name, label=label, text=asked.ask.get(name, ""), placeholder=placeholder, error=error, hint=hint), value
