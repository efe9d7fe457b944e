"""How likely it is that a boat of unsure weights keeps within its limits: by linear propagation, and by floating many.

The weights act through four sums, mass and three moments. Linear propagation (JCGM 100:2008, eq. 13) turns their common
spread into that of draft, trim, heel and GM; freeboard is then read off exactly at each drawn attitude, since the lowest
point of a rim moves from one side to the other. The check draws every weight, sums them up and solves each boat.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import Unsolved
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.hydrostatics.afloat import Afloat, Outputs, figures_of, slopes_by_load
from yarekeel.core.hydrostatics.equilibrium import solve_equilibrium
from yarekeel.core.hydrostatics.inside import Laden
from yarekeel.core.quantities import Metres, Point, Radians, Ratio
from yarekeel.core.weights.items import WeightItem, independent, lots

BAND = 1.959964
"""Standard deviations in half a 95 % band."""
DRAWS = 20_000
"""Of the linear model: a chance is then sure to about 0.3 %."""
SEED = 20


@dataclass(frozen=True, slots=True)
class Limits:
    """What the brief allows: freeboard and GM at least, trim and heel at most either way."""

    freeboard: Metres
    trim: Radians
    heel: Radians
    gm: Metres


@dataclass(frozen=True, slots=True)
class Chances:
    """The chance of keeping each limit, of every opening staying dry, and of all of them together."""

    freeboard: Ratio
    trim: Ratio
    heel: Ratio
    gm: Ratio
    openings: Ratio
    all: Ratio


def drawn(
    hull: Hull,
    items: Sequence[WeightItem],
    afloat: Afloat,
    bow_x: Metres,
    stern_x: Metres,
    kernel: Flotation | Laden | None = None,
    count: int = DRAWS,
) -> Floats | None:
    """``count`` boats by the linear model, each a row of the figures of ``Outputs`` (count, 8); None without stiffness to lean on.

    Freeboard is read off exactly at each attitude.
    """
    slopes = slopes_by_load(hull=hull, afloat=afloat, bow_x=bow_x, stern_x=stern_x, kernel=kernel)
    if slopes is None:
        return None
    moved = independent(items, np.eye(4))  # mass and moments, by source
    values, vectors = np.linalg.eigh(moved.T @ moved)
    root = vectors * np.sqrt(np.maximum(values, 0.0))
    normal = np.random.default_rng(SEED).standard_normal((count, 4)) / BAND
    now = np.array(figures_of(hull, afloat.mass, afloat.attitude, afloat.gm_transverse, bow_x, stern_x))
    out = np.asarray(now + normal @ root.T @ slopes)
    out[:, 6] = least_heights(hull.rim, out[:, 4], out[:, 3], out[:, 7])
    return out


def least_heights(points: Floats, heel: Floats, trim: Floats, origin_height: Floats) -> Floats:
    """Height (n,) of the lowest of ``points`` (k, 3) over the surface at each of n attitudes."""
    # Only points that are lowest at some attitude about these matter: found on a coarse net of them.
    net = np.array([[h, t] for h in _span(heel) for t in _span(trim)])
    points = points[np.unique((_ups(net[:, 0], net[:, 1]) @ points.T).argmin(axis=1))]
    return np.asarray((_ups(heel, trim) @ points.T).min(axis=1) + origin_height)


def _span(values: Floats) -> Floats:
    return np.linspace(values.min() - 1e-4, values.max() + 1e-4, 25)


def _ups(heel: Floats, trim: Floats) -> Floats:
    return np.stack([np.sin(trim), np.cos(trim) * np.sin(heel), np.cos(trim) * np.cos(heel)], axis=1)


def chances(rows: Floats, limits: Limits, openings: Sequence[Point] = ()) -> Chances:
    """The share of drawn or floated boats (rows of ``Outputs``, (n, 8)) that keep each limit."""
    trim, heel, gm, freeboard, height = rows[:, 3], rows[:, 4], rows[:, 5], rows[:, 6], rows[:, 7]
    dry = least_heights(np.array(openings), heel, trim, height) > 0 if openings else np.ones(len(rows), dtype=bool)
    kept = (freeboard >= limits.freeboard, np.abs(trim) <= limits.trim, np.abs(heel) <= limits.heel, gm >= limits.gm, dry)
    return Chances(*(float(k.mean()) for k in (*kept, np.logical_and.reduce(kept))))


def half_widths(rows: Floats) -> Outputs:
    """Half width of the 95 % band of each figure over many boats (n, 8)."""
    return Outputs(*(BAND * rows.std(axis=0, ddof=1)).tolist())


def true_floats(
    hull: Hull,
    items: Sequence[WeightItem],
    afloat: Afloat,
    bow_x: Metres,
    stern_x: Metres,
    kernel: Flotation | Laden | None = None,
    count: int = 500,
    seed: int = SEED,
) -> Iterator[tuple[float, ...] | None]:
    """``count`` boats with every weight and its place drawn and the attitude solved: one after the other, so that it can be watched and
    stopped. None for one that sinks or does not settle."""
    kernel = kernel or hull.kernel
    chance = np.random.default_rng(seed)
    masses, places = np.array([i.mass_kg for i in items]), np.array([i.at_m for i in items])
    off = np.array([i.place_width for i in items]) / BAND
    widths, source = np.array([i.half_width for i in items]) / BAND, lots(items)
    liquid = afloat.mass - afloat.listed
    for _ in range(count):
        real = np.maximum(masses + widths * chance.standard_normal(int(source.max()) + 1)[source], 0.0)
        mass = float(real.sum())
        volume = mass / afloat.density
        if not 0 < volume < kernel.total_volume * (1 - 1e-9):
            yield None
            continue
        x, y, z = (real @ (places + off * chance.standard_normal(off.shape)) / mass).tolist()
        try:
            rest = solve_equilibrium(kernel, volume, (x, y, z), afloat.attitude)
        except Unsolved:
            yield None
            continue
        xx, _, _ = rest.turning_stiffness
        whole = (mass + liquid) / afloat.density
        yield figures_of(hull, mass + liquid, rest.attitude, xx / whole, bow_x, stern_x)
