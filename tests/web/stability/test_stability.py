"""Stability's pages and routes: every tab of every boat, edits, what is refused, the cures as they come, the sensor."""

import json
import re
import time
from html import unescape

import pytest
from fastapi.testclient import TestClient

from tests.conftest import DEMO_BOATS
from yarekeel.core.kept import KEEP
from yarekeel.stages.stability import stability
from yarekeel.stages.stability.stability import curves_of
from yarekeel.store.yard import Yard

TABS = ("curve", "tests", "floats", "sail", "criteria", "roll", "cures")


def look(client: TestClient, boat: int, letter: str = "A", keep: bool = False, **what):
    on = what.pop("on")
    answer = client.post(f"/boats/{boat}/{letter}/stability/look", json={"on": on, "keep": keep, **what})
    assert answer.status_code == 200, answer.text
    return answer.json()


@pytest.fixture
def canoe(demo_yard: Yard) -> int:
    """The number of the boat's state."""
    return demo_yard.revision(5, "A").snapshot


@pytest.mark.sampled(of=2)
@pytest.mark.parametrize("boat", range(1, DEMO_BOATS + 1))
def test_every_tab_of_every_boat_answers(client: TestClient, boat):
    for tab in TABS:
        page = client.get(f"/boats/{boat}/A/stability?tab={tab}")
        assert page.status_code == 200
        assert "nan" not in re.sub(r"[a-z]nan|nan[a-z]", "", page.text)


def test_words_for_a_sinking_an_empty_and_a_rolling_boat(client: TestClient, demo_yard: Yard, canoe: int):
    sunk = look(client, 5, on=canoe, changes=[{"path": "weights.0.mass_kg", "text": "5 t"}], ask={"tab": "curve"})
    assert "It weighs" in sunk["parts"]["live"]
    for tab in TABS:
        answer = look(client, 5, on=canoe, changes=[{"path": "weights.0.mass_kg", "text": "5 t"}], ask={"tab": tab}, whole=True)
        assert answer["parts"]["live"]
    over = look(client, 5, on=canoe, changes=[{"path": "weights.3.at_m.2", "text": "9 m"}], ask={"tab": "curve"})
    assert "rolls over" in over["parts"]["side"] or "will not stand" in over["parts"]["side"]
    assert demo_yard.revision(5, "A").snapshot == canoe


def test_lean_goes_both_ways_and_nonsense_is_taken_as_the_first(client: TestClient, canoe: int):
    port = look(client, 5, on=canoe, ask={"tab": "curve", "lean": "-35"})
    assert "leans 35.0° to port" in port["parts"]["live"]
    assert "form" not in port["parts"]  # the slider is not drawn anew under the hand
    for text, words in (("", "20.0° to starboard"), ("x", "20.0°"), ("999", "180.0°"), ("-999", "180.0°")):
        assert words in look(client, 5, on=canoe, ask={"tab": "curve", "lean": text})["parts"]["live"]


def test_other_loads_and_revisions_lie_beside_it(client: TestClient, canoe: int, demo_yard: Yard):
    beside = look(client, 5, on=canoe, ask={"tab": "curve", "beside": "loads"})
    assert "no paddler" in beside["parts"]["live"]
    pram = demo_yard.revision(1, "B").snapshot
    assert "revision A" in look(client, 1, "B", on=pram, ask={"tab": "curve", "beside": "revisions"})["parts"]["live"]
    other = look(client, 5, on=canoe, ask={"tab": "tests", "load": "no paddler"}, whole=True)
    assert "no paddler" in other["parts"]["form"]


def test_water_in_the_bilge_is_in_the_curve_and_too_much_is_refused_beside_its_field(client: TestClient, canoe: int):
    wet = look(client, 5, on=canoe, ask={"tab": "curve", "litres": "12 l"})
    assert "Loose liquid takes" in wet["parts"]["side"]
    refused = look(client, 5, on=canoe, ask={"tab": "curve", "litres": "9000 l"}, whole=True)
    assert "at most" in refused["parts"]["form"]
    assert 'value="9000 l"' in refused["parts"]["form"]
    assert "12 potatoes" in look(client, 5, on=canoe, ask={"tab": "curve", "litres": "12 potatoes"}, whole=True)["parts"]["form"]


