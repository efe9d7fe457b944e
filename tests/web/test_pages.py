"""Every page answers; every bad input is a sentence; nothing is lost and nothing is a 500."""

import json
import re

import pytest
from fastapi.testclient import TestClient

from tests.cases import whole_yard
from tests.conftest import DEMO_BOATS
from tests.web.conftest import solved_rows
from tests.web.test_security import JSON, client_snapshot
from tools.fuzz import WHOLE
from yarekeel.demo.boats import reedwarden
from yarekeel.exchange import boat_file
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS, say
from yarekeel.web.shared.page import STAGES
from yarekeel.web.terms import TERMS

LOOK = "/boats/2/B/{}/look"


@pytest.mark.parametrize("slug", [s.slug for s in STAGES])
@pytest.mark.parametrize("boat", ["1/A", "1/B", "2/A", "2/B"] if WHOLE else ["1/B", "2/A"])
def test_every_stage_of_every_demo_boat(client: TestClient, boat, slug):
    answer = client.get(f"/boats/{boat}/{slug}")
    assert answer.status_code == 200
    assert "Undefined" not in answer.text
    assert not re.search(r"\bnan\b|\binf\b", answer.text.lower())


@pytest.mark.sampled(of=4)
@pytest.mark.parametrize("slug", [s.slug for s in STAGES])
@pytest.mark.parametrize("family", ["round_bilge", "vee", "flat_bottom", "twin_hull", "box"])
def test_a_new_boat_with_nothing_aboard_opens_on_every_stage(client: TestClient, slug, family):
    made = client.post("/boats", data={"name": "Coot", "family": family, "kind": "people"}, follow_redirects=False)
    base = made.headers["location"].rsplit("/", 1)[0]
    assert client.get(f"{base}/{slug}").status_code == 200


@pytest.mark.parametrize("units", ["mm_g", "mm_kg", "in_oz", "in_lb"])
def test_every_system_of_units(client: TestClient, units):
    client.post("/boats/2/B/units", data={"units": units, "stage": "float"})
    for stage in STAGES:
        assert client.get(f"/boats/2/B/{stage.slug}").status_code == 200
    page = client.get("/boats/2/B/float").text
    assert ('readout-unit">mm<' in page) == units.startswith("mm")


def look(client: TestClient, slug: str, *changes: dict, keep: bool = True, ask: dict | None = None, on: int | None = None):
    body = {"on": client_snapshot(client) if on is None else on, "seq": 7, "changes": list(changes), "keep": keep, "ask": ask or {}}
    return client.post(LOOK.format(slug), json=body, headers=JSON)


def test_an_edit_is_kept_and_said_again_in_the_shown_unit(client: TestClient, demo_yard):
    answer = look(client, "weights", {"path": "weights.2.mass_kg", "text": "2 lb"}).json()
    assert answer["fields"]["weights.2.mass_kg"] == "907.2 g"
    assert answer["says"]["weights.2"] == "907\N{NO-BREAK SPACE}g"
    assert answer["seq"] == 7
    assert set(answer["parts"]) == {"live", "side", "ladder", "status", "load"}
    assert demo_yard.revision(2, "B").design.weights[2].mass_kg == pytest.approx(0.90718474)


def test_a_try_is_answered_and_not_kept(client: TestClient, demo_yard):
    before = demo_yard.revision(2, "B")
    answer = look(
        client,
        "float",
        {"path": "weights.2.at_m", "action": "do", "verb": "weights.place", "args": {"line": 2, "place": [0.6, 0.0, 0.06]}},
        keep=False,
    ).json()
    assert "bow down" in answer["parts"]["live"]
    assert demo_yard.revision(2, "B") == before


