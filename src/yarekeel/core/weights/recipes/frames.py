"""Frames across the hull, as rings of a width or as whole bulkheads."""

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.facts import Fact
from yarekeel.core.geometry.edges import DECK_UP
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.geometry.sections import sections
from yarekeel.core.parameters import check_parameters, choice, count, length, named, ratio
from yarekeel.core.weights.recipes.made import Basis, Made, tensor

_MADE = (("ring", "rings of a width"), ("solid", "whole bulkheads"))


@dataclass(frozen=True, slots=True)
class Frames:
    """Rings: length along the section's outline x width x thickness x density; bulkheads: the section's area x thickness."""

    kind: ClassVar[str] = "frames"
    title: ClassVar[str] = "Frames or bulkheads"
    group: ClassVar[str] = "structure"
    rank: ClassVar[int] = 3
    follows_hull: ClassVar[bool] = True

    body: str = named("", "Frames of", "the body that they stand in", "body")
    frames: int = count(3, "Frames", "how many, evenly spaced", 1, 60, ("at least one", "make it a second line"))
    first: float = ratio(0.2, "First at", "share of the length, from aft", 0.0, 1.0, ("the after end", "the fore end"))
    last: float = ratio(0.8, "Last at", "share of the length, from aft", 0.0, 1.0, ("the after end", "the fore end"))
    made_as: str = choice("ring", "Made as", "a ring, or the whole section", _MADE)
    width_m: float = length(0.03, "Ring width", "from the skin inwards", 0.001, 1.0, ("thinner than can be cut", "not a ring any more"))
    thickness_m: float = length(0.006, "Thickness", "along the boat", 0.0002, 0.2, ("thinner than is made", "thicker than is made"))
    material: str = named("ply_okoume", "Material", "what they are cut from", "material")

    def __post_init__(self) -> None:
        check_parameters(self)
        if self.frames > 1 and not self.last > self.first:
            raise InvalidInput("last", "The last frame must stand ahead of the first.")

    def made(self, basis: Basis) -> Made:
        """Sections of the mesh at the frames. A ring's corners are taken as many times as they are met: a little too heavy in
        narrow ends, where it is held to the section's own area. In an open boat rings stop at the sheer."""
        stuff = basis.material(self.material, "material")
        areas, places, second = self._cut(basis.body(self.body))
        total, each = float(areas.sum()), self.thickness_m * stuff.density
        facts = (
            Fact("Area", total, "area", "of all frames together"),
            Fact("Density", stuff.density, "density", f"{stuff.title}, {stuff.low:g} to {stuff.high:g} kg/m³"),
        )
        if total <= 0:
            return Made(0.0, facts=facts)
        x, y, z = (areas @ places / total).tolist()
        away = places - [x, y, z]
        second = each * (second + np.einsum("n,ni,nj->ij", areas, away, away))
        solid = self.thickness_m * total
        return Made(mass=each * total, offset=(x, y, z), inertia=tensor(second), spread=stuff.spread, facts=facts, solid=solid)

    def _cut(self, hull: Hull) -> tuple[Floats, Floats, Floats]:
        """Area (n,) and centroid (n, 3) of each frame; their second moments of area (3, 3) about their own centroids, summed."""
        low, high = (float(v[0]) for v in hull.mesh.bounds)
        inset = 1e-4 * (high - low)
        x = np.linspace(self.first, self.last, self.frames) if self.frames > 1 else np.array([self.first])
        pieces, faces, at = sections(hull.mesh, 0, np.clip(low + x * (high - low), low + inset, high - inset))
        a, b = pieces[:, 0], pieces[:, 1]
        n = self.frames
        # The section by Green's theorem: triangles from the axis to each piece of the outline, their areas signed.
        wedge = (a[:, 1] * b[:, 2] - a[:, 2] * b[:, 1]) / 2
        whole = np.bincount(at, wedge, n)
        turn = np.sign(whole.sum()) or 1.0
        whole = whole * turn
        if self.made_as == "solid":
            corner = (a + b) / 3
            moments = [np.bincount(at, turn * wedge * corner[:, k], n) for k in (1, 2)]
            areas = whole
            pair = a[:, :, None] * a[:, None, :] + b[:, :, None] * b[:, None, :] + (a + b)[:, :, None] * (a + b)[:, None, :]
            second = np.einsum("m,mij->ij", turn * wedge, pair) / 12
        else:
            run = np.linalg.norm(b - a, axis=1) * self.width_m
            if hull.open:
                run = run * (hull.mesh.normals[faces, 2] <= DECK_UP)
            areas = np.bincount(at, run, n)
            middle = (a + b) / 2
            moments = [np.bincount(at, run * middle[:, k], n) for k in (1, 2)]
            pair = (a[:, :, None] * a[:, None, :] + b[:, :, None] * b[:, None, :] + 4 * middle[:, :, None] * middle[:, None, :]) / 6
            second = np.einsum("m,mij->ij", run, pair)
        safe = np.where(areas > 0, areas, 1.0)
        where = np.bincount(at, a[:, 0], n) / np.maximum(np.bincount(at, minlength=n), 1)
        places = np.stack([where, moments[0] / safe, moments[1] / safe], axis=1)
        across = np.einsum("n,ni,nj->ij", areas, places, places)
        second = np.where(np.outer([0, 1, 1], [0, 1, 1]), second - across, 0.0)
        held = np.minimum(areas, whole)
        return held, places, second * (held.sum() / areas.sum() if areas.sum() > 0 else 0.0)
