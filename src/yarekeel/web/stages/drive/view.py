"""Drive: motors, battery, and how they match the boat."""

from dataclasses import dataclass

from yarekeel.core.propulsion.drive import DriveSums
from yarekeel.stages.drive import drive
from yarekeel.units import WordedFinding
from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.shared.fields import Field
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest

PARTS = ("live", "side", "form")
MOTOR_COLUMNS = ("name", "thrust_n", "current_a", "known", "at_m.0", "at_m.1", "at_m.2")


@dataclass(frozen=True)
class MotorRow:
    path: str
    name: str
    fields: tuple[Field, ...]


@dataclass(frozen=True)
class DriveView:
    empty: bool
    sealed: bool
    motors: tuple[MotorRow, ...]
    battery: tuple[Field, ...]
    readouts: tuple[Readout, ...]
    findings: tuple[WordedFinding, ...]
    now: AfloatNow


def view(asked: PageRequest) -> DriveView:
    """Fields and sums; empty while the boat weighs nothing."""
    design = asked.design
    motors = tuple(
        MotorRow(f"drive.motors.{n}", m.name, tuple(asked.field(f"drive.motors.{n}.{c}") for c in MOTOR_COLUMNS))
        for n, m in enumerate(design.drive.motors)
    )
    battery: tuple[Field, ...] = ()
    if design.drive.battery:
        battery = (
            asked.field("drive.battery.voltage_v", "open circuit, as charged"),
            asked.field("drive.battery.capacity_ah", "as on the label"),
            asked.field("drive.battery.c_rating", "as on the label; labels are optimistic"),
            asked.field("drive.battery.resistance_ohm", "0 if you do not know it"),
        )
    now = afloat_now(design, asked.reader)
    if not any(w.mass_kg > 0 for w in asked.craft.items):
        return DriveView(empty=True, sealed=asked.sealed, motors=motors, battery=battery, readouts=(), findings=(), now=now)
    result = drive.assess(asked.craft)
    readouts = _readouts(asked, result, result.sums) if result.sums and design.drive.motors else ()
    return DriveView(
        empty=False,
        sealed=asked.sealed,
        motors=motors,
        battery=battery,
        readouts=readouts,
        findings=asked.reader.findings(result.findings),
        now=now,
    )


def _readouts(asked: PageRequest, result: drive.DriveAssessment, s: DriveSums) -> tuple[Readout, ...]:
    reader, say, brief = asked.reader, asked.reader.say, asked.design.brief
    word = next(f.severity for f in result.findings if f.code == "drive.thrust_to_weight")
    wanted = f"asked {say(brief.thrust_to_weight, 'ratio')}"
    out = [
        reader.figure(label="Thrust to weight", value=s.thrust_to_weight, kind="ratio", note=wanted, tone=word),
        reader.figure("Thrust from rest", s.thrust, "force", "all motors, full throttle"),
    ]
    if s.current:
        limit = f"label allows {say(s.limit_current, 'current')}" if s.limit_current else "no battery entered"
        over = s.limit_current is not None and s.current > s.limit_current
        out.append(reader.figure(label="Current", value=s.current, kind="current", note=limit, tone="fails" if over else ""))
    if s.run_time:
        number, unit = say(s.run_time, "minutes").split("\N{NO-BREAK SPACE}")
        sag = f"; {say(s.load_voltage, 'voltage')} under load" if s.load_voltage is not None else ""
        out.append(Readout("Run time", number, unit, f"full throttle, 80 % of the pack{sag}"))
    return tuple(out)
