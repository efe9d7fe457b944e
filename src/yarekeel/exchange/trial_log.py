"""The trials of a boat as a table (CSV) and as a list (JSON): what was read, where and when, in SI."""

import json
from collections.abc import Sequence

from yarekeel.exchange import tables, trial_file
from yarekeel.stages.trials.trials import SYMPTOMS, FloatTest

HEADS = (
    "revision", "date", "place", "load", "mass_kg", "draft_bow_m", "draft_stern_m", "heel_deg", "water_kg", "charge_ah", "seen", "pulls",
    "runs", "notes",
)  # fmt: skip


def as_csv(trials: Sequence[tuple[str, FloatTest]]) -> str:
    """A row for each trial, with its revision's letter; pulls and runs in one cell each."""
    return tables.write(list(HEADS), [_row(letter, t) for letter, t in trials])


def _row(letter: str, t: FloatTest) -> list[str]:
    def number(value: float | None) -> str:
        return "" if value is None else f"{value:.9g}"

    held = [p for p in t.pulls if p.thrust_n is not None]
    pulls = "; ".join(f"{p.throttle:.3g}: {number(p.thrust_n)} N, {number(p.current_a)} A".removesuffix(",  A") for p in held)
    runs = "; ".join(f"{r.throttle:.3g}: {number(r.speed_ms)} m/s" for r in t.runs if r.speed_ms is not None)
    measured = (t.mass_kg, t.draft_bow_m, t.draft_stern_m, t.heel_deg, t.water_kg, t.charge_ah)
    return [letter, t.date, t.place, t.load, *map(number, measured), ", ".join(SYMPTOMS[c] for c in t.seen), pulls, runs, t.notes]


def as_json(trials: Sequence[tuple[str, FloatTest]]) -> str:
    """Each trial with everything that is kept of it."""
    rows = []
    for letter, test in trials:
        kind, version, text = trial_file.write(test)
        rows.append({"revision": letter, "kind": kind, "version": version, "readings": json.loads(text)})
    return json.dumps({"format": "yare-keel-trial-log", "version": 1, "trials": rows}, ensure_ascii=False, indent=1)
