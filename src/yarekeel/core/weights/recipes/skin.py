"""A skin over the hull: core or sheet, cloth and resin on one or both sides, paint."""

import math
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from yarekeel.core.facts import Fact
from yarekeel.core.geometry.edges import DECK_UP
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.parameters import areal, check_parameters, choice, count, length, named, ratio
from yarekeel.core.quantities import KilogramsPerSquareMetre, Metres, Point, Ratio, SquareMetres
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.core.weights.recipes.made import Basis, Made, tensor

SHEET: tuple[Metres, Metres] = (2.44, 1.22)
"""Length and width of sheet stock, 8 by 4 feet."""
CUT_AWAY: Ratio = 0.15
"""Of the area: what is cut away and left over (common practice)."""
SHEETS_HOW = "of 2440 × 1220 mm, 15 % of them cut away"
NOT_BUILT = "past what is laid up by hand"


@dataclass(frozen=True, slots=True)
class Skin:
    """Mass = area x (thickness x density + layers x cloth / (1 - resin share) + coats x paint)."""

    kind: ClassVar[str] = "skin"
    title: ClassVar[str] = "Skin of the hull"
    group: ClassVar[str] = "structure"
    rank: ClassVar[int] = 1
    follows_hull: ClassVar[bool] = True

    body: str = named("", "Skin of", "the body that it covers", "body")
    over: str = choice("all", "It covers", "what of the surface is built", (("all", "hull and deck"), ("hull", "hull without deck")))
    thickness_m: float = length(0.003, "Core or sheet", "thickness under the cloth; 0 for none", 0.0, 0.1, ("none", "not a skin any more"))
    material: str = named("ply_okoume", "Core material", "what the core or sheet is", "material")
    layers_outside: int = count(1, "Layers outside", "of cloth", 0, 20, ("no cloth", NOT_BUILT))
    layers_inside: int = count(0, "Layers inside", "of cloth", 0, 20, ("no cloth", NOT_BUILT))
    cloth_kg_m2: float = areal(0.200, "Cloth", "weight of one layer, dry", 0.0, 2.0, ("no cloth", "heavier than cloth is woven"))
    resin_share: float = ratio(0.5, "Resin share", "of the laminate's mass; half by hand", 0.0, 0.8, ("dry cloth", "hardly any cloth"))
    coats: int = count(0, "Coats of paint", "inside and outside together", 0, 20, ("bare", "past what is painted"))
    paint_kg_m2: float = areal(0.08, "A coat", "weight of a coat, dry", 0.0, 1.0, ("nothing", "more than a coat"))
    fibre: str = named("glass_fibre", "Fibre", "what the cloth is woven of", "material")
    resin: str = named("epoxy", "Resin", "what it is laid up with", "material")

    def __post_init__(self) -> None:
        check_parameters(self)

    def made(self, basis: Basis) -> Made:
        """Area and centre of the surface, exact on the facets; the skin's own thickness is not taken off it."""
        core, fibre, resin = (basis.material(getattr(self, name), name) for name in ("material", "fibre", "resin"))
        area, centre, second = surface_of(basis.body(self.body), self.over == "all")
        cloth = (self.layers_outside + self.layers_inside) * self.cloth_kg_m2
        sheet, laminate, paint = self.thickness_m * core.density, cloth / (1 - self.resin_share), self.coats * self.paint_kg_m2
        each: KilogramsPerSquareMetre = sheet + laminate + paint
        facts = (
            Fact("Area", area, "area", "of the surface covered, from the mesh"),
            *([Fact("Sheets", sheets(area), "count", SHEETS_HOW)] if self.thickness_m else []),
            Fact("Core", area * sheet, "mass", f"{core.title}, {core.density:g} kg/m³"),
            Fact("Cloth", area * cloth, "mass", "layers times their dry weight"),
            Fact("Resin", area * (laminate - cloth), "mass", "so much that it is its share of the laminate"),
            Fact("Paint", area * paint, "mass", "coats times what one weighs"),
        )
        thick = self.thickness_m + cloth / fibre.density + (laminate - cloth) / resin.density + paint / MATERIALS["paint"].density
        unsure = core.spread * sheet / each if each else 0.0
        inertia = tensor(each * second)
        return Made(mass=area * each, offset=centre, inertia=inertia, spread=unsure, facts=facts, solid=area * thick)


def sheets(area: SquareMetres) -> int:
    """Whole sheets of stock that an area takes."""
    return math.ceil((1 + CUT_AWAY) * area / (SHEET[0] * SHEET[1]))


def surface_of(hull: Hull, deck: bool, only: Floats | None = None) -> tuple[SquareMetres, Point, Floats]:
    """Area, centroid and second moments of area (3, 3) about it; without ``deck`` the faces that look up are left out.

    ``only`` (m,) weighs each face. A triangle's second moments: area / 12 (sum v v' + s s'), s the sum of its corners.
    """
    mesh = hull.mesh
    counted = np.ones(len(mesh.faces)) if only is None else only
    if not deck:
        counted = counted * (mesh.normals[:, 2] <= DECK_UP)
    areas = mesh.areas * counted
    area = float(areas.sum())
    if area <= 0:
        return 0.0, (0.0, 0.0, 0.0), np.zeros((3, 3))
    centre = areas @ mesh.centres / area
    corners = mesh.corners - centre
    total = corners.sum(axis=1)
    second = (np.einsum("m,mki,mkj->ij", areas, corners, corners) + np.einsum("m,mi,mj->ij", areas, total, total)) / 12
    x, y, z = centre.tolist()
    return area, (x, y, z), second
