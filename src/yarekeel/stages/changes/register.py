"""Every way to alter a boat, found by itself: a new one is a new file in ``ways`` that ends in its row ``CHANGE``."""

from importlib import import_module
from pkgutil import iter_modules

from yarekeel.stages.changes import ways
from yarekeel.stages.changes.aims import STEADY
from yarekeel.stages.changes.change import Change
from yarekeel.stages.design.craft import Craft


def _found() -> dict[str, Change]:
    modules = (import_module(f"{ways.__name__}.{m.name}") for m in iter_modules(ways.__path__))
    rows = [m.CHANGE for m in modules if hasattr(m, "CHANGE")]
    return {row.code: row for row in sorted(rows, key=lambda row: row.rank)}


CHANGES: dict[str, Change] = _found()


def cures_for(craft: Craft) -> tuple[Change, ...]:
    """The ways that can steady this boat, in the order they are shown."""
    return tuple(row for row in CHANGES.values() if row.aim is STEADY and row.fits(craft))
