"""A closed triangle mesh from a file beside the boat file. Reading it is the exchange's work, not the core's."""

from dataclasses import dataclass
from typing import ClassVar, Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Mesh

METRES_PER_UNIT = {"mm": 0.001, "cm": 0.01, "m": 1.0, "in": 0.0254, "ft": 0.3048}


@dataclass(frozen=True, slots=True)
class MeshFile:
    """``file`` is a plain name in the boat file's own folder; ``unit`` says what one unit of its numbers is."""

    kind: ClassVar[Literal["mesh"]] = "mesh"
    title: ClassVar[str] = "Mesh from a file"
    file: str = ""
    unit: str = "mm"

    def __post_init__(self) -> None:
        if self.unit not in METRES_PER_UNIT:
            raise InvalidInput("unit", f"Unit must be one of {', '.join(METRES_PER_UNIT)}.")
        if not self.file or "/" in self.file or "\\" in self.file or self.file.startswith("."):
            raise InvalidInput("file", "File must be the plain name of an STL file in the boat file's own folder.")

    def build(self, detail: int = 1) -> Mesh:
        """A mesh file cannot be built from its parameters; it is read by the exchange."""
        raise InvalidInput("file", f"The mesh {self.file} is not at hand; open the boat file in the folder that holds it.")
