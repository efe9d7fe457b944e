"""A closed surface through half sections: what the families of lofted hulls share."""

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Floats, Mesh, welded, without_folds
from yarekeel.core.quantities import Metres, Ratio

STATIONS = 32
"""Steps along the hull at detail 1, closer together towards the ends where it curves."""
WIDEST_AT: Ratio = 0.45
"""Where along the length the hull is widest, from aft (common practice, 0.40 to 0.55)."""
STERN_SHEER: Ratio = 1 / 3
"""The stern's sheer as a share of the bow's (common practice)."""


@dataclass(frozen=True, slots=True)
class Run:
    """How a lofted hull runs along its length; arrays over the stations, metres."""

    x: Floats
    half_beam: Floats
    keel: Floats
    sheer: Floats
    rake: Floats


class Lofted(Protocol):
    """What a lofted family's parameters have in common."""

    @property
    def length_m(self) -> Metres: ...
    @property
    def beam_m(self) -> Metres: ...
    @property
    def depth_m(self) -> Metres: ...
    @property
    def rocker_bow_m(self) -> Metres: ...
    @property
    def rocker_stern_m(self) -> Metres: ...
    @property
    def sheer_m(self) -> Metres: ...
    @property
    def stern_width(self) -> Ratio: ...
    @property
    def bow_fineness(self) -> Ratio: ...
    @property
    def stem_rake_m(self) -> Metres: ...


def run_of(shape: Lofted, detail: Ratio, bow_width: Ratio = 0.0) -> Run:
    """Plan, keel and sheer curves: parabolas aft, a power curve forward whose exponent falls as the bow gets finer.

    Raises InvalidInput where an end would be left without a side, or the stem would lean over half the boat.
    """
    depth, length = shape.depth_m, shape.length_m
    if max(shape.rocker_bow_m, shape.rocker_stern_m) >= 0.9 * depth:
        raise InvalidInput(
            "rocker_bow_m" if shape.rocker_bow_m >= shape.rocker_stern_m else "rocker_stern_m",
            "Rocker must stay below nine tenths of the depth ({most:length}), or the end has no side left.",
            most=0.9 * depth,
        )
    if shape.stem_rake_m > 0.4 * length:
        raise InvalidInput("stem_rake_m", "Stem rake must stay below four tenths of the length ({most:length}).", most=0.4 * length)
    if shape.sheer_m > 0:
        # The deck rises towards the bow by twice the sheer over the six tenths it runs; the stem must be steeper than that.
        most = 0.8 * (depth + shape.sheer_m - shape.rocker_bow_m) * 0.6 * length / (2 * shape.sheer_m)
        if shape.stem_rake_m > most:
            raise InvalidInput(
                "stem_rake_m", "With this sheer the stem rake must stay below {most:length}, or the deck meets the stem.", most=most
            )
    xi = 0.5 - 0.5 * np.cos(np.linspace(0, np.pi, round(STATIONS * detail) + 1))
    aft = np.clip((WIDEST_AT - xi) / WIDEST_AT, 0, 1)
    fore = np.clip((xi - WIDEST_AT) / (1 - WIDEST_AT), 0, 1)
    plan = 1 - (1 - shape.stern_width) * aft**2 - (1 - bow_width) * fore ** (4.0 - 2.6 * shape.bow_fineness)
    half = 2 * xi - 1
    keel = np.where(half > 0, shape.rocker_bow_m, shape.rocker_stern_m) * np.abs(half) ** 2.5
    rise = np.clip((xi - 0.4) / 0.6, 0, 1) ** 2 + STERN_SHEER * np.clip((0.4 - xi) / 0.4, 0, 1) ** 2
    # The rake gathers at the bow, more gently the longer it is, so that no station slides aft past the one before it.
    gathered = xi ** min(6.0, 0.9 * length / max(shape.stem_rake_m, 1e-9))
    return Run(
        x=xi * length,
        half_beam=np.maximum(plan, 0) * shape.beam_m / 2,
        keel=keel,
        sheer=depth + shape.sheer_m * rise,
        rake=shape.stem_rake_m * gathered,
    )


def lofted(run: Run, y: Floats, z: Floats) -> Mesh:
    """The closed mesh through half sections ``y``, ``z`` (stations, points) running from the keel to the sheer.

    Points slide aft below the sheer by the run's rake. A flat deck, a transom aft and, where the bow has width, a bow
    transom close it. Where a section has no width its two sides meet in a stem.
    """
    share = (run.sheer[:, None] - z) / (run.sheer - run.keel)[:, None]
    x = run.x[:, None] - run.rake[:, None] * share
    port = np.stack([x, y, z], axis=-1)
    star = port * [1, -1, 1]
    rows = len(y)
    keel_to_keel = np.concatenate([star[:, ::-1], port[:, 1:] if np.allclose(y[:, 0], 0) else port], axis=1)
    n = keel_to_keel.shape[1]
    points = keel_to_keel.reshape(-1, 3)
    i, j = np.meshgrid(np.arange(rows - 1), np.arange(n - 1), indexing="ij")
    a = (i * n + j).reshape(-1)
    b, c, d = a + n, a + 1, a + n + 1
    # The diagonal mirrors at the centreline, so that port and starboard are exact images of each other.
    left = (j < (n - 1) // 2).reshape(-1)
    skin = np.vstack(
        [
            np.stack([np.where(left, a, a), np.where(left, b, b), np.where(left, d, c)], axis=1),
            np.stack([np.where(left, a, b), np.where(left, d, d), np.where(left, c, c)], axis=1),
        ]
    )
    k = np.arange(rows - 1)
    sheer_s, sheer_p = k * n, k * n + n - 1
    mid = np.arange(rows) + len(points)
    deck_mid = (keel_to_keel[:, 0] + keel_to_keel[:, -1]) / 2
    m0, m1 = mid[:-1], mid[1:]
    deck = np.vstack(
        [
            np.stack([sheer_s, m1, sheer_s + n], axis=1),
            np.stack([sheer_s, m0, m1], axis=1),
            np.stack([m0, sheer_p, m1], axis=1),
            np.stack([sheer_p, sheer_p + n, m1], axis=1),
        ]
    )
    caps = []
    for row, flip in ((0, False), (rows - 1, True)):
        ring = np.arange(row * n, row * n + n)
        fan = np.stack([np.full(n - 1, mid[row]), ring[:-1], ring[1:]], axis=1)
        caps.append(fan[:, ::-1] if flip else fan)
    mesh = without_folds(welded(np.vstack([points, deck_mid]), np.vstack([skin, deck, *caps])))
    return mesh if mesh.volume > 0 else Mesh(mesh.vertices, mesh.faces[:, ::-1])
