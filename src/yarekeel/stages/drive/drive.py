"""Drive: thrust against weight, current against the battery, and the thrust line against the centre of gravity."""

import math
from dataclasses import dataclass

from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.propulsion.drive import Motor, pack_of
from yarekeel.core.propulsion.open_water import blade_load
from yarekeel.core.propulsion.propulsors import is_turned
from yarekeel.core.propulsion.propulsors.water_propeller import WaterPropeller
from yarekeel.core.propulsion.pulls import DriveSums
from yarekeel.core.quantities import Amperes, Newtons, Ratio
from yarekeel.core.sources import BARNABY_1897, BRIEF, COMMON_PRACTICE, MECHANICS, OHM
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.fitted import at_rest_of, sums_of
from yarekeel.stages.design.limits import limit_always
from yarekeel.stages.drive.pack_verdicts import pack_findings
from yarekeel.stages.drive.speeds import over_speed

CAVITATES_FROM: Ratio = 0.8
"""Of that load, from which it is told."""
CONTROL_MARGIN: Ratio = 1.25
"""Of the peak current that a control should be rated at (common practice)."""


@dataclass(frozen=True, slots=True)
class DriveAssessment:
    """Sums at full throttle standing still, None while there is no weight to push; and verdicts."""

    sums: DriveSums | None
    findings: tuple[Finding, ...]


def assess(craft: Craft) -> DriveAssessment:
    """Thrust to weight by the brief, the battery's limits, and where the thrust line runs."""
    drive = craft.design.drive
    sums = sums_of(craft.design, craft.mass)
    if not drive.motors:
        none = Finding(
            "drive.none",
            "note",
            "No motor yet",
            "Add a motor with its rated or measured pull; thrust to weight and run time follow.",
            source=BRIEF,
        )
        return DriveAssessment(sums, (none,))
    findings = judged(craft) + _parts(craft)
    if sums.run_time is not None:
        findings.append(
            Finding(
                "drive.run_time",
                "note",
                "{time:minutes} at full throttle",
                "On 80 % of the pack. Turn for home with a third of it left.",
                source=COMMON_PRACTICE,
                values={"time": sums.run_time},
            )
        )
    if sums.line_height is not None:
        gap = sums.line_height - craft.gravity[2]
        findings.append(
            Finding(
                "drive.line",
                "note",
                "Thrust line {gap:above_below} the centre of gravity",
                "A high line pushes the bow down, a low one lifts it; see Under way for how far.",
                source=MECHANICS,
                values={"gap": gap},
            )
        )
    findings.append(
        Finding(
            "caution.drive",
            "note",
            "Propellers and packs",
            "Arm last; fingers, hair and sleeves clear; eye protection, and ears beside a fan; someone at the cut-off. Dry plugs. "
            "Charge lithium packs watched; a wet pack can burn hours later.",
            source=COMMON_PRACTICE,
        )
    )
    return DriveAssessment(sums, tuple(findings))


def judged(craft: Craft) -> list[Finding]:
    """Every verdict of the drive standing still at full throttle; what is only told is not among them."""
    design, brief = craft.design, craft.design.brief
    sums = sums_of(design, craft.mass)
    values: dict[str, float | str] = {
        "ratio": sums.thrust_to_weight,
        "asked": brief.thrust_to_weight,
        "thrust": sums.thrust,
        "current": sums.current,
    }
    word = ratio_verdict(craft, sums)
    remedies = () if word != "fails" else (Remedy("Lose weight, or a larger propeller", "weights"),)
    text = "{thrust:force} from rest; you asked for {asked:ratio}."
    out = [Finding("drive.thrust_to_weight", word, "Thrust to weight {ratio:ratio}", text, BRIEF, values, remedies)]
    for motor, (pull, current) in zip(design.drive.motors, at_rest_of(design), strict=True):
        if motor.propulsor is not None:
            out += motor.propulsor.findings(design.drive.tests)
        if is_turned(motor.propulsor) and pack_of(design.drive, motor) is not None:
            out += _margins(motor, current)  # at full throttle the motor's current is the pack's
        out += _cavitates(motor, pull)
    out += pack_findings(sums.packs)
    if sums.current > math.fsum(p.current for p in sums.packs) + 1e-9:
        text = "{current:current} at full throttle has to come from somewhere."
        out.append(Finding("drive.no_battery", "near", "No battery entered", text, COMMON_PRACTICE, values))
    return out


