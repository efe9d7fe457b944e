"""Cures: what the boat misses, and each cure as a row of one table, as it is solved."""

from dataclasses import dataclass
from urllib.parse import urlencode

from markupsafe import Markup

from yarekeel.drawing import tank
from yarekeel.stages.changes import cures
from yarekeel.stages.changes.cures import Cure, CureFigures
from yarekeel.stages.changes.register import cures_for
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import word_of
from yarekeel.stages.judging.steadiness import Steadiness
from yarekeel.units import fill
from yarekeel.web.shared.page import Reader
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.stability.heeled import heeled
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Cures", 6

HEADS = ("Cure", "GM", "Worst plain test", "Carried ashore", "Draft", "Freeboard", "Wetted surface", "Beam on the car")


@dataclass(frozen=True)
class CureRow:
    """One row; ``cells`` are empty where there is no answer, ``code`` where it cannot be chosen."""

    title: str
    small: str
    picture: Markup
    cells: tuple[str, ...]
    code: str


@dataclass(frozen=True)
class CuresMore:
    heads: tuple[str, ...]
    now: CureRow
    missed: tuple[str, ...]
    kept: tuple[str, ...]
    url: str
    count: int
    load: str


def view(asked: PageRequest) -> Tab:
    """The boat as it is, and where its cures come from."""
    h = heeled(asked)
    if h.result.afloat is None:
        return Tab(findings=asked.reader.findings(h.result.findings), title="Cures")
    found = cures.needed(h.craft)
    now = cures.figures_of(h.craft, found)
    row = CureRow(
        title="As it is", small="", picture=picture_of(h.craft, found, asked.reader), cells=cells_of(now, now, asked.reader), code=""
    )
    load = h.load if h.load != "-" else asked.design.case
    more = CuresMore(
        heads=HEADS,
        now=row,
        missed=tuple(word_of(name) for name, margin in found.margins.items() if margin < 0),
        kept=tuple(word_of(name) for name, margin in found.margins.items() if margin >= 0),
        url="stability/cures?" + urlencode({"load": load}),
        count=len(cures_for(h.craft)),
        load=load,
    )
    return Tab(title="Cures", more=more, findings=asked.reader.findings(h.result.findings))


def row_of(craft: Craft, cure: Cure, reader: Reader) -> CureRow:
    """A solved cure as a row, beside the boat it is for."""
    solved = cure.solved
    title = fill(solved.title.title, solved.title.values, reader.system)
    if solved.design is None or cure.figures is None:
        why = fill(solved.why_not.sentence, solved.why_not.values, reader.system) if solved.why_not else ""
        return CureRow(title=title, small=why, picture=Markup(""), cells=(), code="")
    effort = fill(solved.work.title, solved.work.values, reader.system)
    misses = f"; misses {', '.join(cure.figures.misses)}" if cure.figures.misses else ""
    after = Craft(solved.design)
    now = cures.figures_of(craft, cures.needed(craft))
    picture = picture_of(after, cures.needed(after), reader)
    return CureRow(
        title=title,
        small=effort + misses,
        picture=picture,
        cells=cells_of(cure.figures, now, reader),
        code=solved.code.removeprefix("cure."),
    )


def cells_of(f: CureFigures | None, now: CureFigures | None, reader: Reader) -> tuple[str, ...]:
    """The figures of a row in the order of the columns after the first."""
    if f is None:
        return ()
    say = reader.say
    worst = "–"
    if f.worst is not None:
        name = word_of(f.worst.code)
        worst = f"{name}: {'goes over' if f.worst.lean is None else say(f.worst.lean, 'angle')}"
    carried, wetted = say(f.carried, "mass"), say(f.wetted, "area")
    if now is not None and f is not now:
        extra, change = cures.added_by(f, now)
        carried = f"{'+' if extra >= 0 else '−'}{say(abs(extra), 'mass')}"
        wetted += f" ({'+' if change >= 0 else '−'}{say(abs(change), 'percent')})"
    return (say(f.gm, "length"), worst, carried, say(f.draft, "length"), say(f.freeboard, "length"), wetted, say(f.beam, "length"))


def picture_of(craft: Craft, found: Steadiness, reader: Reader) -> Markup:
    """The boat in section from astern, as it rests."""
    if found.result is None or found.result.afloat is None:
        return Markup("")
    return Markup(tank.section(craft.hull, found.result.afloat.attitude, [s.mesh for s in craft.spaces if s.mesh and s.compartment.filled]))
