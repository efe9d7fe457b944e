"""What buttons do on the drive's page, and which of its fields give the form other fields."""

from yarekeel.stages.design.design import Design
from yarekeel.stages.drive import packs, what_if
from yarekeel.web.stages.commands import Arguments, Command, Doing, Done


class Cells(Arguments):
    """How many cells in a row."""

    cells: int


def _cells(doing: Doing, a: Cells) -> Design:
    return packs.with_cells(doing.design, a.cells)


class Altered(Arguments):
    """Shares of the pitch and size that are fitted, and cells in a row; None for as fitted."""

    pitch: float
    size: float
    cells: int | None = None


def _altered(doing: Doing, a: Altered) -> Done:
    design = what_if.altered(doing.design, what_if.WhatIf(a.pitch, a.size, a.cells))
    return Done(design, {"what_pitch": "100", "what_size": "100", "what_cells": ""})


COMMANDS = (
    Command("drive.cells", Cells, _cells, lambda a, _: f"a pack of {a.cells} cells", redraws=("form", "more")),
    Command("drive.what_if", Altered, _altered, "another propeller or pack", redraws=("form", "more")),
)
REDRAWS = ("drive.motors.*.propulsor.kind",)
