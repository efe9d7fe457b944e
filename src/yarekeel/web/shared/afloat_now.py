"""The boat as it floats now, small, for the side of every page."""

from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.drawing import tank
from yarekeel.stages.design.design import Design
from yarekeel.units import said
from yarekeel.web.shared.page import Reader, craft_of, float_of


@dataclass(frozen=True, slots=True)
class AfloatNow:
    """The silhouette and one line beneath it."""

    picture: Markup
    words: str
    tone: str
    verdict: str


def afloat_now(design: Design, reader: Reader, width: float = 262.0, height: float = 150.0) -> AfloatNow:
    """The silhouette at the solved attitude; on the bottom when it sinks, level and unladen before anything is aboard."""
    result = float_of(design)
    at = result.afloat if result else None
    if result is None:
        words, tone = "Nothing aboard yet", "note"
    elif at is None:
        words, tone = result.findings[0].title, "fails"
    else:
        a = at.attitude
        words = f"{reader.say(a.trim, 'trim')}, {reader.say(a.heel, 'heel')}, {reader.say(at.freeboard, 'length')} freeboard"
        words = words[:1].upper() + words[1:]
        tone = next((f.severity for f in result.findings if f.severity != "note"), "note")
    worst = next((f for f in (result.findings if result else ()) if f.severity != "note"), None)
    verdict = said(worst, reader.system).title if worst else ""
    picture = tank.small(craft_of(design).hull, at.attitude if at else None, width, height, words)
    return AfloatNow(Markup(picture), words, tone, verdict)
