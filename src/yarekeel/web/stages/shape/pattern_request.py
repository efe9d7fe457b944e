"""What a page of patterns is asked with: the boat, what was typed, and what came of it or is wrong with it."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Annotated, Any, Generic, TypeVar
from urllib.parse import urlencode

from fastapi import Depends, Request
from fastapi.responses import HTMLResponse, Response

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.core.patterns.panels import Panel
from yarekeel.exchange.patterns import cad
from yarekeel.exchange.patterns.order import USUAL_BEND, Order, Ordered, PanelOrder, ordered, panels_cut, panels_drawn
from yarekeel.exchange.patterns.sheet import Pattern, Title, title_of
from yarekeel.stages.design.craft import Craft
from yarekeel.store.records import Boat, Revision
from yarekeel.units import SYSTEMS, parse
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import BY_SLUG, Reader, craft_of, frame_of
from yarekeel.web.templating import render

SEEN = 260.0
"""Of a pattern's size: how thick its lines are drawn where it is shown small."""
T = TypeVar("T")
Fields = tuple[tuple[str, str, str], ...]
"""Name, label and hint of each field of a form."""
FIELDS: Fields = (
    ("every", "Frames every", "evenly spread"),
    ("at", "Or at stations", "from aft, with ; between"),
    ("skin", "Skin taken off", "thickness of planks or sheet"),
    ("ring", "As rings, this wide", "whole for none"),
    ("keelson", "Notch for the keelson", "width x depth"),
    ("clamp", "Notches for the sheer clamps", "width x depth"),
    ("limber", "Limber holes, radius", "beside the keelson"),
)

PANEL_FIELDS: Fields = (
    ("stitch", "Holes for stitches", "apart x off the edge, such as 100 mm x 8 mm"),
    ("lap", "Laps along the seams, this wide", "such as 15 mm; none for butted edges"),
    ("bend", "A fold’s bend", f"inner radius x thickness, such as {USUAL_BEND}"),
)


@dataclass(frozen=True)
class Shown:
    """The boat whose patterns are shown, in whose units, and what names its sheets."""

    boat: Boat
    revision: Revision
    reader: Reader
    title: Title

    @property
    def craft(self) -> Craft:
        return craft_of(self.revision.design)

    @property
    def hull(self) -> int:
        """The body that is cut."""
        return self.revision.design.main_hull

    def length(self, text: str, field: str) -> float:
        """A length as typed. Raises InvalidInput."""
        return parse(text, "length", self.reader.system, field)

    def file(self, what: str) -> str:
        """The name of a file of it."""
        return f"{self.title.boat}-{self.title.letter}-{what}"


def _shown(yard: YardDep, boat_id: int, letter: str) -> Shown:
    boat, revision = yard.boat(boat_id), yard.revision(boat_id, letter)
    title = title_of(revision.design, revision.letter, f"{date.today():%Y-%m-%d}")
    return Shown(boat, revision, Reader(SYSTEMS[revision.units]), title)


ShownDep = Annotated[Shown, Depends(_shown)]


@dataclass(frozen=True)
class Tried(Generic[T]):
    """What was typed, and what came of it; or what is wrong with it, and in which field."""

    typed: Mapping[str, str]
    found: T | None
    field: str = ""
    error: str = ""

    @property
    def made(self) -> T:
        """Raises InvalidInput where what was asked is wrong."""
        if self.found is None:
            raise InvalidInput(self.field, self.error)
        return self.found

    def rows(self, fields: Fields) -> list[tuple[str, str, str, str, str]]:
        """The fields of the form: name, label, hint, as typed, and what is wrong; what is wrong in none of them stands beside the first."""
        where = self.field if self.field in {name for name, _, _ in fields} else fields[0][0]
        return [(name, label, hint, self.typed[name], self.error if name == where else "") for name, label, hint in fields]

    @property
    def query(self) -> str:
        """What was typed, as the questions of an address."""
        return urlencode({name: text for name, text in self.typed.items() if text})


def tried(request: Request, names: Iterable[str], make: Callable[[dict[str, str]], T]) -> Tried[T]:
    """What is made of the questions in an address."""
    typed = {name: request.query_params.get(name, "")[:200] for name in names}
    try:
        return Tried(typed, make(typed))
    except InvalidInput as error:
        return Tried(typed, None, error.field, error.sentence)


def _frames(shown: ShownDep, request: Request) -> Tried[Ordered]:
    return tried(request, [*(n for n, _, _ in FIELDS), "stand"], lambda typed: _ordered(shown, typed))


def _ordered(shown: Shown, typed: Mapping[str, str]) -> Ordered:
    order = Order(**{n: typed[n] for n, _, _ in FIELDS}, upside_down=typed["stand"] != "up")
    return ordered(shown.craft, shown.hull, order, shown.length)


FramesDep = Annotated[Tried[Ordered], Depends(_frames)]


@dataclass(frozen=True)
class Panels:
    """A boat's panels, all and those that are drawn, or what is wrong with what was asked of them."""

    cut: tuple[Panel, ...]
    drawn: Tried[tuple[Pattern, ...]]


def _panels(shown: ShownDep, request: Request) -> Panels:
    cut = panels_cut(shown.craft, shown.hull)
    names = [name for name, _, _ in PANEL_FIELDS]
    return Panels(cut, tried(request, names, lambda typed: panels_drawn(shown.craft, shown.hull, PanelOrder(**typed), shown.length)))


PanelsDep = Annotated[Panels, Depends(_panels)]


def small(patterns: Iterable[Pattern], shown: Shown, name: str) -> Response:
    """One pattern as it is shown on a page. Raises NotFound."""
    found = next((p for p in patterns if p.name == name), None)
    if found is None:
        raise NotFound("There is no such pattern, or it does not lie flat.")
    left, low, right, high = found.bounds
    return Response(cad.svg(found, shown.title, max(right - left, high - low) / SEEN), media_type="image/svg+xml")


def page_of(name: str, shown: Shown, **values: Any) -> HTMLResponse:
    """A page of patterns."""
    frame = frame_of(shown.boat, shown.revision, BY_SLUG["shape"], shown.revision.design)
    return HTMLResponse(render(f"stages/shape/{name}.html", frame=frame, title=shown.title, part=name, **values))
