"""Tow and coast: how far it runs on with the drive dead, and what towing costs."""

from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.stages.underway import coasting
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Question, Tab, question, refused

TITLE, RANK = "Tow and coast", 8


@dataclass(frozen=True)
class CoastMore:
    asks: tuple[Question, ...]
    rows: tuple[tuple[str, ...], ...]


def view(asked: PageRequest) -> Tab:
    """The table of coasts, and the tow that is asked about."""
    reader, say = asked.reader, asked.reader.say
    low, high = (b.tolist() for b in asked.craft.hull.mesh.bounds)
    drag_ask, drag = question(asked, "tow_drag", "In tow: drag at 1 m/s", "force", "nothing", 0.0, "by the square of the speed beyond")
    x_ask, x = question(asked, "tow_x", "Made fast, from aft", "length", say(low[0], "length"), low[0])
    z_ask, z = question(asked, "tow_z", "and up", "length", say(high[2], "length"), high[2], "a high point lifts the bow")
    at = (low[0] if x is None else x, 0.0, high[2] if z is None else z)
    try:
        found = coasting.assess(asked.craft, drag or 0.0, at)
    except InvalidInput as error:
        drag_ask = refused(drag_ask, error.sentence)
        found = coasting.assess(asked.craft)
    if found is None:
        return Tab(title="Running on", more=CoastMore((), ()))
    readouts = []
    if found.coasts:
        last = found.coasts[-1]
        far, unit = say(last.distance, "room").rsplit("\N{NO-BREAK SPACE}", 1)
        readouts.append(reader.figure("From", last.start, "speed", "its fastest, drive dead"))
        readouts.append(Readout("runs on for", far, unit, "to a tenth of that"))
    if found.towed is not None:
        readouts.append(reader.figure("Tows at", found.towed.top, "speed", "full throttle"))
        readouts.append(reader.figure("Pull of the line", found.towed.pull, "force", f"it sits {say(found.towed.trim, 'trim')}"))
    rows = tuple((say(c.start, "speed"), say(c.distance, "room"), say(c.time, "span")) for c in found.coasts)
    return Tab(
        readouts=tuple(readouts),
        findings=reader.findings(found.findings),
        title="Running on",
        more=CoastMore((drag_ask, x_ask, z_ask), rows),
    )
