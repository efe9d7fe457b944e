"""Whatever is kept of a boat (trials, sheets, runs, thrust tests), drawn at random, struck out, empty or extreme: every page opens."""

import dataclasses
import json
import logging
import random
import types
import typing
from typing import Any

import pytest

from tools.fuzz import WHOLE
from yarekeel.core.errors import InvalidInput
from yarekeel.stages.trials.readings import LIMITS, Inclining, Pull, Rolls, Run
from yarekeel.stages.trials.sheet import NOTINGS
from yarekeel.stages.trials.trials import SYMPTOMS, Conditions, FloatTest, Struck
from yarekeel.web import waiting
from yarekeel.web.shared.page import STAGES

CASES = 60 if WHOLE else 3
ALIASES = {"draft_bow_m": "bow_m", "draft_stern_m": "stern_m", "water_kg": "water_inside_kg"}
PAGES = (*(s.slug for s in STAGES), "binder", "history")
TYPED = ("", "0", "-1", "1e9 kg", "3 of 2", "4 kg", "12 cm", "50 %", "2 m/s", "½ in", "nan", "a" * 200, "°", "3 mm, 4 mm", "port 3°")


@pytest.fixture(autouse=True)
def patient(monkeypatch):
    monkeypatch.setattr(waiting, "PATIENCE", 90.0)


class Dice:
    """Draws of what a schema lets be, with the ends of its ranges among them."""

    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)

    def number(self, name: str) -> float:
        _, low, high, _ = LIMITS.get(ALIASES.get(name, name), ("", 0.0, 5.0, ""))
        near = {"mass_kg": 2.0, "draft_bow_m": 0.05, "draft_stern_m": 0.05, "thrust_n": 5.0, "speed_ms": 2.0, "water_kg": 0.1}.get(
            name, 1.0
        )
        return self.rng.choice((low, high, near, near * self.rng.random(), low + (high - low) * self.rng.random()))

    def drawn(self, kind: Any, name: str = "") -> Any:  # noqa: PLR0911 - one for each kind of a schema
        """A value of a type of the schema."""
        origin, inside = typing.get_origin(kind), typing.get_args(kind)
        if origin is typing.Annotated:
            return self.drawn(inside[0], name)
        if origin in (types.UnionType, typing.Union):
            return None if self.rng.random() < 0.4 else self.drawn(next(a for a in inside if a is not type(None)), name)
        if name in ("seen", "photos"):
            return tuple(self.rng.sample(sorted(SYMPTOMS), self.rng.randrange(4))) if name == "seen" else ()
        if origin is tuple:
            return tuple(self.drawn(inside[0], name) for _ in range(self.rng.choice((0, 1, 3))))
        if kind is Struck:
            return Struck(self.rng.choice(("Mass", "")), (("mass", self.rng.choice(TYPED)),), self.rng.choice(("misread", "")))
        if dataclasses.is_dataclass(kind):
            hints = typing.get_type_hints(kind, include_extras=True)
            return kind(**{f.name: self.drawn(hints[f.name], f.name) for f in dataclasses.fields(kind) if f.name != "read_to"})
        if kind is str:
            return "2026-05-01" if name == "date" else self.rng.choice(("", "mill pond", "x" * 80))
        if kind is int:
            return self.rng.choice((1, 3, 5))
        return self.number(name)

    def trial(self) -> FloatTest:
        while True:
            try:
                return self.drawn(FloatTest)
            except InvalidInput:
                continue


def test_the_schema_is_drawn_whole():
    """Every field of a trial is drawn and left out, and every kind of reading within it comes up."""
    trials = [Dice(k).trial() for k in range(60)]
    for f in dataclasses.fields(FloatTest):
        drawn = {bool(getattr(t, f.name)) for t in trials}
        assert drawn == {True, False} or f.name in ("date", "photos", "read_to"), f.name
    assert any(t.struck for t in trials)
    assert {type(p) for t in trials for p in (*t.pulls, *t.runs, t.rolls, t.inclining, t.conditions) if p} == {
        Pull,
        Run,
        Rolls,
        Inclining,
        Conditions,
    }


