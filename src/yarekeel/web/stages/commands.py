"""The register of commands: what buttons do to a boat.

A stage's ``commands.py`` ends in its rows: the verb, its arguments, what it does, the words for undo. The route looks them up and
knows nothing of what they do. Fields are set by their paths; those that give the form other fields are in the stage's ``REDRAWS``.
"""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from importlib import import_module
from importlib.util import find_spec
from typing import Any

from pydantic import BaseModel, ConfigDict, ValidationError

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.instruments.shelf import Shelf
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.fittings import Keyed
from yarekeel.units import System
from yarekeel.web.shared.page import STAGES

OUT_OF_DATE = "The answer on the page is out of date; ask again."


class Arguments(BaseModel):
    """What a command is given; anything else is refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, str_max_length=2_000_000)


def _empty_bin(key: str) -> Keyed:
    raise NotFound("There is no such part in the bin.")


@dataclass(frozen=True, slots=True)
class Doing:
    """What a command is done to and with: the boat, the units that are typed in, the instruments of that boat."""

    craft: Craft
    system: System
    shelf: Shelf
    boat: int
    part: Callable[[str], Keyed] = _empty_bin
    """A part of the yard's bin by its key. Raises NotFound."""

    @property
    def design(self) -> Design:
        return self.craft.design


@dataclass(frozen=True, slots=True)
class Done:
    """The changed boat, and what the page asks about next."""

    design: Design
    ask: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Command:
    """A row. ``words`` are for undo, from the arguments and the changed boat where they name something; ``redraws`` the parts of the
    page that are drawn again besides those that every edit redraws."""

    verb: str
    arguments: type[Arguments]
    act: Callable[[Doing, Any], Design | Done]
    words: str | Callable[[Any, Design], str]
    redraws: tuple[str, ...] = ("form",)

    def done(self, doing: Doing, given: Mapping[str, Any]) -> tuple[Done, str]:
        """Do it. Raises InvalidInput, for arguments that are not its own too, and NoAnswer."""
        try:
            arguments = self.arguments.model_validate(given)
        except ValidationError:
            raise InvalidInput(self.verb, OUT_OF_DATE) from None
        result = self.act(doing, arguments)
        done = result if isinstance(result, Done) else Done(result)
        words = self.words if isinstance(self.words, str) else self.words(arguments, done.design)
        return done, words


def _modules() -> list[Any]:
    names = (f"yarekeel.web.stages.{s.folder}.commands" for s in STAGES)
    return [import_module(name) for name in names if find_spec(name)]


def _register() -> tuple[dict[str, Command], re.Pattern[str]]:
    rows, patterns = {}, []
    for module in _modules():
        rows.update({command.verb: command for command in module.COMMANDS})
        patterns += [re.escape(p).replace(r"\*\*", ".+").replace(r"\*", r"[^.]+") for p in module.REDRAWS]
    return rows, re.compile("|".join(patterns))


COMMANDS, REDRAWS = _register()


def command_of(verb: str) -> Command:
    """A command by its verb. Raises InvalidInput where there is none."""
    if verb not in COMMANDS:
        raise InvalidInput(verb[:60], "There is nothing of that kind to do.")
    return COMMANDS[verb]
