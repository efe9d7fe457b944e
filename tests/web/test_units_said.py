"""In which units a boat is spoken of: refusals, pulls as they were typed, the bench scale."""

import pytest
from fastapi.testclient import TestClient


def typed_in(client: TestClient, boat: int, letter: str, stage: str, path: str, text: str, *, on: int, keep: bool = True):
    change = {"path": path, "action": "set", "text": text}
    body = {"on": on, "seq": 1, "changes": [change], "keep": keep, "ask": {}}
    return client.post(f"/boats/{boat}/{letter}/{stage}/look", json=body, headers={"accept": "application/json"}).json()


def test_a_boat_read_in_inches_is_refused_in_inches(client: TestClient, demo_yard):
    """The twin hulls are 105 mm wide, 4.13 in: closer together than that they cannot stand. A limit of 60 m is 2362.2 in."""
    on = demo_yard.revision(2, "B").snapshot
    said = typed_in(client, 2, "B", "shape", "bodies.0.shape.hull_spacing_m", "2 in", on=on, keep=False)["errors"]
    assert said["bodies.0.shape.hull_spacing_m"] == "Hull spacing must be more than one hull's beam (105\N{NO-BREAK SPACE}mm)."
    demo_yard.set_units(2, "in_oz")
    said = typed_in(client, 2, "B", "shape", "bodies.0.shape.hull_spacing_m", "2 in", on=on, keep=False)["errors"]
    assert said["bodies.0.shape.hull_spacing_m"] == "Hull spacing must be more than one hull's beam (4.134\N{NO-BREAK SPACE}in)."
    said = typed_in(client, 2, "B", "weights", "weights.0.mass_kg", "-3 oz", on=on, keep=False)["errors"]
    assert "oz" in next(iter(said.values()))


def test_a_pull_comes_back_as_it_was_typed(client: TestClient, demo_yard):
    """850 g pull as 8.34 N: kilogram-force is 9.80665 N."""
    boat = client.post("/boats/6/duplicate", follow_redirects=False).headers["location"].split("/")[2]
    revision = demo_yard.boat(int(boat)).latest
    on, path = revision.snapshot, "drive.motors.0.thrust_n"
    first = typed_in(client, int(boat), revision.letter, "drive", path, "850 g", on=on)
    assert demo_yard.boat(int(boat)).units == "mm_gf"
    assert demo_yard.boat(int(boat)).latest.design.drive.motors[0].thrust_n == pytest.approx(0.85 * 9.80665)
    page = client.get(f"/boats/{boat}/{revision.letter}/drive").text
    assert '<option value="mm_gf" selected>' in page
    assert "ladder" in first["parts"]
    typed_in(client, int(boat), revision.letter, "drive", path, "7.5 N", on=first["snapshot"])
    assert demo_yard.boat(int(boat)).units == "mm_g"


def test_the_bench_scale_reads_in_the_boats_units(client: TestClient, demo_yard):
    for units, mark in (
        ("mm_g", 'data-unit="g" data-si="0.001" data-digits="0"'),
        ("in_lb", 'data-unit="lb" data-si="0.45359237" data-digits="3"'),
    ):
        demo_yard.set_units(2, units)
        assert mark in client.get("/boats/2/B/weights?tab=weigh").text


def test_a_name_with_braces_is_no_place_of_a_sentence(client: TestClient, demo_yard):
    """A body and a space called {most:length}: what is refused of them names them as they are."""
    on = demo_yard.revision(2, "B").snapshot
    named = typed_in(client, 2, "B", "shape", "bodies.0.name", "{most:length}", on=on)
    assert not named["errors"]
    said = typed_in(client, 2, "B", "shape", "bodies.0.shape.hull_spacing_m", "1 mm", on=named["snapshot"], keep=False)["errors"]
    assert "{most" not in said["bodies.0.shape.hull_spacing_m"]
    assert client.get("/boats/2/B/stability?tab=cures").status_code in (200, 202)
    assert client.get("/boats/2/B/stability/cures").status_code == 200
