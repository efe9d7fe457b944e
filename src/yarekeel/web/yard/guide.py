"""The guide: the way a boat goes, with boats to look at, and the trade's words."""

from fastapi import APIRouter
from fastapi.responses import HTMLResponse
from markupsafe import Markup

from yarekeel.demo.boats import reedwarden
from yarekeel.drawing import tank
from yarekeel.stages.judging.figures import Figures
from yarekeel.units import say
from yarekeel.web.shared.access import YardDep
from yarekeel.web.shared.page import craft_of
from yarekeel.web.templating import render
from yarekeel.web.terms import TERMS
from yarekeel.web.yard.routes import LOOP

router = APIRouter()
SLUGS = (("brief",), ("shape", "weights"), ("float", "stability"), ("drive", "underway"), ("trials",), ("fixes",))


@router.get("/guide")
def page(yard: YardDep) -> HTMLResponse:
    """The loop in one page, and what the words mean."""
    number, name = yard.berths.example() or (0, "")
    base = f"/boats/{number}/B" if number else ""
    steps = [(words, text, [(s, f"{base}/{s}") for s in slugs] if base else []) for (words, text), slugs in zip(LOOP, SLUGS, strict=True)]
    craft = craft_of(reedwarden())
    marks = craft.marks
    shown = tank.Tank(craft.hull, craft.items, Figures(craft).rest, marks.bow_x_m, marks.stern_x_m, None, say)
    return HTMLResponse(
        render(
            "yard/guide.html",
            steps=steps,
            terms=TERMS,
            picture=Markup(tank.draw(shown)),
            example=name,
        )
    )
