"""A day at the water typed in: rolls, shifts, pulls and runs; the boat as found; taken into the next revision."""

import re

import pytest
from fastapi.testclient import TestClient

from tests.web.conftest import solved_rows
from yarekeel.web.shared.page import craft_of

DAY = {
    "date": "2026-05-14",
    "mass_kg": "4700 g",
    "draft_bow_m": "66 mm",
    "draft_stern_m": "71 mm",
    "heel_deg": "0",
    "rolls_count": "10",
    "rolls_time": "6.1 s",
    "incline_kg": "250 g",
    "shifts": "100 mm, 2.0\n-100 mm, -2.0",
    "pulls": "throttle, pull, amps\n100 %, 9.8 N, 21 A\n60 %, 4 N, 8 A",
    "runs": "100 %; 1.4 m/s; 15 A",
}


def test_a_day_is_logged_found_and_taken_on(client: TestClient, demo_yard):
    form = client.get("/boats/2/B/trials/new").text
    assert "Runs at a steady speed" in form
    kept = client.post("/boats/2/B/trials/new", data=DAY, follow_redirects=False)
    assert kept.status_code == 303
    record = demo_yard.revision(2, "B").trials[0]
    assert len(record.test.pulls) == 2
    assert record.test.runs[0].speed_ms == pytest.approx(1.4)
    assert record.test.inclining.shifts[1].moved_m == pytest.approx(-0.1)
    page = client.get(kept.headers["location"]).text
    assert "The boat as found" in page
    assert "Pull 1, 100 %" in page
    assert "Roll period" in page
    assert "Measure next" in page or "trial.next" not in page
    before = demo_yard.revision(2, "B")
    taken = client.post(f"/boats/2/B/trials/{record.id}/take", follow_redirects=False)
    assert taken.status_code == 303
    assert taken.headers["location"] == "/boats/2/C/weights"
    after = demo_yard.revision(2, "C").design
    assert after.drive.pull_factor != 1.0
    assert demo_yard.revision(2, "B").design == before.design  # the record stays as it was
    assert client.get("/boats/2/C/weights").status_code == 200
    assert client.get("/boats/2/C/underway?tab=speed").status_code == 200
    assert client.post("/boats/2/B/trials/999/take").status_code == 404


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        ({"rolls_time": ""}, "Both are needed"),
        ({"rolls_count": "2.5"}, "whole number"),
        ({"incline_kg": ""}, "Which weight was moved"),
        ({"pulls": "140 %, 3 N"}, "Throttle must lie between"),
        ({"runs": "fast"}, "no column for"),
        ({"shifts": "1,2,3,4\n" * 300}, "At most"),
        ({"draft_bow_m": "9 m"}, "cannot read that"),
    ],
)
def test_what_cannot_be_is_said_beside_its_field_and_kept(client: TestClient, demo_yard, changed, words):
    answer = client.post("/boats/2/B/trials/new", data=DAY | changed)
    assert answer.status_code == 422
    assert words in answer.text
    assert "60 %, 4 N, 8 A" in answer.text or "pulls" in changed  # what was typed is still there
    assert re.search(r'aria-invalid="true"|role="alert">[^<]', answer.text)
    assert demo_yard.revision(2, "B").trials == ()


def test_the_prediction_card_stays_what_it_was(client: TestClient, demo_yard):
    """Written down before the first reading, with bands; a later edit of the boat does not change it."""
    revision = demo_yard.revision(4, "A")
    kept = client.post("/boats/4/A/trials/card", data={"place": "mill pond"}, follow_redirects=False)
    assert kept.status_code == 303
    page = client.get("/boats/4/A/trials").text
    card = page[page.index("Prediction card of") : page.index("What would tell most")]
    assert "mill pond" in card
    assert "Draft at the bow mark" in card
    assert "Speed at 100 %" in card
    assert card.count("±") >= 8
    assert "Leak check" in card
    assert "not swimming" in card  # a model
    assert "Life jackets" not in card
    document = demo_yard.predictions.of(revision.id)[0].figures
    heavier = {"path": "weights.0.mass_kg", "text": "9 kg"}
    client.post("/boats/4/A/weights/look", json={"on": revision.snapshot, "changes": [heavier], "keep": True})
    assert demo_yard.revision(4, "A").design.weights[0].mass_kg == pytest.approx(9.0)
    assert demo_yard.predictions.of(revision.id)[0].figures == document
    assert client.get("/boats/4/A/trials").text.count("Prediction card of") >= 1
    strike = demo_yard.predictions.of(revision.id)[0].id
    client.post(f"/boats/4/A/trials/prediction/{strike}/strike")
    assert "Prediction card of" not in client.get("/boats/4/A/trials").text


def test_what_is_checked_before_a_launch_follows_what_is_aboard(client: TestClient, demo_yard):
    client.post("/boats/5/A/trials/card")
    page = client.get("/boats/5/A/trials").text
    assert "Life jackets on" in page
    assert "Servos" not in page


