"""The page that sets two revisions side by side."""

import re
from dataclasses import dataclass
from typing import Any

from fastapi import APIRouter
from fastapi.responses import HTMLResponse
from markupsafe import Markup

from yarekeel.core.errors import NotFound
from yarekeel.plain_text import whole
from yarekeel.stages.judging import compare
from yarekeel.store.records import Boat, Revision
from yarekeel.units import SYSTEMS, field_text
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.shared.page import BY_SLUG, Reader, craft_of, frame_of
from yarekeel.web.stages.fixes.view import facts, picture_of
from yarekeel.web.templating import render

router = APIRouter()
_UNITS = (
    ("_kg", "mass"),
    ("_m", "length"),
    ("_n", "force"),
    ("_a", "current"),
    ("_v", "voltage"),
    ("_ah", "capacity"),
    ("_deg", "degrees"),
    ("_m2", "area"),
    ("_ms", "speed"),
    ("_s", "seconds"),
)
OVER = (1060.0, 230.0)
_WORDS = {"at_m": "place", "known": "known by", "bodies": "hull", "weights": "weight", "drive": "drive", "motors": "motor"}


@dataclass(frozen=True)
class ChangeLine:
    what: str
    before: str
    after: str


@dataclass(frozen=True)
class Side:
    """A revision: its word in the address, what it is called, what its revision says of itself."""

    code: str
    title: str
    note: str


@dataclass(frozen=True)
class CompareView:
    before: Side
    after: Side
    choices: tuple[tuple[str, str], ...]
    changes: tuple[ChangeLine, ...]
    results: tuple[tuple[str, str, str, bool], ...]
    pictures: tuple[AfloatNow, AfloatNow]
    over: Markup


@router.get("/boats/{boat_id:int}/compare")
def page(yard: YardDep, boat_id: int, before: str, after: str) -> HTMLResponse:
    """Two revisions line by line, of this boat by their letters, or of any boats by number and letter (``3:A``)."""

    def chosen(code: str) -> tuple[Boat, Revision]:
        number, _, letter = code.rpartition(":")
        wanted = whole(number) if number else boat_id
        if wanted is None:
            raise NotFound("There is no such boat in the yard.")
        boat = yard.boat(wanted)
        return boat, boat.revision(letter)

    (one_boat, one), (boat, two) = chosen(before), chosen(after)
    both = one_boat.id == boat.id
    reader = Reader(SYSTEMS[boat.units])
    result = compare.assess(craft_of(one.design), craft_of(two.design))
    left, right = (facts(reader, craft_of(r.design)) for r in (one, two))
    rows = [(n, left.get(n, "sinks"), right.get(n, "sinks")) for n in dict.fromkeys([*left, *right])]
    misses = [", ".join(o.misses) or "nothing" if o else "afloat" for o in (result.before, result.after)]
    rows.append(("Misses of the brief", misses[0], misses[1]))
    view = CompareView(
        before=_side(one_boat, one, both),
        after=_side(boat, two, both),
        choices=tuple((f"{number}:{letter}", f"{name} {letter}") for number, letter, name in yard.berths.every()),
        changes=tuple(_line(reader, d) for d in result.changes),
        results=tuple((n, a, b, a != b) for n, a, b in rows),
        pictures=(afloat_now(one.design, reader, 360, 170), afloat_now(two.design, reader, 360, 170)),
        over=picture_of(craft_of(one.design), craft_of(two.design), "Both, the first dashed", OVER, both=True),
    )
    frame = frame_of(boat, two, BY_SLUG["fixes"], two.design)
    return HTMLResponse(render("compare/page.html", frame=frame, v=view))


def _side(boat: Boat, revision: Revision, both: bool) -> Side:
    title = revision.letter if both else f"{revision.design.name} {revision.letter}"
    note = f"draft, from {revision.follows}" if revision.follows else "first draft"
    return Side(f"{boat.id}:{revision.letter}", title, revision.note or note)


def _line(reader: Reader, d: compare.Difference) -> ChangeLine:
    steps = [s for s in d.path.split(".") if s not in ("shape", "weights", "drive", "motors", "bodies")] or [d.path]
    leaf = steps[-1]
    kind = next((k for ending, k in _UNITS if leaf.endswith(ending)), "")
    name = _WORDS.get(leaf) or re.sub(r"_(kg|m2|ms|m|n|a|v|ah|deg|c|s)$", "", leaf).replace("_", " ")
    what = ": ".join([*(s.replace("_", " ") for s in steps[:-1]), name])
    return ChangeLine(what[:1].upper() + what[1:], _text(reader, d.before, kind), _text(reader, d.after, kind))


def _text(reader: Reader, value: Any, kind: str) -> str:
    if value is None:
        return "–"
    if isinstance(value, tuple) and len(value) == 3 and kind == "length":
        x, y, z = value
        return f"{reader.say(x, 'length')} from aft, {reader.say(y, 'length')} to port, {reader.say(z, 'length')} up"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float | int) and kind:
        return field_text(float(value), kind, reader.system)
    return f"{value:.4g}" if isinstance(value, float) else str(value)
