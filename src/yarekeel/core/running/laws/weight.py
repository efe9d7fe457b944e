"""Weight, at the centre of gravity."""

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.running.forces import Force, Law, State, Underway
from yarekeel.core.sources import MECHANICS


def forces(boat: Underway, state: State) -> tuple[Force, ...]:
    """Down at G."""
    return (Force("weight", (0.0, 0.0, -boat.mass * STANDARD_GRAVITY), boat.gravity, 0.0, MECHANICS),)


LAW = Law(0, forces, lambda boat, speeds: ())
