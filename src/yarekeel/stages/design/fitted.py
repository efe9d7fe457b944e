"""What is fitted to drive a boat, in the boat's own water."""

from yarekeel.core.propulsion.drive import DriveSums, at_rest, drive_sums
from yarekeel.core.quantities import Kilograms, Newtons, Ratio
from yarekeel.stages.design.design import Design


def sums_of(design: Design, mass: Kilograms) -> DriveSums:
    """Thrust and endurance at full throttle standing still, for all that the boat carries."""
    return drive_sums(design.drive, mass, design.water.density, design.water.viscosity)


def pulls_of(design: Design, throttle: Ratio = 1.0) -> tuple[Newtons, ...]:
    """What each motor pulls from rest at a throttle."""
    return tuple(t for t, _ in at_rest(design.drive, design.water.density, design.water.viscosity, throttle))
