"""Hull families. A new one is one new file here.

A family is a frozen dataclass of parameters in metres, degrees and ratios, with ``kind`` (its word in the boat file),
``title``, ``group`` and ``rank`` (where it stands in lists), ``role`` (what a body of it usually is), and ``build(detail)``
which gives a closed mesh at every allowed parameter. It may have ``facts()``: further sums of its own; ``beam``, the name of the
parameter that makes its sections wider; ``opens``, whether such a boat has no deck (``always``, or with ``people`` aboard);
``multihull`` where it is more than one hull by itself, with ``spacing`` for a pair.
"""

import inspect
import pkgutil
from collections.abc import Iterator
from dataclasses import dataclass
from importlib import import_module
from typing import TYPE_CHECKING, Any, ClassVar, Protocol, Union, cast, runtime_checkable

from yarekeel.core.geometry.families.box import Box
from yarekeel.core.geometry.families.flat_bottom import FlatBottom
from yarekeel.core.geometry.families.mesh_file import MeshFile
from yarekeel.core.geometry.families.offsets import Offsets
from yarekeel.core.geometry.families.round_bilge import RoundBilge
from yarekeel.core.geometry.families.twin_hull import TwinHull
from yarekeel.core.geometry.families.vee import Vee
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.quantities import Ratio

GROUPS = ("Hulls", "Floats and foam", "Appendages", "Tables and meshes")


@runtime_checkable
class AnyShape(Protocol):
    """What every family has."""

    kind: ClassVar[Any]
    title: ClassVar[str]
    group: ClassVar[str]
    rank: ClassVar[int]
    role: ClassVar[Any]

    def build(self, detail: Ratio = 1) -> Mesh: ...


def is_open(shape: Any, kind: str) -> bool:
    """Whether a boat of that hull and kind (``model``, ``people``) usually has no deck: a tray always, a skiff, punt or canoe with people
    aboard."""
    return getattr(shape, "opens", "") in ("always", kind)


@dataclass(frozen=True, slots=True)
class Breadth:
    """Which parameters of a family go athwart: its ``beam``, of a pair of hulls their ``spacing``; empty where it has none."""

    name: str
    spacing: str
    multihull: bool


def beam_of(shape: AnyShape) -> Breadth:
    """What a family says of its breadth."""
    return Breadth(getattr(shape, "beam", ""), getattr(shape, "spacing", ""), getattr(shape, "multihull", False))


def _found() -> Iterator[type[AnyShape]]:
    for module in pkgutil.iter_modules(__path__):
        for _, one in inspect.getmembers(import_module(f"{__name__}.{module.name}"), inspect.isclass):
            if one.__module__ == f"{__name__}.{module.name}" and "rank" in vars(one):
                yield cast(type[AnyShape], one)


FAMILIES: dict[str, type[AnyShape]] = {f.kind: f for f in sorted(_found(), key=lambda f: (GROUPS.index(f.group), f.rank))}

if TYPE_CHECKING:
    Shape = AnyShape
else:
    Shape = Union[tuple(FAMILIES.values())]  # noqa: UP007 made from what was found

__all__ = [
    "FAMILIES",
    "GROUPS",
    "AnyShape",
    "Box",
    "Breadth",
    "FlatBottom",
    "MeshFile",
    "Offsets",
    "RoundBilge",
    "Shape",
    "TwinHull",
    "Vee",
    "beam_of",
]
