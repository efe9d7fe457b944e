"""What is noted on the pond sheet, as rows; entries as they were typed; and the trial that they make."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.plain_text import plain
from yarekeel.stages.trials.readings import Inclining, Pull, ReadTo, Rolls, Run, Tilt
from yarekeel.stages.trials.trials import SYMPTOMS, Conditions, FloatTest, Struck

MOST_ENTRIES = 2000
"""Of one sheet."""
MOST_PHOTOS = 60
"""Of one sheet."""
LONGEST_TEXT, LONGEST_NOTES = 2000, 4000
"""Characters of a note, and of a trial's notes together."""
Parser = Callable[[str, str, str], float]
"""The SI value of what was typed, of a kind of unit, for a field. Raises InvalidInput."""
SURFACES = ("glassy", "ripples", "small waves", "waves with crests")
WATERS = ("fresh", "salt", "brackish")


@dataclass(frozen=True, slots=True)
class Blank:
    """A field: its name, its label, its kind of unit ("text", or "choice" of ``choices``), whether it is needed, and the figure of the
    prediction that stands beside it."""

    name: str
    label: str
    kind: str
    needed: bool = True
    choices: tuple[str, ...] = ()
    first: str = ""
    expected: str = ""
    hidden: bool = False
    """Filled in by what measured it, not by hand."""


def _conditions(v: Mapping[str, Any]) -> dict[str, Any]:
    made = Conditions(
        wind_ms=v.get("wind"),
        gust_ms=v.get("gust"),
        surface=v.get("surface", ""),
        water=v.get("water", ""),
        water_c=v.get("water_c"),
        depth_m=v.get("depth"),
    )
    return {"conditions": made, **({"load": v["load"][:120]} if "load" in v else {})}


def _drafts(v: Mapping[str, Any]) -> dict[str, Any]:
    return {**{f"draft_{end}_m": v[end] for end in ("bow", "stern") if end in v}, "read_to": {"draft_m": v.get("good")}}


def _heel(v: Mapping[str, Any]) -> dict[str, Any]:
    return {"heel_deg": v["heel"] if v["side"] == "starboard" else -v["heel"], "read_to": {"heel_deg": v.get("good")}}


def _rolls(v: Mapping[str, Any]) -> dict[str, Any]:
    if v["count"] != int(v["count"]):
        raise InvalidInput("count", "A whole number of rolls.")
    return {"rolls": Rolls(int(v["count"]), v["time"])}


def _pull(v: Mapping[str, Any]) -> dict[str, Any]:
    if not v.keys() & {"pull", "amps", "volts"}:
        raise InvalidInput("pull", "What did the scale show, what did it draw, or what did the pack show?")
    pull = v["pull"] - v.get("tare", 0.0) if "pull" in v else None
    return {"pulls": Pull(v["throttle"], pull, v.get("amps"), v.get("volts"))}


def _run(v: Mapping[str, Any]) -> dict[str, Any]:
    return {"runs": Run(v["throttle"], _speed(v), v.get("amps"), v.get("volts")), "read_to": {"speed_ms": v.get("good")}}


def _speed(v: Mapping[str, Any]) -> float | None:
    if "speed" in v:
        return float(v["speed"])
    if "distance" in v and "time" in v:
        if v["time"] <= 0 or v["distance"] <= 0:
            raise InvalidInput("time", "A run takes some time and gets somewhere.")
        return float(v["distance"] / v["time"])
    if "amps" in v:
        return None
    raise InvalidInput("speed", "How fast, or how far in what time, or what did it draw?")


def _nothing(_: Mapping[str, Any]) -> dict[str, Any]:
    return {}


@dataclass(frozen=True, slots=True)
class Noting:
    """Something that is noted together: its code, title, a hint, its fields, the part of the sheet it stands in, and what it makes."""

    code: str
    title: str
    hint: str
    blanks: tuple[Blank, ...]
    part: str
    makes: Callable[[Mapping[str, Any]], dict[str, Any]] = _nothing
    """What its values add to a trial, by the trial's field. Raises InvalidInput for what no boat shows."""


