"""How a phone reaches a pond sheet: whether this program is shared, the one-time link and its picture, and the other ways round."""

from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import Depends, Request
from fastapi.responses import HTMLResponse

from yarekeel.stages.trials.sheet import NOTINGS, collected
from yarekeel.stages.trials.trials import SYMPTOMS
from yarekeel.store.records import letter_of
from yarekeel.store.sheets import LINK_LIVES, Sheet
from yarekeel.store.yard import Yard
from yarekeel.web.pond.view import entries_data, parser_of
from yarekeel.web.shared.page import BY_SLUG, frame_of
from yarekeel.web.templating import render

NOT_SHARED = "This program is not shared: end it and start it with `yare-keel serve --share`, then ask for the link again."


@dataclass(frozen=True, slots=True)
class Sharing:
    """Where pond sheets are reached from the local network, and whether what goes there is encrypted."""

    address: str
    secure: bool


def _sharing(request: Request) -> Sharing | None:
    found = getattr(request.app.state, "sharing", None)
    assert found is None or isinstance(found, Sharing)
    return found


SharingDep = Annotated[Sharing | None, Depends(_sharing)]


@dataclass(frozen=True)
class LogRow:
    """An entry: when, what, as it was typed, its photo, and whether it counts."""

    at: str
    title: str
    words: str
    photo: str | None
    track: str
    state: str
    tone: str


@dataclass(frozen=True)
class WaysView:
    """A sheet's ways to the water and back."""

    code: str
    place: str
    entries: int
    phones: int
    base: str
    shared: str
    secure: bool
    link: str
    picture: str
    minutes: int
    not_shared: str
    problems: tuple[str, ...]
    ready: str
    log: tuple[LogRow, ...]


def ways_page(yard: Yard, sheet: Sheet, sharing: Sharing | None, link: str) -> HTMLResponse:
    """The page of a sheet's ways, with a new link where there is one."""
    boat = yard.boat(sheet.boat_id)
    revision = boat.revision(letter_of(sheet.number))
    found = collected(yard.sheets.entries(sheet), parser_of(sheet), sheet.date, sheet.place)
    value = WaysView(
        code=sheet.code,
        place=sheet.place,
        entries=sheet.entries,
        phones=yard.sheets.phones(sheet),
        base=f"/boats/{sheet.boat_id}/{revision.letter}/pond/{sheet.code}",
        shared=sharing.address if sharing else "",
        secure=bool(sharing and sharing.secure),
        link=link,
        picture=picture_of(link) if link else "",
        minutes=int(LINK_LIVES.total_seconds() // 60),
        not_shared=NOT_SHARED,
        problems=tuple(sentence for key, sentence in found.problems.items() if key),
        log=tuple(_log_row(e) for e in entries_data(yard.sheets.entries(sheet), parser_of(sheet))),
        ready="" if found.test else found.problems[""],
    )
    frame = frame_of(boat, revision, BY_SLUG["trials"], revision.design)
    return HTMLResponse(render("pond/ways.html", frame=frame, v=value))


def _log_row(e: dict[str, Any]) -> LogRow:
    noting = NOTINGS[e["code"]]
    labels = {b.name: b.label.lower() for b in noting.blanks}
    track = e["typed"].get("file", "") if e["code"] == "track" else ""
    if track:
        return LogRow(e["at"][:16].replace("T", " "), noting.title, e["typed"].get("name", track), None, track, "by its runs", "note")
    typed = [(labels[k], v) for k, v in e["typed"].items() if k in labels and v]
    words = ", ".join(SYMPTOMS.get(v, v) if len(noting.blanks) == 1 else f"{label} {v}" for label, v in typed)
    state, tone = ("yes", "holds") if not e["problem"] else (e["problem"], "near")
    if e["struck"]:
        state, tone = f"struck out: {e['struck']}", "note"
    return LogRow(e["at"][:16].replace("T", " "), noting.title, words, e["photo"], "", state, tone)


def picture_of(link: str) -> str:
    """A link as a QR code (ISO/IEC 18004), drawn as SVG."""
    import segno  # seldom used

    return segno.make(link, error="m").svg_inline(scale=5, border=4, dark="#15232B", light="#ffffff", omitsize=False)
