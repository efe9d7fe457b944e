"""Drive: motors, battery, and how they match the boat."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from markupsafe import Markup

from yarekeel.core.parameters import parameters_of
from yarekeel.core.propulsion.drive import Motor
from yarekeel.core.propulsion.propulsors import is_turned
from yarekeel.core.propulsion.pulls import DriveSums
from yarekeel.drawing.plots import Axis, Trace, plot
from yarekeel.stages.drive import drive
from yarekeel.stages.drive.speeds import OverSpeed, over_speed
from yarekeel.units import WordedFinding, band
from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.shared.fields import Field
from yarekeel.web.shared.page import Reader, Readout
from yarekeel.web.stages.drive import tabs
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab, tabs_of, titles

PARTS = ("live", "side", "more", "form")
TABS = tabs_of(tabs)
PACK = (
    ("voltage_v", "open, as charged"),
    ("capacity_ah", "on its label"),
    ("c_rating", "labels are optimistic"),
    ("resistance_ohm", "0: as such packs have"),
    ("chemistry", ""),
    ("temperature_c", "cold costs pull"),
    ("c_tested", ""),
)
TYPED = ("thrust_n", "current_a", "known")
"""Columns that a motor whose pull is worked out has no use for."""
AIMED = (("tilt_deg", "up ahead; less than 0: down"), ("toe_deg", "to port ahead"), ("turns", "seen from astern"), ("astern", ""))
MOTOR_COLUMNS = ("name", "thrust_n", "current_a", "known", "at_m.0", "at_m.1", "at_m.2")


@dataclass(frozen=True)
class MotorRow:
    """A motor: its line in the table, and what stands under it, in groups with their titles."""

    path: str
    name: str
    fields: tuple[Field, ...]
    turns: Field
    worked_out: bool
    groups: tuple[tuple[str, tuple[Field, ...]], ...]
    own_pack: bool
    open: bool


@dataclass(frozen=True)
class DriveView:
    empty: bool
    sealed: bool
    motors: tuple[MotorRow, ...]
    battery: tuple[Field, ...]
    readouts: tuple[Readout, ...]
    findings: tuple[WordedFinding, ...]
    charts: tuple[Markup, ...]
    now: AfloatNow
    tab: str = "fitted"
    tabs: tuple[tuple[str, str], ...] = ()
    part: Tab | None = None
    cautions: tuple[WordedFinding, ...] = ()


def view(asked: PageRequest) -> DriveView:
    """Fields and sums; empty while the boat weighs nothing."""
    design, tab = asked.design, asked.ask.get("tab", "")
    weighs = any(w.mass_kg > 0 for w in asked.craft.items)
    motors: tuple[MotorRow, ...] = ()
    battery: tuple[Field, ...] = ()
    if tab not in TABS or not weighs:  # the other tabs show none of these fields
        motors = tuple(_motor_row(asked, n, m) for n, m in enumerate(design.drive.motors))
        battery = tuple(asked.field(f"drive.battery.{name}", hint) for name, hint in PACK) if design.drive.battery else ()
    now = afloat_now(design, asked.reader)
    if not weighs:
        return DriveView(empty=True, sealed=asked.sealed, motors=motors, battery=battery, readouts=(), findings=(), charts=(), now=now)
    result = drive.assess(asked.craft)
    shown = (("fitted", "Drive"), *titles(TABS, asked))
    tab = tab if tab in dict(shown) else "fitted"
    words = asked.reader.findings(result.findings)
    readouts = _readouts(asked, result, result.sums) if result.sums and design.drive.motors else ()
    return DriveView(
        empty=False,
        sealed=asked.sealed,
        motors=motors,
        battery=battery,
        readouts=readouts,
        findings=words,
        charts=_charts(asked) if tab == "fitted" else (),
        now=now,
        tab=tab,
        tabs=shown,
        part=TABS[tab].view(asked) if tab in TABS else None,
        cautions=tuple(f for f in words if f.code.startswith("caution.")),
    )


def _motor_row(asked: PageRequest, number: int, motor: Motor) -> MotorRow:
    path, part = f"drive.motors.{number}", motor.propulsor
    columns = [c for c in MOTOR_COLUMNS if part is None or c not in TYPED]

    def fields(of: str, whole: Any) -> tuple[Field, ...]:
        return tuple(asked.field(f"{path}.{of}.{p.name}", p.meaning) for p in parameters_of(whole))

    groups: list[tuple[str, tuple[Field, ...]]] = []
    if part is not None:
        groups.append((part.title, fields("propulsor", part)))
    if is_turned(part):
        groups.append(("The motor and its control", fields("electric", motor.electric)))
    groups.append(("How it points and turns", tuple(asked.field(f"{path}.{name}", hint) for name, hint in AIMED)))
    if motor.battery is not None:
        groups.append(("A pack of its own", fields("battery", motor.battery)))
    return MotorRow(
        path=path,
        name=motor.name,
        fields=tuple(asked.field(f"{path}.{c}") for c in columns),
        turns=asked.field(f"{path}.propulsor.kind", value=part.kind if part is not None else ""),
        worked_out=part is not None,
        groups=tuple(groups),
        own_pack=motor.battery is not None,
        open=len(asked.design.drive.motors) == 1 and part is not None,
    )


def _charts(asked: PageRequest) -> tuple[Markup, ...]:
    """Pull and current over speed, of the motors whose pull is worked out."""
    reader, system = asked.reader, asked.reader.system
    found = [(m, o) for m, o in zip(asked.design.drive.motors, over_speed(asked.design), strict=True) if o is not None]
    if not found:
        return ()

    distinct = {o.push.thrust.tobytes() for _, o in found}

    def name(motor: Motor) -> str:
        return motor.name if len(distinct) > 1 else ""  # a label tells lines apart

    pulls = [Trace(o.speeds.tolist(), o.push.thrust.tolist(), name(m), words=_words(reader, o)) for m, o in found]
    edges = [(o, np.maximum(o.push.thrust + side * o.band, 0.0)) for _, o in found for side in (-1, 1)]
    bands = [Trace(o.speeds.tolist(), edge.tolist(), "", "faint") for o, edge in edges]
    drawn = [Trace(o.speeds.tolist(), o.push.current.tolist(), name(m)) for m, o in found if o.push.current.any()]
    speed = Axis(f"speed, {system.speed.label}", system.speed.si, 0.0)
    force = Axis(system.force.label, system.force.si, 0.0)
    charts = [
        Markup(plot([*pulls, *bands], speed, force, "Pull over speed, full throttle", width=388.0, height=230.0)),
    ]
    if drawn:
        charts.append(Markup(plot(drawn, speed, Axis("A", 1.0, 0.0), "Current over speed, full throttle", width=388.0, height=230.0)))
    return tuple(charts)


def _words(reader: Reader, over: OverSpeed) -> list[str]:
    """What the pointer says along a curve."""
    pairs = zip(over.speeds.tolist(), over.push.thrust.tolist(), strict=True)
    return [f"{reader.say(t, 'force')} at {reader.say(v, 'speed')}" for v, t in pairs]


def _readouts(asked: PageRequest, result: drive.DriveAssessment, s: DriveSums) -> tuple[Readout, ...]:
    reader, say, brief = asked.reader, asked.reader.say, asked.design.brief
    word = next(f.severity for f in result.findings if f.code == "drive.thrust_to_weight")
    wanted = f"asked {say(brief.thrust_to_weight, 'ratio')}"
    out = [
        reader.figure(label="Thrust to weight", value=s.thrust_to_weight, kind="ratio", note=wanted, tone=word),
        _thrust(asked, s),
    ]
    if s.current:
        hardest = s.hardest
        limit = f"label allows {say(hardest.limit, 'current')}" if hardest else "no battery entered"
        over = hardest is not None and hardest.share > 1
        out.append(reader.figure(label="Current", value=s.current, kind="current", note=limit, tone="fails" if over else ""))
    if s.run_time:
        number, unit = say(s.run_time, "minutes").split("\N{NO-BREAK SPACE}")
        volts = s.hardest.load_voltage if s.hardest else None
        sag = f"; {say(volts, 'voltage')} under load" if volts is not None else ""
        out.append(Readout("Run time", number, unit, f"full throttle, 80 % of the pack{sag}"))
    return tuple(out)


def _thrust(asked: PageRequest, sums: DriveSums) -> Readout:
    off = f", {band(sums.thrust, sums.thrust_spread, 'force', asked.reader.system)}" if sums.thrust_spread else ""
    return asked.reader.figure("Thrust from rest", sums.thrust, "force", f"all motors, full throttle{off}", half=sums.thrust_spread)
