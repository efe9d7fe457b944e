"""How much of a boat still floats at a state: what of it is under the undisturbed surface, and what planing and foils have taken over."""

from functools import lru_cache

from yarekeel.core.geometry.flotation import centre_below
from yarekeel.core.quantities import CubicMetres, Metres, Point, Ratio
from yarekeel.core.running.forces import State, Underway
from yarekeel.core.running.regime import planing_share


@lru_cache(maxsize=16)
def immersed(boat: Underway, state: State) -> tuple[CubicMetres, Point]:
    """Volume under the undisturbed surface and its centre in boat axes; nothing for a boat that is clear of it."""
    rows, attitude = state.attitude.rows, state.attitude
    d: Metres = -attitude.height_of(boat.kernel.centre)
    m = boat.kernel.evaluate(rows, d)
    if m.volume <= 0:
        return 0.0, boat.gravity
    return m.volume, centre_below(m, boat.kernel.centre, rows, d)


def floating_share(boat: Underway, state: State) -> Ratio:
    """What planing leaves of buoyancy, of the skin's friction and of the waves: all of it for a hull that does not plane."""
    return 1 - planing_share(state.speed, boat.volume) if boat.pads else 1.0


def volume_share(boat: Underway, state: State) -> Ratio:
    """Of the volume at rest, what is left under water where foils lift the boat; 1 for a boat without."""
    return min(immersed(boat, state)[0] / boat.volume, 1.0) if boat.skin is not None else 1.0


def skin_share(boat: Underway, state: State) -> Ratio:
    """Of the hull's wetted surface at rest, what is left where foils lift the boat; 1 for a boat without."""
    return boat.skin(volume_share(boat, state)) if boat.skin is not None else 1.0
