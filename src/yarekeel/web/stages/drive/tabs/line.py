"""Line of thrust: the trim from idle to full throttle tied up, and how deep the propellers are."""

from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.drawing.floating import Arrow, Scene, draw
from yarekeel.stages.afloat import forced
from yarekeel.stages.drive import line
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Line of thrust", 5


@dataclass(frozen=True)
class LineMore:
    propellers: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    why: str


def view(asked: PageRequest) -> Tab:
    """The table of throttles and what it says."""
    say, reader = asked.reader.say, asked.reader
    found = line.assess(asked.craft)
    if found is None:
        why = "It needs a boat that floats and a motor that pulls: enter them first, and what the thrust does to the trim stands here."
        return Tab(title="What the thrust does", more=LineMore((), (), why))
    names = tuple(name for name, _ in found.rows[0].tips)
    rows = []
    for row in found.rows:
        words = (say(row.trim, "trim"), say(row.heel, "heel")) if row.holds else ("no trim holds it", "")
        tips = [f"{say(depth, 'length')} {'under' if depth >= 0 else 'out'}" for _, depth in row.tips] if row.holds else [""] * len(names)
        rows.append((say(row.throttle, "percent"), say(row.pull, "force"), *words, *tips))
    side = "bow up" if found.couple > 0 else "bow down"
    readouts = [
        reader.figure("Pull, full throttle", found.rows[-1].pull, "force", "all motors, tied up"),
        reader.figure("Couple about G", abs(found.couple), "moment", f"{side}, full throttle"),
        reader.turn("Trim by full thrust", found.rows[-1].trim - found.rows[0].trim, "trim", "tied up; lift not counted"),
    ]
    turns = "the pulls balance" if found.balanced else "bow to port" if found.yaw > 0 else "bow to starboard"
    readouts.append(reader.figure("Turns it by", abs(found.yaw), "moment", turns))
    return Tab(
        picture=_picture(asked),
        readouts=tuple(readouts),
        findings=reader.findings(found.findings),
        title="What the thrust does",
        more=LineMore(names, tuple(rows), ""),
    )


def _picture(asked: PageRequest) -> Markup:
    """The boat tied up at full throttle, every pull an arrow; nothing where no attitude holds it."""
    craft, say = asked.craft, asked.reader.say
    result = forced.assess(craft, forced.Forces(throttle=1.0))
    if result.pushed is None:
        return Markup("")
    shown = result.pushed.afloat
    arrows = [Arrow(p.at, p.newtons, f"{p.name} {say(p.newtons[0], 'force')}") for p in result.pushes]
    return Markup(
        draw(
            Scene(
                hull=craft.hull,
                attitude=shown.attitude,
                title="Tied up, full throttle",
                inside=(),
                arrows=arrows,
                spots=(),
                gravity=shown.gravity,
                buoyancy=shown.buoyancy,
                surface=0.55,
            )
        )
    )
