"""The boat file: there and back, its schema, and every refusal a sentence."""

import json
import os
import struct
from pathlib import Path

import jsonschema
import pytest
import trimesh

from tests.bodies import box
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import MeshFile
from yarekeel.demo.boats import dabchick, reedwarden, wagtail
from yarekeel.exchange import boat_file, mesh_in

ROOT = Path(__file__).parents[2]
PLAIN = {
    "format": "yare-keel-boat",
    "version": 8,
    "name": "test",
    "water": {"density_kg_m3": 1000.0},
    "bodies": [{"name": "hull", "shape": {"kind": "box", "length_m": 1.0, "beam_m": 0.4, "depth_m": 0.2}, "at_m": [0, 0, 0]}],
    "weights": [{"name": "all up", "mass_kg": 3.2, "at_m": [0.31, 0.0, 0.05]}],
}


@pytest.mark.parametrize("design", [reedwarden(), wagtail()])
def test_there_and_back_and_by_the_schema(design):
    text = boat_file.dumps(design)
    assert boat_file.loads(text) == design
    assert boat_file.dumps(boat_file.loads(text)) == text
    jsonschema.validate(json.loads(text), boat_file.schema())


def test_the_committed_schema_is_the_one_made():
    committed = json.loads((ROOT / "docs/boat-file.schema.json").read_text())
    assert committed == json.loads(json.dumps(boat_file.schema()))
    jsonschema.validate(PLAIN, committed)


def changed(path: str, value) -> dict:
    data = json.loads(json.dumps(PLAIN))
    at = data
    *way, last = path.split(".")
    for step in way:
        at = at[int(step)] if isinstance(at, list) else at[step]
    if value is None:
        del at[last]
    elif isinstance(at, list):
        at[int(last)] = value
    else:
        at[last] = value
    return data


@pytest.mark.parametrize(
    ("path", "value", "field"),
    [
        ("format", "other", "format"),
        ("version", 9, "version"),
        ("cases", [{"name": ""}], "cases.0.name"),
        ("case", "heavy seas", "case"),
        ("materials", [{"code": "x", "title": "x", "kind": "wood", "density": 0, "low": 0, "high": 0}], "materials.0.density"),
        ("weights.0.quantity", -1, "weights.0.quantity"),
        ("weights.0.group", "cargo", "weights.0.group"),
        ("weights.0.recipe", {"kind": "guess"}, "weights.0.recipe.kind"),
        ("weights.0.recipe", {"kind": "printed", "infill": 1.2}, "weights.0.recipe.infill"),
        ("weigh_in", {"tip_deg": 95}, "weigh_in.tip_deg"),
        ("name", None, "name"),
        ("water", None, "water"),
        ("bodies", None, "bodies"),
        ("bodies", [], "bodies"),
        ("bodies", 7, "bodies"),
        ("weights", None, "weights"),
        ("weights", {}, "weights"),
        ("weights.0.mass_kg", "heavy", "weights.0.mass_kg"),
        ("weights.0.mass_kg", -1.0, "weights.0.mass_kg"),
        ("weights.0.mass_kg", None, "weights.0.mass_kg"),
        ("weights.0.at_m", [1, 2], "weights.0.at_m.2"),
        ("weights.0.colour", "red", "weights.0.colour"),
        ("bodies.0.shape.length_m", 0, "bodies.0.shape.length_m"),
        ("bodies.0.shape.length_m", None, "bodies.0.shape.length_m"),
        ("bodies.0.shape.kind", "trireme", "bodies.0.shape.kind"),
        ("bodies.0.shape", {"kind": "mesh", "file": "../x.stl", "unit": "mm"}, "bodies.0.shape.file"),
        ("bodies.0.shape", {"kind": "mesh", "file": "/etc/passwd", "unit": "mm"}, "bodies.0.shape.file"),
        ("bodies.0.shape", {"kind": "mesh", "file": "x.stl", "unit": "cubit"}, "bodies.0.shape.unit"),
        ("water.density_kg_m3", 1e300, "water.density_kg_m3"),
        ("extra", 1, "extra"),
    ],
)
def test_refusals_name_the_field(path, value, field):
    with pytest.raises(InvalidInput) as caught:
        boat_file.read(changed(path, value))
    assert caught.value.field == field
    assert str(caught.value).endswith(".")


@pytest.mark.parametrize("text", ["", "[]", "{", "null", '{"format": NaN}', "[" * 100000])
def test_text_that_is_no_boat_file(text):
    with pytest.raises(InvalidInput):
        boat_file.loads(text)


