"""A design with the hull built from it. Hulls are kept by their bodies, so that a moved weight rebuilds nothing."""

import dataclasses
from dataclasses import dataclass
from typing import Any

import numpy as np

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.checks import check_closed
from yarekeel.core.geometry.edges import deck_edge, edges_of
from yarekeel.core.geometry.families.mesh_file import MeshFile
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.hull import MOST_DRAWN, Hull
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.placing import mirrored, placed, placed_point
from yarekeel.core.geometry.rim import Rim, find_rim, through_heights
from yarekeel.core.geometry.spaces import Corner, clipped, encloses
from yarekeel.core.geometry.union import simplified_to, united
from yarekeel.core.hydrostatics.afloat import Afloat, float_boat
from yarekeel.core.hydrostatics.curves import rail_at
from yarekeel.core.hydrostatics.inside import Laden, Liquid, Part
from yarekeel.core.kept import kept
from yarekeel.core.once import cached_property
from yarekeel.core.quantities import CubicMetres, Kilograms, Metres, Point, Ratio
from yarekeel.core.weights.items import ActingItem, MassTotal, total_of
from yarekeel.core.weights.materials import MATERIALS, Material
from yarekeel.stages.design.aboard import Aboard, aboard_of
from yarekeel.stages.design.design import RIM, Body, Compartment, Design, Marks


@dataclass(frozen=True, eq=False)
class Space:
    """A compartment as built: its mesh, its kernel about the hull's centre, its liquid's density over the water's."""

    compartment: Compartment
    mesh: Mesh | None
    kernel: Flotation | None
    ratio: Ratio
    fault: str

    @property
    def capacity(self) -> CubicMetres:
        """What it holds of a liquid; 0 where it could not be built."""
        return self.kernel.total_volume * self.compartment.room if self.kernel else 0.0

    @property
    def kernel_or_fail(self) -> Flotation:
        """Its kernel. Raises InvalidInput, with the reason, where it could not be built."""
        if self.kernel is None:
            raise InvalidInput("compartments", self.fault)
        return self.kernel

    def liquid(self, volume: CubicMetres, ratio: Ratio | None = None) -> Liquid:
        """So much liquid in it (its own, or of a ratio), at most what it holds."""
        return Liquid(self.kernel_or_fail, min(volume, self.capacity), self.ratio if ratio is None else ratio, self.compartment.room)

    @property
    def lost(self) -> Part:
        """The space open to the sea, to be taken off what displaces."""
        return Part(self.kernel_or_fail, -self.compartment.room)


