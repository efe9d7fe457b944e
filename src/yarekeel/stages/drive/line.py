"""The line of thrust: what it does to the trim from idle to full throttle, and when a propeller draws air."""

import math
from dataclasses import dataclass, replace
from typing import Literal

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import YareKeelError
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.drive import Motor
from yarekeel.core.propulsion.propulsors.water_propeller import WaterPropeller
from yarekeel.core.propulsion.pulls import pushes_at_rest
from yarekeel.core.quantities import Degrees, Metres, NewtonMetres, Newtons, Radians, Ratio
from yarekeel.core.search import edge
from yarekeel.core.sources import COMMON_PRACTICE, STATICS
from yarekeel.stages.afloat import afloat
from yarekeel.stages.afloat.forced import Forces, solve
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.fitted import forces_of, pulls_of

THROTTLES: tuple[Ratio, ...] = (0.0, 0.25, 0.5, 0.75, 1.0)
AIM_STEPS = 12
WELL_UNDER: Ratio = 0.5
"""Diameters that the tips want over them, or they draw air (common practice)."""
LEAST_YAW: Ratio = 0.02
"""Yawing moment over pull times beam from which it is told."""


@dataclass(frozen=True, slots=True)
class ThrottleRow:
    """The boat tied up at a throttle: pull, trim and heel; ``tips`` how deep each water propeller's tips are under (less than 0: out),
    with its name. ``holds`` is False where no attitude holds that pull; the rest is then nothing."""

    throttle: Ratio
    pull: Newtons
    trim: Radians
    heel: Radians
    tips: tuple[tuple[str, Metres], ...]
    holds: bool = True


@dataclass(frozen=True, slots=True)
class LineAssessment:
    """Rows by throttle; the couple about the centre of gravity at full throttle (bow up positive), the yawing moment (bow to port
    positive), and the lean by the propellers' torque if all turn one way (nothing where no torque is known). ``draws_at`` is the
    throttle from which some propeller draws air; None where none does."""

    rows: tuple[ThrottleRow, ...]
    couple: NewtonMetres
    yaw: NewtonMetres
    balanced: bool
    """The pulls turn the boat by next to nothing."""
    torque_heel: Radians
    draws_at: Ratio | None
    findings: tuple[Finding, ...]


@kept
def assess(craft: Craft) -> LineAssessment | None:
    """None without a pull, or where the boat does not float."""
    boat = afloat.assess(craft).afloat
    pulls = pulls_of(craft.design)
    if boat is None or not any(pulls):
        return None
    motors = craft.design.drive.motors
    couple, yaw = couples(craft)
    water = craft.design.water
    states = pushes_at_rest(craft.design.drive, water.density, water.viscosity)
    torques = [float(p.running.torque) * (1 if m.turns == "right" else -1) for m, p in zip(motors, states, strict=True) if p and p.running]
    torque = math.fsum(torques)
    stiff = boat.mass * STANDARD_GRAVITY * boat.gm_transverse
    lean = math.atan(torque / stiff) if stiff > 0 else 0.0
    rows = tuple(_row(craft, d) for d in THROTTLES)
    beam = float(craft.hull.mesh.bounds[1][1] - craft.hull.mesh.bounds[0][1])
    draws = _draws_at(craft, rows)
    return LineAssessment(
        rows=rows,
        couple=couple,
        yaw=yaw,
        balanced=abs(yaw) <= LEAST_YAW * rows[-1].pull * beam,
        torque_heel=lean,
        draws_at=draws,
        findings=_findings(craft, rows, couple, yaw=yaw, lean=lean, draws=draws),
    )


def couples(craft: Craft, throttle: Ratio = 1.0) -> tuple[NewtonMetres, NewtonMetres]:
    """The couple about the centre of gravity that lifts the bow, and that which turns it to port, at a throttle from rest."""
    gravity = craft.gravity
    pitch = yaw = 0.0
    for motor, (fx, fy, fz) in zip(craft.design.drive.motors, forces_of(craft.design, throttle), strict=True):
        x, y, z = (motor.at_m[k] - gravity[k] for k in range(3))
        pitch += x * fz - z * fx
        yaw += x * fy - y * fx
    return pitch, yaw


