"""Meshes in and out: round trips against a general library, what is mended, what is refused, and files that lie."""

import io
import struct
import tracemalloc
import zipfile

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from tests.bodies import box, spheroid
from tools.fuzz import examples
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.envelope import outer_skin
from yarekeel.core.geometry.families import RoundBilge, Vee
from yarekeel.core.geometry.mesh import Mesh, joined
from yarekeel.core.geometry.union import without
from yarekeel.exchange import mesh_in, mesh_out
from yarekeel.exchange.mending import COMFORTABLE, inspect
from yarekeel.exchange.mesh_formats import FORMATS
from yarekeel.exchange.mesh_in import RawMesh

SOLIDS = {
    "cube": trimesh.creation.box((100.0, 100.0, 100.0)),
    "sphere": trimesh.creation.icosphere(subdivisions=4, radius=60.0),
    "torus": trimesh.creation.torus(80.0, 25.0, major_sections=64, minor_sections=32),
}


def raw(mesh):
    return RawMesh(np.asarray(mesh.vertices), np.asarray(mesh.faces))


@pytest.mark.parametrize("kind", ["stl", "stl_ascii", "obj", "ply", "3mf"])
@pytest.mark.parametrize("name", SOLIDS)
def test_a_general_librarys_files_are_read(name, kind):
    solid = SOLIDS[name]
    data = solid.export(file_type=kind)
    suffix = kind.split("_")[0]
    found = inspect(mesh_in.read(data.encode() if isinstance(data, str) else data, f"x.{suffix}"))
    assert not found.fault
    assert found.mended == ()
    assert len(found.mesh.faces) == len(solid.faces)
    assert found.mesh.volume == pytest.approx(solid.volume, rel=1e-6)  # float32 keeps seven figures


@pytest.mark.parametrize("kind", list(FORMATS))
@pytest.mark.parametrize("name", SOLIDS)
def test_our_files_are_read_by_a_general_library(name, kind):
    solid = SOLIDS[name]
    data = mesh_out.write(Mesh(solid.vertices / 1000, solid.faces), kind)
    again = trimesh.load(io.BytesIO(data), file_type=kind, force="mesh")
    assert again.is_watertight
    assert again.volume == pytest.approx(solid.volume, rel=1e-6)
    back = inspect(mesh_in.read(data, f"x.{kind}"))
    assert back.mesh.volume == pytest.approx(solid.volume, rel=1e-6)
    assert back.unit == ("mm" if kind == "3mf" else None)


def test_unknown_kinds_are_refused():
    with pytest.raises(InvalidInput, match="STL, OBJ, PLY or 3MF"):
        mesh_out.write(box(1, 1, 1), "step")
    with pytest.raises(InvalidInput, match="none of the mesh files"):
        mesh_in.read(b"x", "hull.step")


HULL = RoundBilge().build()
MENDABLE = [
    (Mesh(HULL.vertices, np.vstack([HULL.faces[:40, ::-1], HULL.faces[40:]])), "40 flipped faces were turned"),
    (Mesh(HULL.vertices, HULL.faces[:, ::-1]), "inside out and was turned"),
    (Mesh(HULL.vertices, np.delete(HULL.faces, [700], axis=0)), "1 small hole was closed"),
    (Mesh(HULL.vertices, np.vstack([HULL.faces, HULL.faces[:3]])), "3 doubled faces were dropped"),
    (joined([HULL, box(0.004, 0.004, 0.004).moved((2.0, 0.0, 0.0))]), "1 stray crumb was left out"),
    (joined([HULL, HULL.moved((0.1, 0.02, 0.01))]), "2 closed parts overlapped and were united"),
    (joined([HULL, box(0.05, 0.05, 0.02).moved((0.4, 0.0, 0.03))]), "2 closed parts overlapped and were united"),
]


@pytest.mark.parametrize(("mesh", "words"), MENDABLE, ids=[w for _, w in MENDABLE])
def test_small_faults_are_mended_and_said(mesh, words):
    found = inspect(raw(mesh))
    assert not found.fault
    assert any(words in m for m in found.mended)
    solid = trimesh.Trimesh(found.mesh.vertices, found.mesh.faces, process=False)
    assert solid.is_watertight
    assert solid.is_winding_consistent
    if "united" not in words:
        assert found.mesh.volume == pytest.approx(HULL.volume, rel=1e-3)


