"""Aground: how a boat lies in water too shallow for it, and how much of its weight the bottom carries."""

import numpy as np

from yarekeel.core.errors import Unsolved
from yarekeel.core.geometry.attitude import Attitude, rotation
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.hydrostatics.inside import Laden
from yarekeel.core.quantities import Kilograms, KilogramsPerCubicMetre, Metres, Point

TRIES = 200
TOUCHING = 1e-4
"""Of the boat's size: how near the bottom a point must come to count as on it."""


def lie_aground(
    kernel: Flotation | Laden,
    points: Floats,
    mass: Kilograms,
    gravity: Point,
    density: KilogramsPerCubicMetre,
    depth: Metres,
    start: Attitude,
) -> tuple[Attitude, Kilograms]:
    """The attitude in water of ``depth`` over a level, hard bottom, and the mass that the bottom carries.

    Of all attitudes at which none of ``points`` (n, 3) lies under the bottom the boat takes that of least energy: its weight's
    height less that of the water it pushes aside. From ``start``, afloat. Raises Unsolved.
    """
    from scipy.optimize import minimize  # long to load
    from scipy.spatial import ConvexHull  # long to load

    size = kernel.half_extent
    corners = points[ConvexHull(points).vertices]
    centre, g = np.array(kernel.centre), np.array(gravity)

    def unpacked(x: Floats) -> tuple[Attitude, Floats, float]:
        rows = rotation(float(x[0]), float(x[1]))
        return Attitude(float(x[0]), float(x[1]), float(x[2]) * size), np.array(rows[2]), float(x[2]) * size

    def energy(x: Floats) -> float:
        attitude, up, height = unpacked(x)
        d = -(float(up @ centre) + height)
        m = kernel.evaluate(attitude.rows, d)
        return ((float(up @ g) + height) - density * m.mz / mass) / size

    def over_bottom(x: Floats) -> Floats:
        _, up, height = unpacked(x)
        return np.asarray((corners @ up + height + depth) / size)

    first = np.array([start.heel, start.trim, start.origin_height / size])
    first[2] += max(0.0, -float(over_bottom(first).min()))
    found = minimize(
        energy, first, method="SLSQP", constraints=[{"type": "ineq", "fun": over_bottom}], options={"maxiter": TRIES, "ftol": 1e-13}
    )
    if float(over_bottom(found.x).min()) < -TOUCHING:
        raise Unsolved("No way was found for it to lie on the bottom.")
    attitude, up, height = unpacked(found.x)
    m = kernel.evaluate(attitude.rows, -(float(up @ centre) + height))
    return attitude, max(0.0, mass - density * m.volume)
