"""What buttons do on the drive's page, and which of its fields give the form other fields."""

from yarekeel.core.errors import InvalidInput
from yarekeel.stages.design.design import Design
from yarekeel.stages.drive import packs
from yarekeel.web.stages.commands import Arguments, Command, Doing

MOST_CELLS = 24


class Cells(Arguments):
    """How many cells in a row."""

    cells: int


def _cells(doing: Doing, a: Cells) -> Design:
    if not 1 <= a.cells <= MOST_CELLS:
        raise InvalidInput("drive.battery", f"A pack has 1 to {MOST_CELLS} cells in a row.")
    return packs.with_cells(doing.design, a.cells)


COMMANDS = (Command("drive.cells", Cells, _cells, lambda a, _: f"a pack of {a.cells} cells", redraws=("form", "more")),)
REDRAWS = ("drive.motors.*.propulsor.kind",)
