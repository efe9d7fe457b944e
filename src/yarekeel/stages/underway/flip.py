"""Air and flip: the speed at which air under the hull beats its weight about the rear contact, and what moves it most."""

import dataclasses
import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.lifting.wing import lift_slope
from yarekeel.core.quantities import Metres, MetresPerSecond, Newtons, Point, Radians, Ratio, SquareMetres
from yarekeel.core.running.flip import CENTRE, flip_speed, holding_moment
from yarekeel.core.sources import COMMON_PRACTICE, JONES_1946
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.running.boat import bare_hull
from yarekeel.stages.running.resistance import resistance_of
from yarekeel.stages.underway import speed

PITCHED: Radians = math.radians(6.0)
"""What a wave pitches a small fast hull up by (common practice)."""
LEAST_ANGLE: Radians = math.radians(1.0)
DOUBT: Ratio = 0.3
"""Half the width of the band of a flip speed, as a share: a flat plate in free air is a rough picture of a hull (from memory)."""
GUST: Ratio = 1.5
"""Times the wind."""
SLACK: Ratio = 1.15
"""Times the top speed: a flip speed must be further away than that."""


@dataclass(frozen=True, slots=True)
class Plan:
    """What the flip depends on: mass, how far G lies ahead of the rear contact, plan area, its breadth and how far ahead of the contact its
    lift acts, the trim it runs at, thrust and how far its line runs over the contact."""

    mass: float
    ahead: Metres
    area: SquareMetres
    breadth: Metres
    arm: Metres
    trim: Radians
    thrust: Newtons
    above: Metres
    contact: Point
    """In boat axes."""


@dataclass(frozen=True, slots=True)
class FlipAssessment:
    """Flip speeds: calm, in the head wind, in a gust of it, pitched up by a wave in that; what each change buys (name, the last of these
    then, gain); the top speed it is judged by, None where not known."""

    plan: Plan
    calm: MetresPerSecond
    windy: MetresPerSecond
    gusty: MetresPerSecond
    pitched: MetresPerSecond
    buys: tuple[tuple[str, MetresPerSecond, MetresPerSecond], ...]
    top: MetresPerSecond | None
    findings: tuple[Finding, ...]


def plan_of(craft: Craft, area: SquareMetres | None = None) -> Plan | None:
    """From the mesh as it floats, running at its fastest; ``area`` replaces the mesh's plan. None for a boat that does not run."""
    if area is not None and not 0 < area <= 100:
        raise InvalidInput("plan_area", "A plan area above nothing, up to 100 m2.")
    holds = resistance_of(craft)
    if holds is None:
        return None
    boat = holds.boat
    mesh = bare_hull(craft)
    low, high = mesh.bounds
    length = float(high[0] - low[0])
    top = holds.balances[-1] or next((b for b in reversed(holds.balances) if b is not None), None)
    trim = top.attitude.trim if top is not None else boat.rest.trim
    plan = float(np.maximum(mesh.area_vectors[:, 2], 0.0).sum())
    contact = min((p.keel for p in boat.pads), default=(float(low[0]), 0.0, float(low[2])))
    thrust = speed.thrust_over(craft, 1.0, holds.speeds[-1:])
    arm = (1 - CENTRE) * length
    return Plan(
        mass=boat.mass,
        ahead=boat.gravity[0] - contact[0],
        area=area or plan,
        breadth=float(high[1] - low[1]),
        arm=arm,
        trim=max(trim, LEAST_ANGLE),
        thrust=float(thrust[0]) if thrust is not None and thrust[0] > 0 else 0.0,
        above=boat.thrust_at[2] - contact[2],
        contact=contact,
    )


def lifting_off(plan: Plan) -> Newtons:
    """Lift of the air, where it acts, at which the bow comes free."""
    return max(holding_moment(plan.mass, plan.ahead, plan.thrust, plan.above), 0.0) / plan.arm


