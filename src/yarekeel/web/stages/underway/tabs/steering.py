"""Steering: the side area under water at the running attitude, against the centre of gravity."""

from dataclasses import dataclass

from yarekeel.stages.underway import steering
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Steering", 6


@dataclass(frozen=True)
class SteeringMore:
    rows: tuple[tuple[str, ...], ...]


def view(asked: PageRequest) -> Tab:
    """The table by speed and what it says."""
    found = steering.assess(asked.craft)
    if found is None:
        return Tab(title="On its course", more=SteeringMore(()))
    reader, say = asked.reader, asked.reader.say
    last = found.rows[-1]
    readouts = [
        reader.figure("Side area", last.area, "area", f"under water at {say(last.speed, 'speed')}"),
        reader.figure("Its centre", abs(last.margin), "percent", f"of the waterline, {'aft' if last.margin >= 0 else 'ahead'} of G"),
        reader.figure("Fins and rudder", last.fins, "percent", "of that area"),
    ]
    if found.fin is not None:
        readouts.append(reader.figure("A fin that would do", found.fin, "area", "at the stern"))
    rows = tuple(
        (
            say(r.speed, "speed"),
            say(r.area, "area"),
            f"{say(abs(r.margin), 'percent')} {'aft' if r.margin >= 0 else 'ahead'}",
            say(r.fins, "percent"),
            say(r.fins_out, "percent"),
        )
        for r in found.rows
    )
    return Tab(readouts=tuple(readouts), findings=reader.findings(found.findings), title="On its course", more=SteeringMore(rows))
