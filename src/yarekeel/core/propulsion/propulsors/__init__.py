"""What pushes a boat. A new kind is one new file here.

A propulsor is a frozen dataclass of its sizes with ``kind`` (its word in the boat file), ``title``, ``rank`` (where it stands in
lists), ``in_air`` (whether it pushes air), ``electric`` (whether a motor and a pack turn it) and ``findings()``, what of it lies outside
its law's range. What a motor turns has ``curve(turns, viscosity)``, its thrust and torque over advance; what pushes by a law of its own
has ``push(throttle, speed, tests, density)``.
"""

import inspect
import pkgutil
from collections.abc import Iterator
from importlib import import_module
from typing import TYPE_CHECKING, ClassVar, Protocol, TypeGuard, Union, cast, runtime_checkable

from yarekeel.core.findings import Finding
from yarekeel.core.propulsion.bench.sheet import BenchTest
from yarekeel.core.propulsion.open_water import OpenWater
from yarekeel.core.propulsion.push import Push
from yarekeel.core.quantities import Floats, Hertz, KilogramsPerCubicMetre, SquareMetresPerSecond
from yarekeel.core.sources import Source


@runtime_checkable
class AnyPropulsor(Protocol):
    """What every propulsor has."""

    kind: ClassVar[str]
    title: ClassVar[str]
    rank: ClassVar[int]
    in_air: ClassVar[bool]
    electric: ClassVar[bool]
    law: ClassVar[Source]

    def findings(self, tests: tuple[BenchTest, ...] = ()) -> tuple[Finding, ...]: ...


class Turned(AnyPropulsor, Protocol):
    """What a motor turns."""

    def curve(self, turns: Hertz, viscosity: SquareMetresPerSecond) -> OpenWater: ...


class Pushing(AnyPropulsor, Protocol):
    """What pushes by a law of its own; a density is of the water."""

    def push(self, throttle: Floats, speed: Floats, tests: tuple[BenchTest, ...], density: KilogramsPerCubicMetre) -> Push: ...


def is_turned(part: AnyPropulsor | None) -> TypeGuard[Turned]:
    """Whether a motor and a pack turn it."""
    return part is not None and part.electric


def is_pushing(part: AnyPropulsor | None) -> TypeGuard[Pushing]:
    """Whether it pushes by a law of its own."""
    return part is not None and not part.electric


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

__all__ = ["PROPULSORS", "AnyPropulsor", "Propulsor", "Pushing", "Turned", "is_pushing", "is_turned"]
