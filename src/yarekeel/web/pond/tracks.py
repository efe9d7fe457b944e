"""Tracks of a day: brought in, looked over, and their runs noted on the sheet."""

import hashlib
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import Annotated

import numpy as np
from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup

from yarekeel.apart import Budget, apart
from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.core.trials.track import RunFound, Track, TrackRead
from yarekeel.drawing.plots import Axis, Mark, Trace, plot
from yarekeel.exchange import reading
from yarekeel.exchange.tracks import LARGEST_FILE
from yarekeel.plain_text import plain
from yarekeel.stages.trials.sheet import Entry, read
from yarekeel.store.records import letter_of
from yarekeel.store.sheets import Sheet
from yarekeel.store.yard import Yard
from yarekeel.units import fill
from yarekeel.web.pond.view import parser_of, system_of
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, frame_of
from yarekeel.web.templating import render

router = APIRouter()
BASE = "/boats/{boat_id:int}/{letter}/pond/{code}"
DRAWN = 800
"""Points of the chart."""
DAY_OFF = 1
"""Days that a track's date may miss the sheet's: it may have been opened the evening before."""


@dataclass(frozen=True)
class RunRow:
    number: int
    when: str
    lasts: str
    way: str
    course: str
    speed: str
    noted: bool


@dataclass(frozen=True)
class TrackView:
    """A track: its runs, what it tells as a whole, what was left out of it, and its chart."""

    title: str
    base: str
    back: str
    runs: tuple[RunRow, ...]
    facts: tuple[tuple[str, str], ...]
    left_out: str
    chart: Markup
    error: str


def mine(yard: Yard, boat_id: int, letter: str, code: str) -> Sheet:
    """A sheet of this revision. Raises NotFound."""
    sheet = yard.sheets.sheet(code)
    if (sheet.boat_id, letter_of(sheet.number)) != (boat_id, letter):
        raise NotFound("There is no such pond sheet on this revision.")
    return sheet


def looked_at(data: bytes, name: str) -> tuple[TrackRead, Track, datetime | None]:
    """A track read in a process of its own. Raises InvalidInput."""
    return apart(reading.track, data, name, budget=Budget.for_bytes(len(data)))