TILT_MOST = 30.0
"""Degrees to which a shaft or an outboard is tilted (common practice)."""


@dataclass(frozen=True, slots=True)
class Aim:
    """A change of every motor that brings the trim at full throttle to the brief: ``tilt`` in degrees or ``raised`` in metres, added."""

    tilt: Degrees = 0.0
    raised: Metres = 0.0


def aimed(design: Design, aim: Aim) -> Design:
    """The boat with every motor tilted and raised so."""
    motors = tuple(
        replace(
            m,
            tilt_deg=round(min(max(m.tilt_deg + aim.tilt, -60.0), 60.0), 3),
            at_m=(m.at_m[0], m.at_m[1], round(m.at_m[2] + aim.raised, 5)),
        )
        for m in design.drive.motors
    )
    return replace(design, drive=replace(design.drive, motors=motors))


def trim_margin(craft: Craft) -> Ratio:
    """By how much of it the trim, tied up at full throttle, is within what the brief allows (or within that at rest, if it is more);
    less than 0 where it is not, much less where no attitude holds."""
    row = _row(craft, 1.0)
    allowed = max(math.radians(craft.design.brief.allowed_trim_deg), abs(_row(craft, 0.0).trim))
    return 1 - abs(row.trim) / allowed if row.holds and allowed > 0 else -math.inf


def aim_for(craft: Craft, by: Literal["tilt", "height"]) -> Aim | None:
    """The least tilt or rise of all motors with which the boat, tied up at full throttle, sits within the trim that the brief allows; None
    where it does so now, or no tilt to 30° and no height in reach does it."""
    low, high = (float(b[2]) for b in craft.hull.mesh.bounds)
    away = max((abs(m.at_m[2] - (low + high) / 2) for m in craft.design.drive.motors), default=0.0)
    most = TILT_MOST if by == "tilt" else high - low + away

    def over(amount: float) -> float:
        return -trim_margin(Craft(aimed(craft.design, Aim(tilt=amount) if by == "tilt" else Aim(raised=amount))))

    if over(0.0) <= 0:
        return None
    steps = [side * k / AIM_STEPS * most for k in range(1, AIM_STEPS + 1) for side in (1, -1)]
    first = next((s for s in steps if over(s) <= 0), None)
    if first is None:
        return None
    before = first - math.copysign(most / AIM_STEPS, first)
    amount = edge(lambda s: -over(s), before, first, most / 500)
    return Aim(tilt=round(amount, 2)) if by == "tilt" else Aim(raised=round(amount, 5))


def deeper_for_tips(craft: Craft) -> Metres | None:
    """By how much all motors must go down for no propeller to draw air at any throttle; None where none does, or it cannot be."""
    found = assess(craft)
    if found is None or found.draws_at is None:
        return None
    low, high = (float(b[2]) for b in craft.hull.mesh.bounds)
    most = high - low

    def margin(down: Metres) -> float:
        deeper = Craft(aimed(craft.design, Aim(raised=-down)))
        return min(_margin(deeper, _row(deeper, d)) for d in THROTTLES)

    if margin(most) < 0:
        return None
    return math.ceil(edge(margin, 0.0, most, most / 500) * 1e4) / 1e4


def tip_depth(motor: Motor, attitude: Attitude) -> Metres | None:
    """How deep a water propeller's tips are under at the top of their turn; None for what is no water propeller."""
    if not isinstance(motor.propulsor, WaterPropeller):
        return None
    return -attitude.height_of(motor.at_m) - motor.propulsor.diameter_m / 2


def _row(craft: Craft, throttle: Ratio) -> ThrottleRow:
    pull = math.fsum(pulls_of(craft.design, throttle))
    try:
        attitude = solve(craft, Forces(throttle=throttle)).afloat.attitude
    except YareKeelError:
        return ThrottleRow(throttle, pull, 0.0, 0.0, (), holds=False)
    depths = [(m.name, tip_depth(m, attitude)) for m in craft.design.drive.motors]
    return ThrottleRow(throttle, pull, attitude.trim, attitude.heel, tuple((n, d) for n, d in depths if d is not None))


