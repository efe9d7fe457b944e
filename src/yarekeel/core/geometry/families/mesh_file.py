"""A closed triangle mesh from a file beside the boat file. Reading it is the exchange's work, not the core's."""

import dataclasses
from dataclasses import dataclass
from typing import Any, ClassVar, Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.placing import axis
from yarekeel.core.quantities import Ratio

METRES_PER_UNIT = {"mm": 0.001, "cm": 0.01, "m": 1.0, "in": 0.0254, "ft": 0.3048}


@dataclass(frozen=True, slots=True)
class MeshFile:
    """``file`` is a plain name in the boat file's own folder; ``unit`` says what one unit of its numbers is, ``forward``
    and ``up`` which of its axes point there. ``mesh`` is what was read from it, turned and in metres; ``walls`` says that the file
    holds walls round an inside, of which the outer skin was taken. Neither is written."""

    kind: ClassVar[Literal["mesh"]] = "mesh"
    title: ClassVar[str] = "Mesh from a file"
    group: ClassVar[str] = "Tables and meshes"
    rank: ClassVar[int] = 2
    role: ClassVar[str] = "hull"
    file: str = ""
    unit: str = "mm"
    forward: str = "+x"
    up: str = "+z"
    mesh: Any = dataclasses.field(default=None, repr=False)
    walls: bool = dataclasses.field(default=False, repr=False)

    def __post_init__(self) -> None:
        if self.unit not in METRES_PER_UNIT:
            raise InvalidInput("unit", f"Unit must be one of {', '.join(METRES_PER_UNIT)}.")
        if axis(self.forward)[0] ** 2 == axis(self.up)[0] ** 2 and axis(self.forward)[1] ** 2 == axis(self.up)[1] ** 2:
            raise InvalidInput("forward", "Forward and up must be two different axes.")
        if not self.file or "/" in self.file or "\\" in self.file or self.file.startswith("."):
            raise InvalidInput("file", "File must be the plain name of a mesh file in the boat file's own folder.")

    def build(self, detail: Ratio = 1) -> Mesh:
        """The mesh that was read. Raises InvalidInput while it has not been: that is the exchange's work."""
        if self.mesh is None:
            raise InvalidInput("file", f"The mesh {self.file} is not at hand; open the boat file in the folder that holds it.")
        assert isinstance(self.mesh, Mesh)
        return self.mesh
