"""A design with the hull built from it. Hulls are kept by their bodies, so that a moved weight rebuilds nothing."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property, lru_cache

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.checks import check_closed
from yarekeel.core.geometry.families import MeshFile
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.union import united
from yarekeel.core.weights.items import MassTotal, total_of
from yarekeel.stages.design import Body, Design, Marks


@dataclass(frozen=True)
class Craft:
    """A design, and the meshes of its mesh files by name."""

    design: Design
    meshes: Mapping[str, Mesh] = field(default_factory=dict)

    @cached_property
    def hull(self) -> Hull:
        """The united hull; raises InvalidInput when a body's shape cannot be built."""
        files = tuple((b.shape.file, self.meshes.get(b.shape.file)) for b in self.design.bodies if isinstance(b.shape, MeshFile))
        return _hull_of(self.design.bodies, files)

    @cached_property
    def total(self) -> MassTotal:
        """Sum of the weights; raises InvalidInput when there are none."""
        return total_of(self.design.weights)

    @property
    def density(self) -> float:
        """Of the water, kg/m3."""
        return self.design.water.density

    @property
    def marks(self) -> Marks:
        """The draft marks, by default at the two ends of the hull."""
        if self.design.marks:
            return self.design.marks
        low, high = self.hull.mesh.bounds
        return Marks(float(low[0]), float(high[0]))


@lru_cache(maxsize=48)
def _hull_of(bodies: tuple[Body, ...], files: tuple[tuple[str, Mesh | None], ...]) -> Hull:
    meshes = dict(files)
    built = []
    for number, body in enumerate(bodies):
        shape = body.shape
        mesh = meshes.get(shape.file) if isinstance(shape, MeshFile) else None
        try:
            mesh = mesh or shape.build()
        except InvalidInput as error:
            raise InvalidInput(f"bodies.{number}.shape.{error.field}", error.sentence) from error
        built.append(check_closed(mesh.moved(body.at_m), f"bodies.{number}.shape"))
    return Hull(united(built), open=any(b.deck == "open" for b in bodies))
