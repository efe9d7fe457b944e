"""The boat that the page heels: in the load and with the water in the bilge that are asked for, its curves kept."""

import dataclasses
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.kept import kept
from yarekeel.core.stability.inclining import Incline
from yarekeel.core.stability.tipping import Tipping
from yarekeel.core.weights.weigh_in import WeighIn
from yarekeel.stages.afloat import flooding
from yarekeel.stages.afloat.flooding import BilgePlace
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.stability import plain_tests, stability
from yarekeel.stages.stability.plain_tests import Tested
from yarekeel.stages.stability.stability import StabilityAssessment
from yarekeel.web.shared.page import craft_of
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Question, question

AS_IN_FORCE = "-"


@dataclass(frozen=True)
class Heeled:
    """``loads`` and ``places`` are the choices (code, title), ``load`` and ``into`` those taken; ``litres`` the question as asked;
    ``words`` say what differs from the boat as listed, empty where nothing does."""

    craft: Craft
    result: StabilityAssessment
    loads: tuple[tuple[str, str], ...]
    load: str
    places: tuple[tuple[str, str], ...]
    into: str
    litres: Question
    words: str


def _assessed(design: Design, litres: float, into: BilgePlace | None) -> StabilityAssessment:
    """The curves do not hang on the brief, on what the tests are done with, on sails and readings: those may change without a new
    sweep."""
    bare = dataclasses.replace(design, brief=Brief(), tipping=Tipping(), sails=(), incline=Incline(), weigh_in=WeighIn())
    return _judged(design, _swept(bare, litres, into))


@kept
def _judged(design: Design, found: StabilityAssessment) -> StabilityAssessment:
    return stability.judged(craft_of(design), found)


@kept
def _swept(design: Design, litres: float, into: BilgePlace | None) -> StabilityAssessment:
    return stability.swept(craft_of(design), litres=litres, into=into)


@kept
def _tested(design: Design, litres: float, into: BilgePlace | None) -> tuple[Tested, ...]:
    return plain_tests.assess(craft_of(design), _assessed(design, litres, into))


def assessed(design: Design) -> StabilityAssessment:
    """A boat as it is listed, for laying its curve beside another's."""
    return _assessed(design, 0.0, None)


def _parts(asked: PageRequest) -> tuple[Craft, float, BilgePlace | None, Question, str]:
    craft, load = asked.craft, asked.ask.get("load", AS_IN_FORCE)
    names = {c.name for c in asked.design.cases} | {""}
    if load in names:
        craft = craft_of(craft.in_case(load).design)
    litres, volume = question(asked=asked, name="litres", label="Water in the bilge", kind="volume", placeholder="0 l", default=0.0)
    places = flooding.places(craft)
    into = places[asked.index("into", len(places)) or 0] if places else None
    return craft, max(volume or 0.0, 0.0), into, litres, load if load in names else AS_IN_FORCE


def heeled(asked: PageRequest) -> Heeled:
    """The boat as asked for; water that does not fit is refused beside its field and left out."""
    craft, volume, into, litres, load = _parts(asked)
    try:
        result = _assessed(craft.design, volume, into)
    except InvalidInput as refused:
        litres = Question(name=litres.name, label=litres.label, text=litres.text, placeholder=litres.placeholder, error=refused.sentence)
        volume = 0.0
        result = _assessed(craft.design, 0.0, into)
    places = flooding.places(craft)
    chosen = places.index(into) if into in places else 0
    loads = (
        (AS_IN_FORCE, "as in force"),
        ("", "as listed"),
        *((c.name, c.name) for c in asked.design.cases),
    )
    words = [f"load “{load or 'as listed'}”"] if load != AS_IN_FORCE else []
    if volume and into is not None:
        words.append(f"{asked.reader.say(volume, 'volume')} of water in {into.title}")
    return Heeled(
        craft=craft,
        result=result,
        loads=loads,
        load=load,
        places=tuple((str(k), p.title) for k, p in enumerate(places)),
        into=str(chosen),
        litres=litres,
        words="With " + " and ".join(words) if words else "",
    )


def tested(asked: PageRequest) -> tuple[Tested, ...]:
    """The plain tests of the boat as asked for."""
    craft, volume, into, _, _ = _parts(asked)
    try:
        return _tested(craft.design, volume, into)
    except InvalidInput:
        return _tested(craft.design, 0.0, into)
