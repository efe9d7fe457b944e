"""Published rules and their sums on this boat: one file a rule, found by itself, each with its row ``RULE``."""

from importlib import import_module
from pkgutil import iter_modules

from yarekeel.stages.afloat.rules.rule import Rule


def _found() -> tuple[Rule, ...]:
    modules = (import_module(f"{__name__}.{m.name}") for m in iter_modules(__path__))
    rows = [m.RULE for m in modules if hasattr(m, "RULE")]
    return tuple(sorted(rows, key=lambda row: row.rank))


RULES: tuple[Rule, ...] = _found()
"""In the order they are shown in."""
