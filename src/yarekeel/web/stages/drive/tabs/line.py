"""Line of thrust: the trim from idle to full throttle tied up, and how deep the propellers are."""

import math
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.drawing.floating import Arrow, Scene, draw
from yarekeel.stages.afloat import forced
from yarekeel.stages.drive import line
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Answer, Tab

TITLE, RANK = "Line of thrust", 5


SOLVES = (
    ("", "nothing yet"),
    ("tilt", "the tilt that keeps the trim"),
    ("height", "the height that keeps the trim"),
    ("depth", "the depth that keeps air away"),
)


@dataclass(frozen=True)
class LineMore:
    propellers: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    why: str
    solves: tuple[tuple[str, str], ...] = SOLVES
    solve: str = ""


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
    solve = asked.ask.get("solve", "") if asked.ask.get("solve", "") in dict(SOLVES) else ""
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
        more=LineMore(names, tuple(rows), "", solve=solve),
        answers=_answers(asked, solve),
    )


def _answers(asked: PageRequest, solve: str) -> tuple[Answer, ...]:
    """What was asked to be solved, with the edit that puts it in."""
    say, craft = asked.reader.say, asked.craft
    if not solve:
        return ()
    if solve == "depth":
        down = line.deeper_for_tips(craft)
        if down is None:
            return (Answer("Depth", "No propeller draws air as it is, or no depth within the boat keeps air away."),)
        words = f"All motors {say(down, 'length')} lower keep half a diameter over the tips at every throttle."
        return (Answer("Depth", words, "drive.aim", {"raised": -down}),)
    aim = line.aim_for(craft, "tilt" if solve == "tilt" else "height")
    asks = say(math.radians(asked.design.brief.allowed_trim_deg), "angle")
    if aim is None:
        return (Answer("Trim at full throttle", f"It keeps {asks} as it is, or no {solve} within reach brings it there."),)
    if solve == "tilt":
        way = "up" if aim.tilt > 0 else "down"
        words = f"Every line of thrust {abs(aim.tilt):.1f}° further {way} ahead keeps the trim within {asks}, tied up at full throttle."
        return (Answer("Tilt", words, "drive.aim", {"tilt": aim.tilt}),)
    way = "higher" if aim.raised > 0 else "lower"
    words = f"All motors {say(abs(aim.raised), 'length')} {way} keep the trim within {asks}, tied up at full throttle."
    return (Answer("Height", words, "drive.aim", {"raised": aim.raised}),)


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