def speed_of(plan: Plan, wind: MetresPerSecond = 0.0, pitched: Radians = 0.0) -> MetresPerSecond:
    """The flip speed of a plan in a head wind, pitched up by an angle."""
    moment = holding_moment(plan.mass, plan.ahead, plan.thrust, plan.above)
    return flip_speed(moment, plan.area, lift_slope(plan.breadth, plan.area), plan.trim + pitched, plan.arm, wind)


def assess(craft: Craft, wind: MetresPerSecond = 0.0, area: SquareMetres | None = None) -> FlipAssessment | None:
    """In a head wind; None for a boat that does not run. Raises InvalidInput."""
    speed.checked(1.0, wind)
    plan = plan_of(craft, area)
    if plan is None:
        return None
    gust = wind * GUST
    now = speed_of(plan, gust, PITCHED)
    changes = (
        (
            "a tenth of its weight a tenth of its length forward",
            dataclasses.replace(plan, ahead=plan.ahead + 0.01 * plan.arm / (1 - CENTRE)),
        ),
        ("all of it a twentieth of its length forward", dataclasses.replace(plan, ahead=plan.ahead + 0.05 * plan.arm / (1 - CENTRE))),
        ("a fifth less breadth of flat area", dataclasses.replace(plan, area=0.8 * plan.area, breadth=0.8 * plan.breadth)),
        ("a degree less trim", dataclasses.replace(plan, trim=max(plan.trim - math.radians(1), 0.2 * LEAST_ANGLE))),
        ("the line of thrust up by a tenth of its breadth", dataclasses.replace(plan, above=plan.above + 0.1 * plan.breadth)),
    )
    buys = tuple((name, v := speed_of(p, gust, PITCHED), v - now) for name, p in changes)
    found = speed.assess(craft)
    top = found.match.top.speed if found is not None and found.match is not None else None
    calm, windy = speed_of(plan), speed_of(plan, wind)
    gusty = speed_of(plan, gust)
    findings = _findings(plan, now, top, wind)
    return FlipAssessment(plan, calm, windy, gusty, now, tuple(sorted(buys, key=lambda b: -b[2])), top, findings)


def _findings(plan: Plan, pitched: MetresPerSecond, top: MetresPerSecond | None, wind: MetresPerSecond) -> tuple[Finding, ...]:
    values: dict[str, float | str] = {"flip": pitched, "wind": wind, "trim": plan.trim, "pitch": PITCHED, "area": plan.area, "doubt": DOUBT}
    out = []
    if top is not None:
        values["top"] = top
        word: Severity = "fails" if pitched < top else "near" if pitched < SLACK * top else "holds"
        title = {"fails": "It can flip at a speed it reaches", "near": "It runs close to its flip speed"}.get(
            word, "It does not reach its flip speed"
        )
        text = "Pitched up {pitch:angle} by a wave on a trim of {trim:angle} it goes over at {flip:speed}; its top is about {top:speed}."
        remedies = () if word == "holds" else (Remedy("Weight forward, less flat area, calm water", "weights"),)
        out.append(Finding("underway.flip", word, title, text, JONES_1946, values, remedies))
    else:
        text = "Pitched up {pitch:angle} by a wave. What it reaches is not known: say on Drive what pushes it at speed."
        out.append(Finding("underway.flip", "note", "Goes over at about {flip:speed}", text, JONES_1946, values))
    text = "A flat plate of {area:area} in free air; the water below, tunnels and wings are not in it: ±{doubt:percent}."
    out.append(Finding("underway.flip_rough", "note", "A rough sum", text, COMMON_PRACTICE, values))
    text = (
        "People clear of its course, a cut-off that works when the radio does not, eyes on the water. Fast craft with people aboard are a "
        "professional's job."
    )
    out.append(Finding("caution.fast", "note", "Fast models", text, COMMON_PRACTICE))
    return tuple(out)
