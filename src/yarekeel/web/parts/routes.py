"""The yard's bin of parts: the list, one being changed, copies, CSV both ways."""

from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.core.parameters import Parameter, parameters_of
from yarekeel.core.propulsion.parts import KINDS, Part
from yarekeel.exchange import part_file
from yarekeel.stages.design.fittings import Keyed
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS, field_text, parse, say
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.part_words import figures
from yarekeel.web.templating import render

router = APIRouter()
SYSTEM = SYSTEMS["mm_g"]
GENERIC = "generic:"


@dataclass(frozen=True)
class PartLine:
    key: str
    kind: str
    name: str
    mass: str
    figures: str
    known: str
    own: bool


@dataclass(frozen=True)
class PartField:
    name: str
    label: str
    kind: str
    text: str
    hint: str
    choices: tuple[tuple[str, str], ...]
    error: str


@dataclass(frozen=True)
class PartsView:
    lines: tuple[PartLine, ...]
    kinds: tuple[tuple[str, str], ...]
    shown: str
    removed: str
    removed_name: str
    pasted: str
    error: str


@dataclass(frozen=True)
class PartView:
    key: str
    title: str
    fields: tuple[PartField, ...]
    error: str


async def _typed(request: Request) -> dict[str, str]:
    """What a form holds, field by field."""
    form = await request.form(max_fields=60, max_files=0)
    return {name: str(value)[:200] for name, value in form.items()}


TypedDep = Annotated[dict[str, str], Depends(_typed)]


def _line(keyed: Keyed) -> PartLine:
    p = keyed.part
    known = "my own" if p.known == "own" else p.known
    return PartLine(
        key=keyed.key,
        kind=KINDS[p.kind].title,
        name=p.name,
        mass=say(p.mass_kg, "mass", SYSTEM),
        figures=figures(p, SYSTEM),
        known=known,
        own=not keyed.key.startswith(GENERIC),
    )


def _page(yard: Yard, kind: str = "", removed: str = "", pasted: str = "", error: str = "", status: int = 200) -> HTMLResponse:
    parts = [k for k in yard.bin.all() if not kind or k.part.kind == kind]
    gone = yard.bin.removed_name(removed) if removed else ""
    view = PartsView(
        lines=tuple(_line(k) for k in parts),
        kinds=tuple((k.code, k.title) for k in KINDS.values()),
        shown=kind if kind in KINDS else "",
        removed=removed if gone else "",
        removed_name=gone,
        pasted=pasted,
        error=error,
    )
    return HTMLResponse(render("parts/page.html", v=view), status)


@router.get("/parts")
def page(yard: YardDep, kind: str = "", removed: str = "") -> HTMLResponse:
    """The bin; ``removed`` offers the way back."""
    return _page(yard, kind, removed)


@router.get("/parts.csv")
def table(yard: YardDep) -> Response:
    """The builder's own parts as CSV; the generic ones where there are none yet."""
    own = yard.bin.own() or yard.bin.all()
    text = part_file.write(tuple(k.part for k in own))
    return Response(text, media_type="text/csv; charset=utf-8", headers={"content-disposition": 'attachment; filename="parts.csv"'})


@router.post("/parts")
def add(yard: YardDep, kind: Annotated[str, Form()] = "") -> Response:
    """A new part of a kind at ordinary figures; it is corrected next."""
    if kind not in KINDS:
        return _page(yard, error="Choose a kind of part.", status=422)
    like = next((k.part for k in yard.bin.all() if k.part.kind == kind), None)
    part = Part(kind, f"New {KINDS[kind].title.lower()}", like.mass_kg if like else 0.1, KINDS[kind].spec())
    return RedirectResponse(f"/parts/{yard.bin.add((part,))[0]}", 303)


