"""Roll and incline: the period predicted, the sensor's trace, and from both tests back to GM and VCG."""

from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.core.found import Found
from yarekeel.stages.stability import rolling
from yarekeel.stages.stability.rolling import RollAssessment
from yarekeel.web.shared.fields import Field
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.stability.heeled import heeled
from yarekeel.web.stages.tab import Answer, Tab

TITLE, RANK = "Roll and incline", 5
MOST_TURNING = 5
"""Lines of the list that are named for what they make of the turning."""


@dataclass(frozen=True)
class RollMore:
    timed: tuple[Field, ...]
    weight: tuple[Field, ...]
    shifts: tuple[tuple[int, tuple[Field, ...]], ...]
    rows: tuple[tuple[str, ...], ...]
    turning: tuple[tuple[str, str, str], ...]
    practice: bool
    practised: bool


def view(asked: PageRequest) -> Tab:
    """What the list predicts beside what was read."""
    h = heeled(asked)
    result = rolling.assess(h.craft, h.result)
    more = RollMore(
        tuple(asked.field(f"incline.{n}") for n in ("rolls", "time_s", "time_limit_s")),
        tuple(asked.field(f"incline.{n}") for n in ("weight_kg", "angle_deg", "place_m")),
        tuple(
            (k, tuple(asked.field(f"incline.shifts.{k}.{n}") for n in ("moved_m", "heel_deg")))
            for k, _ in enumerate(asked.design.incline.shifts)
        ),
        _rows(asked, result) if result else (),
        tuple((n, taken, asked.reader.say(s, "percent")) for n, taken, s in rolling.turning_of(h.craft)[:MOST_TURNING]) if result else (),
        asked.design.practice,
        asked.design.incline.is_practice,
    )
    if result is None:
        return Tab(findings=asked.reader.findings(h.result.findings), title="Roll and incline", more=more)
    return Tab(
        readouts=_figures(asked, result),
        findings=asked.reader.findings(result.findings),
        title="Listed against measured",
        more=more,
        answers=_answers(asked, result),
    )


def _both(asked: PageRequest, found: Found | None, kind: str) -> str:
    return "–" if found is None else asked.reader.both(found.value, found.half_width, kind, extra=1 if kind == "length" else 0)


def _rows(asked: PageRequest, r: RollAssessment) -> tuple[tuple[str, ...], ...]:
    say = asked.reader.say
    period = _both(asked, r.period, "seconds") if r.period.value < 1e6 else "none"
    return (
        ("As listed", period, say(r.gm, "draft"), _both(asked, r.listed_vcg, "length")),
        ("Timed rolls", _both(asked, r.timed, "seconds"), _both(asked, r.gm_timed, "length"), _both(asked, r.vcg_timed, "length")),
        ("Inclining, slope of tan(heel)", "–", _both(asked, r.gm_slope, "length"), "–"),
        ("Inclining, on this hull at any angle", "–", "–", _both(asked, r.inclined, "length")),
    )


def _figures(asked: PageRequest, r: RollAssessment) -> tuple[Readout, ...]:
    reader = asked.reader
    gyration = reader.band(r.gyration.value, r.gyration.half_width, "length")
    return (
        reader.figure(
            "Roll period, listed",
            r.period.value,
            "seconds",
            f"{reader.band(r.period.value, r.period.half_width, 'seconds')} by sizes, places and water that swings along",
            half=r.period.half_width,
        )
        if r.period.value < 1e6
        else Readout("Roll period, listed", "none", "", "it does not come back"),
        reader.figure(
            "Radius of gyration",
            r.gyration.value,
            "length",
            f"{gyration}; {reader.say(r.gyration_share, 'percent')} of the beam over all",
            half=r.gyration.half_width,
        ),
        reader.figure("Timed", r.timed.value, "seconds", "a full roll, there and back")
        if r.timed
        else Readout("Timed", "–", "s", "not yet"),
        reader.figure(
            "VCG, measured",
            r.vcg.value,
            "length",
            f"by {r.by}; {reader.band(r.vcg.value, r.vcg.half_width, 'length')}",
            half=r.vcg.half_width,
        )
        if r.vcg
        else Readout("VCG, measured", "–", "", "not yet"),
    )


def _answers(asked: PageRequest, r: RollAssessment) -> tuple[Answer, ...]:
    if r.vcg is None:
        return ()
    say = asked.reader.say
    try:
        by, count = rolling.shift_of_unsure(asked.craft, r.vcg.value)
    except (NoAnswer, InvalidInput) as error:
        return (Answer("Correct the list", str(error)),)
    if abs(by) < 1e-4 or count == 0:
        return (Answer("Correct the list", "The list stands; nothing needs to move."),)
    what = f"the {count} weights that were not weighed" if count > 1 else "the one weight that was not weighed"
    words = f"Take {what} as {say(by, 'above_below').replace('above', 'higher').replace('below', 'lower')}: then VCG is as measured."
    return (Answer(title="Correct the list", words=words, do="answer.vcg", args={"height": r.vcg.value}, button="Correct it"),)
