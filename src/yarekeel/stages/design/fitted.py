"""What is fitted to drive a boat, in the boat's own water."""

from yarekeel.core.propulsion.drive import direction
from yarekeel.core.propulsion.pulls import DriveSums, at_rest, drive_sums
from yarekeel.core.quantities import Amperes, Kilograms, Newtons, Point, Ratio
from yarekeel.stages.design.design import Design


def sums_of(design: Design, mass: Kilograms) -> DriveSums:
    """Thrust and endurance at full throttle standing still, for all that the boat carries."""
    return drive_sums(design.drive, mass, design.water.density, design.water.viscosity)


def forces_of(design: Design, throttle: Ratio = 1.0) -> tuple[Point, ...]:
    """The force of each motor from rest at a throttle, boat axes."""
    return tuple(
        (t * x, t * y, t * z) for t, (x, y, z) in zip(pulls_of(design, throttle), map(direction, design.drive.motors), strict=True)
    )


def at_rest_of(design: Design, throttle: Ratio = 1.0) -> tuple[tuple[Newtons, Amperes], ...]:
    """What each motor pulls from rest at a throttle, along its own line, and what it draws."""
    return at_rest(design.drive, design.water.density, design.water.viscosity, throttle)


def pulls_of(design: Design, throttle: Ratio = 1.0) -> tuple[Newtons, ...]:
    """What each motor pulls from rest at a throttle, along its own line."""
    return tuple(t for t, _ in at_rest_of(design, throttle))