_THROTTLE = Blank("throttle", "Throttle", "percent", first="100")
NOTINGS: dict[str, Noting] = {
    n.code: n
    for n in (
        Noting(
            "wind",
            "Wind and water",
            "Guess where you cannot measure",
            (
                Blank("wind", "Steady wind", "speed", needed=False),
                Blank("gust", "Gusts", "speed", needed=False),
                Blank("surface", "Surface", "choice", needed=False, choices=SURFACES),
                Blank("water", "Water", "choice", needed=False, choices=WATERS),
                Blank("water_c", "Water temperature", "temperature", needed=False),
                Blank("depth", "Depth", "length", needed=False),
                Blank("load", "Load aboard", "text", needed=False),
            ),
            "place",
            _conditions,
        ),
        Noting(
            "mass",
            "Weigh in",
            "Everything aboard, on a scale",
            (Blank("mass", "Mass", "mass", expected="All-up mass"),),
            "afloat",
            lambda v: {"mass_kg": v["mass"]},
        ),
        Noting(
            "drafts",
            "Drafts",
            "Up from the baseline, still water, at eye level",
            (
                Blank("bow", "At the bow mark", "length", needed=False, expected="Draft at the bow mark"),
                Blank("stern", "At the stern mark", "length", needed=False, expected="Draft at the stern mark"),
                Blank("good", "Good to", "length", needed=False, hidden=True),
            ),
            "afloat",
            _drafts,
        ),
        Noting(
            "heel",
            "Heel",
            "Nobody touching it",
            (
                Blank("heel", "Leans by", "degrees", expected="Heel, to starboard"),
                Blank("side", "To", "choice", choices=("starboard", "port")),
                Blank("good", "Good to", "degrees", needed=False, hidden=True),
            ),
            "afloat",
            _heel,
        ),
        Noting(
            "inside",
            "Water taken in",
            "Sponged out and weighed",
            (Blank("inside", "Water", "mass"),),
            "afloat",
            lambda v: {"water_kg": v["inside"]},
        ),
        Noting(
            "rolls",
            "Rolls",
            "There and back is one; ten are good",
            (Blank("count", "Rolls", "count", first="10"), Blank("time", "They took", "seconds", expected="Ten rolls take")),
            "afloat",
            _rolls,
        ),
        Noting(
            "shift",
            "Weight moved across",
            "A weight that is aboard, to starboard; to port is less than 0",
            (
                Blank("weight", "Weight", "mass"),
                Blank("moved", "Moved", "length"),
                Blank("heel", "Heel read, to starboard", "degrees"),
            ),
            "afloat",
            lambda v: {"shifts": (v["weight"], Tilt(v["moved"], v["heel"]))},
        ),
        Noting(
            "pull",
            "Pull, held fast",
            "A line to a scale; tare is what it shows at rest",
            (
                _THROTTLE,
                Blank("pull", "Scale shows", "force", needed=False, expected="Pull"),
                Blank("tare", "Tare", "force", needed=False),
                Blank("amps", "Draws", "current", needed=False, expected="Draws, held fast,"),
                Blank("volts", "Pack shows", "voltage", needed=False),
            ),
            "drive",
            _pull,
        ),
        Noting(
            "run",
            "Run",
            "A steady stretch, up and down the wind evenly: its speed, or its length and the time",
            (
                _THROTTLE,
                Blank("speed", "Speed", "speed", needed=False, expected="Speed"),
                Blank("distance", "Distance", "length", needed=False),
                Blank("time", "Time", "seconds", needed=False),
                Blank("amps", "Draws", "current", needed=False),
                Blank("volts", "Pack shows", "voltage", needed=False),
                Blank("good", "Good to", "speed", needed=False, hidden=True),
            ),
            "drive",
            _run,
        ),
        Noting(
            "charge",
            "Charge put back",
            "As the charger shows it, after the day",
            (
                Blank("charge", "Charge", "capacity"),
                Blank("ran", "Ran for", "seconds", needed=False),
            ),
            "drive",
            lambda v: {"charge_ah": v["charge"]},
        ),
        Noting(
            "seen",
            "What was seen",
            "One tap each",
            (Blank("code", "Symptom", "choice", choices=tuple(SYMPTOMS)),),
            "seen",
            lambda v: {"seen": v["code"]},
        ),
        Noting("check", "Before the launch", "", (Blank("check", "Looked at", "text"),), "checks"),
        Noting(
            "rating",
            "How was it",
            "1 is poor, 5 is as meant",
            (Blank("rating", "Rating", "choice", choices=("1", "2", "3", "4", "5")),),
            "seen",
            lambda v: {"rating": int(v["rating"])},
        ),
        Noting("note", "Note", "", (Blank("text", "In words", "text"),), "seen", lambda v: {"notes": v["text"]}),
        Noting("photo", "Photo", "", (Blank("caption", "What it shows", "text", needed=False),), "seen"),
        Noting("track", "Track", "", (Blank("file", "File", "text"), Blank("name", "Name", "text", needed=False)), ""),
        Noting(
            "strike",
            "Struck out",
            "",
            (Blank("entry", "Entry", "text"), Blank("reason", "Why", "text")),
            "",
        ),
    )
}
"""A reader adds a row to note something more."""


