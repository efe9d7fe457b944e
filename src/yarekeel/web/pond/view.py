"""What a pond sheet shows: its fields with what is expected beside them, the list before the launch, and what was entered."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.stages.trials.sheet import NOTINGS, Blank, Entry, Parser, read
from yarekeel.stages.trials.trials import SYMPTOMS
from yarekeel.store.records import Boat, letter_of
from yarekeel.store.sheets import Sheet
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS, System, parse, unit_of
from yarekeel.web.stages.trials.plan_view import PlanCard

PARTS = (
    ("checks", "Before the launch", "Before"),
    ("place", "Where and how", "Where"),
    ("afloat", "Afloat", "Afloat"),
    ("drive", "Under way", "Runs"),
    ("seen", "What was seen", "Seen"),
)
"""Code, title, and the word of the bar at the bottom."""


@dataclass(frozen=True)
class SheetField:
    """A field of the sheet with what is expected."""

    name: str
    label: str
    kind: str
    unit: str
    choices: tuple[tuple[str, str], ...]
    first: str
    expected: str
    needed: bool


@dataclass(frozen=True)
class SheetForm:
    """What is noted together."""

    code: str
    title: str
    hint: str
    fields: tuple[SheetField, ...]


@dataclass(frozen=True)
class SheetView:
    """A sheet: whose it is, its forms by part, its lists, and the data that its script needs as JSON."""

    code: str
    boat: str
    letter: str
    place: str
    date: str
    title: str
    back: str
    parts: tuple[tuple[str, str, tuple[SheetForm, ...]], ...]
    jumps: tuple[tuple[str, str], ...]
    symptoms: tuple[tuple[str, str], ...]
    checks: tuple[str, ...]
    watch: tuple[str, ...]
    expected: tuple[tuple[str, str, str], ...]
    data: str


def shown_from(card: PlanCard, boat: Boat, letter: str) -> dict[str, Any]:
    """What a sheet keeps to show: the prediction card in the reader's words as it was written down, and whose it is."""
    return {"card": asdict(card), "boat": boat.revision(letter).design.name, "letter": letter, "units": boat.units}


def system_of(sheet: Sheet) -> System:
    """The units that a sheet was opened in: what is typed without a unit is in them, whatever the boat shows later."""
    return SYSTEMS[sheet.shows["units"]]


def parser_of(sheet: Sheet) -> Parser:
    """Reads what was typed on a sheet in its units."""
    system = system_of(sheet)
    return lambda text, kind, name: parse(text, kind, system, name)


def _field(blank: Blank, expected: Iterable[tuple[str, str, str]], system: System) -> SheetField:
    near = [
        (name.removeprefix(blank.expected).strip(), f"{value} {band}".strip())
        for name, value, band in expected
        if blank.expected and (name == blank.expected or name.startswith(f"{blank.expected} at"))
    ]
    return SheetField(
        name=blank.name,
        label=blank.label,
        kind=blank.kind,
        unit="" if blank.kind in ("text", "choice") else unit_of(blank.kind, system).label,
        choices=tuple((c, SYMPTOMS.get(c, c)) for c in blank.choices),
        first=blank.first,
        expected=", ".join(f"{value} {at}".strip() for at, value in near),
        needed=blank.needed,
    )


def entry_data(entry: Entry, parser: Parser, struck: Mapping[str, str]) -> dict[str, Any]:
    """An entry as the sheet's script has it, with the sentence that is in its way, if any."""
    try:
        read(entry.code, entry.typed, parser)
        problem = ""
    except InvalidInput as error:
        problem = error.sentence
    return {
        "key": entry.key,
        "code": entry.code,
        "at": entry.at,
        "typed": dict(entry.typed),
        "photo": entry.photo,
        "problem": problem,
        "struck": struck.get(entry.key, ""),
    }


def entries_data(entries: tuple[Entry, ...], parser: Parser) -> list[dict[str, Any]]:
    """All entries of a sheet but the strikes, which stand beside what they strike out."""
    struck = {e.typed.get("entry", ""): e.typed.get("reason", "") for e in entries if e.code == "strike"}
    return [entry_data(e, parser, struck) for e in entries if e.code != "strike"]


def view(yard: Yard, code: str, mode: str) -> SheetView:
    """The sheet of a code; ``mode`` is "page", or "file" for the one that works by itself. Raises NotFound."""
    sheet = yard.sheets.sheet(code)
    if "card" not in sheet.shows:
        raise NotFound("There is no such pond sheet.")
    card, system = sheet.shows["card"], system_of(sheet)
    expected = tuple(tuple(row) for row in card["expected"])
    parts = tuple(
        (
            part,
            title,
            tuple(
                SheetForm(n.code, n.title, n.hint, tuple(_field(b, expected, system) for b in n.blanks if not b.hidden))
                for n in NOTINGS.values()
                if n.part == part
            ),
        )
        for part, title, _ in PARTS
    )
    titles = {n.code: n.title for n in NOTINGS.values()}
    labels = {f"{n.code}.{b.name}": b.label for n in NOTINGS.values() for b in n.blanks}
    data = {
        "code": code,
        "mode": mode,
        "titles": titles,
        "labels": labels,
        "symptoms": SYMPTOMS,
        "entries": [] if mode == "file" else entries_data(yard.sheets.entries(sheet), parser_of(sheet)),
    }
    letter = letter_of(sheet.number)
    return SheetView(
        code=code,
        boat=sheet.shows["boat"],
        letter=letter,
        place=sheet.place,
        date=sheet.date,
        title=card["title"],
        back=f"/boats/{sheet.boat_id}/{letter}/trials",
        parts=parts,
        jumps=tuple((part, short) for part, _, short in PARTS),
        symptoms=tuple(SYMPTOMS.items()),
        checks=tuple(card["checks"]),
        watch=tuple(card["watch"]),
        expected=expected,
        data=json.dumps(data, ensure_ascii=False).replace("<", "\\u003c"),
    )