def with_mesh(folder: Path, write) -> Path:
    write(folder / "hull.stl")
    data = changed("bodies.0.shape", {"kind": "mesh", "file": "hull.stl", "unit": "mm"})
    path = folder / "boat.json"
    path.write_text(json.dumps(data))
    return path


@pytest.mark.parametrize("kind", ["stl", "stl_ascii"])
def test_a_mesh_beside_the_file(tmp_path, kind):
    mesh = box(1000.0, 400.0, 200.0)
    path = with_mesh(tmp_path, lambda p: trimesh.Trimesh(mesh.vertices, mesh.faces).export(p, file_type=kind))
    assert boat_file.load(path).hull.mesh.volume == pytest.approx(0.08, rel=1e-6)


def test_a_link_that_leads_outside_is_refused(tmp_path):
    inside, outside = tmp_path / "in", tmp_path / "out"
    inside.mkdir(), outside.mkdir()
    mesh = box(1000.0, 400.0, 200.0)
    trimesh.Trimesh(mesh.vertices, mesh.faces).export(outside / "hull.stl")
    path = with_mesh(inside, lambda p: os.symlink(outside / "hull.stl", p))
    with pytest.raises(InvalidInput, match="own folder"):
        boat_file.load(path)


def write_with_hole(path: Path) -> None:
    mesh = box(1000.0, 400.0, 200.0)
    trimesh.Trimesh(mesh.vertices, mesh.faces[:-1], process=False).export(path)


def write_count(path: Path, count: int) -> None:
    with path.open("wb") as out:
        out.write(b"\0" * 80 + struct.pack("<I", count))
        out.truncate(84 + 50 * count)


@pytest.mark.parametrize(
    ("write", "words"),
    [
        (write_with_hole, "not closed"),
        (lambda p: write_count(p, 0), "no triangles"),
        (lambda p: write_count(p, 3_000_000), "3000000 triangles"),
        (lambda p: p.write_bytes(b"solid nothing\nendsolid\n"), "no triangles|readable"),
        (lambda p: p.write_bytes(b"\x89PNG not a mesh at all" * 9), "not an STL"),
        (lambda p: p.write_bytes(b""), "is empty"),
    ],
)
def test_bad_stl_is_a_sentence(tmp_path, write, words):
    path = with_mesh(tmp_path, write)
    with pytest.raises(InvalidInput, match=words) as caught:
        boat_file.load(path)
    assert caught.value.field == "bodies.0.shape.file"


def test_a_missing_mesh_is_a_sentence(tmp_path):
    with pytest.raises(InvalidInput, match="cannot be read"):
        mesh_in.load(tmp_path / "none.stl", MeshFile("none.stl"), "f")


def test_a_file_of_the_second_version_is_understood():
    """It had neither compartments nor a weight's own material; all else is the same."""
    old = json.loads(boat_file.dumps(dabchick()))
    del old["compartments"]
    for line in old["weights"]:
        del line["material"]
    design = boat_file.read({**old, "version": 2})
    assert design.compartments == ()
    assert {w.material for w in design.weights} == {""}
    assert boat_file.loads(boat_file.dumps(dabchick())) == dabchick()


def test_a_file_of_the_first_version_is_understood():
    """It had a flag for what is built with the hull, in place of groups."""
    old = changed(
        "weights",
        [{"name": "hull", "mass_kg": 2.0, "at_m": [0, 0, 0], "structure": True}, {"name": "load", "mass_kg": 1.0, "at_m": [0, 0, 0]}],
    )
    design = boat_file.read({**old, "version": 1})
    assert [w.group for w in design.weights] == ["structure", "payload"]
    assert json.loads(boat_file.dumps(design))["version"] == boat_file.VERSION
    with pytest.raises(InvalidInput, match="true or false"):
        boat_file.read({**changed("weights.0.structure", "yes"), "version": 1})
    with pytest.raises(InvalidInput, match=r"weights\.0\.structure is not known"):
        boat_file.read(changed("weights.0.structure", True))


def test_thousands_of_lines_are_lines():
    """A weight is a line of the file, there and back."""
    many = boat_file.read(changed("weights", [{"name": f"part {k}", "mass_kg": 0.01, "at_m": [0.01 * k, 0, 0.0]} for k in range(2000)]))
    text = boat_file.dumps(many)
    assert text.count("\n") < 2200
    assert boat_file.loads(text) == many
