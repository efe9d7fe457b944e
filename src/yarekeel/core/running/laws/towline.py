"""Something in tow, on a level line."""

from yarekeel.core.running.forces import Force, Law, State, Underway
from yarekeel.core.sources import COMMON_PRACTICE


def forces(boat: Underway, state: State) -> tuple[Force, ...]:
    """Back, where the line is made fast, by the square of the speed."""
    if boat.tow <= 0 or state.speed <= 0:
        return ()
    return (Force("tow", (-boat.tow * state.speed**2, 0.0, 0.0), boat.tow_at, 0.3, COMMON_PRACTICE),)


LAW = Law(7, forces, lambda boat, speeds: ())
