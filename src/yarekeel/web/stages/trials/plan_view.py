"""The plan of a day as it is shown: its form, and the prediction cards that were written down."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.stages.trials import plan
from yarekeel.units import fill, plain
from yarekeel.web.shared.page import Reader
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.trials.planning import TYPED, checks_now, weather_of


@dataclass(frozen=True)
class PlanCard:
    """A prediction card as it was written down."""

    id: int
    title: str
    expected: tuple[tuple[str, str, str], ...]
    watch: tuple[str, ...]
    checks: tuple[str, ...]
    tells: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class PlanForm:
    """What was typed in the plan and could not be used, by field, with a sentence for each; "" where there is none."""

    typed: Mapping[str, str] = field(default_factory=lambda: dict.fromkeys(TYPED, ""))
    errors: Mapping[str, str] = field(default_factory=lambda: dict.fromkeys(TYPED, ""))


def cards_of(asked: PageRequest) -> tuple[PlanCard, ...]:
    """The revision's prediction cards in the reader's units, as they were written down, whatever was changed since."""
    reader, out = asked.reader, []
    for p in asked.predictions(asked.revision.id):
        if p.kind != "card":
            continue
        rows = []
        for e in p.figures["expected"]:
            band = "" if e["band"] is None else f"±{_expected(reader, e['band'], e['kind'])}"
            rows.append((str(e["name"]), _expected(reader, e["value"], e["kind"]), band))
        watch = tuple(fill(str(w["title"]), w["values"], reader.system) for w in p.figures["watch"])
        wind, depth = p.figures.get("wind_ms"), p.figures.get("depth_m")
        said = [f"wind {reader.say(wind, 'speed')}" if wind else "", f"{reader.say(depth, 'room')} deep" if depth else ""]
        place = ", ".join(w for w in (str(p.figures.get("place") or ""), *said) if w)
        title = f"Prediction card of {p.date}" + (f", {place}" if place else "")
        out.append(PlanCard(p.id, title, tuple(rows), watch, tuple(p.figures["checks"]), tuple((a, b) for a, b in p.figures["tells"])))
    return tuple(out)


def plan_of(asked: PageRequest) -> PlanForm:
    """The plan's form as it was typed, where it could not be used."""
    typed = {name: asked.ask.get(name, "") for name in TYPED}
    weather, errors = weather_of(typed, asked.reader.system)
    if any(typed.values()) and not errors:
        try:
            plan.card_of(asked.craft, weather)
        except InvalidInput as error:
            errors = {error.field: error.sentence}
        except NoRest as error:
            errors = {"place": str(error)}
    return PlanForm(typed, dict.fromkeys(TYPED, "") | errors)


def loads_of(asked: PageRequest) -> tuple[str, ...]:
    """Loads that a day may be planned for."""
    return tuple(c.name for c in asked.revision.design.cases)


def last_checks(asked: PageRequest) -> str:
    """The list before the launch as it was last written down for this boat."""
    kept = [p for r in asked.boat.revisions for p in asked.predictions(r.id) if p.kind == "card"]
    newest = sorted(kept, key=lambda p: p.id)
    return checks_now(asked.revision, [p.figures for p in newest])


def _expected(reader: Reader, value: float, kind: str) -> str:
    if kind == "angle":
        return f"{plain(math.degrees(value), 1)}°"
    return reader.say(value, kind)