@dataclass(frozen=True)
class Craft:
    """A design, and what is built from it."""

    design: Design

    @property
    def kept_as(self) -> Design:
        """What it is asked by: all about it follows from its design."""
        return self.design

    @cached_property
    def hull(self) -> Hull:
        """The united hull; raises InvalidInput when a body's shape cannot be built."""
        return _hull_of(tuple(_plain(b) for b in self.design.bodies))

    @cached_property
    def shown(self) -> Hull:
        """What the drawings show: fairings too, hidden bodies not."""
        bodies = self.design.bodies
        if not any(b.hidden or b.role == "fairing" for b in bodies) or all(b.hidden for b in bodies):
            return self.hull
        seen = (dataclasses.replace(b, role="float" if b.role == "fairing" else b.role) for b in bodies if not b.hidden)
        return _hull_of(tuple(_plain(b) for b in seen))

    @cached_property
    def openings(self) -> tuple[tuple[str, Point], ...]:
        """Every opening by name and place in the boat's axes; a mirrored body has each on both sides."""
        out = []
        for body in self.design.bodies:
            for opening in body.openings:
                x, y, z = placed_point(opening.at_m, body.at_m, body.turn_deg, body.scale)
                out.append((opening.name, (x, y, z)))
                if body.mirrored and y:
                    out.append((f"{opening.name}, other side", (x, -y, z)))
        return tuple(out)

    def piece(self, number: int) -> Mesh:
        """One body by itself, placed, with its mirror image. Raises InvalidInput."""
        return _piece(_plain(self.design.bodies[number]), number)

    def one(self, number: int) -> Mesh:
        """The same without its mirror image: one of a pair. Raises InvalidInput."""
        return _piece(dataclasses.replace(_plain(self.design.bodies[number]), mirrored=False), number)

    def body(self, name: str) -> Hull:
        """A hull of the body of that name by itself, of the whole boat for no name. Raises InvalidInput if there is none."""
        if not name:
            return self.hull
        for number, body in enumerate(self.design.bodies):
            if body.name == name:
                return _alone(_plain(body), number)
        raise InvalidInput("body", f"There is no body named “{name[:40]}” any more.")

    @cached_property
    def aboard(self) -> Aboard:
        """What is aboard in the load case in force."""
        return aboard_of(self.design, self.body)

    @property
    def items(self) -> tuple[ActingItem, ...]:
        """The weights that act on the water, line for line as listed."""
        return self.aboard.items

    @cached_property
    def acting(self) -> tuple[ActingItem, ...]:
        """The same with what hangs free at the point it hangs from: there it acts at any heel, however short its line."""
        if not any(i.hung_m for i in self.items):
            return self.items
        return tuple(dataclasses.replace(i, at_m=(i.at_m[0], i.at_m[1], i.at_m[2] + i.hung_m)) if i.hung_m else i for i in self.items)

    @cached_property
    def total(self) -> MassTotal:
        """Sum of what is aboard as it acts; raises InvalidInput when nothing is."""
        return total_of(self.acting)

    def in_case(self, name: str) -> "Craft":
        """The same boat in another load case; empty for the list as it stands."""
        return self if name == self.design.case else Craft(dataclasses.replace(self.design, case=name))

    @cached_property
    def spaces(self) -> tuple[Space, ...]:
        """The compartments, built; one that cannot be has no kernel and says why."""
        return tuple(self._space_of(c) for c in self.compartments)

    @cached_property
    def compartments(self) -> tuple[Compartment, ...]:
        """The compartments, tanks filled as the load case in force has them."""
        counts = self.design.counts
        return tuple(
            dataclasses.replace(c, filled=min(1.0, counts[c.name])) if c.use == "tank" and c.name in counts else c
            for c in self.design.compartments
        )

    def find_material(self, code: str) -> Material | None:
        """A material by its code, the boat's own first; None where there is none."""
        return next((m for m in self.design.materials if m.code == code), None) or MATERIALS.get(code)

    def material(self, code: str) -> Material:
        """The same. Raises InvalidInput where there is none."""
        found = self.find_material(code)
        if found is None:
            raise InvalidInput("material", "Choose one of the materials listed.")
        return found

    def _space_of(self, space: Compartment) -> Space:
        number, body = next((n, b) for n, b in enumerate(self.design.bodies) if b.name == space.body)
        stuff = self.find_material(space.liquid)
        ratio = stuff.density / self.density if stuff else 1.0
        if space.liquid and not stuff:
            return Space(space, None, None, ratio, f"There is no material “{space.liquid[:40]}” on this boat.")
        if body.role in ("foam", "appendage", "fairing"):
            fault = f"“{space.body}” is solid or dry: water has no room in it. Put the compartment in a hull or a float."
            return Space(space, None, None, ratio, fault)
        mesh = space_of(body, number, space)
        if mesh is None:
            fault = f"“{space.name}” lies outside {space.body}: its bulkheads leave nothing between them."
            return Space(space, None, None, ratio, fault)
        return Space(space, mesh, kernel_about(mesh, self.hull.kernel.centre), ratio, "")

    @cached_property
    def tank_liquids(self) -> tuple[tuple[Space, Liquid], ...]:
        """What is in each tank that has something in it; the others are not built for this."""
        full = [self._space_of(c) for c in self.compartments if c.use == "tank" and c.filled > 0]
        return tuple((s, s.liquid(s.capacity * s.compartment.filled)) for s in full if s.kernel)

    @cached_property
    def kernel(self) -> Flotation | Laden:
        """What floats: the hull, with what lies in its tanks."""
        bare, liquids = self.hull.kernel, [q for _, q in self.tank_liquids]
        return Laden(bare, (Part(bare),), liquids) if liquids else bare

    @property
    def liquid_mass(self) -> Kilograms:
        """Of what lies in its tanks."""
        return sum((q.volume * q.ratio * self.density for _, q in self.tank_liquids), 0.0)

    @property
    def mass(self) -> Kilograms:
        """All that floats: what is aboard, liquids in its tanks among it. Raises InvalidInput where nothing is."""
        return self.total.mass + self.liquid_mass

    @cached_property
    def settled(self) -> Afloat:
        """Where it floats, worked out once. Raises NoRest, and InvalidInput when nothing is aboard."""
        return self.rest()

    @property
    def gravity(self) -> Point:
        """Centre of all that floats, liquids where they lie at rest; of the weights alone where it comes to no rest."""
        if not self.tank_liquids:
            return self.total.centre
        try:
            return self.settled.gravity
        except NoRest:
            return self.total.centre

    def rail_at(self, x: Metres) -> tuple[Metres, Metres]:
        """Half-breadth and height of the top of the port side at station ``x``."""
        return self.hull.rail_at(x) or rail_at(self.hull.sheer_of or self.hull.mesh, x)

    def rest(self, start: Attitude | None = None) -> Afloat:
        """Where it floats, from ``start``. Raises NoRest, and InvalidInput when nothing is aboard."""
        return float_boat(
            hull=self.hull, mass=self.total.mass, gravity=self.total.centre, density=self.density, start=start, kernel=self.kernel
        )

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


def _plain(body: Body) -> Body:
    """The body less what its form does not depend on, so that a new name rebuilds nothing."""
    return dataclasses.replace(body, name="body", hidden=False, openings=())


@kept
def built(shape: Any) -> Mesh:
    """A shape's own mesh at the detail that sums are done with. Raises InvalidInput."""
    mesh = shape.build()
    assert isinstance(mesh, Mesh)
    return mesh


@kept
def _simple(shape: Any) -> Mesh:
    """The same with as much less detail as keeps drawings quick; simplified once, however the body is placed and stretched."""
    return simplified_to(built(shape), MOST_DRAWN, 1e-4, 0.02)


