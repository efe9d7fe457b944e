"""The mesh files that are read and written: one file a format, found by itself, each with its row ``FORMAT``."""

from importlib import import_module
from pkgutil import iter_modules

from yarekeel.exchange.mesh_formats.mesh_format import Format


def _found() -> dict[str, Format]:
    modules = (import_module(f"{__name__}.{m.name}") for m in iter_modules(__path__))
    rows = [m.FORMAT for m in modules if hasattr(m, "FORMAT")]
    return {row.suffix: row for row in sorted(rows, key=lambda row: row.rank)}


FORMATS: dict[str, Format] = _found()
"""By the ending of the file's name, in the order they are offered in."""


def named() -> str:
    """The formats in words, such as "STL, OBJ or PLY"."""
    *first, last = (suffix.upper() for suffix in FORMATS)
    return f"{', '.join(first)} or {last}"
