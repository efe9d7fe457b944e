"""How far out a thing's own mass lies from its centre, where no estimate says so: its inertia, and how unsure that is."""

from dataclasses import dataclass

import numpy as np

from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Kilograms, KilogramsPerCubicMetre, Metres, Ratio
from yarekeel.core.weights.items import Group
from yarekeel.core.weights.recipes.made import Basis, tensor
from yarekeel.core.weights.recipes.person import Person
from yarekeel.core.weights.recipes.skin import surface_of

BULK: dict[Group, KilogramsPerCubicMetre] = {
    "structure": 600.0,
    "drive": 2500.0,
    "electrics": 2000.0,
    "payload": 500.0,
    "crew": 1000.0,
    "ballast": 9000.0,
    "foam": 33.0,
}
"""kg/m3 of things as they are stowed, air between them counted (from memory)."""
LUMP_UNSURE: Ratio = 0.8
"""Of the inertia of a cube: what a box of the same volume, flat or long, may have more or less (from memory)."""
SHELL_UNSURE: Ratio = 0.2
"""Of a hull's inertia: walls are no even skin, and frames and deck go with them (from memory)."""
PART_SHARE: Ratio = 0.5
"""Of a hull's: what a beam, a deck or a keel of the same mass is taken for, anything from a lump to a hull (from memory)."""
PART_UNSURE: Ratio = 1.0
BODY_UNSURE: Ratio = 0.25
"""Of a person's: how legs and arms are held (from memory)."""
MADE_UNSURE: Ratio = 0.1
"""Of an estimate's: it is made even (from memory)."""


@dataclass(frozen=True, eq=False)
class Extent:
    """Inertia (3, 3) about its own centre, kg m2 in the boat's axes, with the half width of its 95 % band as a share of it.
    ``taken`` says what it was taken for."""

    inertia: Floats
    unsure: Ratio
    taken: str


def extent_of(mass: Kilograms, group: Group, density: KilogramsPerCubicMetre | None, hull: Hull | None, whole: bool = False) -> Extent:
    """Of a thing of which only the mass is known: of structure the shell of the ``hull`` that it builds, ``whole`` or a part of it; a
    seated person for crew; else a cube of its material or of the usual bulk of such things."""
    if group == "structure" and hull is not None and whole:
        return Extent(mass * shell_of(hull), SHELL_UNSURE, "a skin of its hull")
    if group == "structure" and hull is not None:
        return Extent(PART_SHARE * mass * shell_of(hull), PART_UNSURE, "a part of its hull")
    if group == "crew":
        return Extent(mass * _seated(mass), BODY_UNSURE, "a seated person")
    side = _side(mass, density or BULK[group])
    return Extent(mass * side**2 / 6 * np.eye(3), LUMP_UNSURE, "a cube of its mass")


def _side(mass: Kilograms, density: KilogramsPerCubicMetre) -> Metres:
    return float((mass / density) ** (1 / 3))


@kept
def shell_of(hull: Hull) -> Floats:
    """Inertia (3, 3) per kilogram of an even skin over a hull, without its deck where it is open."""
    area, _, second = surface_of(hull, deck=not hull.open)
    return tensor(second / area) if area > 0 else np.zeros((3, 3))


def _seated(mass: Kilograms) -> Floats:
    """Per kilogram; of one heavier or lighter than usual all lengths go with the cube root of the mass."""
    usual = Person()
    made = usual.made(Basis(lambda _: None, {}))  # type: ignore[arg-type, return-value]
    return np.asarray(made.inertia / made.mass * (mass / usual.mass_kg) ** (2 / 3))
