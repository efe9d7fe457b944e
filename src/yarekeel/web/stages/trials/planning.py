"""The plan of a day: for which load, where, and with which list before the launch; written down before anything is measured."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any
from urllib.parse import urlencode

from fastapi import Depends, Form

from yarekeel.core.errors import InvalidInput
from yarekeel.plain_text import plain
from yarekeel.stages.trials import plan
from yarekeel.stages.trials.weather import Weather
from yarekeel.store.records import Revision
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS, System, parse, say
from yarekeel.web.shared.page import craft_of

MOST_CHECKS, LONGEST_CHECK = 40, 120
LIMITS = {"wind": ("speed", "Wind", 0.0, 60.0), "depth": ("length", "Depth", 0.001, 12000.0)}
TYPED = ("place", "load", "wind", "depth")


@dataclass(frozen=True)
class Plan:
    """What the plan's form sends."""

    place: Annotated[str, Form(max_length=80)] = ""
    load: Annotated[str, Form(max_length=80)] = ""
    wind: Annotated[str, Form(max_length=40)] = ""
    depth: Annotated[str, Form(max_length=40)] = ""
    checks: Annotated[str, Form(max_length=8000)] = ""


PlanDep = Annotated[Plan, Depends()]


def weather_of(typed: Mapping[str, str], system: System) -> tuple[Weather, dict[str, str]]:
    """The wind and the depth as typed, and a sentence for each that cannot be used; what is left empty is calm, or deep."""
    found: dict[str, float] = {}
    wrong: dict[str, str] = {}
    for name, (kind, label, low, high) in LIMITS.items():
        text = typed.get(name, "").strip()
        try:
            value = parse(text, kind, system, name) if text else None
        except InvalidInput as error:
            wrong[name] = error.sentence
            continue
        if value is not None and not low <= value <= high:
            wrong[name] = f"{label} lies between {say(low, kind, system)} and {say(high, kind, system)}."
        elif value is not None:
            found[name] = value
    return Weather(found.get("wind", 0.0), found.get("depth", math.inf)), wrong


def asked_again(asked: Plan) -> str:
    """The questions in an address that fill the form in once more."""
    return urlencode({name: value for name in TYPED if (value := getattr(asked, name).strip())})


def planned(yard: Yard, revision: Revision, asked: Plan) -> int:
    """Write the prediction card down and give its number. Raises InvalidInput for a load that the boat has not, or wind and depth that
    are none, NoRest."""
    weather, wrong = weather_of(vars(asked), SYSTEMS[revision.units])
    if wrong:
        raise InvalidInput(*next(iter(wrong.items())))
    design = revision.design
    load = asked.load
    if load and load not in {c.name for c in design.cases}:
        raise InvalidInput("load", "This boat has no such load any more.")
    craft = craft_of(design).in_case(load)
    lines = [plain(line).strip()[:LONGEST_CHECK] for line in asked.checks.splitlines()]
    own = [line for line in lines if line][:MOST_CHECKS]
    where = ", ".join(v for v in (plain(asked.place).strip(), load) if v)
    return yard.predictions.keep(revision.id, "card", plan.kept_as(plan.card_of(craft, weather), where, own, weather))


def checks_now(revision: Revision, kept: list[dict[str, Any]]) -> str:
    """The list before the launch as it was last written for this boat, a line each; what is aboard gives the first."""
    last = kept[-1]["checks"] if kept else plan.checks_of(craft_of(revision.design))
    return "\n".join(str(c) for c in last)
