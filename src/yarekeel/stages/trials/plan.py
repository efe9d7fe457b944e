"""The prediction card: what this boat should show at the water, what to watch for, what to check before it is launched."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.kept import kept
from yarekeel.core.quantities import MetresPerSecond, Radians, Ratio
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import with_value
from yarekeel.stages.drive import match
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.report import report
from yarekeel.stages.running.resistance import resistance_of
from yarekeel.stages.stability.rolling import period_of
from yarekeel.stages.trials.found import DRAG_LAW, THRUST_LAW, candidates
from yarekeel.stages.trials.model import THRUST_OFF, UNKNOWNS, Model
from yarekeel.stages.trials.readings import Readings
from yarekeel.stages.trials.weather import CALM, Weather

THROTTLES: tuple[Ratio, ...] = (1.0, 0.6)
TRIM_LAW: Radians = math.radians(1.0)
"""Half the band of a trim at speed (common practice)."""
WIND_LAW: Ratio = 0.4
"""Half the band of how far wind leans it, as a share (common practice: drag of odd shapes, and wind less near the water)."""
LEAST_LEAN: Radians = math.radians(0.1)
"""Half that band at least: no level tells less."""
LASTS: Ratio = 0.25
"""Half the band of how long a pack lasts, as a share (common practice: age and cold take as much)."""
WATCHED = 6
"""Weak verdicts on a card."""
STAGES = ("float", "stability", "drive", "underway")


@dataclass(frozen=True, slots=True)
class Expected:
    """A figure on the card: its name, the units' kind, its value and half its 95 % band (None where no band is known)."""

    name: str
    kind: str
    value: float
    band: float | None


@dataclass(frozen=True, slots=True, eq=False)
class Card:
    """Figures, what to watch for (titles and sentences with their values), what to check, and what would tell most."""

    expected: tuple[Expected, ...]
    watch: tuple[tuple[str, dict[str, Any]], ...]
    checks: tuple[str, ...]
    tells: tuple[tuple[str, str], ...]


@kept
def card_of(craft: Craft, weather: Weather = CALM) -> Card:
    """The card of a boat as it is, for so much wind over water so deep. Raises NoRest for one that does not float, InvalidInput for water
    that is no deeper than it draws."""
    result = afloat.assess(craft)
    if result.outputs is None or result.afloat is None:
        raise NoRest("It does not float yet, so there is nothing to predict.")
    if weather.depth <= max(result.outputs.draft_bow, result.outputs.draft_stern):
        raise InvalidInput("depth", "So deep it draws itself: it would lie on the ground.")
    tells = tuple((c.words, c.needs) for c in candidates(craft, Readings()))
    expected = (*_afloat(craft, result), *_blown(craft, weather), *_driven(craft, weather))
    return Card(expected, _watched(craft), checks_of(craft), tells)


def _blown(craft: Craft, weather: Weather) -> list[Expected]:
    """How far the wind abeam leans it; nothing in a calm."""
    if not weather.wind:
        return []
    test = Figures(Craft(with_value(craft.design, "tipping.wind_ms", weather.wind))).test("test.wind")
    if test is None or test.lean is None:
        return []
    return [Expected("Leans in the wind abeam", "angle", test.lean, max(WIND_LAW * test.lean, LEAST_LEAN))]


def _afloat(craft: Craft, result: Any) -> list[Expected]:
    o, s = result.outputs, result.spread
    half = {k: getattr(s, k) if s else None for k in ("mass", "draft_bow", "draft_stern", "heel", "freeboard")}
    out = [
        Expected("All-up mass", "mass", o.mass, half["mass"]),
        Expected("Draft at the bow mark", "draft", o.draft_bow, half["draft_bow"]),
        Expected("Draft at the stern mark", "draft", o.draft_stern, half["draft_stern"]),
        Expected("Heel, to starboard", "angle", o.heel, half["heel"]),
        Expected("Least freeboard", "length", o.freeboard, half["freeboard"]),
    ]
    period = period_of(craft, result.afloat)
    if period is not None:
        out.append(Expected("Ten rolls take", "span", 10 * period.value, 10 * period.half_width))
    return out


