"""The brief's limits as rows: what each asks, of which figure, which way is better, and how a figure stands against it.

A new limit is a field of the brief and a row here; whatever judges takes it up from there. Outside a limit fails. Near is within
it, with less to spare than the figure itself is unsure by.
"""

import dataclasses
import math
from dataclasses import dataclass

from yarekeel.core.findings import Severity
from yarekeel.core.parameters import Parameter, parameter_of
from yarekeel.core.quantities import Ratio
from yarekeel.stages.design.brief import Brief

SMALLEST = {
    "length": 0.01,
    "angle": math.radians(1.0),
    "mass": 0.1,
    "area": 0.01,
    "volume": 1e-4,
    "force": 0.1,
    "current": 0.1,
    "speed": 0.01,
    "seconds": 0.1,
    "percent": 0.1,
    "ratio": 0.1,
}
"""What a margin is counted in where the limit itself is less, or nothing."""
SAME: Ratio = 1e-9
"""Of what a margin is counted in: a figure so near the limit is at it."""


@dataclass(frozen=True, slots=True)
class Limit:
    """One limit. ``field`` is the brief's, ``figure`` the boat's that it bounds, ``kind`` the unit's word of both in SI; ``tipping``:
    it is about how steady the boat is, ``sized``: the hull's size can keep it. ``asked`` is the limit's value in SI."""

    code: str
    title: str
    field: str
    figure: str
    kind: str
    at_least: bool = False
    sized: bool = True
    tipping: bool = False
    asked: float = 0.0

    @property
    def word(self) -> str:
        """The title as it stands within a sentence."""
        return self.title if self.title.isupper() else self.title[:1].lower() + self.title[1:]

    @property
    def parameter(self) -> Parameter:
        """The brief's field: its label, range and unit."""
        found = parameter_of(Brief, self.field)
        assert found is not None
        return found

    @property
    def scale(self) -> float:
        """What its margins are counted in."""
        return max(abs(self.asked), SMALLEST[self.kind])

    def spare(self, value: float) -> float:
        """By how much a value keeps it, in the figure's unit; less than 0 where it misses. Of a lean or a trim its size counts."""
        return value - self.asked if self.at_least else self.asked - abs(value)

    def margin(self, value: float) -> Ratio:
        """The same as a share of ``scale``."""
        return self.spare(value) / self.scale

    def severity(self, value: float | None, unsure: float | None = None) -> Severity:
        """How a figure stands whose band is ±``unsure``; one that there is none of (it sinks, nothing holds it) fails."""
        if value is None or self.spare(value) < -SAME * self.scale:
            return "fails"
        return "near" if self.spare(value) < (unsure or 0.0) else "holds"

    def keeps(self, value: float | None) -> bool:
        """Whether a figure is within it."""
        return self.severity(value) != "fails"


def _test(code: str, title: str) -> Limit:
    return Limit(code=f"test.{code}", title=title, field="most_lean_deg", figure=f"lean_{code}", kind="angle", sized=False, tipping=True)


ROWS: tuple[Limit, ...] = (
    Limit("freeboard", "Freeboard", "least_freeboard_m", "freeboard_min", "length", at_least=True),
    Limit("trim", "Trim", "allowed_trim_deg", "trim", "angle", sized=False),
    Limit("heel", "Heel", "allowed_trim_deg", "heel", "angle", sized=False),
    Limit("gm", "GM", "least_gm_m", "gm", "length", at_least=True, tipping=True),
    Limit("mass", "All-up mass", "target_mass_kg", "mass", "mass"),
    Limit("draft", "Draft", "most_draft_m", "draft", "length"),
    Limit("reserve", "Reserve buoyancy", "least_reserve", "reserve", "percent", at_least=True),
    Limit("length", "Length to carry", "most_length_m", "length", "length"),
    Limit("beam", "Beam to carry", "most_beam_m", "beam", "length"),
    Limit("bed_length", "Longest printed part", "bed_length_m", "part_length", "length"),
    Limit("bed_width", "Widest printed part", "bed_width_m", "part_width", "length"),
    Limit("bed_height", "Tallest printed part", "bed_height_m", "part_height", "length"),
    Limit("sheet", "Length in one sheet", "sheet_length_m", "length", "length"),
    Limit("rail", "Lean with the weight on its rail", "rail_heel_deg", "rail_lean", "angle", tipping=True),
    Limit("thrust", "Thrust to weight", "thrust_to_weight", "thrust_to_weight", "ratio", at_least=True, sized=False),
    Limit("peak", "Greatest righting arm", "least_peak_m", "greatest_arm", "length", at_least=True, sized=False, tipping=True),
    Limit("range", "Range", "least_range_deg", "range", "angle", at_least=True, sized=False, tipping=True),
    _test("rail", "Weight on the rail"),
    _test("lean", "Leaning out"),
    _test("stand", "Standing up"),
    _test("move", "Moving to one side"),
    _test("catch", "Catch over the side"),
    _test("wind", "Wind"),
    _test("gust", "Gust"),
    _test("turn", "Turn"),
    _test("tow", "Tow"),
    _test("wake", "Wake"),
)
BY_CODE = {row.code: row for row in ROWS}


def asked_of(brief: Brief) -> tuple[Limit, ...]:
    """The rows that a brief asks for, each with its value; those left open are not among them."""
    return tuple(dataclasses.replace(row, asked=asked) for row in ROWS if (asked := _asked(brief, row)) is not None)


def limit_of(brief: Brief, code: str) -> Limit | None:
    """One of them by its code; None where the brief leaves it open."""
    asked = _asked(brief, BY_CODE[code])
    return None if asked is None else dataclasses.replace(BY_CODE[code], asked=asked)


def limit_always(brief: Brief, code: str) -> Limit:
    """A limit that no brief leaves open."""
    found = limit_of(brief, code)
    assert found is not None
    return found


def _asked(brief: Brief, row: Limit) -> float | None:
    value: float | None = getattr(brief, row.field)
    if row.code in ("rail", "test.rail") and not brief.rail_mass_kg:
        return None
    if row.code == "test.rail" and brief.rail_heel_deg is not None:
        value = brief.rail_heel_deg  # what was asked of that test goes before what is asked of all
    if row.code == "test.wake":
        return None  # it has to come back, which no lean tells
    return None if value is None else math.radians(value) if row.kind == "angle" else value


def word_of(code: str) -> str:
    """What a limit is called in a sentence."""
    return BY_CODE[code].word if code in BY_CODE else code
