"""What a motor turns. A new kind is one new file here.

A propulsor is a frozen dataclass of its sizes with ``kind`` (its word in the boat file), ``title``, ``rank`` (where it stands in
lists), ``in_air`` (whether it pushes air), ``curve(turns, viscosity)``, which gives its thrust and torque over advance, and
``findings()``, what of it lies outside its law's range.
"""

import inspect
import pkgutil
from collections.abc import Iterator
from importlib import import_module
from typing import TYPE_CHECKING, ClassVar, Protocol, Union, cast, runtime_checkable

from yarekeel.core.findings import Finding
from yarekeel.core.propulsion.open_water import OpenWater
from yarekeel.core.quantities import Hertz, SquareMetresPerSecond
from yarekeel.core.sources import Source


@runtime_checkable
class AnyPropulsor(Protocol):
    """What every propulsor has."""

    kind: ClassVar[str]
    title: ClassVar[str]
    rank: ClassVar[int]
    in_air: ClassVar[bool]
    law: ClassVar[Source]

    def curve(self, turns: Hertz, viscosity: SquareMetresPerSecond) -> OpenWater: ...

    def findings(self) -> tuple[Finding, ...]: ...


def _found() -> Iterator[type[AnyPropulsor]]:
    for module in pkgutil.iter_modules(__path__):
        for _, one in inspect.getmembers(import_module(f"{__name__}.{module.name}"), inspect.isclass):
            if one.__module__ == f"{__name__}.{module.name}" and "rank" in vars(one):
                yield cast(type[AnyPropulsor], one)


PROPULSORS: dict[str, type[AnyPropulsor]] = {p.kind: p for p in sorted(_found(), key=lambda p: p.rank)}

if TYPE_CHECKING:
    Propulsor = AnyPropulsor
else:
    Propulsor = Union[tuple(PROPULSORS.values())]  # noqa: UP007 made from what was found

__all__ = ["PROPULSORS", "AnyPropulsor", "Propulsor"]
