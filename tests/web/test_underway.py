"""Under way over HTTP: every tab of every boat answers, and what is asked beyond reason is refused beside its field."""

import re

import pytest
from fastapi.testclient import TestClient

from tests.conftest import DEMO_BOATS
from tools.fuzz import WHOLE

TABS = ("speed", "run", "planing", "flip", "steering", "coast", "schools", "foils", "sail")
EACH = [(boat, tab) for boat in range(1, DEMO_BOATS + 1) for tab in TABS]


@pytest.mark.parametrize(("boat", "tab"), EACH if WHOLE else EACH[::3])
def test_every_tab_of_every_boat(client: TestClient, boat: int, tab: str):
    answer = client.get(f"/boats/{boat}/A/underway?tab={tab}")
    assert answer.status_code == 200
    assert "Undefined" not in answer.text
    assert not re.search(r"\bnan\b|\binf\b", answer.text.lower())


@pytest.mark.parametrize("units", ["mm_g", "in_oz"])
def test_distances_are_in_the_readers_units(client: TestClient, units: str):
    client.post("/boats/2/B/units", data={"units": units, "stage": "underway"})
    page = client.get("/boats/2/B/underway?tab=run").text
    assert ('readout-unit">ft<' in page) == (units == "in_oz")


@pytest.mark.parametrize(
    ("query", "words"),
    [
        ("tab=speed&throttle=120", "Throttle runs from 0 to 100 %."),
        ("tab=speed&wind=200", "A head wind of at most 40\N{NO-BREAK SPACE}m/s"),
        ("tab=speed&wind=lots", "was not understood"),
        ("tab=run&course=10 120%25", "Throttle runs from 0 to 100 %."),
        ("tab=run&course=-10 50%25", "Write legs as seconds"),
        ("tab=run&course=9000 50%25", "at most 30 minutes"),
        ("tab=flip&flip_wind=200", "A head wind of at most 40\N{NO-BREAK SPACE}m/s"),
        ("tab=coast&tow_drag=-4", "it cannot push"),
        ("tab=coast&tow_drag=1e9", "0 to 100\N{NO-BREAK SPACE}000\N{NO-BREAK SPACE}N"),
        ("tab=flip&flip_area=-1", "A plan area above nothing"),
        ("tab=speed&depth=1mm", "at least 20 mm"),
        ("tab=run&run_depth=1mm", "at least 20 mm"),
        ("tab=run&course=turn%20turn", "Write legs as seconds"),
        ("tab=run&course=10 50%25; -5 20%25", "Write legs as seconds"),
        ("tab=steering&rudder_angle=90", "goes over by up to 60°"),
    ],
)
def test_bad_input_is_a_sentence_beside_its_field(client: TestClient, query: str, words: str):
    page = client.get(f"/boats/2/B/underway?{query}")
    assert page.status_code == 200
    assert words in page.text


def test_what_concerns_no_such_boat_says_what_it_needs(client: TestClient):
    assert "It needs a planing bottom" in client.get("/boats/2/B/underway?tab=planing").text
    made = client.post("/boats", data={"name": "Coot", "family": "vee", "kind": "model"}, follow_redirects=False)
    base = made.headers["location"].rsplit("/", 1)[0]
    assert "Enter the weights first" in client.get(f"{base}/underway").text


def test_a_sail_is_asked_within_reason(client: TestClient):
    assert "up to 20\N{NO-BREAK SPACE}m/s" in client.get("/boats/5/A/underway?tab=sail&sail_wind=200").text
    assert "It needs a sail" in client.get("/boats/2/B/underway?tab=sail").text


def edited(client: TestClient, boat: int, letter: str, *changes: dict, keep: bool = True) -> dict:
    page = client.get(f"/boats/{boat}/{letter}/underway").text
    on = int(re.search(r'data-snapshot="(\d+)"', page)[1])
    body = {"on": on, "changes": list(changes), "ask": {"tab": "foils"}, "keep": keep}
    return client.post(f"/boats/{boat}/{letter}/underway/look", json=body).json()


def test_foils_are_added_set_and_removed_from_their_tab(client: TestClient):
    assert "It has no foil" in client.get("/boats/2/B/underway?tab=foils").text
    for where in ("front", "rear"):
        answer = edited(client, 2, "B", {"path": "foils.add", "action": "do", "verb": "foils.add", "args": {"where": where}})
        assert answer["errors"] == {}
    page = client.get("/boats/2/B/underway?tab=foils").text
    assert "front foil" in page
    assert "rear foil" in page
    answer = edited(client, 2, "B", {"path": "bodies.1.shape.span_m", "action": "set", "text": "0"})
    assert "Span must lie between" in answer["errors"]["bodies.1.shape.span_m"]
    answer = edited(client, 2, "B", {"path": "bodies.1.shape.incidence_deg", "action": "set", "text": "6"})
    assert answer["errors"] == {}
    assert "of the weight lies on it" in answer["says"]["foil-1"]
    answer = edited(client, 2, "B", {"path": "foils.remove", "action": "do", "verb": "foils.remove", "args": {"body": 0}})
    assert "no such foil" in answer["errors"]["foils.remove"]
    edited(client, 2, "B", {"path": "foils.remove", "action": "do", "verb": "foils.remove", "args": {"body": 1}})
    assert "front foil" not in client.get("/boats/2/B/underway?tab=foils").text


def test_the_gain_of_a_control_surface_is_a_file(client: TestClient):
    answer = client.get("/boats/7/A/underway/gain.csv")
    rows = [line.split(",") for line in answer.text.strip().splitlines()]
    assert rows[0] == ["speed_ms", "moment_nm_per_deg", "deflection_deg_for_g_1_percent_off", "gain"]
    first, last = ([float(v) for v in r] for r in (rows[1], rows[-1]))
    assert last[3] == pytest.approx((first[0] / last[0]) ** 2, abs=2e-4)
    assert client.get("/boats/1/B/underway/gain.csv").status_code == 404


def test_a_run_is_kept_as_the_prediction_and_struck_out(client: TestClient):
    course = "10 100%; turn; 10 60%"
    answer = client.post("/boats/2/B/underway/run/keep", data={"course": course}, follow_redirects=False)
    assert answer.status_code == 303
    client.post("/boats/2/B/underway/run/keep", data={"course": course})  # the same again is kept once
    page = client.get("/boats/2/B/trials").text
    assert page.count(course) == 1
    assert "Gets out to" in page
    assert "±" in page.split(course)[1].split("</dl>")[0]
    number = re.search(r"trials/prediction/(\d+)/strike", page)[1]
    assert client.post("/boats/1/B/trials/prediction/" + number + "/strike").status_code == 404  # another boat's
    client.post(f"/boats/2/B/trials/prediction/{number}/strike")
    assert course not in client.get("/boats/2/B/trials").text
    bad = client.post("/boats/2/B/underway/run/keep", data={"course": "10 900%"})
    assert bad.status_code == 422
    assert "Throttle runs from 0 to 100 %" in bad.text
    assert client.post("/boats/3/A/underway/run/keep", data={"course": "x" * 9000}).status_code == 422


def test_predictions_stay_over_a_restart(client: TestClient, demo_yard):
    client.post("/boats/6/A/underway/run/keep", data={"course": "5 100%"})
    again = type(demo_yard)(demo_yard._engine)
    (kept,) = again.predictions.of(again.revision(6, "A").id)
    assert kept.kind == "run"
    assert kept.figures["course"] == "5 100%"
    assert kept.figures["fastest_ms"] > 5
