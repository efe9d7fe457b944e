"""Start from a need: a form, three boats that do it, and the one that is taken."""

from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Form
from fastapi.responses import HTMLResponse, RedirectResponse
from markupsafe import Markup

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.drawing import tank
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.sizing.need import Need, Start, brief_of, starts
from yarekeel.units import SYSTEMS, System, WordedFinding, parse, said, say
from yarekeel.web.shared.access import YardDep
from yarekeel.web.templating import render

router = APIRouter()
ASKED = (
    ("load", "It must carry", "mass", "1.2 kg", "what goes aboard, without the boat"),
    ("draft", "Sits no deeper than", "length", "60 mm", "empty: not asked"),
    ("rail", "Weight on its rail", "mass", "200 g", "empty: not asked"),
    ("lean", "May lean with it by", "degrees", "5°", ""),
)


@dataclass(frozen=True)
class NeedForm:
    name: str
    label: str
    text: str
    placeholder: str
    hint: str
    error: str


@dataclass(frozen=True)
class StartView:
    """A boat on offer; ``number`` is what starting with it sends, -1 where there is none to start with."""

    number: int
    said: WordedFinding
    picture: Markup
    figures: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class NeedView:
    kind: str
    fields: tuple[NeedForm, ...]
    starts: tuple[StartView, ...]


def _system(kind: str) -> System:
    return SYSTEMS["mm_kg" if kind == "people" else "mm_g"]


def _need(kind: str, typed: dict[str, str]) -> tuple[Need | None, dict[str, str]]:
    """The need as typed, and the sentences that refuse it by field."""
    values: dict[str, float | None] = {}
    errors: dict[str, str] = {}
    for name, _, unit, _, _ in ASKED:
        try:
            values[name] = parse(typed[name], unit, _system(kind), name) if typed[name].strip() else None
        except InvalidInput as error:
            errors[name] = error.sentence
    for name in ("draft", "rail", "lean"):
        value = values.get(name)
        if value is not None and value <= 0:
            errors[name] = "Write a number of more than 0, or leave it empty."
    if (values.get("rail") is None) != (values.get("lean") is None) and not errors:
        errors["lean" if values.get("lean") is None else "rail"] = "A weight and the lean it may give go together."
    if "load" not in errors and values.get("load") is None:
        errors["load"] = "Say what it must carry, for example 1.2 kg."
    if errors:
        return None, errors
    try:
        found = Need(
            kind="people" if kind == "people" else "model",
            load=values["load"] or 0.0,
            draft=values["draft"],
            rail=values["rail"],
            lean_deg=values["lean"],
        )
        brief_of(found)  # a limit that no brief holds is refused here
    except InvalidInput as error:
        return None, {"load" if error.field not in typed else error.field: error.sentence}
    return found, {}


def _view(kind: str, typed: dict[str, str], asked: bool) -> tuple[NeedView, int]:
    need, errors = _need(kind, typed) if asked else (None, {})
    fields = tuple(
        NeedForm(name=name, label=label, text=typed[name], placeholder=example, hint=hint, error=errors.get(name, ""))
        for name, label, _, example, hint in ASKED
    )
    found = starts(need) if need else ()
    return NeedView(kind, fields, tuple(_start(n, s, kind) for n, s in enumerate(found))), 422 if errors else 200


def _start(number: int, start: Start, kind: str) -> StartView:
    system = _system(kind)
    words = said(start.finding, system)
    answer = start.sized.answer
    if start.design is None or answer is None:
        return StartView(-1, words, Markup(""), ())
    hull, a = Craft(start.design).hull, answer.judged.afloat
    low, high = hull.mesh.bounds
    titles = {w.code: w for w in start.sized.limits if w.code != "mass"}
    figures = [
        ("Length, beam, depth", ", ".join(say(float(v), "length", system) for v in high - low)),
        ("All up, hull in plywood", say(answer.judged.mass, "mass", system)),
        *((w.title, say(answer.judged.values[code], w.kind, system)) for code, w in titles.items() if code in answer.judged.values),
    ]
    picture = tank.small(hull, a.attitude if a else None, 340.0, 170.0, words.title)
    return StartView(number, words, Markup(picture), tuple(figures))


@router.get("/need")
def page(kind: str = "model", load: str = "", draft: str = "", rail: str = "", lean: str = "", go: str = "") -> HTMLResponse:
    """The form; with what was typed in it and three boats once it was sent."""
    typed = {"load": load[:60], "draft": draft[:60], "rail": rail[:60], "lean": lean[:60]}
    view, status = _view(kind if kind == "people" else "model", typed, bool(go))
    return HTMLResponse(render("yard/need.html", v=view), status)


@router.post("/need")
def start_with(
    yard: YardDep,
    number: Annotated[int, Form()],
    kind: Annotated[str, Form()] = "model",
    load: Annotated[str, Form()] = "",
    draft: Annotated[str, Form()] = "",
    rail: Annotated[str, Form()] = "",
    lean: Annotated[str, Form()] = "",
) -> RedirectResponse:
    """A boat in the yard, as it was on offer."""
    need, errors = _need(kind, {"load": load[:60], "draft": draft[:60], "rail": rail[:60], "lean": lean[:60]})
    if need is None:
        raise InvalidInput("need", next(iter(errors.values())))
    found = starts(need)
    if not 0 <= number < len(found) or found[number].design is None:
        raise NotFound("There is no such boat on offer for this need.")
    design = found[number].design
    assert design is not None
    boat = yard.create(design, _system(kind).code)
    return RedirectResponse(f"/boats/{boat}/A/brief", 303)
