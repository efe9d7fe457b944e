"""What happened to the demo boats: a float test that went wrong, and the fix that was chosen.

The readings are those of a boat that differs from the list as real ones do; they are taken by the same sums and rounded
as a ruler and a kitchen scale would round them.
"""

import dataclasses
import math
from typing import Any

from yarekeel.core.errors import YareKeelError
from yarekeel.demo.boats import dabchick, moorhen, reedwarden, turnstone, wagtail
from yarekeel.demo.fast_boats import levelled, sandpiper, steadied, whimbrel
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.fixes import fixes
from yarekeel.stages.trials.trials import FloatTest
from yarekeel.store.berths import DEMO
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS, fill


def read_off(truth: Design, facts: dict[str, Any], scale_step: float) -> FloatTest:
    """A test of ``facts`` with the readings that ``truth`` would give: drafts to a millimetre, mass to a step of the scale."""
    result = afloat.assess(Craft(truth))
    if result.outputs is None:
        raise YareKeelError("The demo boat sinks; its story cannot be told.")
    o = result.outputs
    return FloatTest(
        **facts,
        mass_kg=round(o.mass / scale_step) * scale_step,
        draft_bow_m=round(o.draft_bow, 3),
        draft_stern_m=round(o.draft_stern, 3),
        heel_deg=round(math.degrees(o.heel) * 2) / 2,
    )


def _with(design: Design, name: str, **changes: object) -> Design:
    weights = tuple(dataclasses.replace(w, **changes) if w.name == name else w for w in design.weights)  # type: ignore[arg-type]
    return dataclasses.replace(design, weights=weights)


def load_demo(yard: Yard) -> None:
    """Put the boats into the yard: two with their trials and their next revisions, one still being drawn."""
    pram = wagtail()
    heavier = _with(pram, "Passenger, stern seat", mass_kg=88.0, at_m=(0.50, 0.0, 0.51))
    _tell(
        yard,
        pram,
        "mm_kg",
        heavier,
        dict(
            date="2026-05-09",
            place="the slip, slack water",
            load="rower, passenger, battery, oars",
            water_kg=0.4,
            seen=("stern_down",),
            notes="Transom nearly at the water when the passenger leaned back. Bottom boards wet.",
        ),
        0.5,
        "fix.move",
        "Rower on the middle thwart",
    )
    skimmer = reedwarden()
    laden = _with(skimmer, "Catch, wet weed", mass_kg=1.390, at_m=(0.480, 0.0, 0.165))
    _tell(
        yard,
        skimmer,
        "mm_g",
        laden,
        dict(
            date="2026-04-18",
            place="bath, then the mill pond by the sluice",
            load="basket full of wet weed",
            water_kg=0.0,
            seen=("bow_down", "low"),
            notes="Bow corners near the water as soon as the basket filled. Weed drips forward of the frame.",
        ),
        0.005,
        "fix.move",
        "Battery, 4 cells",
    )
    yard.create(moorhen(), "mm_kg", DEMO)  # on the drawing board still
    yard.create(dabchick(), "mm_g", DEMO)
    yard.create(turnstone(), "mm_kg", DEMO)
    fast = sandpiper()
    yard.follow(yard.create(fast, "mm_g", DEMO), "A", steadied(fast), "Battery 95 mm forward, less pitch")
    flier = whimbrel()
    yard.follow(yard.create(flier, "mm_g", DEMO), "A", levelled(flier), "Rear foil to lift with the front")


def _tell(yard: Yard, first: Design, units: str, truth: Design, facts: dict[str, Any], scale_step: float, code: str, item: str) -> None:
    boat = yard.create(first, units, DEMO)
    read = read_off(truth, facts, scale_step)
    yard.log_trial(boat, "A", read)
    index = next(k for k, w in enumerate(first.weights) if w.name == item)
    result = fixes.assess(Craft(first), read, index)
    candidates = [c.solved for c in result.candidates if c.solved.design is not None]
    chosen = next((c for c in candidates if c.code == code), candidates[0])
    assert chosen.design is not None
    yard.follow(boat, "A", chosen.design, fill(chosen.title.title, chosen.title.values, SYSTEMS[units]))
