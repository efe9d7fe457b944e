"""The Shape page over HTTP: parts, tables, meshes in, files out; bad input is one sentence and loses nothing."""

import io
import json
import re
import sqlite3
import zipfile

import numpy as np
import pytest
import trimesh
from fastapi.testclient import TestClient

from tests.bodies import box, spheroid
from yarekeel.core.geometry.families import RoundBilge, Vee
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.union import without
from yarekeel.exchange import mesh_out, offsets_csv

LETTER = "/boats/1/B"


def new_boat(client: TestClient, family: str) -> str:
    answer = client.post("/boats", data={"name": "Reed hen", "family": family}, follow_redirects=False)
    return answer.headers["location"].rsplit("/", 1)[0]


def snapshot(client: TestClient, base: str) -> int:
    return int(re.search(r'data-snapshot="(\d+)"', client.get(f"{base}/shape").text)[1])


def do(client: TestClient, base: str, verb: str, args: dict | None = None, **ask: str) -> dict:
    return sent(client, base, {"action": "do", "verb": verb, "path": verb, "args": args or {}}, ask)


def put(client: TestClient, base: str, path: str, text: str, **ask: str) -> dict:
    return sent(client, base, {"action": "set", "path": path, "text": text}, ask)


def sent(client: TestClient, base: str, change: dict, ask: dict) -> dict:
    body = {"on": snapshot(client, base), "changes": [change], "ask": ask, "keep": True}
    answer = client.post(f"{base}/shape/look", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()


def stl_of(mesh: Mesh, per: float = 1.0) -> bytes:
    return trimesh.Trimesh(mesh.vertices * per, mesh.faces, process=False).export(file_type="stl")


def bring(client: TestClient, base: str, data: bytes, name: str = "hull.stl", **choices: str):
    answer = client.post(f"{base}/mesh", files={"file": (name, data)}, follow_redirects=False)
    assert answer.status_code == 303, answer.text
    at = answer.headers["location"].split("?")[0]
    return at, client.post(at, data={"on": str(snapshot(client, base)), **choices}, follow_redirects=False)


def test_parts_are_added_chosen_and_undone(client):
    base = new_boat(client, "vee")
    data = do(client, base, "bodies.add", {"family": "strut"})
    assert "Strut, fin or rudder" in data["parts"]["parts"]
    assert 'data-ask="body" value="1"' in data["parts"]["form"]
    assert "Root chord" in data["parts"]["form"]
    client.post(f"{base}/undo", json={"on": data["snapshot"]})
    assert "Strut" not in client.get(f"{base}/shape").text.split('class="part-add"')[0]


def test_a_choice_of_part_redraws_the_form_and_saves_nothing(client):
    base = new_boat(client, "vee")
    do(client, base, "bodies.add", {"family": "strut"})
    before = snapshot(client, base)
    data = client.post(f"{base}/shape/look", json={"on": before, "changes": [], "ask": {"body": "0", "tab": "place"}, "whole": True}).json()
    assert "Roll, port side up" in data["parts"]["form"]
    assert snapshot(client, base) == before


@pytest.mark.parametrize(
    "family", ["stepped", "three_point", "pontoon", "pipe_raft", "folded_tray", "submersible", "foam_block", "offsets"]
)
def test_each_family_has_its_page_lines_and_solid(client, family):
    base = new_boat(client, family)
    text = client.get(f"{base}/shape").text
    assert '<svg viewBox="0 0 784' in text
    assert "Block Cb" in text
    solid = client.get(f"{base}/shape?view=solid").text
    data = json.loads(re.search(r'data-solid="([^"]+)"', solid)[1].replace("&#34;", '"'))
    assert len(data["faces"]) % 4 == 0
    assert data["faces"]


def test_the_size_in_hand_is_explained_and_drawn(client):
    base = new_boat(client, "vee")
    data = client.post(
        f"{base}/shape/look",
        json={"on": snapshot(client, base), "changes": [], "ask": {"lit": "bodies.0.shape.deadrise_deg", "ghost": "on"}},
    ).json()
    assert "steeper is a side, not a bottom" in data["parts"]["live"]
    assert 'class="ghost"' in data["parts"]["live"]


@pytest.mark.parametrize(
    ("name", "typed", "words"),
    [("waterlines", "0.001 mm", "Between"), ("stations", "900", "whole number"), ("buttocks", "often", "not understood")],
)
def test_bad_spacings_are_answered_and_the_lines_still_drawn(client, name, typed, words):
    base = new_boat(client, "vee")
    data = client.post(f"{base}/shape/look", json={"on": snapshot(client, base), "changes": [], "ask": {name: typed}}).json()
    assert words in data["parts"]["live"]
    assert "<svg" in data["parts"]["live"]


def test_a_reason_comes_with_a_refused_size(client):
    base = new_boat(client, "vee")
    data = put(client, base, "bodies.0.shape.deadrise_deg", "80")
    assert data["errors"] == {"bodies.0.shape.deadrise_deg": "Deadrise must lie between 0 and 60° (steeper is a side, not a bottom)."}


def test_a_table_is_edited_pasted_and_changed(client):
    base = new_boat(client, "offsets")
    data = put(client, base, "bodies.0.shape.stations.2.half_breadths_m.2", "52 cm", tab="table")
    assert data["errors"] == {}
    data = put(client, base, "bodies.0.shape.stations.2.heights_m.0", "3 m", tab="table")
    assert "heights must rise" in data["errors"]["bodies.0.shape.stations.2.heights_m.0"]
    data = do(
        client, base, "bodies.paste", {"body": 0, "text": "0\t0\t0\t200\t300\n1000\t0\t0\t250\t300\n2000\t0\t100\t0\t400"}, tab="table"
    )
    assert data["errors"] == {}
    assert data["parts"]["form"].count("<tr>") >= 4
    assert client.get(f"{base}/offsets.csv").text.splitlines()[1] == "0,0,0,200,300"
    data = do(client, base, "bodies.paste", {"body": 0, "text": "0\t0\t0\n"}, tab="table")
    assert "Row 1 has 3 numbers" in data["errors"]["bodies.paste"]
    data = do(client, base, "bodies.change", {"body": 0, "what": "longer"}, tab="changes")
    assert "10 % longer, same sections" in data["parts"]["form"]
    data = put(client, base, "bodies.0.shape.changes.0.part", "8", tab="changes")
    assert "8 % longer, same sections" in data["parts"]["form"]


def test_fading_is_chosen_by_station(client):
    base = new_boat(client, "offsets")
    do(client, base, "bodies.change", {"body": 0, "what": "wider"})
    put(client, base, "bodies.0.shape.changes.0.station", "0")
    data = put(client, base, "bodies.0.shape.changes.0.fade_to", "4", tab="changes")
    assert "10 % wider at station 0, fading out forward to station 4" in data["parts"]["form"]
    data = put(client, base, "bodies.0.shape.changes.0.fade_to", "0", tab="changes")
    assert data["errors"]


@pytest.mark.parametrize("kind", ["stl", "obj", "ply", "3mf"])
def test_the_hull_goes_out_and_comes_back(client, kind):
    data = client.get(f"{LETTER}/hull.{kind}").content
    solid = trimesh.load(io.BytesIO(data), file_type=kind, force="mesh")
    base = new_boat(client, "box")
    _, answer = bring(client, base, data, f"hull.{kind}", unit="mm", up="+z", forward="+x")
    assert answer.status_code == 303
    again = trimesh.load(io.BytesIO(client.get(f"{base}/hull.{kind}").content), file_type=kind, force="mesh")
    assert again.volume == pytest.approx(solid.volume, rel=2e-6)


@pytest.mark.parametrize(("path", "start"), [("lines.dxf", b"  0\nSECTION"), ("lines.svg", b"<svg"), ("offsets.csv", b"from aft (mm)")])
def test_lines_and_offsets_go_out(client, path, start):
    answer = client.get(f"{LETTER}/{path}")
    assert answer.status_code == 200
    assert answer.content.startswith(start)
    assert "attachment" in answer.headers["content-disposition"]


@pytest.mark.parametrize("path", ["hull.step", "lines.pdf", "offsets.csv?body=9"])
def test_files_that_are_not_written(client, path):
    assert client.get(f"{LETTER}/{path}").status_code == 404


def test_a_twin_has_no_table_of_offsets(client):
    answer = client.get("/boats/2/B/offsets.csv")
    assert answer.status_code == 422
    assert "cannot describe" in answer.text


def test_a_hull_lying_on_its_side_is_righted(client):
    mesh = Vee().build()
    on_side = Mesh(mesh.vertices @ np.array([[0, 0, 1], [1, 0, 0], [0, 1, 0]]).T, mesh.faces)  # its up became x, its forward y
    base = new_boat(client, "box")
    _, answer = bring(client, base, stl_of(on_side, 1000), unit="mm", up="+x", forward="+y", part="0")
    assert answer.status_code == 303
    offsets = offsets_csv.read(client.get(f"{base}/offsets.csv").text, "f", 0.001)
    assert offsets.stations[-1].x_m == pytest.approx(1.0, abs=1e-4)
    assert max(s.half_breadths_m[-1] for s in offsets.stations) == pytest.approx(0.15, rel=0.01)


def test_a_printed_hull_floats_on_its_outer_skin_and_its_material_is_weighed(client):
    tub = without(box(1.0, 0.4, 0.2), [box(0.98, 0.38, 0.3).moved((0.01, 0.0, 0.01))])
    base = new_boat(client, "box")
    at, answer = bring(
        client, base, stl_of(tub, 1000), unit="mm", up="+z", forward="+x", skin="outer", weigh="yes", density="1240", part="0"
    )
    assert answer.status_code == 303
    boat = zipfile.ZipFile(io.BytesIO(client.get(f"{base}/boat.json").content))
    data = json.loads(boat.read("boat.json"))
    assert data["bodies"][0]["deck"] == "open"
    assert data["weights"][0]["mass_kg"] == pytest.approx(tub.volume * 1240, rel=1e-4)
    assert data["weights"][0]["at_m"][0] == pytest.approx(0.5, abs=1e-3)
    assert trimesh.load(io.BytesIO(client.get(f"{base}/hull.stl").content), file_type="stl").volume == pytest.approx(0.08e9, rel=1e-3)
    assert client.get(at).status_code == 404  # the draft is gone


def test_a_density_that_is_none_is_refused_beside_its_field(client):
    tub = without(box(1.0, 0.4, 0.2), [box(0.98, 0.38, 0.3).moved((0.01, 0.0, 0.01))])
    base = new_boat(client, "box")
    _, answer = bring(client, base, stl_of(tub, 1000), unit="mm", up="+z", forward="+x", skin="outer", weigh="yes", density="heavy")
    assert answer.status_code == 422
    assert "was not understood" in answer.text
    assert 'value="heavy"' in answer.text


def test_a_broken_mesh_shows_where_and_keeps_nothing(client, tmp_path):
    hull = RoundBilge().build()
    base = new_boat(client, "box")
    before = snapshot(client, base)
    answer = client.post(f"{base}/mesh", files={"file": ("hull.stl", stl_of(Mesh(hull.vertices, hull.faces[300:])))})
    assert answer.status_code == 422
    assert "not closed" in answer.text
    assert 'class="mesh-fault"' in answer.text
    assert snapshot(client, base) == before
    assert client.post(f"{base}/mesh", files={"file": ("hull.stl", b"nonsense")}).status_code == 422
    assert client.post(f"{base}/mesh").status_code == 422
    with sqlite3.connect(tmp_path / "yard.db") as database:
        assert database.execute("select count(*) from mesh").fetchone() == (0,)


def test_a_large_mesh_asks_for_consent(client, monkeypatch):
    from yarekeel.exchange import mending
    from yarekeel.web.stages.shape import routes

    monkeypatch.setattr(mending, "COMFORTABLE", 2_000)
    monkeypatch.setattr(routes, "apart", lambda of, *args, budget: of(*args))  # in this process, where the limit is another
    base = new_boat(client, "box")
    fine = stl_of(spheroid(500.0, 100.0, 80.0, 80, 50))
    at, answer = bring(client, base, fine, unit="mm", up="+z", forward="+x")
    assert answer.status_code == 422
    assert "Say that the simpler mesh will do" in answer.text
    assert "triangles are simplified to" in client.get(at).text
    answer = client.post(
        at, data={"on": str(snapshot(client, base)), "unit": "mm", "up": "+z", "forward": "+x", "consent": "yes"}, follow_redirects=False
    )
    assert answer.status_code == 303


def test_a_sealed_revision_takes_no_mesh(client):
    at = client.post("/boats/1/A/mesh", files={"file": ("hull.stl", stl_of(box(1000, 400, 200)))}, follow_redirects=False).headers[
        "location"
    ]
    answer = client.post(at, data={"on": "1", "unit": "mm", "up": "+z", "forward": "+x"}, follow_redirects=False)
    assert answer.status_code == 409
    assert "sealed" in answer.text


def test_a_boat_with_a_mesh_travels_as_a_zip(client):
    base = new_boat(client, "mesh")
    assert base.startswith("/boats/")
    bring(client, base, stl_of(Vee().build(), 1000), unit="mm", up="+z", forward="+x", part="0")
    data = client.get(f"{base}/boat.json").content
    again = client.post("/boats/import", files={"file": ("boat.zip", data)}, follow_redirects=False)
    assert again.status_code == 303
    copy = again.headers["location"].rsplit("/", 1)[0]
    assert client.get(f"{copy}/hull.stl").content == client.get(f"{base}/hull.stl").content
    broken = client.post("/boats/import", files={"file": ("boat.zip", data[: len(data) // 2])})
    assert broken.status_code == 422
    alone = zipfile.ZipFile(io.BytesIO(data)).read("boat.json")
    answer = client.post("/boats/import", files={"file": ("boat.json", alone)})
    assert answer.status_code == 422
    assert "put boat.json and its meshes in one ZIP" in answer.text


def test_a_mesh_survives_the_program(demo_yard, tmp_path):
    from yarekeel.store.engine import open_database
    from yarekeel.store.yard import Yard

    shape = demo_yard.keep_mesh(Vee().build())
    assert demo_yard.keep_mesh(Vee().build()).file == shape.file  # the same mesh is kept once
    later = Yard(open_database(tmp_path / "yard.db"))
    assert later.mesh_data(shape.file) == mesh_out.write(Vee().build(), "ply", per_metre=1.0)


def test_openings_are_added_edited_and_drawn(client):
    base = new_boat(client, "submersible")
    data = do(client, base, "bodies.opening", {"body": 0}, tab="openings")
    assert 'data-path="bodies.0.openings.0.at_m.2"' in data["parts"]["form"]
    assert data["parts"]["live"].count('class="opening"') == 3  # in profile, plan and sections
    data = put(client, base, "bodies.0.openings.0.name", "conning hatch", tab="openings")
    assert "<title>conning hatch</title>" in data["parts"]["live"]
    data = put(client, base, "bodies.0.openings.0.at_m.2", "2 km", tab="openings")
    assert (
        "must lie between −1\N{NO-BREAK SPACE}000\N{NO-BREAK SPACE}000\N{NO-BREAK SPACE}mm and"
        in data["errors"]["bodies.0.openings.0.at_m.2"]
    )
    data = do(client, base, "bodies.opening_remove", {"body": 0, "opening": 0}, tab="openings")
    assert "No opening yet" in data["parts"]["form"]


def test_a_table_lifted_from_a_hull_is_edited_like_any_other(client):
    base = new_boat(client, "round_bilge")
    data = do(client, base, "bodies.table", {"body": 0}, tab="table")
    assert data["errors"] == {}
    assert 'data-path="bodies.0.shape.stations.12.heights_m.8"' in data["parts"]["form"]
    twin = do(client, "/boats/3/A", "bodies.table", {"body": 1}, tab="table")
    assert list(twin["errors"]) == ["bodies.table"] or twin["errors"] == {}