@pytest.mark.parametrize(
    ("path", "text", "words"),
    [
        ("tipping.wind_ms", "fast", "was not understood"),
        ("tipping.wind_ms", "300 m/s", "between 0\N{NO-BREAK SPACE}m/s and 60\N{NO-BREAK SPACE}m/s"),
        ("tipping.gust", "0.2", "between 1 and 3"),
        ("brief.least_range_deg", "400", "between 1 and 180"),
        ("sails.0.area_m2", "-3", "between 0\N{NO-BREAK SPACE}m² and"),
        ("incline.weight_kg", "0", "between"),
        ("incline.rolls", "0", "between 1 and 1000"),
        ("tipping.nothing", "1", "No page edits"),
    ],
)
def test_bad_numbers_are_a_sentence_and_change_nothing(client: TestClient, canoe: int, demo_yard: Yard, path, text, words):
    answer = look(client, 5, on=canoe, keep=True, changes=[{"path": path, "text": text}], ask={"tab": "tests"})
    assert words in answer["errors"][path]
    assert demo_yard.revision(5, "A").snapshot == canoe


@pytest.mark.parametrize(("tab", "path", "text"), [("criteria", "brief.least_gm_m", "123 mm"), ("tests", "tipping.wind_ms", "4.4 m/s")])
def test_a_changed_limit_sweeps_no_curve_anew(client: TestClient, canoe: int, monkeypatch, tab, path, text):
    """It hangs on hull and weights alone; swept anew, a field would take twice as long as it may."""
    KEEP.clear()
    look(client, 5, on=canoe, ask={"tab": tab})
    swept = []
    monkeypatch.setattr(stability, "curves_of", lambda *of: swept.append(of) or curves_of(*of))
    look(client, 5, on=canoe, changes=[{"path": path, "text": text}], ask={"tab": tab})
    assert swept == []
    look(client, 5, on=canoe, changes=[{"path": "weights.0.mass_kg", "text": "19.1 kg"}], ask={"tab": tab})
    assert len(swept) == 1


def test_numbers_in_any_unit_are_kept_and_can_be_left_open_again(client: TestClient, canoe: int, demo_yard: Yard):
    answer = look(client, 5, on=canoe, keep=True, changes=[{"path": "tipping.wind_ms", "text": "12 knots"}], ask={"tab": "tests"})
    assert demo_yard.revision(5, "A").design.tipping.wind_ms == pytest.approx(12 * 1852 / 3600)
    look(client, 5, on=answer["snapshot"], keep=True, changes=[{"path": "tipping.wind_ms", "text": ""}], ask={"tab": "tests"})
    assert demo_yard.revision(5, "A").design.tipping.wind_ms is None


def test_sails_and_readings_are_added_and_removed(client: TestClient, demo_yard: Yard):
    on = demo_yard.revision(1, "B").snapshot
    on = look(client, 1, "B", on=on, keep=True, changes=[{"path": "sails", "action": "add"}], ask={"tab": "sail"})["snapshot"]
    assert demo_yard.revision(1, "B").design.sails[0].area_m2 > 0
    on = look(client, 1, "B", on=on, keep=True, changes=[{"path": "incline.shifts", "action": "add"}], ask={"tab": "roll"})["snapshot"]
    on = look(client, 1, "B", on=on, keep=True, changes=[{"path": "incline.shifts.0", "action": "remove"}], ask={"tab": "roll"})["snapshot"]
    look(client, 1, "B", on=on, keep=True, changes=[{"path": "sails.0", "action": "remove"}], ask={"tab": "sail"})
    assert demo_yard.revision(1, "B").design.sails == ()


def events(text: str) -> list[dict]:
    return [json.loads(line[6:]) for line in text.splitlines() if line.startswith("data: ")]


