"""A command done to a boat as the page's route does it."""

from typing import Any

from yarekeel.instruments.shelf import Shelf
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.units import SYSTEMS
from yarekeel.web.stages.commands import Doing, Done, command_of


def deed(craft: Craft, verb: str, **args: Any) -> Done:
    """What a command gives, and what the page asks about next."""
    return command_of(verb).done(Doing(craft, SYSTEMS["mm_g"], Shelf(), 1), args)[0]


def done(craft: Craft, verb: str, **args: Any) -> Design:
    """The boat after a command."""
    return deed(craft, verb, **args).design
