"""Bench: a thrust test's rig, its readings as they come, what they say, and tests side by side."""

from dataclasses import dataclass

import numpy as np
from markupsafe import Markup

from yarekeel.core.propulsion.bench.curves import Curve
from yarekeel.core.propulsion.bench.reading import BenchReading
from yarekeel.drawing import thrust_rig
from yarekeel.drawing.plots import Axis, Dot, Trace, plot
from yarekeel.stages.drive import bench
from yarekeel.web.shared.fields import Field
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Bench", 2
TROUBLES = (
    ("none", "a rig that holds"),
    ("air", "a tub that starts to draw air"),
    ("slip", "a joint that slips"),
    ("overload", "a scale too small"),
    ("drift", "a zero that wanders"),
    ("warm", "a pack that sags"),
)
CHECKS = (
    "Tare before every sweep, and read the zero again after it.",
    "Every joint pinned, so that nothing twists; the pull in line with its arm.",
    "Tips half a diameter under, and the tub eight diameters across, or the pond.",
    "No swirl left from the sweep before: let the water come to rest.",
    "Someone else at the cut-off; arm last.",
)
OF_TEST = ("name", "fitted", "units", "stream", "across_m", "ends_ms", "tip_depth_m", "tub_m")
OF_LEVER = ("unit_arm_m", "scale_arm_m", "unit_angle_deg", "scale_angle_deg")


@dataclass(frozen=True)
class PointRow:
    number: int
    fields: tuple[Field, ...]
    words: tuple[str, ...]
    counts: bool
    forced: bool
    why: str


@dataclass(frozen=True)
class BenchMore:
    number: int
    tests: tuple[tuple[int, str], ...]
    fields: tuple[Field, ...]
    rig: tuple[Field, ...]
    picture: Markup
    checks: tuple[str, ...]
    points: tuple[PointRow, ...]
    practice: bool
    known_by: bool
    compared: tuple[tuple[str, ...], ...]
    troubles: tuple[tuple[str, str], ...] = TROUBLES


def view(asked: PageRequest) -> Tab:
    """The chosen test, or what to do where there is none."""
    tests = asked.design.drive.tests
    if not tests:
        return Tab(title="What the bench says", more=None, findings=asked.reader.findings((bench.CAUTION,)))
    number = asked.index("test", len(tests)) or 0
    found = bench.assess(asked.design, number)
    several = bench.comparison(asked.design)
    return Tab(
        picture=_chart(asked, found),
        readouts=_readouts(asked, found),
        findings=asked.reader.findings((*found.findings, *several)),
        title="What the bench says",
        more=_more(asked, number, found),
    )


def _more(asked: PageRequest, number: int, found: bench.BenchAssessment) -> BenchMore:
    test, path = found.test, f"drive.tests.{number}"
    lever = OF_LEVER if test.rig.kind == "lever" else ()
    motors = asked.design.drive.motors
    return BenchMore(
        number=number,
        tests=tuple((n, t.name) for n, t in enumerate(asked.design.drive.tests)),
        fields=tuple(asked.field(f"{path}.{name}") for name in OF_TEST),
        rig=tuple(asked.field(f"{path}.rig.{name}") for name in ("kind", *lever, "scale_most_n")),
        picture=Markup(thrust_rig.draw(test, asked.reader.say)),
        checks=CHECKS,
        points=tuple(_point(asked, path, row) for row in found.rows),
        practice=asked.design.practice,
        known_by=any(getattr(m.propulsor, "test", None) == test.name for m in motors),
        compared=_compared(asked),
    )


def _point(asked: PageRequest, path: str, row: bench.BenchRow) -> PointRow:
    say = asked.reader.say
    names = ("throttle", "reading_n", "volts", "amps", "rpm")
    words = (
        say(row.pull, "force") if row.pull is not None else "",
        f"{row.grams_per_watt:.1f}" if row.grams_per_watt is not None else "",
        say(row.merit, "percent") if row.merit is not None else "",
    )
    fields = tuple(asked.field(f"{path}.points.{row.number}.{name}") for name in names)
    return PointRow(row.number, fields, words, row.counts, row.point.keep == "in", row.why)