def test_a_fix_that_is_chosen_writes_down_what_it_is_to_do_and_its_trial_says_so(client: TestClient, demo_yard):
    code = re.search(r'name="code"\s+value="(\w+)"', solved_rows(client, "/boats/2/A/fixes/rows")[0])[1]
    page = client.get("/boats/2/A/fixes").text
    assert "What may be the cause" in page
    assert "too far forward" in page
    trial = demo_yard.revision(2, "A").trials[0].id
    after = client.post("/boats/2/A/fixes/choose", data={"code": code, "trial": trial}, follow_redirects=False)
    assert after.status_code == 303
    letter = after.headers["location"].split("/")[3]
    kept = demo_yard.predictions.of(demo_yard.revision(2, letter).id)
    rows = {r["name"]: r for r in kept[0].figures["rows"]}
    assert kept[0].kind == "expected"
    before = client.get(f"/boats/2/{letter}/trials").text
    assert "What the fix was to do" in before
    assert "not measured yet" in before
    day = {"date": "2026-05-20", "mass_kg": f"{rows['Mass']['value']:.4f} kg", "heel_deg": "0"}
    logged = client.post(f"/boats/2/{letter}/trials/new", data=day, follow_redirects=False)
    shown = client.get(logged.headers["location"]).text
    assert ">met<" in shown.replace("\n", "")


def test_the_life_of_a_boat_on_one_page(client: TestClient, demo_yard):
    page = client.get("/boats/2/B/history").text
    for words in ("The life of Reedwarden", "trial of 2026-04-18", "Trim, bow up", "What has been learnt", "A and B"):
        assert words in page
    assert client.get("/boats/2/B/history?figure=gm").status_code == 200
    assert client.get("/boats/2/B/history?figure=none").status_code == 200
    assert "/boats/2/A/history" in client.get("/boats/2/A/fixes").text


def test_a_day_is_planned_for_a_load_with_a_list_of_ones_own(client: TestClient, demo_yard):
    revision = demo_yard.revision(2, "B")
    load = revision.design.cases[0].name if revision.design.cases else ""
    sent = {"place": "mill pond", "load": load, "checks": "Count the oars\n\n  Tell the miller  \n"}
    assert client.post("/boats/2/B/trials/card", data=sent, follow_redirects=False).status_code == 303
    card = demo_yard.predictions.of(revision.id)[-1].figures
    assert card["checks"] == ["Count the oars", "Tell the miller"]
    assert card["place"] == ", ".join(v for v in ("mill pond", load) if v)
    names = [e["name"] for e in card["expected"]]
    assert {"Trim at full speed, bow up", "Runs flat out for", "Gets farthest, there and back"} <= set(names)
    page = client.get("/boats/2/B/trials").text
    assert "Count the oars\nTell the miller</textarea>" in page
    assert client.post("/boats/2/B/trials/card", data={"load": "none such"}).status_code == 422
    windy = client.post("/boats/2/B/trials/card", data={"place": "open water", "wind": "4 m/s", "depth": "30 cm"}).text
    assert "open water, wind 4.00\N{NO-BREAK SPACE}m/s" in windy
    assert "Leans in the wind abeam" in windy
    for wrong, words in (
        ({"wind": "a gale"}, "was not understood"),
        ({"depth": "1 mm"}, "on the ground"),
        ({"wind": "99 m/s"}, "lies between"),
    ):
        again = client.post("/boats/2/B/trials/card", data={"place": "the weir", **wrong}).text
        assert words in again
        assert 'value="the weir"' in again
        assert f'value="{next(iter(wrong.values()))}"' in again


def test_what_trials_keep_finding_goes_into_another_boats_list(client: TestClient, demo_yard):
    listed = craft_of(demo_yard.revision(4, "A").design).total.mass
    for day, factor in (("2026-06-01", 1.12), ("2026-06-08", 1.13)):
        client.post("/boats/4/A/trials/new", data={"date": day, "mass_kg": f"{factor * listed:.4f} kg", "key": day})
    assert client.post("/boats/4/learnt", data={"name": "drag_factor", "into": 3}).status_code == 422
    client.get("/boats/4/A/history/figures")
    assert "Count with it in" in client.get("/boats/4/A/history").text
    before = craft_of(demo_yard.boat(3).latest.design).total.mass
    for boat in (3, 4):
        there = client.post("/boats/4/learnt", data={"name": "mass", "into": boat}, follow_redirects=False).headers["location"]
        assert client.get(there).status_code == 200
    after = demo_yard.boat(3).latest
    assert craft_of(after.design).total.mass / before == pytest.approx(1.125, abs=0.01)
    assert after.letter == "A"
    assert demo_yard.boat(4).latest.letter == "B"  # a revision that was tried is sealed: the next one counts with it
    assert client.post("/boats/4/learnt", data={"name": "mass", "into": 999}).status_code == 404
