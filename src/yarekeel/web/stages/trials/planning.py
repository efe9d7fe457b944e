"""The plan of a day: for which load, where, and with which list before the launch; written down before anything is measured."""

from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import Depends, Form

from yarekeel.core.errors import InvalidInput
from yarekeel.plain_text import plain
from yarekeel.stages.trials import plan
from yarekeel.store.records import Revision
from yarekeel.store.yard import Yard
from yarekeel.web.shared.page import craft_of

MOST_CHECKS, LONGEST_CHECK = 40, 120


@dataclass(frozen=True)
class Plan:
    """What the plan's form sends."""

    place: Annotated[str, Form(max_length=80)] = ""
    load: Annotated[str, Form(max_length=80)] = ""
    checks: Annotated[str, Form(max_length=8000)] = ""


PlanDep = Annotated[Plan, Depends()]


def planned(yard: Yard, revision: Revision, asked: Plan) -> int:
    """Write the prediction card down and give its number. Raises InvalidInput for a load that the boat has not, NoRest."""
    design = revision.design
    load = asked.load
    if load and load not in {c.name for c in design.cases}:
        raise InvalidInput("load", "This boat has no such load any more.")
    craft = craft_of(design).in_case(load)
    lines = [plain(line).strip()[:LONGEST_CHECK] for line in asked.checks.splitlines()]
    own = [line for line in lines if line][:MOST_CHECKS]
    where = ", ".join(v for v in (plain(asked.place).strip(), load) if v)
    return yard.predictions.keep(revision.id, "card", plan.kept_as(plan.card_of(craft), where, own))


def checks_now(revision: Revision, kept: list[dict[str, Any]]) -> str:
    """The list before the launch as it was last written for this boat, a line each; what is aboard gives the first."""
    last = kept[-1]["checks"] if kept else plan.checks_of(craft_of(revision.design))
    return "\n".join(str(c) for c in last)
