"""Estimates of what a part weighs. A new one is one new file here.

A recipe is a frozen dataclass of parameters with ``kind`` (its word in the boat file), ``title``, ``group`` (of the weight it
makes), ``rank`` (where it stands in lists), ``follows_hull`` (whether its place is worked out too), and ``made(basis)``, which
gives mass, centre and inertia, or raises InvalidInput.
"""

import inspect
import pkgutil
from collections.abc import Iterator
from importlib import import_module
from typing import TYPE_CHECKING, Any, ClassVar, Protocol, Union, cast, runtime_checkable

from yarekeel.core.weights.recipes.made import Basis, Made


@runtime_checkable
class AnyRecipe(Protocol):
    """What every recipe has."""

    kind: ClassVar[Any]
    title: ClassVar[str]
    group: ClassVar[Any]
    rank: ClassVar[int]
    follows_hull: ClassVar[bool]

    def made(self, basis: Basis) -> Made: ...


def _found() -> Iterator[type[AnyRecipe]]:
    for module in pkgutil.iter_modules(__path__):
        for _, one in inspect.getmembers(import_module(f"{__name__}.{module.name}"), inspect.isclass):
            if one.__module__ == f"{__name__}.{module.name}" and "rank" in vars(one):
                yield cast(type[AnyRecipe], one)


RECIPES: dict[str, type[AnyRecipe]] = {r.kind: r for r in sorted(_found(), key=lambda r: r.rank)}

if TYPE_CHECKING:
    Recipe = AnyRecipe
else:
    Recipe = Union[tuple(RECIPES.values())]  # noqa: UP007 made from what was found

__all__ = ["RECIPES", "AnyRecipe", "Basis", "Made", "Recipe"]
