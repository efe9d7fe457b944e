"""The form of a day at the water: what is asked, what is expected beside it, and what was typed as a trial."""

import datetime
import secrets
from dataclasses import dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.exchange import readings_csv
from yarekeel.stages.trials import trials
from yarekeel.stages.trials.readings import Inclining, Rolls
from yarekeel.stages.trials.trials import SYMPTOMS, FloatTest
from yarekeel.units import parse
from yarekeel.web.shared.page import float_of
from yarekeel.web.stages.page_request import PageRequest


@dataclass(frozen=True)
class FormField:
    """A field of the log form with what was typed and what is wrong with it."""

    name: str
    label: str
    text: str
    hint: str
    error: str


@dataclass(frozen=True)
class TrialForm:
    fields: tuple[FormField, ...]
    symptoms: tuple[tuple[str, str, bool], ...]
    tables: tuple[FormField, ...]
    notes: str
    error: str
    leans: str
    expected: tuple[tuple[str, str], ...]
    key: str


_FIELDS = (
    ("date", "Date", "text"),
    ("place", "Place", "text"),
    ("load", "Load aboard", "text"),
    ("mass_kg", "Weighed-in mass", "mass"),
    ("draft_bow_m", "Draft at bow mark", "length"),
    ("draft_stern_m", "Draft at stern mark", "length"),
    ("heel_deg", "Heel", "degrees"),
    ("water_kg", "Water taken in", "mass"),
    ("rolls_count", "Full rolls counted", "count"),
    ("rolls_time", "Time they took", "seconds"),
    ("incline_kg", "Weight moved across", "mass"),
)
_TABLES = (
    ("shifts", "Shifts", "one a row: moved to starboard, heel to starboard; such as 200 mm, 3.4"),
    ("pulls", "Pulls, held fast", "one a row: throttle, pull, amps, volts; such as 100 %, 6.4 N, 9.5 A"),
    ("runs", "Runs at a steady speed", "one a row: throttle, speed, amps, volts; such as 100 %, 1.8 m/s, 8 A"),
)


def form(asked: PageRequest, typed: dict[str, str], seen: tuple[str, ...], errors: dict[str, str]) -> TrialForm:
    """The log form; the predicted readings stand beside it, so that a slip of the ruler is seen at once."""
    result = float_of(asked.design)
    say = asked.reader.say
    expected: list[tuple[str, str]] = []
    if result and result.outputs:
        o = result.outputs
        marks = asked.craft.marks
        expected = [
            ("All-up mass", say(o.mass, "mass")),
            (f"Draft, bow mark at {say(marks.bow_x_m, 'length')}", say(o.draft_bow, "draft")),
            (f"Draft, stern mark at {say(marks.stern_x_m, 'length')}", say(o.draft_stern, "draft")),
            ("Heel", say(o.heel, "heel")),
        ]
    hints = {
        "date": "as you write dates",
        "mass_kg": "everything aboard, on a scale",
        "draft_bow_m": "up from the baseline, still water",
        "draft_stern_m": "up from the baseline, still water",
        "heel_deg": "leave empty if you did not look",
        "water_kg": "sponged out and weighed",
        "rolls_count": "there and back is one; ten are good",
        "incline_kg": "aboard already; leave empty if none was moved",
    }
    first = {"date": datetime.date.today().isoformat()}
    return TrialForm(
        fields=tuple(
            FormField(name=n, label=label, text=typed.get(n, first.get(n, "")), hint=hints.get(n, ""), error=errors.get(n, ""))
            for n, label, _ in _FIELDS
        ),
        tables=tuple(
            FormField(name=n, label=label, text=typed.get(n, ""), hint=hint, error=errors.get(n, "")) for n, label, hint in _TABLES
        ),
        symptoms=tuple((code, words, code in seen) for code, words in SYMPTOMS.items()),
        notes=typed.get("notes", ""),
        error=errors.get("", ""),
        leans=typed.get("leans", "starboard"),
        expected=tuple(expected),
        key=typed.get("key") or secrets.token_hex(8),
    )


def _more(asked: PageRequest, typed: dict[str, str], values: dict[str, float | None]) -> tuple[dict[str, Any], dict[str, str]]:
    """Rolls, shifts, pulls and runs as typed, and a sentence for each that cannot be used."""
    out: dict[str, Any] = {}
    errors: dict[str, str] = {}
    system = asked.reader.system
    for name, of in (("shifts", readings_csv.shifts), ("pulls", readings_csv.pulls), ("runs", readings_csv.runs)):
        try:
            out[name] = of(typed.get(name, ""), name, system)
        except InvalidInput as error:
            errors[name] = error.sentence
    count, time, weight = (values.get(n) for n in ("rolls_count", "rolls_time", "incline_kg"))
    if (count is None) != (time is None):
        errors["rolls_time" if time is None else "rolls_count"] = "Both are needed: how many rolls, and the time they took."
    elif count is not None and time is not None:
        if count != int(count) or not 1 <= count <= 1000:
            errors["rolls_count"] = "A whole number of rolls, 1 to 1000."
        else:
            out["rolls"] = Rolls(int(count), time)
    moved = out.pop("shifts", ())
    if moved and weight is None:
        errors["incline_kg"] = "Which weight was moved? Its mass is needed."
    elif moved and weight is not None:
        out["inclining"] = Inclining(weight, moved)
    return out, errors


def read_form(asked: PageRequest, typed: dict[str, str], seen: tuple[str, ...]) -> tuple[FloatTest | None, dict[str, str]]:
    """The test that was typed, or a sentence for each field that cannot be used."""
    values: dict[str, float | None] = {}
    errors: dict[str, str] = {}
    for name, _, kind in _FIELDS:
        text = typed.get(name, "").strip()
        if kind == "text":
            if len(text) > 120:
                errors[name] = "Keep it to 120 characters."
            continue
        try:
            values[name] = parse(text, kind, asked.reader.system, name) if text else None
        except InvalidInput as error:
            errors[name] = error.sentence
    if not typed.get("date", "").strip():
        errors["date"] = "A date is needed, for example 2026-05-14."
    if len(typed.get("notes", "")) > 4000:
        errors["notes"] = "Keep the notes to 4000 characters."
    more, wrong = _more(asked, typed, values)
    errors |= wrong
    if errors:
        return None, errors
    heel = values["heel_deg"]
    if heel is not None and typed.get("leans") == "port":
        heel = -heel
    try:
        test = FloatTest(
            date=typed["date"].strip(),
            place=typed.get("place", "").strip(),
            load=typed.get("load", "").strip(),
            mass_kg=values["mass_kg"],
            draft_bow_m=values["draft_bow_m"],
            draft_stern_m=values["draft_stern_m"],
            heel_deg=heel,
            water_kg=values["water_kg"],
            seen=seen,
            notes=typed.get("notes", "").strip(),
            **more,
        )
        trials.assess(asked.craft, test)  # readings that no floating boat could give are refused before they are kept
    except InvalidInput as error:
        known = {n for n, _, _ in (*_FIELDS, *_TABLES)}
        if error.field.split(".")[0] in known:
            return None, {error.field.split(".")[0]: error.sentence}
        return None, {error.field if error.field in known else "": error.sentence}
    return test, {}
