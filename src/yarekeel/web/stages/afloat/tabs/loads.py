"""Loads and chances: every load case with its likely ranges, and how likely it is that each keeps the brief."""

from dataclasses import dataclass

from yarekeel.stages.judging import cases, chances
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Loads, chances", 3


@dataclass(frozen=True)
class LoadRow:
    name: str
    in_force: bool
    cells: tuple[tuple[str, str], ...]
    chance: str
    tone: str


@dataclass(frozen=True)
class ChanceBar:
    title: str
    words: str
    share: float
    tone: str


@dataclass(frozen=True)
class LoadsMore:
    rows: tuple[LoadRow, ...]
    chances: tuple[ChanceBar, ...]
    load: str


def view(asked: PageRequest) -> Tab:
    """The table and the chances of the load in force."""
    say, craft = asked.reader.say, asked.craft
    compared = cases.assess(craft)
    now = chances.assess(craft)
    bars = []
    for key, title in chances.NAMES.items():
        if now.chances is not None and (key != "openings" or craft.openings):
            share = float(getattr(now.chances, key))
            bars.append(ChanceBar(title, say(share, "percent"), round(100 * share, 1), chances.severity_of(share)))
    rows = tuple(_row(asked, line) for line in compared.lines)
    more = LoadsMore(rows, tuple(bars), asked.design.case or cases.AS_LISTED.lower())
    return Tab(findings=asked.reader.findings((*now.findings, *compared.findings)), title="How sure", more=more)


def _row(asked: PageRequest, line: cases.CaseLine) -> LoadRow:
    say, here = asked.reader.say, line.name == asked.design.case
    result = line.float
    if result is None or result.afloat is None or result.outputs is None:
        words = "nothing aboard" if result is None else "it sinks"
        return LoadRow(name=line.title, in_force=here, cells=(("–", ""),) * 7, chance=words, tone="note" if result is None else "fails")
    o, s = result.outputs, result.spread

    def cell(value: float, kind: str, name: str, width: str) -> tuple[str, str]:
        words = say(value, kind).removeprefix("stands ").removeprefix("leans ")
        return words, f"±{say(getattr(s, name), width)}" if s else ""

    found = chances.assess(asked.craft.in_case(line.name)).chances
    return LoadRow(
        name=line.title,
        in_force=here,
        cells=(
            cell(o.mass, "mass", "mass", "mass"),
            cell(o.draft_bow, "length", "draft_bow", "length"),
            cell(o.draft_stern, "length", "draft_stern", "length"),
            cell(o.trim, "trim", "trim", "angle"),
            cell(o.heel, "heel", "heel", "angle"),
            cell(o.freeboard, "length", "freeboard", "length"),
            cell(o.gm, "length", "gm", "length"),
        ),
        chance="not known" if found is None else say(found.all, "percent"),
        tone="note" if found is None else chances.severity_of(found.all),
    )
