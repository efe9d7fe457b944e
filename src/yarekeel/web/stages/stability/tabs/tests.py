"""Plain tests: each with where it ends and what is left, their numbers, and the boat as one of them leaves it."""

from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.drawing import tank
from yarekeel.stages.stability import plain_tests
from yarekeel.stages.stability.stability import StabilityAssessment, end_of
from yarekeel.units import WordedFinding
from yarekeel.web.shared.fields import Field
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.stability.heeled import heeled, tested
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Plain tests", 1

NUMBERS = (
    ("lean_m", "stand_m", "inboard_m"),
    ("catch_kg", "catch_out_m", "catch_up_m"),
    ("wind_ms", "gust"),
    ("turn_ms", "turn_m"),
    ("tow_n", "tow_up_m"),
    ("wake_deg",),
)


@dataclass(frozen=True)
class TestRow:
    code: str
    title: str
    ends: str
    left: str
    tone: str
    word: str
    chosen: bool


@dataclass(frozen=True)
class TestsMore:
    rows: tuple[TestRow, ...]
    limits: tuple[Field, ...]
    numbers: tuple[Field, ...]
    picture: Markup
    chosen: WordedFinding | None
    test: str
    official: tuple[WordedFinding, ...]


def view(asked: PageRequest) -> Tab:
    """All tests as a list, the one in hand drawn; the worst is, until another is asked for."""
    h, tests, say = heeled(asked), tested(asked), asked.reader.say
    worst = plain_tests.worst(tests)
    code = asked.ask.get("test", "")
    chosen = next((t for t in tests if t.code == code), worst)
    rows = []
    for t in tests:
        said = asked.reader.findings((t.finding,))[0]
        left = "–" if t.lean is None else say(t.left, "length") if t.left > 0 else f"{say(-t.left, 'length')} under"
        word = {"holds": "holds", "near": "near", "fails": "fails", "note": "no limit asked"}[said.severity]
        ends = "goes over" if t.lean is None else f"leans {say(t.lean, 'angle')}"
        if t.code == "test.wake":
            ends = "stays over" if t.lean is None else "comes back"
        rows.append(TestRow(code=t.code, title=said.title, ends=ends, left=left, tone=said.severity, word=word, chosen=t is chosen))
    people = asked.design.brief.kind == "people"
    names = [n for group in NUMBERS for n in group if people or n not in ("lean_m", "stand_m", "inboard_m")]
    usual = plain_tests.tipping_of(h.craft) if h.result.afloat else asked.design.tipping
    picture = ""
    if chosen is not None and h.result.boat is not None:
        a = chosen.attitude or _point_of_no_return(h.result, chosen.side)
        picture = tank.leaning(hull=h.craft.hull, attitude=a, gravity=None, buoyancy=None, arm=None, say=say, height=300.0)
    more = TestsMore(
        rows=tuple(rows),
        limits=tuple(asked.field(f"brief.{n}") for n in ("most_lean_deg", "rail_mass_kg", "rail_heel_deg")),
        numbers=tuple(asked.field(f"tipping.{n}", value=getattr(usual, n)) for n in names),
        picture=Markup(picture),
        chosen=asked.reader.findings((chosen.finding,))[0] if chosen else None,
        test=chosen.code if chosen else "",
        official=asked.reader.findings(plain_tests.notes(asked.craft)),
    )
    findings = () if tests else asked.reader.findings(h.result.findings)
    return Tab(findings=findings, title="Plain tests", more=more)


def _point_of_no_return(r: StabilityAssessment, side: int) -> Attitude:
    """For a test that nothing holds: the boat where it stops coming back."""
    curve = r.starboard if side > 0 else r.port
    assert curve is not None
    assert r.boat is not None
    end = end_of(curve)
    return min(curve.points, key=lambda p: abs(p.heel - end)).attitude
