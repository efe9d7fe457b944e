"""Shape: the hull's own measures, and how far its facets stray from the smooth form."""

from dataclasses import dataclass
from functools import lru_cache

from yarekeel.core.findings import Finding
from yarekeel.core.geometry.families import MeshFile, Shape
from yarekeel.core.quantities import CubicMetres, Metres, Ratio, SquareMetres
from yarekeel.core.sources import MECHANICS
from yarekeel.stages.craft import Craft

FACETS_FINE: Ratio = 0.005
"""Below this share of the volume the facets matter less than a builder's own accuracy (common practice)."""


@dataclass(frozen=True, slots=True)
class ShapeAssessment:
    """Measures of the closed hull; ``faceting`` is the volume gained at twice the detail, as a share, None for a mesh file."""

    length: Metres
    beam: Metres
    depth: Metres
    volume: CubicMetres
    surface: SquareMetres
    triangles: int
    faceting: Ratio | None
    findings: tuple[Finding, ...]


def assess(craft: Craft) -> ShapeAssessment:
    """Measures of the united hull and a verdict on its facets."""
    mesh = craft.hull.mesh
    low, high = mesh.bounds
    shape = craft.design.bodies[0].shape
    faceting = None if isinstance(shape, MeshFile) else _faceting(shape)
    findings = []
    if faceting is not None:
        findings.append(
            Finding(
                "shape.facets",
                "holds" if abs(faceting) < FACETS_FINE else "near",
                "Flat facets stand in for the curves",
                "Drawn twice as fine, the hull would hold {error:percent1} more; every sum here is exact for the facets.",
                MECHANICS,
                {"error": faceting},
            )
        )
    capacity = mesh.volume * craft.density
    findings.append(
        Finding(
            "shape.capacity",
            "note",
            "What the closed hull could carry",
            "It displaces {capacity:mass} with its deck just awash; your target is {target:mass}.",
            MECHANICS,
            {"capacity": capacity, "target": craft.design.brief.target_mass_kg},
        )
    )
    return ShapeAssessment(
        length=float(high[0] - low[0]),
        beam=float(high[1] - low[1]),
        depth=float(high[2] - low[2]),
        volume=mesh.volume,
        surface=mesh.area,
        triangles=len(mesh.faces),
        faceting=faceting,
        findings=tuple(findings),
    )


@lru_cache(maxsize=64)
def _faceting(shape: Shape) -> Ratio:
    coarse = shape.build(1).volume
    return shape.build(2).volume / coarse - 1
