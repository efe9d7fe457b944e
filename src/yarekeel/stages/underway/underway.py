"""Under way: the speed its length allows, the friction to expect, and what thrust does to the trim."""

import math
from dataclasses import dataclass

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.geometry.wetted import waterline_length, wetted_surface
from yarekeel.core.quantities import Metres, MetresPerSecond, Newtons, Radians, SquareMetres
from yarekeel.core.resistance.friction import friction, hull_speed
from yarekeel.core.sources import BRIEF, COMMON_PRACTICE, ITTC_1957, MECHANICS
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.fitted import sums_of

SPEED_STEPS = 12


@dataclass(frozen=True, slots=True)
class UnderwayAssessment:
    """All None when it does not float. ``curve`` holds (speed, skin friction) up to the hull speed."""

    waterline: Metres | None
    wetted: SquareMetres | None
    hull_speed: MetresPerSecond | None
    curve: tuple[tuple[MetresPerSecond, Newtons], ...]
    thrust_trim: Radians | None
    findings: tuple[Finding, ...]


def assess(craft: Craft) -> UnderwayAssessment:
    """Hull speed and friction at the resting attitude; trim under full thrust, with the drag acting at the centre of buoyancy."""
    at_rest = afloat.assess(craft)
    boat = at_rest.afloat
    if boat is None:
        return UnderwayAssessment(waterline=None, wetted=None, hull_speed=None, curve=(), thrust_trim=None, findings=at_rest.findings[:1])
    mesh, attitude = craft.hull.mesh, boat.attitude
    waterline, wetted = waterline_length(mesh, attitude), wetted_surface(mesh, attitude)
    limit = hull_speed(waterline)
    water = craft.design.water
    speeds = [limit * (k + 1) / SPEED_STEPS for k in range(SPEED_STEPS)]
    curve = tuple((v, friction(v, waterline, wetted, water.density, water.viscosity)) for v in speeds)
    findings = [
        Finding(
            "underway.hull_speed",
            "note",
            "Runs freely to {speed:speed}",
            "At Froude number 0.40 on {length:length} of waterline it meets its own wave; above, drag climbs steeply.",
            source=COMMON_PRACTICE,
            values={"speed": limit, "length": waterline},
        ),
        Finding(
            "underway.friction",
            "note",
            "Skin friction {drag:force} there",
            "On {area:area} wetted. Waves, air and fittings come on top, so the motor needs a good deal more.",
            source=ITTC_1957,
            values={"drag": curve[-1][1], "area": wetted},
        ),
    ]
    sums = sums_of(craft.design, boat.mass)
    trim = None
    if sums.line_height is not None and boat.gm_longitudinal > 0:
        lever = boat.buoyancy[2] - sums.line_height
        trim = math.atan(sums.thrust * lever / (boat.mass * STANDARD_GRAVITY * boat.gm_longitudinal))
        allowed = math.radians(craft.design.brief.allowed_trim_deg)
        total = attitude.trim + trim
        bad = abs(total) > 2 * allowed
        findings.append(
            Finding(
                "underway.thrust_trim",
                "note" if bad else "holds",  # of trim under way the brief asks nothing
                "Full thrust pitches it {pitch:trim}",
                "On top of its rest that makes {total:trim}; the thrust line runs {lever:above_below} the drag. Lift is not counted.",
                source=MECHANICS,
                values={"pitch": trim, "total": total, "lever": -lever},
                remedies=(Remedy("Bring the thrust line nearer the drag", "drive"),) if bad else (),
            )
        )
    else:
        findings.append(
            Finding(
                "drive.none",
                "note",
                "No motor yet",
                "Enter a motor to see what its thrust does to the trim.",
                source=BRIEF,
                values={},
                remedies=(Remedy("Enter a motor", "drive"),),
            )
        )
    return UnderwayAssessment(waterline=waterline, wetted=wetted, hull_speed=limit, curve=curve, thrust_trim=trim, findings=tuple(findings))