@pytest.mark.parametrize(
    ("slug", "path", "text"),
    [
        ("weights", "weights.0.mass_kg", "heavy"),
        ("weights", "weights.0.mass_kg", "-3 g"),
        ("weights", "weights.0.mass_kg", ""),
        ("weights", "weights.0.mass_kg", "3 mm"),
        ("weights", "weights.0.at_m.0", "1e308 m"),
        ("weights", "weights.0.name", ""),
        ("weights", "weights.99.mass_kg", "3 g"),
        ("weights", "weights.0.known", "hearsay"),
        ("shape", "bodies.0.shape.length_m", "0 mm"),
        ("shape", "bodies.0.shape.length_m", "abc"),
        ("shape", "bodies.0.shape.hull_spacing_m", "10 mm"),
        ("shape", "bodies.0.shape.rocker_bow_m", "400 mm"),
        ("shape", "bodies.0.shape.kind", "mesh"),
        ("shape", "bodies.0.shape.__class__", "x"),
        ("shape", "marks.bow_x_m", "1 mm"),
        ("brief", "brief.least_gm_m", "1,250 mm"),
        ("brief", "name", " "),
        ("brief", "water.temperature_c", "99 °C"),
        ("drive", "drive.motors.0.thrust_n", "-1 N"),
        ("drive", "drive.battery.capacity_ah", "0"),
        ("float", "no.such.field", "1"),
    ],
)
def test_bad_input_is_a_sentence_beside_the_field_and_loses_nothing(client: TestClient, demo_yard, slug, path, text):
    before = demo_yard.revision(2, "B")
    answer = look(client, slug, {"path": path, "text": text})
    assert answer.status_code == 200
    assert answer.json()["errors"][path].endswith(".")
    assert demo_yard.revision(2, "B") == before


def test_good_edits_beside_a_bad_one_are_kept(client: TestClient, demo_yard):
    answer = look(client, "weights", {"path": "weights.0.mass_kg", "text": "x"}, {"path": "weights.2.mass_kg", "text": "900"}).json()
    assert list(answer["errors"]) == ["weights.0.mass_kg"]
    assert demo_yard.revision(2, "B").design.weights[2].mass_kg == pytest.approx(0.9)


def test_stale_and_sealed_edits_conflict_in_words(client: TestClient):
    on = client_snapshot(client)
    look(client, "weights", {"path": "weights.2.mass_kg", "text": "900"})
    stale = look(client, "weights", {"path": "weights.2.mass_kg", "text": "800"}, on=on)
    assert (stale.status_code, "another window" in stale.json()["message"]) == (409, True)
    body = {"on": client_snapshot(client, "/boats/2/A/float"), "keep": True, "changes": [{"path": "weights.2.mass_kg", "text": "1"}]}
    sealed = client.post("/boats/2/A/weights/look", json=body, headers=JSON)
    assert (sealed.status_code, "sealed" in sealed.json()["message"]) == (409, True)


def test_add_remove_family_and_undo(client: TestClient, demo_yard):
    first = demo_yard.revision(2, "B").design
    assert "form" in look(client, "weights", {"path": "weights", "action": "add"}).json()["parts"]
    assert len(demo_yard.revision(2, "B").design.weights) == len(first.weights) + 1
    look(client, "weights", {"path": "weights.0", "action": "remove"})
    look(client, "shape", {"path": "bodies.0.shape.kind", "text": "vee"})
    assert demo_yard.revision(2, "B").design.bodies[0].shape.kind == "vee"
    for _ in range(3):
        assert client.post("/boats/2/B/undo", json={"on": client_snapshot(client)}, headers=JSON).status_code == 200
    assert demo_yard.revision(2, "B").design == first
    assert client.post("/boats/2/B/redo", json={"on": client_snapshot(client)}, headers=JSON).status_code == 200


def test_sinking_lolling_and_empty_boats_are_shown(client: TestClient, demo_yard):
    sunk = look(client, "float", {"path": "weights.2.mass_kg", "text": "90 kg"}, keep=False).json()["parts"]
    assert "It sinks" in sunk["side"]
    tall = [{"path": f"weights.{k}.at_m.2", "text": "2 m"} for k in range(7)]
    assert "stand upright" in look(client, "float", *tall, keep=False).text or "rolls over" in look(client, "float", *tall, keep=False).text
    for slug in ("stability", "drive", "underway", "weights", "fixes", "trials"):
        assert look(client, slug, {"path": "weights.2.mass_kg", "text": "90 kg"}, keep=False).status_code == 200
    for _ in range(7):
        look(client, "weights", {"path": "weights.0", "action": "remove"})
    for stage in STAGES:
        assert client.get(f"/boats/2/B/{stage.slug}").status_code == 200


