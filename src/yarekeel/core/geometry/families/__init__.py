"""Hull families. A new one is one new file here and one row in FAMILIES.

A family is a frozen dataclass of parameters in metres, degrees and ratios, with ``kind`` (its word in the boat file),
``title``, and ``build(detail)`` which gives a closed mesh at every allowed parameter.
"""

from yarekeel.core.geometry.families.box import Box
from yarekeel.core.geometry.families.flat_bottom import FlatBottom
from yarekeel.core.geometry.families.mesh_file import MeshFile
from yarekeel.core.geometry.families.round_bilge import RoundBilge
from yarekeel.core.geometry.families.twin_hull import TwinHull
from yarekeel.core.geometry.families.vee import Vee

Shape = RoundBilge | Vee | FlatBottom | TwinHull | Box | MeshFile
FAMILIES: dict[str, type[Shape]] = {family.kind: family for family in (RoundBilge, Vee, FlatBottom, TwinHull, Box, MeshFile)}

__all__ = ["FAMILIES", "Box", "FlatBottom", "MeshFile", "RoundBilge", "Shape", "TwinHull", "Vee"]
