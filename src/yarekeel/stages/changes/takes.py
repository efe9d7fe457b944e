"""What each change takes of its builder: time, money, what one must be able to do, and the caution that goes with it. One table."""

from dataclasses import dataclass
from typing import Any

from yarekeel.core.quantities import Ratio

TIMES: tuple[tuple[str, Ratio], ...] = (("minutes", 0.25), ("an hour", 1.0), ("an evening", 3.0), ("a weekend", 12.0), ("weeks", 40.0))
"""Classes of working time, each with its hours (common practice)."""
COSTS = ("nothing", "small change", "a part", "dear")
SKILLS: dict[str, str] = {
    "hull": "build a new hull",
    "glass": "lay up glass and resin",
    "cut": "cut into the hull",
    "lead": "handle lead",
    "solder": "solder packs and controls",
    "buy": "order parts",
}
"""What a builder may not be able or willing to do, by code."""

RESIN = "Resin and glass: gloves, a mask, fresh air."
LEAD = "Lead is poison: wash your hands, and leave melting it to those who are set up for it."
CUTTING = "Dust and chips: goggles and a mask; mind what runs behind where you cut."
CELLS = "Lithium cells: charge them watched, never above what motor and control are made for."
BLADES = "Take the blades off before you power a motor on the bench, and keep hair, sleeves and fingers out of their plane."
PEOPLE = "Where people are aboard, prove a change in shallow water, with a life jacket and a second person."


@dataclass(frozen=True, slots=True)
class Takes:
    """A row: classes of time and cost by their number, what it needs of ``SKILLS``, what must be got, and the caution."""

    time: int
    cost: int
    needs: tuple[str, ...] = ()
    parts: tuple[str, ...] = ()
    caution: str = ""

    @property
    def hours(self) -> float:
        """Of its class."""
        return TIMES[self.time][1]


ROWS: dict[str, Takes] = {
    "move": Takes(0, 0, parts=("straps or hook tape",)),
    "ballast": Takes(1, 1, ("lead",), ("lead or shot", "a pocket that holds it fast"), LEAD),
    "ballast_at": Takes(1, 1, ("lead",), ("lead or shot", "a pocket that holds it fast"), LEAD),
    "water": Takes(2, 2, ("cut",), ("a tank or bag", "a plug or pump"), CUTTING),
    "seat": Takes(2, 0, parts=("wood or foam for lower seats",)),
    "lower": Takes(2, 1, parts=("packing or new brackets",)),
    "apart": Takes(2, 2, parts=("longer beams",)),
    "spacing": Takes(3, 2, parts=("longer cross beams",)),
    "outrigger": Takes(3, 2, ("glass",), ("foam", "cloth and resin", "beams"), RESIN),
    "strips": Takes(3, 2, ("glass",), ("foam", "cloth and resin"), RESIN),
    "wider": Takes(4, 3, ("hull",), ("everything a hull takes",), RESIN),
    "scale": Takes(4, 3, ("hull",), ("everything a hull takes",), RESIN),
    "pitch": Takes(1, 1, ("buy",), ("a propeller",), BLADES),
    "propeller": Takes(1, 1, ("buy",), ("a propeller",), BLADES),
    "cells": Takes(1, 2, ("solder", "buy"), ("a pack of more cells", "a control that bears them"), CELLS),
    "air_propeller": Takes(2, 2, ("buy",), ("an air propeller", "a mount", "a guard"), BLADES),
    "tilt": Takes(1, 0, parts=("a wedge",), caution=BLADES),
    "tow_point": Takes(1, 1, parts=("an eye with a backing plate",)),
    "height": Takes(2, 1, ("cut",), ("a new mount",), CUTTING),
    "deeper": Takes(2, 1, ("cut",), ("a stern tube", "sealant"), CUTTING),
    "toe": Takes(1, 0, parts=("shims",), caution=BLADES),
    "fin": Takes(2, 1, ("cut",), ("sheet for the blade", "glue"), CUTTING),
    "rudder": Takes(2, 1, (), ("sheet for the blade", "a longer stock"), CUTTING),
    "foil_angle": Takes(1, 0, parts=("a wedge",)),
    "foil_place": Takes(2, 1, ("cut",), ("sealant for the old holes",), CUTTING),
    "sponsons": Takes(3, 2, ("glass",), ("foam", "cloth and resin"), RESIN),
    "walls": Takes(4, 2, ("hull",), ("everything a hull takes",), PEOPLE),
    "left_out": Takes(0, 0),
    "raised": Takes(2, 1, ("cut",), ("strip for the coaming", "sealant"), CUTTING),
    "bulkhead": Takes(2, 1, ("cut",), ("sheet", "sealant", "hatches"), CUTTING),
    "baffles": Takes(2, 1, ("cut",), ("sheet", "glue"), CUTTING),
    "drain": Takes(1, 1, ("cut",), ("a drain fitting with its plug", "sealant"), CUTTING),
}


def of(codes: tuple[str, ...]) -> Takes:
    """Of one change, or of several done together: times add up to a class, the dearest counts. KeyError for one that has no row."""
    rows = [ROWS[c] for c in codes]
    hours = sum(r.hours for r in rows)
    time = next((n for n, (_, most) in enumerate(TIMES) if hours <= most * 1.5), len(TIMES) - 1)
    together = {name: tuple(dict.fromkeys(x for r in rows for x in getattr(r, name))) for name in ("needs", "parts")}
    return Takes(
        time, max(r.cost for r in rows), together["needs"], together["parts"], " ".join(dict.fromkeys(r.caution for r in rows if r.caution))
    )


def job(codes: tuple[str, ...], work: str) -> dict[str, Any]:
    """The list of a job, to shop and to work by: what is done in words, what must be got, what one must be able to do, time, cost,
    cautions. Plain text and lists, to be kept with what is expected of it."""
    row = of(codes)
    return {
        "work": work,
        "parts": list(row.parts),
        "needs": [SKILLS[n] for n in row.needs],
        "time": TIMES[row.time][0],
        "cost": COSTS[row.cost],
        "caution": row.caution,
    }