def test_questions_of_the_float(client: TestClient):
    level = look(client, "float", keep=False, ask={"item": "0", "ballast": "60 mm"}).json()["parts"]["level"]
    assert "60 mm" in level
    assert "was not understood" in look(client, "float", keep=False, ask={"ballast": "xyz"}).json()["parts"]["level"]


GOOD = {
    "date": "2026-06-01",
    "mass_kg": "4.7 kg",
    "draft_bow_m": "50 mm",
    "draft_stern_m": "48",
    "heel_deg": "1",
    "leans": "port",
    "notes": "calm",
}


def test_a_trial_is_logged_seals_and_is_priced(client: TestClient, demo_yard):
    kept = client.post("/boats/2/B/trials/new", data={**GOOD, "seen": ["bow_down", "low"]}, follow_redirects=False)
    assert kept.status_code == 303
    record = demo_yard.revision(2, "B").trials[0]
    assert record.test.heel_deg == -1.0
    assert record.test.seen == ("bow_down", "low")
    assert client.get(kept.headers["location"]).status_code == 200
    chosen = {"code": "move", "trial": str(record.id), "item": "", "ballast": ""}
    after = client.post("/boats/2/B/fixes/choose", data=chosen, follow_redirects=False)
    assert after.headers["location"] == "/boats/2/C/float"
    assert "level" in client.get("/boats/2/C/float").text
    assert client.get("/boats/2/compare?before=B&after=C").status_code == 200


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("draft_bow_m", "deep"),
        ("mass_kg", "-4 kg"),
        ("heel_deg", "400"),
        ("date", ""),
        ("place", "x" * 200),
        ("draft_bow_m", "-5 m"),
        ("seen", "ghosts"),
    ],
)
def test_a_bad_reading_keeps_the_form(client: TestClient, demo_yard, name, text):
    answer = client.post("/boats/2/B/trials/new", data={**GOOD, name: text})
    assert answer.status_code == 422
    assert "calm" in answer.text
    assert 'class="field-error"' in answer.text
    assert demo_yard.revision(2, "B").trials == ()


@pytest.mark.parametrize(("field", "name", "length"), [("name", "", ""), ("length", "Grebe", "long")])
def test_a_boat_that_is_refused_is_where_the_reader_looks_with_what_was_typed(client: TestClient, demo_yard, field, name, length):
    before = len(demo_yard.boats())
    answer = client.post("/boats", data={"name": name, "family": "vee", "kind": "people", "length": length})
    assert (answer.status_code, len(demo_yard.boats())) == (422, before)
    there = re.search(r"<input[^>]*\bautofocus[^>]*>", answer.text)
    assert there is not None
    assert f'id="new-{field}"' in there[0]
    assert f'value="{length or name}"' in there[0]
    assert '<option value="vee" selected>' in answer.text
    assert 'name="usual" value="yes" checked' not in answer.text


def test_no_reading_at_all_is_refused(client: TestClient):
    answer = client.post("/boats/2/B/trials/new", data={"date": "2026-06-01"})
    assert (answer.status_code, "at least one reading" in answer.text) == (422, True)


def test_yard_new_delete_restore_import(client: TestClient, demo_yard):
    assert client.post("/boats", data={"name": "", "family": "vee"}).status_code == 422
    assert client.post("/boats", data={"name": "Eel", "family": "raft"}).status_code == 422
    assert "Delete Reedwarden" in client.get("/?delete=2").text
    assert "Undo" in client.post("/boats/2/delete").text
    assert len(demo_yard.boats()) == DEMO_BOATS - 1
    client.post("/boats/2/restore")
    assert len(demo_yard.boats()) == DEMO_BOATS
    saved = client.get("/boats/2/B/boat.json")
    assert boat_file.loads(saved.text) == demo_yard.revision(2, "B").design
    came = client.post("/boats/import", files={"file": ("b.json", saved.content)}, follow_redirects=False)
    assert came.status_code == 303
    assert client.get(came.headers["location"]).status_code == 200


