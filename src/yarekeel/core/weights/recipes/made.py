"""What an estimate is made from, and what it gives."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.facts import Fact
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.geometry.placing import turned
from yarekeel.core.quantities import CubicMetres, Kilograms, Metres, Point, Ratio
from yarekeel.core.weights.materials import Material


@dataclass(frozen=True, eq=False)
class Basis:
    """The boat an estimate is made for: its hull, its bodies by name, its materials by code.

    ``body(name)`` is a closed hull of one body, placed; the whole hull for an empty name.
    """

    body: Callable[[str], Hull]
    materials: Mapping[str, Material]

    def material(self, code: str, field: str) -> Material:
        """A material. Raises InvalidInput for ``field`` if the boat has none of that code."""
        found = self.materials.get(code)
        if found is None:
            raise InvalidInput(field, f"There is no material “{code[:40]}” on this boat.")
        return found


_NOTHING = np.zeros((3, 3))
_NOTHING.setflags(write=False)


@dataclass(frozen=True, eq=False)
class Made:
    """An estimated thing: ``offset`` is its centre from where it is put (from the boat's origin where the recipe follows the
    hull), ``inertia`` (3, 3) the tensor about its own centre in the boat's axes (kg m2), ``spread`` the share that its
    materials' ranges make it unsure by, ``facts`` every assumption. ``solid`` is the volume of its materials by themselves, which
    is what it displaces under water; 0 where that is not known. ``place_width`` is how far its centre may lie off for want of
    knowing how it is made, half width of the 95 % band."""

    mass: Kilograms
    offset: Point = (0.0, 0.0, 0.0)
    inertia: Floats = field(default_factory=lambda: _NOTHING)
    spread: Ratio = 0.0
    facts: tuple[Fact, ...] = ()
    solid: CubicMetres = 0.0
    place_width: Metres = 0.0


def tensor(second: Any) -> Floats:
    """Inertia tensor (3, 3) from the second moments (3, 3) of mass: trace(S) 1 - S."""
    s = np.asarray(second, dtype=np.float64)
    return np.asarray(np.trace(s) * np.eye(3) - s)


def turned_tensor(inertia: Floats, turn_deg: Point) -> Floats:
    """A tensor (3, 3) after a turn by roll, then pitch, then yaw (degrees), as bodies are turned."""
    r = turned(turn_deg)
    return np.asarray(r @ inertia @ r.T)