def _cavitates(motor: Motor, pull: Newtons) -> list[Finding]:
    """A water propeller that is asked for more than its blades can hold on to."""
    part = motor.propulsor
    if not isinstance(part, WaterPropeller):
        return []
    load = blade_load(abs(pull), part.diameter_m, part.area_ratio)
    if load < CAVITATES_FROM:
        return []
    values: dict[str, float | str] = {"name": motor.name, "load": load}
    word: Severity = "fails" if load > 1 else "near"
    text = (
        "Its blades carry {load:percent} of what makes the water boil off them; beyond, the pull breaks down and the sums promise too much."
    )
    remedies = (Remedy("A larger or broader propeller, turning slower", "drive"),)
    return [Finding("drive.cavitates", word, "{name} may cavitate at full throttle", text, BARNABY_1897, values, remedies)]


def ratio_verdict(craft: Craft, sums: DriveSums) -> Severity:
    """What the brief says of thrust to weight, with the doubt of the weight and of the pull."""
    off = math.hypot(craft.total.half_width / craft.mass, sums.thrust_spread / sums.thrust if sums.thrust else 0.0)
    return limit_always(craft.design.brief, "thrust").severity(sums.thrust_to_weight, sums.thrust_to_weight * off)


def _parts(craft: Craft) -> list[Finding]:
    """What is told of each motor whose pull is worked out."""
    out: list[Finding] = []
    drive = craft.design.drive
    for motor, curves in zip(drive.motors, over_speed(craft.design), strict=True):
        if motor.propulsor is None or curves is None:
            continue
        running = curves.push.running
        values: dict[str, float | str] = {
            "name": motor.name,
            "low": float(curves.push.thrust[0]) - curves.band,
            "high": float(curves.push.thrust[0]) + curves.band,
            "turns": float(running.turns[0]) * 60 if running else 0.0,
            "ends": curves.speeds[-1],
            "current": float(curves.push.current[0]),
        }
        spins = "About {turns:count} turns a minute, {current:current}; no" if running else "No"
        out.append(
            Finding(
                "drive.from_parts",
                "note",
                "{name} pulls {low:force} to {high:force} from rest",
                spins + " more push from {ends:speed} on." if curves.push.at_speed else "Standing still, at full throttle.",
                source=motor.propulsor.law,
                values=values,
            )
        )
    return out


def _margins(motor: Motor, current: Amperes) -> list[Finding]:
    """What the motor and its control stand, against its current at full throttle from rest."""
    e = motor.electric
    values: dict[str, float | str] = {"name": motor.name, "current": current, "most": e.most_current_a, "rated": e.control_a}
    out = []
    if e.most_current_a and current > e.most_current_a:
        out.append(
            Finding(
                "drive.motor_over",
                "fails",
                "{name} draws more than it stands",
                "{current:current} at full throttle from rest; the motor stands {most:current}.",
                source=OHM,
                values=values,
                remedies=(Remedy("Less pitch, a smaller propeller, fewer cells or a larger motor", "drive"),),
            )
        )
    if e.control_a:
        wanted = CONTROL_MARGIN * current
        word: Severity = "fails" if current > e.control_a else "near" if wanted > e.control_a else "holds"
        title = {"fails": "The control of {name} will smoke", "near": "The control of {name} has little to spare"}
        out.append(
            Finding(
                "drive.control",
                word,
                title.get(word, "The control of {name} is large enough"),
                "Rated at {rated:current}; {current:current} from rest asks for {wanted:current}, a quarter more.",
                source=COMMON_PRACTICE,
                values={**values, "wanted": wanted},
                remedies=() if word == "holds" else (Remedy("A larger control, cooling, or a smaller propeller", "drive"),),
            )
        )
    return out
