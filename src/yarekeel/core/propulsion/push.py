"""What a unit gives at throttles and speeds."""

from dataclasses import dataclass

from yarekeel.core.propulsion.electric import Running
from yarekeel.core.quantities import Floats, Ratio


@dataclass(frozen=True, slots=True, eq=False)
class Push:
    """A unit's pull along its own line and its pack's current, arrays of one shape; ``spread`` is half the width of the pull's 95 % band
    at rest as a share of it. ``running`` is the motor's own state where a pack turns it; ``at_speed`` says that speeds were taken in:
    without, the pull is that from rest at any speed."""

    thrust: Floats
    current: Floats
    spread: Ratio
    running: Running | None = None
    at_speed: bool = True