def test_near_corners_are_joined():
    loose = HULL.corners.reshape(-1, 3) + np.random.default_rng(3).uniform(-1e-8, 1e-8, (3 * len(HULL.faces), 3))
    found = inspect(RawMesh(loose, np.arange(len(loose)).reshape(-1, 3)))
    assert not found.fault
    assert any("duplicate corner" in m for m in found.mended)
    assert found.mesh.volume == pytest.approx(HULL.volume, rel=1e-5)


def test_a_large_hole_is_refused_with_its_edges():
    found = inspect(raw(Mesh(HULL.vertices, HULL.faces[200:])))
    assert "not closed" in found.fault
    assert len(found.fault_edges) > 0
    low, high = HULL.bounds
    assert (found.fault_edges >= low - 1e-9).all()
    assert (found.fault_edges <= high + 1e-9).all()


def test_a_surface_through_itself_is_refused_with_its_edges():
    pushed = HULL.vertices.copy()
    bilge = np.argmin(np.linalg.norm(pushed - [0.5, 0.12, 0.03], axis=1))
    pushed[bilge] += (0.013, -0.42, 0.004)
    found = inspect(raw(Mesh(pushed, HULL.faces)))
    assert "runs through itself" in found.fault
    assert found.fault_edges.shape[1:] == (2, 3)


def test_no_volume_is_refused():
    flat = box(1.0, 1.0, 1.0)
    assert (
        "no volume" in inspect(raw(Mesh(flat.vertices * [1, 1, 0], flat.faces))).fault
        or "no triangles" in inspect(raw(Mesh(flat.vertices * [1, 1, 0], flat.faces))).fault
    )


@pytest.mark.whole
def test_a_mesh_with_too_many_triangles_is_simplified_and_the_loss_said():
    fine = spheroid(500.0, 100.0, 100.0, 420, 300)
    found = inspect(raw(fine))
    assert found.triangles == len(fine.faces) > COMFORTABLE
    assert len(found.mesh.faces) <= COMFORTABLE
    assert found.lost == pytest.approx(found.mesh.volume / fine.volume - 1)
    assert abs(found.lost) < 0.002


# Hulls with an inside


def test_an_open_box_is_filled_to_its_rim():
    tub = without(box(1000.0, 400.0, 200.0), [box(980.0, 380.0, 300.0).moved((10.0, 0.0, 10.0))])
    assert outer_skin(tub).volume == pytest.approx(1000 * 400 * 200, rel=1e-3)


def test_the_rim_is_its_lowest_point():
    tub = without(
        box(1000.0, 400.0, 200.0), [box(980.0, 380.0, 300.0).moved((10.0, 0.0, 10.0)), box(100.0, 500.0, 100.0).moved((400.0, 0.0, 150.0))]
    )
    skin = outer_skin(tub)
    # The notch lets water in at 150: filled below it, bare walls above.
    walls = tub.volume - without(tub, [box(1000.0, 400.0, 100.0).moved((0.0, 0.0, 150.0))]).volume
    assert skin.volume == pytest.approx(1000 * 400 * 150 + walls, rel=1e-3)


def test_a_sealed_hollow_is_filled_wholly():
    shell = joined(
        [box(1000.0, 400.0, 200.0), Mesh(box(980.0, 380.0, 180.0).moved((10.0, 0.0, 10.0)).vertices, box(1, 1, 1).faces[:, ::-1])]
    )
    assert outer_skin(shell).volume == pytest.approx(1000 * 400 * 200, rel=1e-6)


def test_a_printed_hull_gives_the_hull_it_was_hollowed_from():
    solid = Vee(sheer_m=0.0).build()
    hollow = without(solid, [Vee(0.97, 0.28, 0.2, sheer_m=0.0).build().moved((0.01, 0.0, 0.006))])
    assert hollow.volume < 0.4 * solid.volume
    assert outer_skin(hollow).volume == pytest.approx(solid.volume, rel=2e-3)


@pytest.mark.parametrize("mesh", [box(1000.0, 400.0, 200.0), HULL, Vee().build()])
def test_a_solid_hull_has_no_inside(mesh):
    assert outer_skin(mesh) is None


# Files that lie


def zipped(**files):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name.replace("__", "/").replace("_model", ".model"), data)
    return out.getvalue()


