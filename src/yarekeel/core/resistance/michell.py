"""Wave resistance of slender hulls by Michell's integral, from the wetted surface of a real hull, or of several.

J. H. Michell, Phil. Mag. 45 (1898) 106-123. For each direction of wave, lambda = sec(theta), the free-wave amplitude is the sum over the
wetted surface of the flux that each piece sends ahead; for one thin hull that is the integral over the centreplane of the slope of its
**half**-breadth. Pieces off the centreline come in with the phase of the wave that reaches them, so that hulls side by side interfere.
"""

import math
from dataclasses import dataclass
from functools import cache

import numpy as np

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.joined import pieces
from yarekeel.core.geometry.mesh import Floats, Ints, Mesh
from yarekeel.core.quantities import KilogramsPerCubicMetre, Ratio
from yarekeel.core.sources import MICHELL_1898

ALONG, DOWN = 64, 14
"""Cells that each hull's wetted surface is gathered in: along and down."""
DIRECTIONS = 110
DECAYED = 25.0
"""Waves so short that they have died away by exp(-25) at the keel carry nothing more."""
BLUNT = 0.87
"""Of a piece's area that looks straight ahead or astern (30° off), from which it is a transom or a blunt end and outside the law."""
FADES: Ratio = 0.14
"""Froude number below which the integral is not done: its waves are there shorter than the pieces of the surface, which send noise."""
SLOW_POWER = 6
"""Of the speed, by which waves go to nothing: a sharp bow and stern send C_w as Fn^4 (Michell's own limit at low speed)."""
LEAST_STEEP, MOST_STEEP = 2.2, 4.6
"""Between which u ends, lambda = cosh u."""


@dataclass(frozen=True, slots=True, eq=False)
class WaveSource:
    """The flux that wetted hulls send ahead, gathered in cells: ``flux`` (hulls, along, down) in m2 at ``x`` (along,), each hull on its
    centreplane ``y`` (hulls,), between depths ``z`` (down + 1,), 0 at the surface and less below."""

    flux: Floats
    x: Floats
    y: Floats
    z: Floats


def wave_source(centres: Floats, areas: Floats, hull: Ints | None = None) -> WaveSource:
    """From the wetted surface's pieces: centres (n, 3) in world axes (x ahead, z up, the surface at 0), outward area vectors (n, 3) and
    which ``hull`` (n,) each is of, all of one where that is not said."""
    of = np.zeros(len(centres), dtype=int) if hull is None else hull
    hulls = int(of.max()) + 1
    x = np.linspace(float(centres[:, 0].min()), float(centres[:, 0].max()), ALONG)
    # cells are finer near the surface, where short waves live
    deep = min(float(centres[:, 2].min()), -1e-9) * 1.02
    z = deep * np.linspace(0.0, 1.0, DOWN + 1) ** 1.6
    row = np.clip(np.searchsorted(-z, -centres[:, 2]) - 1, 0, DOWN - 1)
    place = np.clip((centres[:, 0] - x[0]) / max(x[1] - x[0], 1e-12), 0.0, ALONG - 1 - 1e-9)
    node = place.astype(int)
    share = place - node
    out = np.zeros((hulls, ALONG, DOWN))
    np.add.at(out, (of, node, row), areas[:, 0] * (1 - share))
    np.add.at(out, (of, node + 1, row), areas[:, 0] * share)
    size = np.linalg.norm(areas, axis=1)
    weight = np.maximum(np.bincount(of, size, hulls), 1e-30)
    return WaveSource(out, x, np.bincount(of, size * centres[:, 1], hulls) / weight, z)