@router.post("/parts/paste")
def paste(yard: YardDep, text: Annotated[str, Form()] = "") -> Response:
    """Parts from CSV or a spreadsheet's clipboard; all of them or none."""
    try:
        yard.bin.add(part_file.read(text, "parts", SYSTEM))
    except InvalidInput as error:
        return _page(yard, pasted=text, error=error.sentence, status=422)
    return RedirectResponse("/parts", 303)


@router.post("/parts/{key}/copy")
def copy(yard: YardDep, key: str) -> Response:
    """A copy of one's own, to correct."""
    part = yard.bin.part(key).part
    new = Part(part.kind, f"{part.name}, copy"[:80], part.mass_kg, part.spec, part.size, "", "own")
    return RedirectResponse(f"/parts/{yard.bin.add((new,))[0]}", 303)


@router.post("/parts/{key}/remove")
def remove(yard: YardDep, key: str) -> Response:
    """Take it out of the bin, unless a boat that is worked on has it; the list then offers the way back."""
    using = yard.boats_with(key)
    if using:
        names = " and ".join(using[:3])
        return _page(yard, error=f"It is fitted to {names}: take it off there first. Sealed revisions keep what they had.", status=422)
    yard.bin.remove(key)
    return RedirectResponse(f"/parts?removed={key}", 303)


@router.post("/parts/{key}/restore")
def restore(yard: YardDep, key: str) -> Response:
    """Bring it back."""
    yard.bin.restore(key)
    return RedirectResponse("/parts", 303)


@router.get("/parts/{key}")
def one(yard: YardDep, key: str) -> HTMLResponse:
    """A part of one's own, to be changed."""
    return _one(yard, key, {}, {})


@router.post("/parts/{key}")
def change(yard: YardDep, key: str, typed: TypedDep) -> Response:
    """A part with what was typed; errors beside the fields, with what was typed still there."""
    now = _own(yard, key)
    errors: dict[str, str] = {}
    given: dict[str, Any] = {}
    for p in (*parameters_of(now), *parameters_of(now.spec)):
        try:
            given[p.name] = _parsed(p, typed.get(p.name, ""))
        except InvalidInput as error:
            errors[p.name] = error.sentence
    spec_names = {p.name for p in parameters_of(now.spec)}
    if not errors:
        try:
            spec = type(now.spec)(**{n: v for n, v in given.items() if n in spec_names})
            yard.bin.change(key, Part(now.kind, spec=spec, **{n: v for n, v in given.items() if n not in spec_names}))
            return RedirectResponse("/parts", 303)
        except InvalidInput as error:
            errors[error.field] = error.sentence
    return _one(yard, key, typed, errors)


def _parsed(p: Parameter, text: str) -> Any:
    if p.kind in ("text", "words", "choice"):
        return text.strip()
    if p.kind == "flag":
        return text == "on"
    value = parse(text, p.kind, SYSTEM, p.name)
    return int(value) if p.kind == "count" and value == int(value) else value


def _own(yard: Yard, key: str) -> Part:
    if key.startswith(GENERIC):
        raise NotFound("A generic part is changed by copying it.")
    return yard.bin.part(key).part


def _one(yard: Yard, key: str, typed: dict[str, str], errors: dict[str, str]) -> HTMLResponse:
    part = _own(yard, key)
    fields = []
    for p in (*parameters_of(part), *parameters_of(part.spec)):
        value = getattr(part if p.name in {q.name for q in parameters_of(part)} else part.spec, p.name)
        text = ("on" if value else "") if p.kind == "flag" else value if isinstance(value, str) else field_text(value, p.kind, SYSTEM)
        shown = typed.get(p.name, "" if p.kind == "flag" and typed else text)
        fields.append(PartField(p.name, p.label, p.kind, shown, p.meaning, p.choices, errors.get(p.name, "")))
    loose = " ".join(sentence for name, sentence in errors.items() if name not in {f.name for f in fields})
    view = PartView(key, f"{KINDS[part.kind].title}: {part.name}", tuple(fields), loose)
    return HTMLResponse(render("parts/part.html", v=view), 422 if errors else 200)