def _readouts(asked: PageRequest, found: bench.BenchAssessment) -> tuple[Readout, ...]:
    reader = asked.reader
    if found.full is None:
        return ()
    half, curve, current = found.full.half_width, found.ahead.pull, found.ahead.current
    assert curve is not None
    out = [
        reader.figure("Pull, full throttle", found.full.value, "force", f"±{reader.say(half, 'force')}", half=half),
        reader.figure("Starts at", curve.start.value, "percent", "throttle; then it rises"),
        reader.figure("Rises as throttle to the", curve.power.value, "ratio", "2: turns go with the throttle", half=curve.power.half_width),
    ]
    if current is not None:
        note = "full throttle, of the pack"
        out.append(reader.figure("Current", current.full.value, "current", note, half=current.full.half_width))
    return tuple(out)


def _chart(asked: PageRequest, found: bench.BenchAssessment) -> Markup:
    """Pull over throttle: every reading, those that do not count hollow, the curve with its band, other tests faintly."""
    system = asked.reader.system
    lines: list[Trace] = []
    dots: list[Dot] = []
    for side, reading in ((1.0, found.ahead), (-1.0, found.astern)):
        if reading is not None:
            dots += _dots(asked, found, reading, side)
            lines += _curve(asked, reading.pull, side)
    for n, other in enumerate(asked.design.drive.tests):
        if other.name != found.test.name and (c := bench.assess(asked.design, n).ahead.pull) is not None:
            d = np.linspace(0, 1, 60)
            lines.append(Trace(d.tolist(), c.value(d).tolist(), other.name, "over"))
    if not dots and not lines:
        return Markup("")
    low = -1.0 if found.astern is not None else 0.0
    return Markup(
        plot(
            lines,
            Axis("throttle, %", 0.01, low, 1.0),
            Axis(f"pull, {system.force.label}", system.force.si, 0.0 if low == 0 else None),
            f"{found.test.name}: pull over throttle",
            height=330.0,
            dots=dots,
        )
    )


def _dots(asked: PageRequest, found: bench.BenchAssessment, reading: BenchReading, side: float) -> list[Dot]:
    out = []
    for row, judged in zip(found.rows, reading.judged, strict=True):
        if judged.pull is not None and row.point.throttle * side >= 0 and not (side < 0 and row.point.throttle == 0):
            words = f"{asked.reader.say(judged.pull, 'force')} at {asked.reader.say(row.point.throttle, 'percent')}"
            look = "" if judged.counts else "out"
            out.append(Dot(row.point.throttle, side * judged.pull, "", look, words if judged.counts else f"{words}: {row.why}"))
    return out


def _curve(asked: PageRequest, curve: Curve | None, side: float) -> list[Trace]:
    if curve is None:
        return []
    d = np.linspace(0, 1, 60)
    value, half = curve.value(d), curve.half_width(d)
    x = (side * d).tolist()
    words = [f"{asked.reader.say(v, 'force')} at {asked.reader.say(t, 'percent')}" for v, t in zip(value, d, strict=True)]
    edges = [Trace(x, (side * np.maximum(value + k * half, 0)).tolist(), "", "faint") for k in (-1, 1)]
    return [Trace(x, (side * value).tolist(), "", "soft", words if side > 0 else ()), *edges]


def _compared(asked: PageRequest) -> tuple[tuple[str, ...], ...]:
    say = asked.reader.say

    def shown(value: float | None, kind: str) -> str:
        return say(value, kind) if value is not None else ""

    rows = bench.compared(asked.design)
    if len(rows) < 2:
        return ()
    return tuple(
        (
            r.name + (", practice" if r.practice else ""),
            r.fitted,
            f"{say(r.full.value, 'force')} ±{say(r.full.half_width, 'force')}" if r.full else "",
            shown(r.current, "current"),
            f"{r.grams:.1f}" if r.grams else "",
            f"{r.grams_half:.1f}" if r.grams_half else "",
            shown(r.merit, "percent"),
        )
        for r in rows
    )