@pytest.mark.parametrize(
    "content", [b"", b"{}", b"\xff\xfe\x00", b"[1]", json.dumps({**boat_file.write(reedwarden()), "weights": 3}).encode(), b"{" * 99999]
)
def test_bad_imports_are_a_sentence(client: TestClient, demo_yard, content):
    answer = client.post("/boats/import", files={"file": ("b.json", content)})
    assert answer.status_code == 422
    assert "Bring it in" in answer.text
    assert len(demo_yard.boats()) == DEMO_BOATS


@pytest.mark.parametrize(
    "path", ["/boats/9/A/float", "/boats/2/Q/float", "/boats/2/B/dream", "/boats/x/A/float", "/boats/2/compare?before=A&after=Z", "/x"]
)
def test_what_is_not_there_is_said(client: TestClient, path):
    answer = client.get(path)
    assert answer.status_code == 404
    assert "To the yard" in answer.text


@pytest.mark.parametrize(
    "body",
    [
        "",
        "{}",
        "[]",
        '{"on": "x"}',
        '{"on": 1, "changes": [{"path": "a", "action": "explode"}]}',
        '{"on": 1, "changes": [{"path": "weights.0.at_m", "action": "do", "args": [1, 2]}]}',
    ],
)
def test_malformed_requests_are_a_sentence(client: TestClient, body):
    answer = client.post("/boats/2/B/float/look", content=body, headers=JSON)
    assert answer.status_code == 422
    assert answer.json()["message"].endswith(".")


def test_a_fix_that_misses_one_limit_fails_as_a_boat_that_does(client: TestClient):
    rows = "".join(solved_rows(client, "/boats/2/A/fixes/rows"))
    page = client.get("/boats/2/A/fixes").text + rows
    tones = re.findall(r'tone-(\w+)"[^>]*>\s*(misses|meets)', page)
    assert ("fails", "misses") in tones
    assert set(tones) == {("fails", "misses"), ("holds", "meets")}


def test_any_two_boats_are_set_side_by_side(client: TestClient):
    page = client.get("/boats/1/compare?before=3:A&after=B")
    assert page.status_code == 200
    assert "Moorhen A against Wagtail B" in page.text
    assert client.get("/boats/1/compare?before=99:A&after=B").status_code == 404
    assert client.get("/boats/1/compare?before=3:Q&after=B").status_code == 404


def test_the_next_revision_is_started_at_any_time_without_a_trial(client: TestClient, demo_yard: Yard):
    assert not demo_yard.revision(5, "A").trials
    assert "Start revision B from here" in client.get("/boats/5/A/weights").text
    answer = client.post("/boats/5/A/follow", data={"stage": "weights"}, headers={"origin": "http://127.0.0.1"}, follow_redirects=False)
    assert answer.headers["location"] == "/boats/5/B/weights"
    assert demo_yard.revision(5, "B").design == demo_yard.revision(5, "A").design
    assert not demo_yard.revision(5, "A").is_sealed


def test_a_stretch_is_tried_and_put_in(client: TestClient, demo_yard: Yard):
    from tests.deeds import done
    from yarekeel.stages.design.craft import Craft

    page = client.get("/boats/1/B/shape?tab=stretch&longer=10&deeper=-8").text
    assert "Stretched" in page
    assert "2\N{NO-BREAK SPACE}585" in page  # 2 350 mm and a tenth
    assert "was not understood" in client.get("/boats/1/B/shape?tab=stretch&longer=much").text
    design = demo_yard.revision(1, "B").design
    after = done(Craft(design), "boat.stretch", factors=(1.1, 1.0, 0.92))
    assert Craft(after).hull.mesh.length == pytest.approx(1.1 * 2.35, rel=1e-6)


