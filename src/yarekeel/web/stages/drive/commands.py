"""What buttons do on the drive's page, and which of its fields give the form other fields."""

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.core.propulsion.bench.sheet import OVERLOAD, BenchPoint
from yarekeel.exchange import bench_csv
from yarekeel.stages.design import fittings
from yarekeel.stages.design.design import Design
from yarekeel.stages.drive import line, packs, sheets, what_if
from yarekeel.web.stages.commands import Arguments, Command, Doing, Done


class Cells(Arguments):
    """How many cells in a row."""

    cells: int


def _cells(doing: Doing, a: Cells) -> Design:
    return packs.with_cells(doing.design, a.cells)


class Aimed(Arguments):
    """Degrees and metres added to every motor's tilt and height."""

    tilt: float = 0.0
    raised: float = 0.0


class Measured(Arguments):
    """A pack's inner resistance, ohm."""

    resistance: float


class Altered(Arguments):
    """Shares of the pitch and size that are fitted, and cells in a row; None for as fitted."""

    pitch: float
    size: float
    cells: int | None = None
    lighter: float = 0.0
    part: str = ""


def _altered(doing: Doing, a: Altered) -> Done:
    parts = (doing.part(a.part),) if a.part else ()
    design = what_if.altered(doing.design, what_if.WhatIf(a.pitch, a.size, a.cells, a.lighter, parts))
    return Done(design, {"what_pitch": "100", "what_size": "100", "what_cells": "", "what_lighter": "", "what_part": ""})


class OfTest(Arguments):
    """Which thrust test."""

    test: int


class OfPoint(OfTest):
    """Which reading of it."""

    point: int


class Pasted(OfTest):
    """Readings as text."""

    text: str = ""


class Taken(OfTest):
    """What the stand made since its throttle settled."""

    throttle: float
    reading_n: float | None = None
    volts: float | None = None
    amps: float | None = None
    rpm: float | None = None
    at_s: float | None = None
    spread_n: float | None = None
    step_n: float | None = None


def _take(doing: Doing, a: Taken) -> Design:
    """A point of the stand-in's: practice, whoever sends it."""
    values = a.model_dump(exclude={"test"})
    return sheets.with_points(
        doing.design, a.test, (BenchPoint(**values, note="" if a.reading_n is not None else OVERLOAD, practice=True),)
    )


def _paste(doing: Doing, a: Pasted) -> Design:
    return sheets.with_points(doing.design, a.test, bench_csv.read(a.text, "bench.paste", doing.system))


def _added(doing: Doing, a: Arguments) -> Done:
    design = sheets.added(doing.design)
    return Done(design, {"test": str(len(design.drive.tests) - 1)})


class Fit(Arguments):
    """A part by its key in the bin, and the motor that it is for."""

    key: str
    motor: str = ""


class OfFitted(Arguments):
    """Which of the boat's fitted parts."""

    number: int


def _fit(doing: Doing, a: Fit) -> Design:
    try:
        return fittings.fit(doing.craft, doing.part(a.key), a.motor)
    except NotFound as error:
        raise InvalidInput("parts.fit", str(error)) from None


def _renew(doing: Doing, a: OfFitted) -> Design:
    fitted = doing.design.drive.fitted
    if not 0 <= a.number < len(fitted):
        raise InvalidInput("parts.renew", "There is no such part on this boat.")
    try:
        return fittings.renewed(doing.craft, a.number, doing.part(fitted[a.number].part))
    except NotFound as error:
        raise InvalidInput("parts.renew", str(error)) from None


COMMANDS = (
    Command("parts.fit", Fit, _fit, "fit a part", redraws=("more",)),
    Command(
        "parts.off",
        OfFitted,
        lambda doing, a: fittings.take_off(doing.design, a.number),
        "take a part off, and its mass out of the weights",
        redraws=("more",),
    ),
    Command("parts.renew", OfFitted, _renew, "take over a part's change", redraws=("more",)),
    Command("bench.add", Arguments, _added, "add a thrust test", redraws=("form", "more")),
    Command(
        "bench.remove",
        OfTest,
        lambda doing, a: Done(sheets.removed(doing.design, a.test), {"test": "0"}),
        "remove a thrust test",
        redraws=("form", "more"),
    ),
    Command("bench.take", Taken, _take, "take a reading", redraws=("more",)),
    Command("bench.paste", Pasted, _paste, "paste readings", redraws=("more",)),
    Command(
        "bench.point",
        OfTest,
        lambda doing, a: sheets.with_points(doing.design, a.test, (BenchPoint(reading_n=0.0),)),
        "add a reading",
        redraws=("more",),
    ),
    Command(
        "bench.drop", OfPoint, lambda doing, a: sheets.without_point(doing.design, a.test, a.point), "drop a reading", redraws=("more",)
    ),
    Command(
        "bench.drop",
        OfPoint,
        lambda doing, a: sheets.without_point(doing.design, a.test, a.point),
        "drop a reading",
        redraws=("more",),
    ),
    Command(
        "bench.keep", OfPoint, lambda doing, a: sheets.kept(doing.design, a.test, a.point, count=True), "keep a reading", redraws=("more",)
    ),
    Command(
        "bench.leave",
        OfPoint,
        lambda doing, a: sheets.kept(doing.design, a.test, a.point, count=False),
        "leave out a reading",
        redraws=("more",),
    ),
    Command("bench.use", OfTest, lambda doing, a: sheets.used(doing.design, a.test), "drive by this test", redraws=("form", "more")),
    Command(
        "drive.aim",
        Aimed,
        lambda doing, a: line.aimed(doing.design, line.Aim(a.tilt, a.raised)),
        "tilt or move the motors",
        redraws=("more",),
    ),
    Command(
        "drive.resistance",
        Measured,
        lambda doing, a: packs.with_resistance(doing.design, a.resistance),
        "the pack's resistance as measured",
        redraws=("more",),
    ),
    Command("drive.cells", Cells, _cells, lambda a, _: f"a pack of {a.cells} cells", redraws=("form", "more")),
    Command("drive.what_if", Altered, _altered, "another propeller or pack", redraws=("form", "more")),
)
REDRAWS = ("drive.motors.*.propulsor.kind", "drive.tests.**")