def source_of(part: Mesh, attitude: Attitude) -> WaveSource | None:
    """Of what is under water at an attitude (``geometry.wetted.under_water``), in boat axes; None where nothing of it sends waves. Hulls
    that meet only over the water are hulls of their own."""
    turn = np.array(attitude.rows)
    centres = part.centres @ turn.T + np.array([0.0, 0.0, attitude.origin_height])
    areas = part.area_vectors @ turn.T
    links = np.concatenate([part.faces[:, [0, 1]], part.faces[:, [1, 2]]])
    count = len(part.vertices)
    of_vertex = pieces(count, links[:, 0], links[:, 1])
    _, hull = np.unique(of_vertex[part.faces[:, 0]], return_inverse=True)
    blunt = np.abs(areas[:, 0]) > BLUNT * np.linalg.norm(areas, axis=1)
    wet = (centres[:, 2] < -1e-9) & ~blunt  # what closes the part at the surface sends nothing ahead
    return wave_source(centres[wet], areas[wet], hull[wet]) if wet.any() else None


@cache
def _gauss(count: int) -> tuple[Floats, Floats]:
    return np.polynomial.legendre.leggauss(count)


@formula(
    "R = (4 rho g² / (pi U²)) int |H|² lambda² / sqrt(lambda² - 1) dlambda, H = 1/2 sum n_x dA exp(nu lambda² z + i nu lambda (x + y "
    "sqrt(lambda² - 1)))",
    MICHELL_1898,
    "slender hulls without a wet transom, deep water, Fn from 0.14, below as Fn^6; peaks overestimated at the humps",
)
def wave_resistance(source: WaveSource, speeds: Floats, density: KilogramsPerCubicMetre) -> Floats:
    """Wave resistance (n,) in N at speeds (n,) in m/s; 0 where there is none. Lambda = cosh u takes the root away. Below ``FADES`` it is
    what it is there, less by the power of the speed."""
    out = np.zeros(speeds.shape)
    fast = np.flatnonzero(speeds > 0)
    if not fast.size:
        return out
    slowest = FADES * math.sqrt(STANDARD_GRAVITY * max(float(source.x[-1] - source.x[0]), 1e-9))
    speed = np.maximum(speeds[fast], slowest)
    faded = np.minimum(speeds[fast] / slowest, 1.0) ** SLOW_POWER
    nu = STANDARD_GRAVITY / speed**2
    ends = np.arccosh(np.maximum(np.sqrt(DECAYED / (nu * -source.z[-1])), 1.0 + 1e-9))
    ends = np.clip(ends, LEAST_STEEP, MOST_STEEP)
    nodes, weights = _gauss(DIRECTIONS)
    u = ends[:, None] / 2 * (nodes + 1)
    weight = ends[:, None] / 2 * weights
    lam = np.cosh(u)
    decay = nu[:, None] * lam**2
    z = source.z[:-1, None, None]  # depths first
    steep = np.maximum(decay * (source.z[:-1] - source.z[1:])[:, None, None], 1e-12)
    # the mean of exp(nu lambda² z) over each cell's depth
    down = np.exp(np.maximum(decay * z, -700.0)) * -np.expm1(-steep) / steep
    wave = nu[:, None] * lam
    apart = float(source.x[1] - source.x[0])
    half = wave * apart / 2
    one_on = np.exp(2j * half)  # the phase from a station to the next
    spread = np.maximum(np.sinc(half / math.pi) ** 2, 0.3)  # what gathering at nodes takes from short waves
    amplitude = np.zeros(wave.shape, dtype=complex)
    for flux, y in zip(source.flux, source.y.tolist(), strict=True):
        sent = (flux @ down.reshape(DOWN, -1)).reshape(-1, *wave.shape)  # stations first
        one = sent[-1] + 0j
        for station in sent[-2::-1]:
            one = one * one_on + station
        amplitude += one * np.exp(1j * wave * np.sinh(u) * y) if len(source.y) > 1 else one
    height = np.abs(amplitude / 2 / spread) ** 2
    factor = 4 * density * STANDARD_GRAVITY**2 / (math.pi * speed**2)
    out[fast] = faded * factor * (weight * height * lam**2).sum(axis=1)
    return out
