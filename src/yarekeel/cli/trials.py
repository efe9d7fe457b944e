"""``yare-keel trial``: a day's readings against the prediction, and the boat as found."""

import json
import math
from pathlib import Path
from typing import Annotated, Any

import typer

from yarekeel.exchange import boat_file, readings_file
from yarekeel.stages.trials import found
from yarekeel.stages.trials.found import BoatFound
from yarekeel.units import say

ReadingsArgument = Annotated[Path, typer.Argument(metavar="READINGS.json", help="What was read, see docs/trial-file.md.")]
NAMES = {"mass": "mass_kg", "lcg": "lcg_m", "tcg": "tcg_m", "vcg": "vcg_m", "thrust_factor": "thrust_factor", "drag_factor": "drag_factor"}
KINDS = {"degrees": "heel", "seconds": "seconds"}


def trial(boat: Path, readings: Path, as_json: bool, system: Any) -> None:
    """Print predicted and measured, and the boat as found."""
    craft = boat_file.load(boat)
    result = found.assess(craft, readings_file.load(readings))
    if as_json:
        print(json.dumps(_json(result), ensure_ascii=False, indent=1, allow_nan=False))
        return
    shown = system(craft)
    for r in result.rows:
        one, other = (_said(v, r.kind, shown) for v in (r.predicted, r.measured))
        print(f"{r.name:28s} predicted {one} ±{_said(r.band, r.kind, shown)}, measured {other}: {r.where}, {r.surprise}")
    print("As found")
    for t in result.told:
        value = "nothing measured tells it" if t.value is None else f"{_said(t.value, t.kind, shown)} ±{_said(t.half, t.kind, shown)}"
        print(f"  {NAMES[t.name]:16s} {value}; listed {_said(t.listed, t.kind, shown)}")
    if result.out:
        print(f"Cannot be right beside the others: {result.out}")
    if result.next is not None:
        n = result.next
        print(f"Measure next: {n.words} ({n.needs}); it narrows {NAMES[n.unknown]} to {100 * n.after / n.before:.0f} % of its doubt")


def _said(value: float, kind: str, system: Any) -> str:
    if kind == "degrees":
        return f"{value:.2f}°"
    if kind == "ratio":
        return f"{value:.3f}"
    if kind == "seconds":
        return f"{value:.2f} s"
    return say(value, "length" if kind == "draft" else kind, system)


def _json(result: BoatFound) -> dict[str, Any]:
    def interval(value: float | None, half: float) -> dict[str, float] | None:
        return None if value is None or not math.isfinite(value) else {"value": value, "low": value - half, "high": value + half}

    rows = [
        {
            "name": r.name,
            "kind": r.kind,
            "predicted": interval(r.predicted, r.band),
            "measured": interval(r.measured, r.half),
            "where": r.where,
            "off_sigma": r.off,
        }
        for r in result.rows
    ]
    n = result.next
    return {
        "rows": rows,
        "found": {NAMES[t.name]: interval(t.value, t.half) for t in result.told},
        "misread": result.out or None,
        "next": None if n is None else {"measure": n.words, "needs": n.needs, "narrows": NAMES[n.unknown], "from": n.before, "to": n.after},
        "findings": [f.code for f in result.findings],
    }