def test_cures_come_one_by_one_and_the_one_chosen_is_the_next_revision(client: TestClient, demo_yard: Yard):
    found = events(client.get("/boats/5/A/stability/cures").text)
    assert [f["done"] for f in found] == [*range(1, len(found)), len(found) - 1]
    rows = [f["row"] for f in found[:-1]]
    assert sum("Make it B" in r for r in rows) >= 4
    assert any("no answer" in r for r in rows)
    answer = client.post("/boats/5/A/stability/cures", data={"code": "lower"}, follow_redirects=False)
    assert answer.status_code == 303
    after = demo_yard.revision(5, "B")
    assert after.note.startswith("Lower the floats by")
    assert Yard.revision(demo_yard, 5, "B").design.bodies[1].at_m[2] < demo_yard.revision(5, "A").design.bodies[1].at_m[2]
    page = client.get("/boats/5/B/stability?tab=floats").text
    assert "The floats are in the water at rest" in page
    for data in ({"code": "nothing"}, {"code": "apart"}, {"code": "lower", "load": "no such"}):
        refused = client.post("/boats/5/A/stability/cures", data=data)
        assert refused.status_code == 422
        assert "Traceback" not in refused.text


def test_floats_are_lowered_by_a_button(client: TestClient, canoe: int, demo_yard: Yard):
    page = client.get("/boats/5/A/stability?tab=floats").text
    look(client, 5, on=canoe, keep=True, changes=[button(page, "answer.floats")], ask={"tab": "floats"})
    assert "The floats are in the water" in client.get("/boats/5/A/stability?tab=floats").text


def deed(verb: str, **args: object) -> dict:
    return {"action": "do", "verb": verb, "path": verb, "args": args}


def button(page: str, verb: str) -> dict:
    """A button's command with its own arguments."""
    found = re.search(rf"data-do=\"{re.escape(verb)}\"\s+data-args='([^']+)'", page)
    assert found is not None
    return deed(verb, **json.loads(unescape(found[1])))


def act(client: TestClient, do: str, what: str = ""):
    return client.post("/boats/5/A/tilt", json={"do": do, "what": what}, headers={"accept": "application/json"})


def test_the_sensor_is_pushed_zeroed_moved_and_read(client: TestClient, canoe: int, demo_yard: Yard):
    now = [time.monotonic()]
    trace = client.app.state.shelf.tilt(5)
    trace.clock = lambda: now[0]

    def wait(seconds: float) -> None:
        for _ in range(round(seconds / 0.05)):
            now[0] += 0.0501
            trace.after(10**9)

    assert act(client, "aboard").status_code == 200
    wait(2)
    assert "No roll stands clear" in act(client, "fit").json()["message"]
    assert act(client, "zero").status_code == 200
    assert act(client, "push").status_code == 200
    wait(20)
    words = act(client, "fit").json()["words"]
    assert "a roll" in words
    answer = look(client, 5, on=canoe, keep=True, changes=[deed("tilt.period")], ask={"tab": "roll"})
    taken = demo_yard.revision(5, "A").design.incline
    assert taken.rolls == 10
    assert taken.time_s is not None
    assert 10 < taken.time_s < 80
    assert "Say first how heavy" in act(client, "move", "100 mm").json()["message"]
    on = look(client, 5, on=answer["snapshot"], keep=True, changes=[{"path": "incline.weight_kg", "text": "3 kg"}], ask={"tab": "roll"})[
        "snapshot"
    ]
    for moved in ("0", "200 mm", "-200 mm"):
        assert act(client, "move", moved).status_code == 200
        wait(90)
        on = look(client, 5, on=on, keep=True, changes=[deed("tilt.angle", text=moved)], ask={"tab": "roll"})["snapshot"]
    shifts = demo_yard.revision(5, "A").design.incline.shifts
    assert [s.moved_m for s in shifts] == [0.0, 0.2, -0.2]
    assert shifts[1].heel_deg > shifts[0].heel_deg > shifts[2].heel_deg
    page = client.get("/boats/5/A/stability?tab=roll").text
    assert "by inclining" in page
    look(client, 5, on=on, keep=True, changes=[button(page, "answer.vcg")], ask={"tab": "roll"})
    assert "G as high as listed" in client.get("/boats/5/A/stability?tab=roll").text
    assert act(client, "unplug").status_code == 200
    wait(2)
    assert "does not answer" in act(client, "zero").json()["message"]
    assert act(client, "plug").status_code == 200
    assert act(client, "dance").status_code == 422
