"""What happened to the demo boats: a float test that went wrong, and the fix that was chosen.

The readings are those of a boat that differs from the list as real ones do; they are taken by the same sums and rounded
as a ruler and a kitchen scale would round them.
"""

import dataclasses
import math
from typing import Any

from yarekeel.core.errors import YareKeelError
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import dabchick, moorhen, reedwarden, turnstone, wagtail
from yarekeel.demo.fast_boats import levelled, sandpiper, steadied, whimbrel
from yarekeel.stages.afloat import afloat
from yarekeel.stages.changes.takes import job
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.fixes import fixes
from yarekeel.stages.fixes.expected import expectation_of
from yarekeel.stages.trials.model import Model
from yarekeel.stages.trials.plan import speed_at
from yarekeel.stages.trials.readings import Readings, Run
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
        "move",
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
        "move",
        "Battery, 4 cells",
    )
    yard.create(moorhen(), "mm_kg", DEMO)  # on the drawing board still
    yard.create(dabchick(), "mm_g", DEMO)
    yard.create(turnstone(), "mm_kg", DEMO)
    _sandpiper(yard)
    _whimbrel(yard)


def _sandpiper(yard: Yard) -> None:
    """Three revisions: it flips; a fix that did not hold, since the battery slid back; the same fix with the battery held."""
    first = sandpiper()
    boat = yard.create(first, "mm_g", DEMO)
    day = dict(date="2026-06-06", place="mill pond, light air", load="3 cells", seen=("flips", "porpoises"))
    yard.log_trial(boat, "A", _run(first, day | {"notes": "Went over backwards twice as the throttle opened."}))
    moved = steadied(first)
    after = _expected(yard, boat, "A", moved, "Battery 95 mm forward, less pitch", ("move", "pitch"), "free: shift and strap down")
    slid = _with(moved, "Battery, 3 cells", at_m=(0.150, 0.0, 0.045))
    words = "Level at the bank, bow high after the first run: the battery had slid aft under its wet strap. So the fix was never tested."
    yard.log_trial(
        boat, after, _run(slid, dict(date="2026-06-13", place="mill pond, light air", load="3 cells", seen=("flips",), notes=words))
    )
    held = dataclasses.replace(moved, weights=(*moved.weights, WeightItem("Battery tray, glued", 0.012, (0.26, 0.0, 0.03), "weighed")))
    after = _expected(yard, boat, after, held, "A glued tray holds the battery forward", ("move",), "a tray of 1 mm sheet, glued in")
    words = "Runs straight at full throttle, the tray holds. No flip in eleven runs."
    yard.log_trial(boat, after, _run(held, dict(date="2026-06-20", place="mill pond, calm", load="3 cells", notes=words)))


def _whimbrel(yard: Yard) -> None:
    """Three revisions: the front foil lifts first; the rear one at its angle lifts with it; what glue and paint made heavier, levelled."""
    first = whimbrel()
    boat = yard.create(first, "mm_g", DEMO)
    day = dict(date="2026-07-04", place="the long reach, calm", load="3 cells", seen=("front_foil_up",))
    yard.log_trial(boat, "A", _run(first, day | {"notes": "The bow came up and broached, the stern never left the water."}))
    angled = levelled(first)
    after = _expected(yard, boat, "A", angled, "Rear foil to lift with the front", ("foil_angle",), "a wedge under the foil's root")
    paint = WeightItem("paint", 0.060, (0.15, 0.0, 0.06), "weighed", group="structure")
    day = dict(date="2026-07-11", place="the long reach, calm", load="3 cells", notes="Both foils lift, and it flies level.")
    test = _run(dataclasses.replace(angled, weights=(*angled.weights, paint)), day)
    yard.log_trial(boat, after, test)
    floated = dataclasses.replace(test, runs=())  # its run says nothing about where its weights are
    chosen = fixes.candidate(fixes.begun(Craft(angled), floated), "move").solved
    assert chosen.design is not None
    title, work = (fill(f.title, f.values, SYSTEMS["mm_g"]) for f in (chosen.title, chosen.work))
    _expected(yard, boat, after, chosen.design, title, ("move",), work)


def _run(truth: Design, facts: dict[str, Any]) -> FloatTest:
    """A day's readings of a model with a run at full throttle, as a scale, a ruler and a stopwatch show them."""
    read = read_off(truth, facts, 0.005)
    speed, _ = speed_at(Model(Craft(truth), Readings()), 1.0)
    return dataclasses.replace(read, runs=(Run(1.0, round(speed, 1)),))


def _expected(yard: Yard, boat: int, letter: str, design: Design, note: str, codes: tuple[str, ...], work: str) -> str:
    """The next revision with a fix, and what it is expected to do written down; its letter."""
    return yard.follow(boat, letter, design, note, expectation_of(Craft(design), note) | {"job": job(codes, work)}).letter


def _tell(yard: Yard, first: Design, units: str, truth: Design, facts: dict[str, Any], scale_step: float, code: str, item: str) -> None:
    boat = yard.create(first, units, DEMO)
    read = read_off(truth, facts, scale_step)
    yard.log_trial(boat, "A", read)
    index = next(k for k, w in enumerate(first.weights) if w.name == item)
    chosen = fixes.candidate(fixes.begun(Craft(first), read), code, index).solved
    assert chosen.design is not None
    yard.follow(boat, "A", chosen.design, fill(chosen.title.title, chosen.title.values, SYSTEMS[units]))
