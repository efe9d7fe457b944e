"""A float test: what was read off the boat in the bath, and the mass and centre that would explain it."""

import math
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.flotation import Flotation, centre_below
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.inside import Laden
from yarekeel.core.quantities import Kilograms, KilogramsPerCubicMetre, Metres, Radians

DRAFT_READING: Metres = 0.001
"""Half width of a ruler reading at a mark in still water (common practice)."""
HEEL_READING: Radians = math.radians(0.5)
"""Half width of a heel read off a phone or a bubble (common practice)."""
SCALE_READING = 0.002
"""Half width of a kitchen-scale reading as a share of it (common practice)."""


@dataclass(frozen=True, slots=True)
class Explanation:
    """Mass and centre of gravity that would float as measured, with half widths from the readings alone."""

    mass: Kilograms
    lcg: Metres
    tcg: Metres
    mass_half_width: Kilograms
    lcg_half_width: Metres
    trim: Radians
    heel: Radians


def attitude_from_drafts(bow_x: Metres, bow: Metres, stern_x: Metres, stern: Metres, heel: Radians = 0.0) -> Attitude:
    """The attitude at which marks at ``bow_x`` and ``stern_x`` read so, along the boat's own z from the baseline."""
    if bow_x - stern_x <= 1e-6:
        raise InvalidInput("marks", "The bow mark must lie ahead of the stern mark.")
    slope = (stern - bow) / (bow_x - stern_x)
    trim = math.atan(slope * math.cos(heel))
    at_origin = stern + slope * stern_x
    return Attitude(heel, trim, -at_origin * math.cos(trim) * math.cos(heel))


def explain(
    hull: Hull,
    density: KilogramsPerCubicMetre,
    vcg: Metres,
    bow_x: Metres,
    bow: Metres,
    stern_x: Metres,
    stern: Metres,
    heel: Radians = 0.0,
    kernel: Flotation | Laden | None = None,
    read_to: Metres = DRAFT_READING,
) -> Explanation:
    """From two drafts and the heel: mass = rho V, and G on the vertical through B at the listed height ``vcg``.

    Each draft was read to within ``read_to``. With liquids aboard (``kernel``) mass and centre are those of the weights without them.

    Raises InvalidInput when the marks lie clear of the water or above everything.
    """
    kernel = kernel or hull.kernel
    mass, lcg, tcg = _solve(kernel, density, vcg, attitude_from_drafts(bow_x=bow_x, bow=bow, stern_x=stern_x, stern=stern, heel=heel))
    squares_m = squares_x = 0.0
    for db, ds in ((read_to, 0.0), (0.0, read_to)):
        shifted = attitude_from_drafts(bow_x=bow_x, bow=bow + db, stern_x=stern_x, stern=stern + ds, heel=heel)
        m, x, _ = _solve(kernel, density, vcg, shifted)
        squares_m += (m - mass) ** 2
        squares_x += (x - lcg) ** 2
    trim = attitude_from_drafts(bow_x=bow_x, bow=bow, stern_x=stern_x, stern=stern, heel=heel).trim
    return Explanation(
        mass=mass, lcg=lcg, tcg=tcg, mass_half_width=math.sqrt(squares_m), lcg_half_width=math.sqrt(squares_x), trim=trim, heel=heel
    )


def _solve(kernel: Flotation | Laden, density: KilogramsPerCubicMetre, vcg: Metres, attitude: Attitude) -> tuple[Kilograms, Metres, Metres]:
    rows = attitude.rows
    d = -attitude.height_of(kernel.centre)
    m = kernel.evaluate(rows, d)
    if m.volume <= 1e-9 * kernel.total_volume:
        raise InvalidInput("drafts", "At these drafts the hull is clear of the water; check the marks and the readings.")
    b = centre_below(m, kernel.centre, rows, d)
    # G = B + t up with G's height at vcg
    t = (vcg - b[2]) / rows[2][2]
    return m.volume * density, b[0] + t * rows[2][0], b[1] + t * rows[2][1]