@dataclass(frozen=True, slots=True)
class Entry:
    """An entry: its key (made where it was noted, so that one sent twice is one), what it is, when it was noted there (ISO), what was
    typed by field, and the name of its photo."""

    key: str
    code: str
    at: str
    typed: Mapping[str, str]
    photo: str | None = None


@dataclass(frozen=True, slots=True)
class Collected:
    """What a sheet's entries come to: the trial (None without a reading), a sentence for each entry that cannot be used, and the
    reason for each that was struck out, both by key."""

    test: FloatTest | None
    problems: dict[str, str] = field(default_factory=dict)
    struck: dict[str, str] = field(default_factory=dict)


def usable(code: str, typed: Mapping[str, str]) -> dict[str, str]:
    """The fields of an entry that its row knows, as plain text. Raises InvalidInput for an entry no row knows or text that is too long."""
    noting = NOTINGS.get(code)
    if noting is None:
        raise InvalidInput("code", f"{plain(code)[:20]} is not one of the things that a pond sheet notes.")
    out = {}
    for blank in noting.blanks:
        text = plain(str(typed.get(blank.name, "")), lines=True).strip()
        if len(text) > LONGEST_TEXT:
            raise InvalidInput(blank.name, f"{blank.label}: keep it to {LONGEST_TEXT} characters.")
        if text:
            out[blank.name] = text
    return out


def read(code: str, typed: Mapping[str, str], parse: Parser) -> dict[str, Any]:
    """The values of an entry in SI units (degrees stay degrees). Raises InvalidInput beside the field that is in the way."""
    noting = NOTINGS[code]
    out: dict[str, Any] = {}
    for blank in noting.blanks:
        text = typed.get(blank.name, "").strip()
        if not text:
            if blank.needed:
                raise InvalidInput(blank.name, f"{blank.label} is missing.")
            continue
        if blank.kind == "choice":
            if text not in blank.choices:
                raise InvalidInput(blank.name, f"{blank.label} is one of {', '.join(blank.choices)}.")
            out[blank.name] = text
        else:
            out[blank.name] = text if blank.kind == "text" else parse(text, blank.kind, blank.name)
    if noting.blanks and not out:
        raise InvalidInput(noting.blanks[0].name, "Nothing was filled in.")
    FloatTest(date="", **{"mass_kg": 1.0, **_joined([noting.makes(out)])})  # what no boat shows is refused here
    return out


MANY = ("pulls", "runs", "shifts", "seen", "notes")
"""What a trial has more than one of; of anything else the last one counts."""


def _joined(made: Iterable[Mapping[str, Any]]) -> dict[str, Any]:
    """A trial's fields from what its entries make, in their order. Shifts count where the weight is the last one's."""
    many: dict[str, list[Any]] = {name: [] for name in MANY}
    fields: dict[str, Any] = {}
    read_to: dict[str, float] = {}
    for one in made:
        for name, value in one.items():
            if name == "read_to":  # of several, the least sure counts for all
                read_to |= {k: max(v, read_to.get(k, 0.0)) for k, v in value.items() if v is not None}
            elif name in many:
                many[name].append(value)
            else:
                fields[name] = value
    if shifts := many.pop("shifts"):
        weight = shifts[-1][0]
        fields["inclining"] = Inclining(weight, tuple(tilt for w, tilt in shifts if w == weight))
    fields["read_to"] = ReadTo(**read_to)
    fields["notes"] = "\n".join(many.pop("notes"))[:LONGEST_NOTES]
    fields["seen"] = tuple(dict.fromkeys(many.pop("seen")))
    return fields | {name: tuple(values) for name, values in many.items()}


def collected(entries: Iterable[Entry], parse: Parser, date: str, place: str) -> Collected:
    """The trial of a sheet: the last reading of each single thing, all pulls, runs and shifts, what was seen. An entry that was struck
    out, or cannot be read, is left out and told."""
    entries = sorted(entries, key=lambda e: (e.at, e.key))
    struck = {e.typed.get("entry", ""): e.typed.get("reason", "") for e in entries if e.code == "strike"}
    counts = [e for e in entries if e.key not in struck and e.code != "strike"]
    problems: dict[str, str] = {}
    made = []
    for e in counts:
        try:
            made.append(NOTINGS[e.code].makes(read(e.code, e.typed, parse)))
        except InvalidInput as error:
            problems[e.key] = error.sentence
    try:
        test = FloatTest(
            date=date,
            place=place[:120],
            photos=tuple(dict.fromkeys(e.photo for e in counts if e.photo)),
            struck=tuple(Struck(NOTINGS[e.code].title, tuple(e.typed.items()), struck[e.key]) for e in entries if e.key in struck),
            **_joined(made),
        )
    except InvalidInput as error:
        return Collected(None, {**problems, "": error.sentence}, struck)
    return Collected(test, problems, struck)