def _driven(craft: Craft, weather: Weather) -> list[Expected]:
    """Pull, current and speed at throttles; nothing for a boat without a drive."""
    if not craft.design.drive.motors:
        return []
    model, out = Model(craft, Readings().on(weather)), []
    u = model.listed
    for throttle in THROTTLES:
        at = f"at {100 * throttle:.0f} %"
        pull = model.pull(u, throttle)
        out.append(Expected(f"Pull {at}", "force", pull, math.hypot(THRUST_LAW, THRUST_OFF) * pull))
        draws = model.current(u, throttle, False)
        out.append(Expected(f"Draws, held fast, {at}", "current", draws, THRUST_LAW * draws))
        try:
            out.append(Expected(f"Speed {at}", "speed", *speed_at(model, throttle)))
        except NoRest:
            continue
    return [*out, *_at_speed(craft, model, weather)]


def speed_at(model: Model, throttle: Ratio) -> tuple[MetresPerSecond, MetresPerSecond]:
    """The listed boat's speed at a throttle, and half its band: what drive and hull that are each at the worse end of theirs lose. Raises
    NoRest where thrust and drag do not meet."""
    speed = model.speed(model.listed, throttle)
    step = np.zeros(len(UNKNOWNS))
    step[5], step[4] = DRAG_LAW, -THRUST_LAW
    return speed, abs(speed - model.speed(model.listed + step, throttle))


def _at_speed(craft: Craft, model: Model, weather: Weather) -> list[Expected]:
    """Trim at full speed, how long the pack lasts flat out, and how far it gets at the throttle that carries it furthest."""
    out: list[Expected] = []
    holds = resistance_of(craft, depth=weather.depth)
    if holds is not None:
        try:
            full = model.speed(model.listed, 1.0)
        except NoRest:
            full = 0.0
        known = [b for b in holds.balances if b is not None and b.speed <= full]
        if known:
            out.append(Expected("Trim at full speed, bow up", "angle", known[-1].attitude.trim, TRIM_LAW))
    found = match.assess(craft)
    if found is not None:
        flat, far = found.steady[-1], found.economical
        if math.isfinite(flat.time):
            out.append(Expected("Runs flat out for", "span", flat.time, LASTS * flat.time))
        if math.isfinite(far.distance):
            out.append(Expected("Gets farthest, there and back", "room", far.distance / 2, LASTS * far.distance / 2))
    return out


def _watched(craft: Craft) -> tuple[tuple[str, dict[str, Any]], ...]:
    """The weakest verdicts of the stages that the water will try, in the order of their weight."""
    told = [f for stage in report(craft) if stage.stage in STAGES for f in stage.findings]
    weak = [f for severity in ("fails", "near") for f in told if f.severity == severity]
    return tuple((f"{f.title}. {f.sentence}", dict(f.values)) for f in weak[:WATCHED])


def checks_of(craft: Craft) -> tuple[str, ...]:
    """What is looked at before a launch, by what is aboard (common practice)."""
    design = craft.design
    people = design.brief.kind == "people"
    driven, wired = bool(design.drive.motors), design.drive.battery is not None
    rows: tuple[tuple[bool, str], ...] = (
        (True, "Leak check: afloat by hand for some minutes, then look inside"),
        (True, "Hatches and openings closed, drains shut"),
        (bool(design.weights), "Ballast and everything heavy fixed where the list has it"),
        (driven and not people, "Servos move the right way, trims in the middle"),
        (driven and not people, "Range of the radio tried on the bank, failsafe stops the drive"),
        (wired, "Pack charged, its voltage noted; its plug last, hands off the propeller"),
        (driven, "Cut-off within reach"),
        (bool(craft.spaces), "Sealed spaces tight, vents free"),
        (not people, "A way to fetch it back that is not swimming"),
        (people, "Life jackets on, a second person near, never alone"),
        (people, "Weather and water looked at, somebody knows when you will be back"),
        (True, "Leave is given for this water; birds and anglers left alone"),
        (True, "Afterwards: dry, rinse, look for water, cracks and warmth"),
    )
    return tuple(words for asked, words in rows if asked)


def kept_as(card: Card, place: str, checks: Sequence[str] = (), weather: Weather = CALM) -> dict[str, Any]:
    """The card as figures to be written down; with a list of the builder's own before the launch, if there is one."""
    return {
        "place": place,
        "wind_ms": weather.wind,
        "depth_m": None if math.isinf(weather.depth) else weather.depth,
        "expected": [{"name": e.name, "kind": e.kind, "value": e.value, "band": e.band} for e in card.expected],
        "watch": [{"title": t, "values": v} for t, v in card.watch],
        "checks": list(checks or card.checks),
        "tells": [list(t) for t in card.tells],
    }
