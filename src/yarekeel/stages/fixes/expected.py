"""What a chosen fix is expected to do, written down when it is chosen, and what came of it."""

import contextlib
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

from yarekeel.core.errors import NoRest
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.trials.model import Model
from yarekeel.stages.trials.plan import speed_at
from yarekeel.stages.trials.readings import Readings
from yarekeel.stages.trials.trials import FloatTest

Verdict = Literal["met", "partly", "not", "not measured"]
READ_TO = {"trim": math.radians(0.2), "heel": math.radians(0.5), "mass": 0.0, "speed": 0.0, "length": 0.002}
"""Half widths that these are read to at a bath (common practice)."""


@dataclass(frozen=True, slots=True)
class Came:
    """A figure: what was expected with half its band, and what was measured; None where it was not."""

    name: str
    kind: str
    expected: float
    band: float
    measured: float | None

    @property
    def is_met(self) -> bool | None:
        """Whether it lies within its band; None where it was not measured."""
        return None if self.measured is None else abs(self.measured - self.expected) <= self.band


def expectation_of(craft: Craft, what: str) -> dict[str, Any]:
    """What a boat with a fix is expected to show, in SI, to be kept. Raises NoRest for one that does not float."""
    result = afloat.assess(craft)
    if result.outputs is None:
        raise NoRest("With it, the boat does not float.")
    o, s = result.outputs, result.spread
    rows = [
        ("Mass", "mass", o.mass, s.mass if s else 0.02 * o.mass),
        ("Trim", "trim", o.trim, s.trim if s else math.radians(0.5)),
        ("Heel", "heel", o.heel, s.heel if s else math.radians(1.0)),
        ("GM", "length", o.gm, s.gm if s else 0.1 * abs(o.gm)),
    ]
    if craft.design.drive.motors:
        model = Model(craft, Readings())
        with contextlib.suppress(NoRest):
            rows.append(("Speed at 100 %", "speed", *speed_at(model, 1.0)))
    return {"what": what, "rows": [{"name": n, "kind": k, "value": float(v), "band": float(b)} for n, k, v, b in rows]}


def came_of(kept: Mapping[str, Any], craft: Craft, test: FloatTest | None) -> tuple[tuple[Came, ...], Verdict]:
    """What a trial (None for none yet) says to what was expected, and whether that is met: all that was measured, some of it, or none."""
    measured = measured_of(craft, test) if test else {}
    rows = tuple(
        Came(r["name"], r["kind"], r["value"], math.hypot(r["band"], READ_TO[r["kind"]]), measured.get(r["kind"])) for r in kept["rows"]
    )
    told = [r.is_met for r in rows if r.is_met is not None]
    if not told:
        return rows, "not measured"
    return rows, "met" if all(told) else "partly" if any(told) else "not"


def measured_of(craft: Craft, test: FloatTest) -> dict[str, float]:
    """Mass, trim, heel and top speed of a day, where they were read; SI, angles in radians, bow up and starboard positive."""
    out = {}
    if test.mass_kg is not None:
        out["mass"] = test.mass_kg
    if test.draft_bow_m is not None and test.draft_stern_m is not None:
        marks = craft.marks
        out["trim"] = math.atan2(test.draft_stern_m - test.draft_bow_m, marks.bow_x_m - marks.stern_x_m)
    if test.heel_deg is not None:
        out["heel"] = math.radians(test.heel_deg)
    full = [r.speed_ms for r in test.runs if r.throttle >= 0.99 and r.speed_ms is not None]
    if full:
        out["speed"] = sum(full) / len(full)
    return out