@pytest.mark.parametrize("seed", range(CASES))
def test_every_page_opens_whatever_trial_is_kept(client, demo_yard, caplog, seed):
    dice = Dice(seed)
    boat = demo_yard.boats()[seed % 7]
    made = [demo_yard.log_trial(boat.id, boat.latest.letter, dice.trial()) for _ in range(2)]
    assert_pages_open(client, caplog, boat.id, boat.latest.letter, [t.id for t in made])


def assert_pages_open(client, caplog, boat, letter, trials=()):
    with caplog.at_level(logging.ERROR, logger="yarekeel"):
        for page in (
            *(f"{boat}/{letter}/{p}" for p in PAGES),
            *(f"{boat}/{letter}/{p}?trial={t}" for t in trials for p in ("trials", "fixes")),
        ):
            answer = client.get(f"/boats/{page}", headers={"accept": "text/html"})
            assert answer.status_code == 200, (page, answer.text[:300])
        for t in trials:
            answer = client.get(f"/boats/{boat}/{letter}/fixes/rows?trial={t}", headers={"accept": "text/event-stream"})
            assert answer.status_code in (200, 422), answer.text[:300]
    assert [r.getMessage() + str(r.exc_info) for r in caplog.records if r.levelno >= logging.ERROR] == []


@pytest.mark.parametrize("seed", range(max(CASES // 6, 1)))
def test_every_page_opens_whatever_is_noted_on_a_sheet_and_made_a_trial_of(client, demo_yard, caplog, seed):
    rng = random.Random(seed)
    letter = demo_yard.boat(2).latest.letter
    at = client.post(f"/boats/2/{letter}/pond", data={"place": "mill pond"}, follow_redirects=False).headers["location"]
    code, kept = at.rsplit("/", 1)[1], []
    for n in range(14):
        noting = rng.choice([c for c in NOTINGS if c not in ("photo", "track")])
        typed = {f.name: rng.choice(TYPED) for f in NOTINGS[noting].blanks}
        if noting == "strike":
            typed |= {"entry": rng.choice(kept or ["none"])}
        sent = {"key": f"key-{n:04d}-abcdefgh", "code": noting, "at": "2026-05-01T10:00", "typed": typed}
        answer = client.post(f"/pond/{code}/entries", json=sent, headers={"accept": "application/json"})
        assert answer.status_code < 500, answer.text
        kept += [sent["key"]] if answer.status_code < 300 else []
    client.post(
        f"/pond/{code}/entries", json={"key": "key-mass-abcdefgh", "code": "mass", "at": "2026-05-01T10:00", "typed": {"mass": "1.6 kg"}}
    )
    client.post(f"/pond/{code}/entries", json={"key": "key-strk-abcdefgh", "code": "strike", "at": "2026-05-01T10:00",
                                       "typed": {"entry": rng.choice(kept or ["none"]), "reason": "misread"}})  # fmt: skip
    made = client.post(f"/boats/2/{letter}/pond/{code}/trial", follow_redirects=False)
    assert made.status_code in (303, 422)
    assert client.get(f"/boats/2/{letter}/pond/{code}").status_code == 200
    assert_pages_open(client, caplog, 2, letter, [t.id for t in demo_yard.boat(2).latest.trials][-1:])


def test_a_trial_that_cannot_be_read_is_said_and_the_others_are_shown(client, demo_yard):
    import sqlite3

    with sqlite3.connect(demo_yard.engine.url.database) as connection:
        connection.execute("UPDATE trial SET document = ? WHERE id = 1", (json.dumps({"date": 5}),))
    page = client.get("/boats/1/A/trials").text
    assert "A trial is kept but cannot be shown" in page
    assert client.get("/boats/1/A/fixes").status_code == 200


def test_a_page_that_fails_opens_with_a_finding_and_is_logged(client, monkeypatch, caplog):
    from yarekeel.web.stages.routes import VIEWS

    def broken(_: object) -> None:
        raise TypeError("unhashable type: 'dict'")

    monkeypatch.setattr(VIEWS["fixes"], "view", broken)
    with caplog.at_level(logging.ERROR, logger="yarekeel"):
        answer = client.get("/boats/1/A/fixes")
    assert answer.status_code == 200
    assert "The program is at fault here" in answer.text
    assert "a page failed" in caplog.text
