"""Relations with their symbol, source and range, so that a reader finds where each comes from; ``docs/formulas.md`` lists them."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from importlib import import_module
from pkgutil import walk_packages
from typing import Any, TypeVar

from yarekeel.core.sources import Source

F = TypeVar("F", bound=Callable[..., Any])


@dataclass(frozen=True, slots=True)
class Formula:
    """A row: the function's name and module, the symbol or equation it stands for, where it is from, and where it holds."""

    name: str
    module: str
    symbol: str
    source: Source
    validity: str


_FORMULAS: dict[tuple[str, str], Formula] = {}


def formula(symbol: str, source: Source, validity: str) -> Callable[[F], F]:
    """Decorator: a relation says what it stands for, where it is from, and where it holds."""

    def told(of: F) -> F:
        _FORMULAS[of.__module__, of.__name__] = Formula(
            name=of.__name__, module=of.__module__, symbol=symbol, source=source, validity=validity
        )
        return of

    return told


def formulas() -> tuple[Formula, ...]:
    """Every relation of the core, by topic and name."""
    for name in modules():
        import_module(name)
    return tuple(row for _, row in sorted(_FORMULAS.items()))


def modules() -> Iterator[str]:
    """The modules of the core."""
    core = import_module("yarekeel.core")
    yield from (m.name for m in walk_packages(core.__path__, "yarekeel.core."))


def table() -> str:
    """The table of ``docs/formulas.md``."""
    head = "| relation | symbol | source | holds |\n|---|---|---|---|\n"
    lines = (
        f"| `{row.module.removeprefix('yarekeel.core.')}.{row.name}` | {row.symbol} | {row.source.citation} ({row.source.standing}) "
        f"| {row.validity} |\n"
        for row in formulas()
    )
    return head + "".join(lines)
