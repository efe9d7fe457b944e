"""Buoyancy of the true hull, as far as it still floats on it."""

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.running.floating import floating_share, immersed
from yarekeel.core.running.forces import Force, Law, State, Underway
from yarekeel.core.sources import MECHANICS


def forces(boat: Underway, state: State) -> tuple[Force, ...]:
    """Up at the centre of what is under the undisturbed surface; a planing bottom's lift takes its place with speed."""
    volume, centre = immersed(boat, state)
    if volume <= 0:
        return ()
    up = boat.density * STANDARD_GRAVITY * volume * floating_share(boat, state)
    return (Force("buoyancy", (0.0, 0.0, up), centre, 0.02, MECHANICS),)


LAW = Law(1, forces, lambda boat, speeds: ())