def test_the_yard_says_the_gravest_verdict_of_all_stages(client: TestClient, demo_yard: Yard):
    import dataclasses

    design = demo_yard.revision(4, "A").design
    brief = dataclasses.replace(design.brief, most_length_m=0.5)
    boat = demo_yard.create(dataclasses.replace(design, name="Too long", brief=brief), "mm_g")
    text = whole_yard(client).text
    card = text[text.index("Too long") :]
    assert "Misses the brief on length to carry" in card[: card.index("Duplicate")]
    assert f"/boats/{boat}/" in text


def test_choosing_what_a_motor_turns_shows_its_parts(client: TestClient, demo_yard):
    answer = look(client, "drive", {"path": "drive.motors.0.propulsor.kind", "text": "water_propeller"}).json()
    assert "form" in answer["parts"]
    assert "Pull over speed" in answer["parts"]["live"]
    assert 'data-path="drive.motors.0.propulsor.pitch_m"' in answer["parts"]["form"] or "drive.motors.0.propulsor.pitch_m" in str(answer)
    on = demo_yard.revision(2, "B").snapshot
    refused = look(client, "drive", {"path": "drive.motors.0.electric.kv", "text": "0"}, on=on)
    assert refused.status_code < 500
    assert "kv" in refused.text
    assert demo_yard.revision(2, "B").design.drive.motors[0].propulsor.kind == "water_propeller"


def test_battery_tab_fits_a_pack_and_refuses_beside_the_field(client: TestClient, demo_yard):
    page = client.get("/boats/2/B/drive?tab=battery").text
    assert "Wires by gauge" in page
    assert "Say on Drive what a motor turns" in page
    look(client, "drive", {"path": "drive.motors.0.propulsor.kind", "text": "water_propeller"})
    page = client.get("/boats/2/B/drive?tab=battery&mix_hard=150&wire=0").text
    assert "Cells in a row" in page
    assert "From 0 to 100 %." in page
    assert "A length above nothing" in page
    fit = {"path": "drive", "action": "do", "verb": "drive.cells", "args": {"cells": 6}}
    done = look(client, "drive", fit, on=demo_yard.revision(2, "B").snapshot)
    assert done.status_code == 200, done.text
    assert demo_yard.revision(2, "B").design.drive.battery.voltage_v == pytest.approx(22.2)
    refused = look(client, "drive", {**fit, "args": {"cells": 0}}, on=demo_yard.revision(2, "B").snapshot)
    assert refused.status_code < 500
    assert "1 to 24 cells" in refused.text
    assert demo_yard.revision(2, "B").design.drive.battery.voltage_v == pytest.approx(22.2)


def test_match_tab_says_what_it_needs_then_draws(client: TestClient):
    look(client, "drive", {"path": "drive.motors.0.propulsor.kind", "text": ""})
    assert "then thrust stands against drag here" in client.get("/boats/2/B/drive?tab=match").text
    boat = next(n for n in range(1, DEMO_BOATS + 1) if "Dabchick" in client.get(f"/boats/{n}/A/drive").text)
    page = client.get(f"/boats/{boat}/A/drive?tab=match&wanted=0.5&beside=-1").text
    assert "Thrust and drag, full throttle" in page
    assert "From 0 to 100 A." in page
    assert "throttle, " in page
    assert "It does not reach that" in client.get(f"/boats/{boat}/A/drive?tab=match&wanted=9").text


def test_line_of_thrust_tab(client: TestClient):
    page = client.get("/boats/2/B/drive?tab=line").text
    assert "From idle to full throttle" in page
    assert "Tied up, full throttle" in page
    client.post("/boats", data={"name": "Coot", "family": "round_bilge", "kind": "model"}, follow_redirects=False)
    assert client.get(f"/boats/{DEMO_BOATS + 1}/A/drive?tab=line").status_code == 200


