"""What every tab gives the page, and the questions they share."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.units import Said, parse
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.asked import Asked


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
    findings: tuple[Said, ...] = ()
    title: str = ""
    more: Any = None
    answers: tuple[Answer, ...] = field(default=())


def number(asked: Asked, name: str, kind: str, default: float | None = None) -> tuple[float | None, str]:
    """A value asked for by name in any unit, and the sentence that refuses it; ``default`` for nothing typed."""
    text = asked.ask.get(name, "").strip()
    if not text:
        return default, ""
    try:
        return parse(text, kind, asked.reader.system, name), ""
    except InvalidInput as error:
        return default, error.sentence


def question(
    asked: Asked, name: str, label: str, kind: str, placeholder: str, default: float | None = None, hint: str = ""
) -> tuple[Question, float | None]:
    """The field and its value."""
    value, error = number(asked, name, kind, default)
    return Question(name, label, asked.ask.get(name, ""), placeholder, error, hint), value