@kept
def _piece(body: Body, number: int) -> Mesh:
    at = f"bodies.{number}.shape"
    try:
        shape: Any = body.shape
        mesh = built(shape)
    except InvalidInput as error:
        raise error.at(f"{at}.{error.field}") from error
    return _set_in_place(mesh, body, at)


def _set_in_place(mesh: Mesh, body: Body, at: str) -> Mesh:
    one = check_closed(placed(mesh, body.at_m, body.turn_deg, body.scale), at)
    return united([one, mirrored(one)]) if body.mirrored else one


@kept
def _simple_piece(body: Body, number: int) -> Mesh:
    """A body in its place as it is drawn."""
    return _set_in_place(_simple(body.shape), body, f"bodies.{number}.shape")


@kept
def _alone(body: Body, number: int) -> Hull:
    return Hull(_piece(body, number), open=body.deck == "open" and body.role == "hull")


@kept
def _space(body: Body, number: int, low: Corner, high: Corner) -> Mesh | None:
    return clipped(_piece(body, number), low, high)


def space_of(body: Body, number: int, space: Compartment) -> Mesh | None:
    """What of a body lies between a compartment's bulkheads; None for nothing. Raises InvalidInput."""
    return _space(_plain(body), number, space.low, space.high)


def half(body: Body, number: int, side: int) -> Mesh:
    """The one of a mirrored pair on a side (1 port, -1 starboard). Raises InvalidInput where there is none."""
    mesh = _space(_plain(body), number, (None, 0.0 if side > 0 else None, None), (None, 0.0 if side < 0 else None, None))
    if mesh is None:
        raise InvalidInput("bodies", f"“{body.name}” has no half on that side.")
    return mesh


@kept
def kernel_about(mesh: Mesh, centre: Point) -> Flotation:
    """The kernel of a part, to be added up with others about the same centre."""
    return Flotation(mesh, centre)


@kept
def _hull_of(bodies: tuple[Body, ...]) -> Hull:
    built = [(b, _piece(b, n)) for n, b in enumerate(bodies) if b.role != "fairing"]
    if not built:
        raise InvalidInput("bodies", "Every body is a fairing, which carries nothing; make one a hull or a float.")
    hulls = [mesh for b, mesh in built if b.role == "hull"]
    whole = united([mesh for _, mesh in built])
    sheer_of = None if len(hulls) in (0, len(built)) else united(hulls)
    is_open = any(b.deck == "open" and b.role == "hull" for b, _ in built)
    pieces = tuple(mesh for _, mesh in built) if len(built) > 1 else ()
    simple: tuple[Mesh, ...] = ()
    if any(len(mesh.faces) > MOST_DRAWN for _, mesh in built):
        simple = tuple(_simple_piece(b, n) for n, b in enumerate(bodies) if b.role != "fairing")
    return Hull(whole, open=is_open, sheer_of=sheer_of, found_rim=_found_rim(bodies), pieces=pieces, simple=simple)


def _found_rim(bodies: tuple[Body, ...]) -> Rim | None:
    """The rim of all hulls together where one of them is known as a mesh alone; None where every one is drawn by a family."""
    numbered = [(n, b) for n, b in enumerate(bodies) if b.role == "hull"]
    if not any(isinstance(b.shape, MeshFile) for _, b in numbered):
        return None
    rims = [rim_of(b, n) for n, b in numbered]
    points = []
    for (n, _), rim in zip(numbered, rims, strict=True):
        others = [_piece(b, k) for k, b in numbered if k != n]
        points += [p for p in rim.points.tolist() if not any(encloses(mesh, (p[0], p[1], p[2])) for mesh in others)]
    doubt = next((r.doubt for r in rims if r.doubt), "")
    return Rim(np.array(points if points else rims[0].points), doubt)


def _own_rim(body: Body) -> Rim | None:
    """The rim as the mesh has it, put where the body is: stretching does not move it along the surface. None for a body that is turned."""
    if body.turn_deg != (0.0, 0.0, 0.0):
        return None
    found = _rim_found(body.shape, is_open=body.deck == "open")
    return Rim(found.points * np.asarray(body.scale) + np.asarray(body.at_m), found.doubt)


@kept
def _rim_found(shape: Any, *, is_open: bool) -> Rim:
    return find_rim(built(shape), open_hull=is_open)


@kept
def rim_of(body: Body, number: int) -> Rim:
    """The rim of one hull, placed: found by its shape where it is a mesh, with the heights that its builder gave."""
    one = _piece(dataclasses.replace(_plain(body), mirrored=False), number)
    if isinstance(body.shape, MeshFile):
        found = _own_rim(body) or find_rim(one, open_hull=body.deck == "open")
    else:
        found = Rim(one.vertices[np.unique(deck_edge(edges_of(one)))], "")
    found = through_heights(found, *(getattr(body, name) for name in RIM))
    if not body.mirrored:
        return found
    return Rim(np.vstack([found.points, found.points * [1.0, -1.0, 1.0]]), found.doubt)