@router.post(BASE + "/tracks")
def bring(
    yard: YardDep,
    boat_id: int,
    letter: str,
    code: str,
    file: Annotated[UploadFile | None, File()] = None,
    anyway: Annotated[str, Form(max_length=5)] = "",
) -> Response:
    """Bring a track in; one of another day is refused unless it is meant. Raises InvalidInput."""
    sheet = mine(yard, boat_id, letter, code)
    if file is None or not file.filename:
        raise InvalidInput("track", "Choose a track first: a GPX file, or a CSV table.")
    typed = kept_track(yard, sheet, file.file.read(LARGEST_FILE + 1), file.filename, anyway=bool(anyway))
    when = datetime.now(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")
    yard.sheets.add(sheet, Entry(typed["file"].split(".")[0], "track", when, typed))
    return RedirectResponse(f"/boats/{boat_id}/{letter}/pond/{code}/tracks/{typed['file']}", 303)


def kept_track(yard: Yard, sheet: Sheet, data: bytes, filename: str, *, anyway: bool) -> dict[str, str]:
    """Keep a track, and give what its entry says of it. Raises InvalidInput for one that is none, or of another day unless it is meant
    ``anyway``."""
    _, _, begins = looked_at(data, filename)
    day = date.fromisoformat(sheet.date)
    if begins is not None and not anyway and abs((begins.date() - day).days) > DAY_OFF:
        raise InvalidInput("track", f"This track is of {begins.date()}, and the sheet of {day}. At the bench it can be used all the same.")
    ending = "csv" if filename.lower().endswith((".csv", ".txt", ".tsv")) else "gpx"
    return {"file": yard.keep_track(data, ending), "name": plain(filename)[:80]}


def _entry_of(sheet_entries: tuple[Entry, ...], name: str) -> Entry:
    found = next((e for e in sheet_entries if e.code == "track" and e.typed.get("file") == name), None)
    if found is None:
        raise NotFound("There is no such track on this sheet.")
    return found


@router.get(BASE + "/tracks/{name}")
def look(yard: YardDep, boat_id: int, letter: str, code: str, name: str) -> HTMLResponse:
    """A track looked over."""
    return _page(yard, mine(yard, boat_id, letter, code), name)


def _key(name: str, number: int) -> str:
    return f"run-{hashlib.sha256(name.encode()).hexdigest()[:16]}-{number}"


@router.post(BASE + "/tracks/{name}/runs")
async def note(request: Request, yard: YardDep, boat_id: int, letter: str, code: str, name: str) -> Response:
    """Note the runs whose throttle was given. Each is kept once."""
    async with request.form(max_files=0, max_fields=120) as data:
        typed = {k: str(v)[:40] for k, v in data.items()}
    return await run_in_threadpool(_note, yard, mine(yard, boat_id, letter, code), name, typed)


def _note(yard: Yard, sheet: Sheet, name: str, typed: dict[str, str]) -> Response:
    _entry_of(yard.sheets.entries(sheet), name)
    found, _, begins = looked_at(yard.track_data(name), name)
    made = []
    for k, run in enumerate(found.runs, 1):
        throttle = typed.get(f"throttle_{k}", "").strip()
        if not throttle:
            continue
        values = {"throttle": throttle, "speed": f"{run.speed:.3f} m/s", "good": f"{run.half:.3f} m/s"}
        try:
            read("run", values, parser_of(sheet))
        except InvalidInput as error:
            return _page(yard, sheet, name, f"Run {k}: {error.sentence}", 422)
        start = begins or datetime.fromisoformat(f"{sheet.date}T00:00:00+00:00")
        at = (start + timedelta(seconds=run.begins)).isoformat(timespec="milliseconds").replace("+00:00", "Z")
        made.append(Entry(_key(name, k), "run", at, values))
    for entry in made:
        yard.sheets.add(sheet, entry)
    return RedirectResponse(f"/boats/{sheet.boat_id}/{letter_of(sheet.number)}/pond/{sheet.code}", 303)


def _page(yard: Yard, sheet: Sheet, name: str, error: str = "", status: int = 200) -> HTMLResponse:
    boat = yard.boat(sheet.boat_id)
    revision = boat.revision(letter_of(sheet.number))
    entries = yard.sheets.entries(sheet)
    entry = _entry_of(entries, name)
    found, track, begins = looked_at(yard.track_data(name), name)
    system = system_of(sheet)
    noted = {e.key for e in entries}

    def say(value: float, kind: str) -> str:
        return fill(f"{{v:{kind}}}", {"v": value}, system)

    def row(k: int, run: RunFound) -> RunRow:
        when = (begins + timedelta(seconds=run.begins)).strftime("%H:%M:%S") if begins else f"{run.begins:.0f} s"
        speed = f"{say(run.speed, 'speed')} ±{say(run.half, 'speed')}"
        course = f"{run.course:.0f}°" if track.has_places else "not known"
        return RunRow(k, when, f"{run.ends - run.begins:.0f} s", say(run.way, "room"), course, speed, _key(name, k) in noted)

    facts = [("On the whole", say(found.average, "speed"))]
    if found.best is not None:
        facts.append(("Best 5 seconds", say(found.best, "speed")))
    if (both := found.both_ways) is not None:
        facts.append((f"Both ways, {both.there} and {both.back} runs", f"{say(both.speed, 'speed')} ±{say(both.half, 'speed')}"))
    facts += [("Runs", str(len(found.runs))), ("Stops", str(len(found.stops)))]
    left = [
        (track.bad_times, "with no time or place that goes on"),
        (track.jumps, "that jumped"),
        (track.gaps, "gaps, over which nothing is measured"),
    ]
    said = "; ".join(f"{count} {words}" for count, words in left if count)
    base = f"/boats/{sheet.boat_id}/{revision.letter}/pond/{sheet.code}"
    value = TrackView(
        title=entry.typed.get("name", name),
        base=f"{base}/tracks/{name}",
        back=base,
        runs=tuple(row(k, r) for k, r in enumerate(found.runs, 1)),
        facts=tuple(facts),
        left_out=f"Of {track.points} points left out: {said}." if said else f"All {track.points} points are used.",
        chart=_chart(found, system.speed.label, system.speed.si),
        error=error,
    )
    frame = frame_of(boat, revision, BY_SLUG["trials"], revision.design)
    return HTMLResponse(render("pond/track.html", frame=frame, v=value), status)


def _chart(found: TrackRead, unit: str, si: float) -> Markup:
    at = np.unique(np.linspace(0, len(found.times) - 1, min(DRAWN, len(found.times))).astype(int))
    lines = [Trace(found.times[at].tolist(), found.speeds[at].tolist(), "", "soft")]
    for k, run in enumerate(found.runs, 1):
        lines.append(Trace([run.begins, run.ends], [run.speed, run.speed], str(k)))
    marks = [Mark(found.best_at, "best 5 s", "now")] if found.best is not None else []
    return Markup(plot(lines, Axis("s", 1.0, 0.0), Axis(unit, si, 0.0), "Speed over the day", height=260.0, upright=marks))
