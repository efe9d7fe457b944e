"""Open and decked hulls as CAD programs give them: a family's hull with an inside, a gunwale sharp or rounded, a foredeck, fins, rails,
made as one solid. The true rim is the family's own sheer line."""

import itertools
from dataclasses import dataclass

import numpy as np

from yarekeel.core.geometry.edges import deck_edge, edges_of
from yarekeel.core.geometry.families import FlatBottom, RoundBilge, Vee
from yarekeel.core.geometry.mesh import Mesh, block
from yarekeel.core.geometry.union import solid_of, surface_of

FAMILIES = (RoundBilge, FlatBottom, Vee)


@dataclass(frozen=True, eq=False)
class Tub:
    """A hull as a mesh, its true rim as heights (k,) over ``x`` (k,), what was done to it in words, and whether it is open."""

    mesh: Mesh
    x: np.ndarray
    height: np.ndarray
    words: str
    is_open: bool

    def true_at(self, x: np.ndarray) -> np.ndarray:
        return np.interp(x, self.x, self.height)


def sheer_of(mesh: Mesh) -> np.ndarray:
    """The port sheer of a family's hull, from aft (k, 3): its deck's sharp edge."""
    points = mesh.vertices[np.unique(deck_edge(edges_of(mesh)))]
    port = points[points[:, 1] > 1e-6]
    return port[np.argsort(port[:, 0])]


def _tube(points: np.ndarray, radius: float):
    """A round rail along a line: balls joined by their hulls."""
    import manifold3d

    balls = [manifold3d.Manifold.sphere(radius, 16).translate(tuple(p)) for p in points]
    return manifold3d.Manifold.batch_boolean(
        [manifold3d.Manifold.batch_hull([a, b]) for a, b in itertools.pairwise(balls)], manifold3d.OpType.Add
    )


def tub(seed: int, *, is_open: bool = True, hollow: bool = True) -> Tub:
    """A hull by its number: its family, sizes and what is done to it follow from that. ``hollow`` off leaves an open one solid."""
    rng = np.random.default_rng([seed, int(is_open)])
    family = FAMILIES[seed % 3]
    shape = family(length_m=3.0, beam_m=rng.uniform(0.8, 1.3), depth_m=rng.uniform(0.38, 0.55))
    outer = shape.build()
    line = sheer_of(outer)
    line = line[:: max(1, len(line) // 24)]
    solid, words, height = solid_of(outer), [family.title], line[:, 2].copy()
    depth = float(np.ptp(outer.vertices[:, 2]))
    if is_open:
        thick = rng.uniform(0.012, 0.025)
        low, high = outer.bounds
        middle, size = (low + high) / 2, high - low
        within = middle + (outer.vertices - middle) * [1 - 2 * thick / size[0], 1 - 2 * thick / size[1], 1.0] + [0.0, 0.0, thick]
        inside = solid_of(Mesh(within, outer.faces))
        if seed % 4 == 1:  # a foredeck over the last quarter
            inside = inside.trim_by_plane((-1.0, 0.0, 0.0), -2.25)
            words.append("foredeck")
        solid = solid - inside if hollow else solid
    if seed % 2:
        radius = rng.uniform(0.012, 0.03)
        drop = 0.0 if is_open else radius
        aft = line[:1]
        across = [np.vstack([aft, aft * [1.0, -1.0, 1.0]])]  # over the transom too, and along the aft edge of a foredeck
        if is_open and seed % 4 == 1:
            y, z = (float(np.interp(2.25, line[:, 0], line[:, k])) for k in (1, 2))
            across.append(np.array([[2.25, y, z], [2.25, -y, z]]))
        for one in (*(line * [1.0, side, 1.0] for side in (1.0, -1.0)), *across):
            solid = solid + _tube(one - [0.0, 0.0, drop], radius)
        height += radius if is_open else 0.0
        words.append(f"gunwale rounded {1000 * radius:.0f} mm")
    if seed % 3 == 0:
        fin = block(0.5, 0.02, 0.15).moved((0.6, 0.0, -0.15))
        shoe = block(0.6, 0.12, 0.012).moved((0.55, 0.0, -0.16))
        solid = solid + solid_of(fin) + solid_of(shoe)
        words.append("skeg with a shoe")
    if seed % 5 == 0:
        for side in (1.0, -1.0):
            low = line * [1.0, 0.93 * side, 1.0] - [0.0, 0.0, 0.5 * depth]
            solid = solid + _tube(low[2:-6], 0.012)
        words.append("chine rails")
    return Tub(surface_of(solid), line[:, 0], height, ", ".join(words), is_open)