def test_what_if_is_shown_and_made_so(client: TestClient, demo_yard):
    boat = next(n for n in range(1, DEMO_BOATS + 1) if demo_yard.revision(n, "A").design.name == "Dabchick")
    page = client.get(f"/boats/{boat}/A/drive?tab=match&what_pitch=85&what_size=7&what_cells=4").text
    assert "Pitch 85 %, size 50 %" in page
    assert "Make it so" in page
    assert "Make it so" not in client.get(f"/boats/{boat}/A/drive?tab=match&what_pitch=x&what_cells=99").text
    args = {"pitch": 0.85, "size": 1.0, "cells": 4}
    change = {"path": "drive", "action": "do", "verb": "drive.what_if", "args": args}
    body = {"on": demo_yard.revision(boat, "A").snapshot, "seq": 1, "changes": [change], "keep": True, "ask": {"tab": "match"}}
    answer = client.post(f"/boats/{boat}/A/drive/look", json=body, headers=JSON)
    assert answer.status_code == 200, answer.text
    drive = demo_yard.revision(boat, "A").design.drive
    assert drive.motors[0].propulsor.pitch_m == pytest.approx(0.034)
    assert drive.battery.voltage_v == pytest.approx(14.8)


def test_the_guide_tells_the_loop_on_a_demo_boat_and_every_word_that_labels_point_to(client: TestClient):
    page = client.get("/guide").text
    for term in TERMS:
        assert f'id="{term.code}"' in page
        assert term.what.replace("'", "&#39;") in page
    links = re.findall(r'href="(/boats/\d+/[A-Z]/(\w+))"', page)
    assert [slug for _, slug in links] == ["brief", "shape", "weights", "float", "stability", "drive", "underway", "trials", "fixes"]
    assert client.get(links[3][0]).status_code == 200
    shown = client.get("/boats/2/B/float").text
    pointed = set(re.findall(r'/guide#(\w+)"', shown))
    assert {"gm", "draft", "trim", "displacement"} <= pointed <= {t.code for t in TERMS}
    assert len({t.code for t in TERMS}) == len(TERMS)


def test_an_example_is_laid_down_by_one_click_and_a_new_boat_with_what_is_usual(client: TestClient, demo_yard):
    made = client.post("/example", follow_redirects=False)
    assert made.headers["location"].endswith("/A/float")
    data = {"name": "Coot", "family": "box", "kind": "people", "length": "12 ft 6 in", "usual": "yes"}
    made = client.post("/boats", data=data, follow_redirects=False)
    design = (
        demo_yard.boats()[0].latest.design if demo_yard.boats()[0].latest.design.name == "Coot" else demo_yard.boats()[-1].latest.design
    )
    assert design.name == "Coot"
    assert design.bodies[0].shape.length_m == pytest.approx(12.5 * 0.3048)
    assert {"Hull", "Crew"} <= {w.name for w in design.weights}
    assert client.get(made.headers["location"]).status_code == 200
    wrong = client.post("/boats", data={**data, "length": "-2 m"})
    assert wrong.status_code == 422
    assert 'value="-2 m"' in wrong.text


def test_a_boat_shown_in_inches_is_in_inches_where_it_is_spoken_of(client: TestClient, demo_yard):
    """By their definitions: 30 mm is 1.18 in, 20 mm 0.79 in; a moment of 1 N m is 8.85 lbf in."""
    demo_yard.set_units(2, "in_oz")
    brief = client.get("/boats/2/B/brief").text.replace("\xa0", " ")
    assert "1.18 in clears the ripples" in brief
    assert "0.79 in keeps a small hull" in brief
    afloat = client.get("/boats/2/B/float").text.replace("\xa0", " ")
    assert "Sinks per 4 oz" in afloat
    assert re.search(r"4 oz moved 4 in\s+trims it", afloat)
    assert say(1.0, "moment", SYSTEMS["in_oz"]).replace("\xa0", " ") == "8.9 lbf·in"
    assert say(1.0, "moment", SYSTEMS["mm_g"]).replace("\xa0", " ") == "1.0 N m"
    force = client.get("/boats/2/B/float?tab=force").text
    assert "lbf·in" in force
    assert "N m" not in force.replace("\xa0", " ")
