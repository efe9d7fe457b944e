"""Meshes that were read and looked over, and wait to be turned and brought in. They live in memory only: nothing is kept
until the builder says so."""

import secrets
import threading
from dataclasses import dataclass, field

import numpy as np

from yarekeel.core.errors import NotFound
from yarekeel.core.geometry.envelope import outer_skin
from yarekeel.core.geometry.families.mesh_file import METRES_PER_UNIT
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.placing import AXES, righted
from yarekeel.core.geometry.rim import Rim, find_rim
from yarekeel.core.geometry.union import simplified_to
from yarekeel.core.quantities import Metres
from yarekeel.exchange.mending import Inspection

MOST_DRAFTS = 4
PICTURED = 2_500
"""Triangles of the small pictures."""
USUAL_LENGTHS: tuple[Metres, Metres] = (0.15, 8.0)
"""What a hobby boat measures; the unit that makes the mesh so long is offered first."""


@dataclass(eq=False)
class Draft:
    """An inspected mesh by name, with what is worked out from it once."""

    name: str
    found: Inspection
    _lock: threading.RLock = field(default_factory=threading.RLock)
    _sketch: Mesh | None = None
    _skins: dict[tuple[str, str], Mesh | None] = field(default_factory=dict)
    _rims: dict[tuple[str, str], Rim] = field(default_factory=dict)

    @property
    def sketch(self) -> Mesh:
        """A copy with little detail, for pictures."""
        with self._lock:
            if self._sketch is None:
                self._sketch = simplified_to(self.found.mesh, PICTURED, 1e-4, 0.02)
            return self._sketch

    def picture_of(self, forward: str, up: str) -> Hull:
        """The sketch turned."""
        return Hull(righted(self.sketch, forward, up))

    def turned(self, forward: str, up: str, unit: str) -> Mesh:
        """The whole mesh in metres, forward x and up z, its after end, middle and foot at the origin."""
        return _homed(righted(self.found.mesh, forward, up).scaled(METRES_PER_UNIT[unit]))

    def skin(self, forward: str, up: str) -> Mesh | None:
        """The outer skin of a hull modelled with an inside, in the file's unit, turned; None for a solid one."""
        key = (forward, up)
        with self._lock:
            if key not in self._skins:
                self._skins[key] = outer_skin(righted(self.found.mesh, forward, up))
            return self._skins[key]

    def rim(self, forward: str, up: str) -> Rim:
        """The rim as it will be found once it is brought in, in the file's unit, turned: of the outer skin where there is an inside."""
        key = (forward, up)
        with self._lock:
            if key not in self._rims:
                skin = self.skin(forward, up)
                found = find_rim(skin or righted(self.found.mesh, forward, up), open_hull=skin is not None)
                self._rims[key] = found
            return self._rims[key]

    def guess(self) -> tuple[str, str, str]:
        """(unit, forward, up) to begin with: the longest axis forward, the shortest up, that end of it up which leaves an inside that
        holds water, a length that boats have."""
        low, high = self.found.mesh.bounds
        size = high - low
        order = np.argsort(-size, kind="stable")
        unit = self.found.unit or next(
            (u for u in METRES_PER_UNIT if USUAL_LENGTHS[0] <= float(size.max()) * METRES_PER_UNIT[u] <= USUAL_LENGTHS[1]), "mm"
        )
        forward, upright = "+" + "xyz"[order[0]], "xyz"[order[2]]
        up = next((way + upright for way in "+-" if self.skin(forward, way + upright) is not None), "+" + upright)
        return unit, forward, up


def _homed(mesh: Mesh) -> Mesh:
    low, high = mesh.bounds
    return mesh.moved((-float(low[0]), -float(low[1] + high[1]) / 2, -float(low[2])))


def across(up: str) -> tuple[str, ...]:
    """The four axes that can be forward when ``up`` is up."""
    return tuple(a for a in AXES if a[1] != up[1])


class Drafts:
    """The last few drafts, by a token nobody can guess."""

    def __init__(self) -> None:
        self._drafts: dict[str, Draft] = {}
        self._lock = threading.Lock()

    def add(self, draft: Draft) -> str:
        """Keep a draft; the oldest gives way."""
        token = secrets.token_urlsafe(12)
        with self._lock:
            self._drafts[token] = draft
            while len(self._drafts) > MOST_DRAFTS:
                del self._drafts[next(iter(self._drafts))]
        return token

    def get(self, token: str) -> Draft:
        """A draft. Raises NotFound once it gave way or the program was started again."""
        with self._lock:
            draft = self._drafts.get(token)
        if draft is None:
            raise NotFound("This mesh is no longer at hand; choose the file again.")
        return draft

    def drop(self, token: str) -> None:
        """Let a draft go."""
        with self._lock:
            self._drafts.pop(token, None)
