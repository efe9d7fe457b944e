"""``yare-keel trial`` and ``fixes``: readings against the prediction, the boat as found, what may be the cause, what mends it."""

import json
import math
from pathlib import Path
from typing import Annotated, Any

import typer

from yarekeel.cli.words import show, working
from yarekeel.exchange import bundle, readings_file
from yarekeel.stages.changes.takes import COSTS, TIMES
from yarekeel.stages.fixes import fixes as fixing
from yarekeel.stages.fixes.causes import Judged
from yarekeel.stages.fixes.fixes import Candidate
from yarekeel.stages.trials import found
from yarekeel.stages.trials.found import BoatFound
from yarekeel.units import fill, say

ReadingsArgument = Annotated[Path, typer.Argument(metavar="READINGS.json", help="What was read, see docs/trial-file.md.")]
NAMES = {
    "mass": "mass_kg", "lcg": "lcg_m", "tcg": "tcg_m", "vcg": "vcg_m", "thrust_factor": "thrust_factor", "drag_factor": "drag_factor",
    "water": "water_inside_kg", "pack_ohms": "pack_ohms",
}  # fmt: skip
KINDS = {"degrees": "heel", "seconds": "seconds"}


def trial(boat: Path, readings: Path, as_json: bool, system: Any) -> None:
    """Print predicted and measured, and the boat as found."""
    craft = bundle.load(boat)
    read = readings_file.load(readings)
    with working("fitting the boat to its readings"):
        result = found.assess(craft, read)
    if as_json:
        print(json.dumps(_json(result), ensure_ascii=False, indent=1, allow_nan=False))
        return
    shown = system(craft)
    for r in result.rows:
        one, other = (_said(v, r.kind, shown) for v in (r.predicted, r.measured))
        show(f"{r.name:28s} predicted {one} ±{_said(r.band, r.kind, shown)}, measured {other}: {r.where}, {r.surprise}")
    show("As found")
    for t in result.told:
        value = "nothing measured tells it" if t.value is None else f"{_said(t.value, t.kind, shown)} ±{_said(t.half, t.kind, shown)}"
        show(f"  {NAMES[t.name]:16s} {value}; listed {_said(t.listed, t.kind, shown)}")
    if result.out:
        show(f"Cannot be right beside the others: {result.out}")
    if result.next is not None:
        n = result.next
        show(f"Measure next: {n.words} ({n.needs}); it narrows {NAMES[n.unknown]} to {100 * n.after / n.before:.0f} % of its doubt")


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


def fixes(boat: Path, readings: Path, as_json: bool, system: Any) -> None:
    """Print the causes in order, and each fix with what it costs."""
    craft = bundle.load(boat)
    read, seen = readings_file.load_day(readings)
    with working("causes and fixes"):
        result = fixing.for_readings(craft, read, seen)
    causes = result.diagnosis.causes if result.diagnosis else ()
    if as_json:
        data = {
            "causes": [_cause(j) for j in causes],
            "nothing_wrong": result.diagnosis.nothing if result.diagnosis else None,
            "fixes": [_fix(c) for c in result.candidates],
        }
        print(json.dumps(data, ensure_ascii=False, indent=1, allow_nan=False))
        return
    shown = system(craft)
    if result.diagnosis is None or result.diagnosis.is_clean:
        show("No cause is supported: the boat is what its list and the laws say, as well as they know it.")
    likely = [j for j in causes if j.state in ("supported", "possible")]
    for j in likely or causes[:3]:
        values = {} if j.amount is None else {"amount": j.amount}
        sentence = fill(j.finding.sentence, values, shown)
        why = " ".join(fill(text, v, shown) for text, v in j.reasons)
        belief = "     " if j.belief is None else f"{100 * j.belief:3.0f} %"
        show(f"{j.state:10s} {belief}  {j.cause.title}. {sentence} {why}".rstrip())
    for c in result.candidates:
        title = fill(c.solved.title.title, c.solved.title.values, shown)
        if c.outcome is None:
            why_not = c.solved.why_not
            show(f"Fix: {title}: {fill(why_not.sentence, why_not.values, shown) if why_not else 'no answer'}")
        else:
            o = c.outcome
            show(
                f"Fix: {title}: {say(o.mass, 'mass', shown)}, {say(o.trim, 'trim', shown)}, freeboard {say(o.freeboard, 'length', shown)}, "
                f"GM {say(o.gm, 'length', shown)}; {TIMES[c.takes.time][0]}, {COSTS[c.takes.cost]}; "
                + ("misses " + ", ".join(o.misses) if o.misses else "meets the whole brief")
            )


def _cause(j: Judged) -> dict[str, Any]:
    return {
        "code": j.cause.code,
        "state": j.state,
        "belief": j.belief,
        "log_bayes_factor": j.log if math.isfinite(j.log) else None,
        "amount": j.amount,
        "figures": [fill(text, values) for text, values in j.reasons],
    }


def _fix(c: Candidate) -> dict[str, Any]:
    o = c.outcome
    costs = None
    if o is not None:
        costs = {
            "mass_kg": o.mass,
            "trim_deg": math.degrees(o.trim),
            "heel_deg": math.degrees(o.heel),
            "freeboard_m": o.freeboard,
            "gm_m": o.gm,
            "draft_m": o.draft,
            "thrust_to_weight": o.thrust_to_weight,
            "misses": list(o.misses),
        }
    return {
        "code": c.code,
        "title": fill(c.solved.title.title, c.solved.title.values),
        "answers": list(c.causes),
        "costs": costs,
        "takes": {"hours": c.takes.hours, "cost": COSTS[c.takes.cost], "needs": list(c.takes.needs), "parts": list(c.takes.parts)},
    }
