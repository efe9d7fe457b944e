"""Air and flip: the speed at which the air lifts the bow over, and what moves it most."""

from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.drawing.floating import Arrow, Scene, draw
from yarekeel.stages.underway import flip
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Question, Tab, question, refused

TITLE, RANK = "Air and flip", 5


@dataclass(frozen=True)
class FlipMore:
    asks: tuple[Question, ...]
    rows: tuple[tuple[str, ...], ...]
    why: str


def _figure(asked: PageRequest, label: str, value: float, note: str) -> Readout:
    """A flip speed, no finer than its band."""
    return asked.reader.figure(label, value, "speed", f"{note}; ±{asked.reader.say(flip.DOUBT, 'percent')}", half=flip.DOUBT * value)


def view(asked: PageRequest) -> Tab:
    """The flip speeds, the verdict and what each change buys."""
    reader, say = asked.reader, asked.reader.say
    wind_ask, wind = question(asked, "flip_wind", "Head wind", "speed", "3 m/s", 3.0, "gusts half as much again")
    area_ask, area = question(asked, "flip_area", "Flat area, seen from above", "area", "as drawn", None, "tunnels and wings with it")
    try:
        found = flip.assess(asked.craft, wind or 0.0, area)
    except InvalidInput as error:
        bad_wind = error.field == "wind"
        wind_ask = refused(wind_ask, error.sentence) if bad_wind else wind_ask
        area_ask = area_ask if bad_wind else refused(area_ask, error.sentence)
        found = flip.assess(asked.craft, 3.0)
    if found is None:
        return Tab(title="In the air", more=FlipMore((), (), "It needs a boat that floats level enough to run."))
    readouts = (
        _figure(asked, "Goes over in calm", found.calm, f"at the trim of its fastest, {say(found.plan.trim, 'angle')}"),
        _figure(asked, "in the head wind", found.windy, "at that trim"),
        _figure(asked, "in a gust", found.gusty, "half as much wind again"),
        _figure(asked, "pitched up by a wave", found.pitched, f"by {say(flip.PITCHED, 'angle')}, in the gust"),
    )
    rows = tuple((name, say(v, "speed"), say(gain, "speed")) for name, v, gain in found.buys)
    picture = _picture(asked, found)
    more = FlipMore((wind_ask, area_ask), rows, "")
    return Tab(picture=picture, readouts=readouts, findings=reader.findings(found.findings), title="In the air", more=more)


def _picture(asked: PageRequest, found: flip.FlipAssessment) -> Markup:
    """The boat just lifted off by the bow, standing on its rear contact, with what lifts it and what holds it down."""
    craft, plan, say = asked.craft, found.plan, asked.reader.say
    tilted = Attitude(0.0, plan.trim + flip.PITCHED, 0.0)
    attitude = Attitude(0.0, tilted.trim, -tilted.height_of(plan.contact))
    weight = plan.mass * STANDARD_GRAVITY
    lift = flip.lifting_off(plan)
    x, y, z = plan.contact
    arrows = [
        Arrow(craft.gravity, (0.0, 0.0, -weight), f"weight {say(weight, 'force')}"),
        Arrow((x + plan.arm, y, z), (0.0, 0.0, lift), f"air {say(lift, 'force')}"),
    ]
    if plan.thrust > 0:
        arrows.append(Arrow((x, y, z + plan.above), (plan.thrust, 0.0, 0.0), f"thrust {say(plan.thrust, 'force')}"))
    title = f"At {say(found.pitched, 'speed')} in the gust: the bow is free of the water"
    return Markup(draw(Scene(hull=craft.shown, attitude=attitude, title=title, arrows=arrows, gravity=craft.gravity, surface=0.75)))
