"""Drive: thrust against weight, current against the battery, and the thrust line against the centre of gravity."""

import math
from dataclasses import dataclass

from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.propulsion.cells import HONEST_LABEL
from yarekeel.core.propulsion.drive import DriveSums
from yarekeel.core.sources import BRIEF, COMMON_PRACTICE, MECHANICS, OHM
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.fitted import sums_of
from yarekeel.stages.design.limits import limit_always
from yarekeel.stages.drive.speeds import over_speed


@dataclass(frozen=True, slots=True)
class DriveAssessment:
    """Sums at full throttle standing still, None while there is no weight to push; and verdicts."""

    sums: DriveSums | None
    findings: tuple[Finding, ...]


def assess(craft: Craft) -> DriveAssessment:
    """Thrust to weight by the brief, the battery's limits, and where the thrust line runs."""
    drive, brief = craft.design.drive, craft.design.brief
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
    values: dict[str, float | str] = {
        "ratio": sums.thrust_to_weight,
        "asked": brief.thrust_to_weight,
        "thrust": sums.thrust,
        "current": sums.current,
    }
    word = ratio_verdict(craft, sums)
    findings = [
        Finding(
            "drive.thrust_to_weight",
            word,
            "Thrust to weight {ratio:ratio}",
            "{thrust:force} from rest; you asked for {asked:ratio}.",
            source=BRIEF,
            values=values,
            remedies=() if word != "fails" else (Remedy("Lose weight, or a larger propeller", "weights"),),
        )
    ]
    findings += _parts(craft)
    if sums.limit_current is not None and sums.current > 0:
        findings.append(_battery(values | {"limit": sums.limit_current, "share": sums.current / sums.limit_current}))
    elif sums.current > 0:
        findings.append(
            Finding(
                "drive.no_battery",
                "near",
                "No battery entered",
                "{current:current} at full throttle has to come from somewhere.",
                source=COMMON_PRACTICE,
                values=values,
            )
        )
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
            "Arm last; fingers and hair clear; someone at the cut-off. Charge lithium packs watched; a wet pack can burn hours later.",
            source=COMMON_PRACTICE,
        )
    )
    return DriveAssessment(sums, tuple(findings))


def ratio_verdict(craft: Craft, sums: DriveSums) -> Severity:
    """What the brief says of thrust to weight, with the doubt of the weight and of the pull."""
    off = math.hypot(craft.total.half_width / craft.mass, sums.thrust_spread / sums.thrust if sums.thrust else 0.0)
    return limit_always(craft.design.brief, "thrust").severity(sums.thrust_to_weight, sums.thrust_to_weight * off)


def _parts(craft: Craft) -> list[Finding]:
    """What is said of each motor whose pull is worked out from its parts."""
    out: list[Finding] = []
    drive = craft.design.drive
    for motor, curves in zip(drive.motors, over_speed(craft.design), strict=True):
        if curves is None or motor.propulsor is None:
            continue
        out += motor.propulsor.findings()
        current, most = float(curves.running.motor_current[0]), motor.electric.most_current_a
        values: dict[str, float | str] = {
            "name": motor.name,
            "low": float(curves.running.thrust[0]) - curves.band,
            "high": float(curves.running.thrust[0]) + curves.band,
            "turns": float(curves.running.turns[0]) * 60,
            "ends": curves.speeds[-1],
            "current": current,
            "most": most,
        }
        out.append(
            Finding(
                "drive.from_parts",
                "note",
                "{name} pulls {low:force} to {high:force} from rest",
                "About {turns:count} turns a minute, {current:current}; no more push from {ends:speed} on.",
                source=motor.propulsor.law,
                values=values,
            )
        )
        if most and current > most:
            out.append(
                Finding(
                    "drive.motor_over",
                    "fails",
                    "{name} draws more than it stands",
                    "{current:current} at full throttle from rest; motor or control stand {most:current}.",
                    source=OHM,
                    values=values,
                    remedies=(Remedy("Less pitch, a smaller propeller, fewer cells or a larger control", "drive"),),
                )
            )
    return out


def _battery(values: dict[str, float | str]) -> Finding:
    share = float(values["share"])
    if share > 1:
        return Finding(
            "drive.over_current",
            "fails",
            "The pack cannot give {current:current}",
            "Its label allows {limit:current}: throttle will fade and the pack heat.",
            source=COMMON_PRACTICE,
            values=values,
            remedies=(Remedy("A larger or higher-C pack, or less pitch", "drive"),),
        )
    if share > HONEST_LABEL:
        return Finding(
            "drive.high_current",
            "near",
            "{share:percent} of the pack's label current",
            "Labels are optimistic: above half, expect sag.",
            source=COMMON_PRACTICE,
            values=values,
            remedies=(Remedy("A higher-C pack", "drive"),),
        )
    return Finding(
        "drive.current",
        "holds",
        "The pack gives {current:current} easily",
        "{share:percent} of its label current of {limit:current}.",
        source=COMMON_PRACTICE,
        values=values,
    )
