"""Buoyancy of the true hull, as far as it still floats on it."""

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.geometry.flotation import centre_below
from yarekeel.core.running.forces import Force, Law, State, Underway
from yarekeel.core.running.regime import planing_share
from yarekeel.core.sources import MECHANICS


def forces(boat: Underway, state: State) -> tuple[Force, ...]:
    """Up at the centre of what is under the undisturbed surface; a planing bottom's lift takes its place with speed."""
    rows, attitude = state.attitude.rows, state.attitude
    d = -attitude.height_of(boat.kernel.centre)
    m = boat.kernel.evaluate(rows, d)
    if m.volume <= 0:
        return ()
    share = 1 - planing_share(state.speed, boat.volume) if boat.bottom is not None else 1.0
    up = boat.density * STANDARD_GRAVITY * m.volume * share
    return (Force("buoyancy", (0.0, 0.0, up), centre_below(m, boat.kernel.centre, rows, d), 0.02, MECHANICS),)


LAW = Law(1, forces, lambda boat, speeds: ())