ENTITIES = b'<?xml version="1.0"?><!DOCTYPE m [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]><model unit="millimeter">&b;</model>'
MANY = b"<model>" + b'<triangle v1="0" v2="1" v3="2"/>' * 1_100_000 + b"</model>"
LIES = [
    ("a.stl", b"\0" * 80 + struct.pack("<I", 3_000_000) + b"\0" * 100, "not an STL file, or is cut short"),
    ("a.stl", b"\0" * 80 + struct.pack("<I", 0xFFFFFFFF), "not an STL file"),
    ("a.stl", b"solid x\nfacet normal 0 0 1\n outer loop\n  vertex 0 0 0\n", "cut short"),
    ("a.stl", b"solid x\nfacet normal nan\n outer loop\n vertex a b c\n endloop\nendfacet\nendsolid", "not a readable STL"),
    ("a.stl", b"", "is empty"),
    ("a.ply", b"ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nelement face 4000000000\nend_header\n", "4000000000 triangles"),
    ("a.ply", b"ply\nformat ascii 1.0\nelement vertex 9000000000\nproperty float x\nelement face 1\nend_header\n", "triangles"),
    ("a.ply", b"not a ply", "not a PLY"),
    (
        "a.ply",
        b"ply\nformat binary_little_endian 1.0\nelement vertex 900\nproperty float x\nelement face 500\nproperty list uchar int vertex_indices\nend_header\n\0\0",
        "not a readable PLY|no triangles|corner",
    ),
    ("a.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 99\n", "readable|corner|no triangles"),
    ("a.obj", b"v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "not a number|readable"),
    ("a.obj", b"\xff\xfe\x00" * 50, "readable|no triangles"),
    ("a.obj", b"v 0 0 0\n" + b"\nf 1 1 1" * 1_100_000, "triangles"),
    ("a.3mf", b"PK\x03\x04 broken", "not a readable 3MF"),
    ("a.3mf", zipped(_model=b"<model/>"), "readable|no triangles"),
    ("a.3mf", zipped(_model=ENTITIES), "no use for"),
    ("a.3mf", zipped(bomb=b"\0" * 170_000_000), "unpacks to more than"),
    ("a.3mf", zipped(_model=MANY), "1100000 triangles"),
]


@pytest.mark.parametrize(("name", "data", "words"), LIES, ids=[f"{k}-{n}" for k, (n, _, _) in enumerate(LIES)])
def test_a_file_that_lies_is_one_sentence(name, data, words):
    with pytest.raises(InvalidInput, match=words) as caught:
        mesh_in.read(data, name)
    assert str(caught.value).endswith(".")


def test_a_lying_header_costs_no_memory():
    lies = [lie for lie in LIES if len(lie[1]) < 1000]
    for name, data, _ in lies:  # what has to be loaded is loaded before it is measured
        with pytest.raises(InvalidInput):
            mesh_in.read(data, name)
    tracemalloc.start()
    for name, data, _ in lies:
        with pytest.raises(InvalidInput):
            mesh_in.read(data, name)
    _, peak = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert peak < 20_000_000


def test_a_zip_that_understates_its_size_is_bounded():
    data = bytearray(zipped(_model=b"<model>" + b" " * 500_000 + b"</model>"))
    at = data.rfind(b"PK\x01\x02")
    data[at + 24 : at + 28] = struct.pack("<I", 10)  # the directory says ten bytes
    with pytest.raises(InvalidInput):
        mesh_in.read(bytes(data), "a.3mf")


WHOLE = {kind: mesh_out.write(box(0.1, 0.05, 0.02), kind) for kind in list(FORMATS)}


@examples(150)
@given(st.sampled_from(list(FORMATS)), st.data())
def test_mangled_files_are_a_mesh_or_a_sentence(kind, data):
    whole = bytearray(WHOLE[kind])
    for _ in range(data.draw(st.integers(1, 6))):
        at = data.draw(st.integers(0, len(whole) - 1))
        how = data.draw(st.sampled_from(["change", "cut", "repeat", "nan"]))
        if how == "change":
            whole[at] = data.draw(st.integers(0, 255))
        elif how == "cut":
            del whole[at : at + data.draw(st.integers(1, 60))]
        elif how == "repeat":
            whole[at:at] = whole[at : at + 40]
        else:
            whole[at : at + 4] = struct.pack("<f", float("nan"))
        if not whole:
            return
    try:
        found = inspect(mesh_in.read(bytes(whole), f"x.{kind}"))
    except InvalidInput as refused:
        assert refused.sentence.endswith(".")
        return
    assert found.fault == "" or found.fault.endswith(".")
