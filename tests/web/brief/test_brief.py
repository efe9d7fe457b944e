"""The Brief's tabs over HTTP: sizing, three scales, limits left open; nothing typed is lost."""

import json
import re
from html import unescape

import pytest
from fastapi.testclient import TestClient

from yarekeel.core.geometry.families import Box
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.sizing import size_map
from yarekeel.store.yard import Yard

BOATS = ("/boats/1/B", "/boats/2/B", "/boats/3/A", "/boats/4/A")


def look(client: TestClient, yard: Yard, base: str, ask: dict[str, str], *changes: dict[str, str]) -> dict:
    _, _, boat, letter = base.split("/")
    body = {"on": yard.revision(int(boat), letter).snapshot, "changes": list(changes), "ask": ask, "keep": bool(changes), "whole": True}
    answer = client.post(f"{base}/brief/look", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()


@pytest.mark.sampled(of=3)
@pytest.mark.parametrize("tab", ["brief", "size", "map", "scales", "shelf"])
@pytest.mark.parametrize("base", BOATS)
def test_every_tab_of_every_boat(client: TestClient, base, tab):
    assert client.get(f"{base}/brief?tab={tab}").status_code == 200


def test_an_answer_is_made_so_and_undone(client: TestClient, demo_yard: Yard):
    base, ask = "/boats/3/A", {"tab": "size", "unknown": "bodies.0.scale.1"}
    first = look(client, demo_yard, base, ask)["parts"]
    args = json.loads(unescape(re.search(r'data-do="answer.resize"\s+data-args=\'([^\']*)\'', first["live"])[1]))
    before = demo_yard.revision(3, "A").design
    assert (
        look(client, demo_yard, base, ask, {"path": "answer.resize", "action": "do", "verb": "answer.resize", "args": args})["errors"] == {}
    )
    after = Craft(demo_yard.revision(3, "A").design).rest()
    assert after.gm_transverse == pytest.approx(before.brief.least_gm_m, rel=1e-3)
    demo_yard.undo(3, "A", demo_yard.revision(3, "A").snapshot)
    assert demo_yard.revision(3, "A").design == before


@pytest.mark.parametrize(
    "args",
    [
        {"unknown": "bodies.0.scale.1", "value": "nan"},
        {"unknown": "keel", "value": 2},
        {"unknown": "scale"},
        {"unknown": "scale", "value": 1e9},
        {"unknown": "bodies.9.scale.1", "value": 1},
    ],
)
def test_answers_that_cannot_be_are_sentences(client: TestClient, demo_yard: Yard, args):
    change = {"path": "answer.resize", "action": "do", "verb": "answer.resize", "args": args}
    errors = look(client, demo_yard, "/boats/3/A", {"tab": "size"}, change)["errors"]
    assert errors["answer.resize"].endswith(".")


def test_limits_left_open_are_set_in_any_unit_and_emptied_again(client: TestClient, demo_yard: Yard):
    base = "/boats/2/B"
    assert look(client, demo_yard, base, {}, {"path": "brief.most_beam_m", "text": "16 in"})["errors"] == {}
    assert demo_yard.revision(2, "B").design.brief.most_beam_m == pytest.approx(0.4064)
    refused = look(client, demo_yard, base, {}, {"path": "brief.most_beam_m", "text": "-3 mm"})["errors"]
    assert "Greatest beam, to carry must lie between" in refused["brief.most_beam_m"]
    narrow = look(client, demo_yard, base, {"tab": "size", "unknown": "bodies.0.shape.hull_spacing_m"})["parts"]
    assert "Beam to carry" in narrow["live"]
    assert look(client, demo_yard, base, {}, {"path": "brief.most_beam_m", "text": ""})["errors"] == {}
    assert demo_yard.revision(2, "B").design.brief.most_beam_m is None


def test_scales_typed_wrong_stay_with_their_sentence(client: TestClient, demo_yard: Yard):
    wrong = look(client, demo_yard, "/boats/1/B", {"tab": "scales", "s0": "huge", "s2": "1.5"})["parts"]["live"]
    assert 'value="huge"' in wrong
    assert "was not understood" in wrong
    far = look(client, demo_yard, "/boats/1/B", {"tab": "scales", "s0": "900"})["parts"]["live"]
    assert "between 0.05 and 20" in far
    small = look(client, demo_yard, "/boats/1/B", {"tab": "scales", "s0": "0.06"})["parts"]["live"]
    assert "cannot be built" in small or "it sinks" in small


def test_a_boat_with_nothing_aboard_is_told_what_to_do_first(client: TestClient, demo_yard: Yard):
    boat = demo_yard.create(Design("Bare", bodies=(Body("hull", Box(1.0, 0.3, 0.2)),)), "mm_kg")
    for tab in ("size", "map", "scales", "shelf"):
        assert "Enter its weights first" in client.get(f"/boats/{boat}/A/brief?tab={tab}").text


def test_a_boat_is_started_from_a_need(client: TestClient, demo_yard: Yard):
    typed = {"kind": "model", "load": "1.2 kg", "draft": "2.4 in", "rail": "200 g", "lean": "5"}
    page = client.get("/need", params={**typed, "go": "1"})
    assert page.status_code == 200
    assert page.text.count("Start with it") == 3
    made = client.post("/need", data={**typed, "number": "1"}, follow_redirects=False)
    assert made.status_code == 303
    boat = demo_yard.boat(int(made.headers["location"].split("/")[2])).latest.design
    assert boat.brief.most_draft_m == pytest.approx(2.4 * 0.0254)
    assert boat.bodies[0].shape.kind == "twin_hull"
    assert client.get(made.headers["location"]).status_code == 200
    assert client.post("/need", data={**typed, "number": "7"}, follow_redirects=False).status_code == 404
    assert client.post("/need", data={**typed, "load": "x", "number": "1"}, follow_redirects=False).status_code == 422


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        ({"load": ""}, "Say what it must carry"),
        ({"load": "0"}, "between 5 g and 2000 kg"),
        ({"load": "-2 kg"}, "between 5 g and 2000 kg"),
        ({"draft": "-3 mm"}, "Write a number of more than 0"),
        ({"draft": "12 moons"}, "was not understood"),
        ({"rail": "200 g"}, "go together"),
        ({"rail": "200 g", "lean": "89"}, "Lean with it, at most must lie between"),
    ],
)
def test_a_need_typed_wrong_stays_with_its_sentence(client: TestClient, changed, words):
    typed = {"kind": "model", "load": "1.2 kg", "draft": "", "rail": "", "lean": "", **changed}
    page = client.get("/need", params={**typed, "go": "1"})
    assert page.status_code == 422
    assert words in page.text
    for text in changed.values():
        assert f'value="{text}"' in page.text
    assert client.get("/need").status_code == 200


def test_the_map_comes_row_by_row_and_bad_axes_are_a_sentence(client: TestClient, monkeypatch):
    monkeypatch.setattr(size_map, "POINTS", 5)
    events = client.get("/boats/2/B/brief/map").text.strip().split("\n\n")
    assert [json.loads(e.removeprefix("data: ")) for e in events[:-1]] == [{"done": k, "of": 5} for k in range(1, 6)]
    assert events[-1].startswith("event: end")
    assert "map-kept" in events[-1]
    bad = client.get("/boats/2/B/brief/map", params={"ux": "keel"}, headers={"accept": "application/json"})
    assert bad.status_code == 422
    assert "Choose what may change" in bad.text


@pytest.mark.parametrize("ask", [{}, {"ux": "keel"}, {"mx": "nan", "my": "x"}, {"mx": "900", "my": "-4"}])
def test_any_point_of_the_map_asked_for_is_answered(client: TestClient, demo_yard: Yard, ask):
    for base in BOATS:
        parts = look(client, demo_yard, base, {"tab": "map", **ask})["parts"]
        assert "Draw the map" in parts["form"]
