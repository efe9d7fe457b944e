"""Drafts, trim and heel from a photo of the sheet: marked in the page, worked out here, noted as entries."""

import hashlib
import io
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Literal

from fastapi import APIRouter
from fastapi.responses import HTMLResponse, JSONResponse
from PIL import Image
from pydantic import BaseModel, Field

from yarekeel.core.errors import NotFound
from yarekeel.core.trials.photo import MarkSeen, measured
from yarekeel.stages.trials.sheet import Entry
from yarekeel.store.records import letter_of
from yarekeel.store.sheets import Sheet
from yarekeel.store.yard import Yard
from yarekeel.units import System, field_text, fill, parse, plain, unit_of
from yarekeel.web.pond.tracks import BASE, mine
from yarekeel.web.pond.view import system_of
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, craft_of, frame_of
from yarekeel.web.templating import render

router = APIRouter()


class MarkTyped(BaseModel):
    """A mark: its place in the picture in points, and on the boat as typed."""

    x: float = Field(allow_inf_nan=False)
    y: float = Field(allow_inf_nan=False)
    along: str = Field(max_length=40)
    up: str = Field(max_length=40)


class Marking(BaseModel):
    """All that was marked; "side" asks for drafts and trim, "end" for the heel, from a picture of bow or stern."""

    look: Literal["side", "end"] = "side"
    marks: list[MarkTyped] = Field(max_length=12)
    water: list[tuple[float, float]] = Field(max_length=2)


@dataclass(frozen=True)
class MeasureView:
    """The photo and where its marks are to begin with, with their places on the boat."""

    base: str
    back: str
    photo: str
    width: int
    height: int
    unit: str
    marks: tuple[tuple[str, float, float, str, str], ...]
    water: tuple[tuple[str, float, float], ...]


def _on_sheet(yard: Yard, sheet: Sheet, name: str) -> tuple[int, int]:
    """The size of a photo of the sheet in points. Raises NotFound."""
    if all(e.photo != name for e in yard.sheets.entries(sheet)):
        raise NotFound("There is no such photo on this sheet.")
    with Image.open(io.BytesIO(yard.photo_data(name))) as picture:
        return picture.size


@router.get(BASE + "/photos/{name}/measure")
def page(yard: YardDep, boat_id: int, letter: str, code: str, name: str) -> HTMLResponse:
    """The photo with its marks."""
    sheet = mine(yard, boat_id, letter, code)
    width, height = _on_sheet(yard, sheet, name)
    boat = yard.boat(boat_id)
    revision = boat.revision(letter)
    system = system_of(sheet)
    low, high = craft_of(revision.design).hull.mesh.bounds

    def said(value: float) -> str:
        return field_text(float(value), "length", system)

    places = (
        ("A", 0.2, 0.4, low[0], high[2]),
        ("B", 0.8, 0.4, high[0], high[2]),
        ("C", 0.75, 0.6, high[0], low[2]),
        ("D", 0.25, 0.6, low[0], low[2]),
    )
    back = f"/boats/{boat_id}/{letter}/pond/{code}"
    value = MeasureView(
        base=f"{back}/photos/{name}",
        back=back,
        photo=name,
        width=width,
        height=height,
        unit=unit_of("length", system).label,
        marks=tuple((k, round(x * width, 1), round(y * height, 1), said(along), said(up)) for k, x, y, along, up in places),
        water=tuple((f"Waterline {k}", round(x * width, 1), round(0.52 * height, 1)) for k, x in ((1, 0.2), (2, 0.8))),
    )
    return HTMLResponse(render("pond/measure.html", frame=frame_of(boat, revision, BY_SLUG["trials"], revision.design), v=value))


def _answer(yard: Yard, sheet: Sheet, name: str, sent: Marking) -> tuple[dict[str, Any], dict[str, str], str]:
    """What is shown, what an entry holds, and the entry's code. Raises InvalidInput."""
    size = _on_sheet(yard, sheet, name)
    system = system_of(sheet)
    marks = craft_of(yard.revision(sheet.boat_id, letter_of(sheet.number)).design).marks
    known = [
        MarkSeen(m.x, m.y, parse(m.along, "length", system, f"along.{k}"), parse(m.up, "length", system, f"up.{k}"))
        for k, m in enumerate(sent.marks)
    ]
    at = (marks.bow_x_m, marks.stern_x_m) if sent.look == "side" else (0.0,)
    found = measured(known, sent.water, at, size)
    how = "" if found.perspective else " Two marks: held as squarely as a hand does; four allow for it."
    if sent.look == "end":
        heel, half = -found.slope, found.slope_half
        to = "port" if heel < 0 else "starboard"
        words = f"Leans {plain(abs(heel), 1)}° to {to}, ±{plain(half, 1)}°.{how}"
        return {"words": words}, {"heel": f"{abs(heel):.2f}", "side": to, "good": f"{half:.2f}"}, "heel"
    trim = f"{'Bow down' if found.slope > 0 else 'Bow up'} {plain(abs(found.slope), 1)}°, ±{plain(found.slope_half, 1)}°"
    bow, stern = (_both(h, system) for h in found.heights)
    words = f"{trim}. Draft at the bow mark {bow}, at the stern mark {stern}.{how}"
    typed = {end: f"{1000 * h[0]:.2f} mm" for end, h in zip(("bow", "stern"), found.heights, strict=True)}
    typed["good"] = f"{1000 * max(h for _, h in found.heights):.2f} mm"
    return {"words": words}, typed, "drafts"


def _both(found: tuple[float, float], system: System) -> str:
    return fill("{v:draft} ±{h:draft}", {"v": found[0], "h": found[1]}, system)


@router.post(BASE + "/photos/{name}/measured")
def measure(yard: YardDep, boat_id: int, letter: str, code: str, name: str, sent: Marking) -> JSONResponse:
    """What the marks say."""
    shown, _, _ = _answer(yard, mine(yard, boat_id, letter, code), name, sent)
    return JSONResponse(shown)


@router.post(BASE + "/photos/{name}/note")
def note(yard: YardDep, boat_id: int, letter: str, code: str, name: str, sent: Marking) -> JSONResponse:
    """Note it on the sheet; the same marks are noted once."""
    sheet = mine(yard, boat_id, letter, code)
    _, typed, kind = _answer(yard, sheet, name, sent)
    digest = hashlib.sha256(f"{name} {sent.model_dump_json()}".encode()).hexdigest()[:24]
    when = datetime.now(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")
    yard.sheets.add(sheet, Entry(f"photo-{digest}", kind, when, typed))
    return JSONResponse({"back": f"/boats/{boat_id}/{letter}/pond/{code}"})
