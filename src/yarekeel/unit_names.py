"""The units that people write and what they mean, by pint; long to load, so only once one is typed."""

import pickle
from functools import cache
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from pint import UnitRegistry


@cache
def registry() -> "UnitRegistry[Any]":
    """The units that are known."""
    import pint  # 1 to 3 s for the first one, so only when a unit is first typed

    try:
        return pint.UnitRegistry(cache_folder=":auto:")
    except (EOFError, OSError, pickle.UnpicklingError):  # another process is just writing it, or it cannot be written
        return pint.UnitRegistry()


def warm_up() -> None:
    """Load the unit definitions ahead of the first typed unit."""
    registry().parse_units("inch")