def _margin(craft: Craft, row: ThrottleRow) -> Metres:
    """How far the shallowest propeller's tips are deeper than they must be; more than enough where there is none."""
    sizes = {m.name: m.propulsor.diameter_m for m in craft.design.drive.motors if isinstance(m.propulsor, WaterPropeller)}
    return min((d - WELL_UNDER * sizes[n] for n, d in row.tips), default=math.inf) if row.holds else -math.inf


def _draws_at(craft: Craft, rows: tuple[ThrottleRow, ...]) -> Ratio | None:
    margins = [_margin(craft, r) for r in rows]
    first = next((k for k, m in enumerate(margins) if m < 0), None)
    if first is None or first == 0:
        return None if first is None else 0.0
    return edge(lambda d: _margin(craft, _row(craft, d)), rows[first].throttle, rows[first - 1].throttle, 0.01)


def _findings(
    craft: Craft, rows: tuple[ThrottleRow, ...], couple: NewtonMetres, *, yaw: NewtonMetres, lean: Radians, draws: Ratio | None
) -> tuple[Finding, ...]:
    still, full = rows[0], rows[-1]
    values: dict[str, float | str] = {"pull": full.pull, "couple": abs(couple), "still": still.trim, "total": full.trim}
    out = []
    if not full.holds:
        out.append(
            Finding(
                "drive.line_held",
                "near",
                "Tied up at full throttle, no trim holds it",
                "The couple of {couple:moment} is more than the hull answers.",
                source=STATICS,
                values=values,
                remedies=(Remedy("Bring the thrust line nearer the centre of gravity", "drive"),),
            )
        )
    else:
        out.append(
            Finding(
                "drive.couple",
                "note",
                "Tied up at full throttle it sits {total:trim}",
                "Without it: {still:trim}; {pull:force} on its lever does the rest. At speed lift and drag come in too.",
                source=STATICS,
                values=values,
            )
        )
    depths = [(n, d) for n, d in full.tips] or [(n, d) for n, d in still.tips]
    if depths:
        name, depth = min(depths, key=lambda one: one[1])
        size = next(m.propulsor.diameter_m for m in craft.design.drive.motors if m.name == name and isinstance(m.propulsor, WaterPropeller))
        deep = values | {"name": name, "depth": depth, "wanted": WELL_UNDER * size, "throttle": draws if draws is not None else 1.0}
        word: Severity = "holds" if draws is None else "near"
        title = "{name} stays deep enough" if draws is None else "{name} may draw air from {throttle:percent} throttle"
        if draws == 0:
            title = "{name} sits near the surface and may draw air"
        sentence = "Its tips are {depth:length} under at full throttle; half a diameter, {wanted:length}, keeps air away."
        remedies = (Remedy("Deeper, smaller, or weight aft", "drive"),) if draws is not None else ()
        out.append(Finding("drive.tips", word, title, sentence, source=COMMON_PRACTICE, values=deep, remedies=remedies))
    beam = float(craft.hull.mesh.bounds[1][1] - craft.hull.mesh.bounds[0][1])
    if abs(yaw) > LEAST_YAW * full.pull * beam:
        turns = values | {"yaw": abs(yaw), "side": "port" if yaw > 0 else "starboard"}
        sentence = "{yaw:moment} about the centre of gravity: uneven pulls, or a line beside it."
        out.append(Finding("drive.yaw", "near", "The thrust turns the bow to {side}", sentence, source=STATICS, values=turns))
    if lean > math.radians(0.3):
        out.append(
            Finding(
                "drive.torque",
                "note",
                "The propellers' torque leans it {lean:angle}",
                "As they turn now; a pair that turns against one another does not lean it.",
                source=STATICS,
                values={"lean": lean},
            )
        )
    return tuple(out)
