"""Lines out, re-read by ezdxf and an XML parser; tables of offsets both ways; a boat with its meshes in a ZIP."""

import dataclasses
import io
import re
from xml.etree import ElementTree

import ezdxf
import numpy as np
import pytest
import shapely
import trimesh

from tests.bodies import box
from tests.core.test_offsets import wigley_table
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import Box, MeshFile, Offsets, RoundBilge, TwinHull
from yarekeel.core.geometry.families.offsets import Change
from yarekeel.core.geometry.lifting import table_of
from yarekeel.exchange import bundle, lines_out, mesh_out, offsets_csv
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design

HULL = RoundBilge().build(2)
STATIONS, WATERLINES, BUTTOCKS = (0.2, 0.5, 0.7), (0.05, 0.1), (0.03, 0.08)


@pytest.fixture(scope="module")
def cut():
    return lines_out.lines_of(HULL, STATIONS, WATERLINES, BUTTOCKS)


def areas_by_library():
    """Each section's area in mm2 by trimesh and shapely, keyed by layer and place."""
    solid = trimesh.Trimesh(HULL.vertices, HULL.faces)
    out = {}
    for layer, axis, places in (("STATIONS", 0, STATIONS), ("BUTTOCKS", 1, BUTTOCKS), ("WATERLINES", 2, WATERLINES)):
        for at in places:
            normal, origin = np.eye(3)[axis], np.eye(3)[axis] * at
            flat, _ = solid.section(normal, origin).to_2D()
            out[layer, round(1000 * at, 3)] = 1e6 * flat.area
    return out


def test_dxf_outlines_have_the_areas_of_the_sections(cut):
    drawing = ezdxf.read(io.StringIO(lines_out.dxf(cut).decode()))
    assert drawing.units == 4  # millimetres, DXF reference $INSUNITS
    found = {}
    lines = iter(cut)
    for entity in drawing.modelspace():
        assert entity.closed
        line = next(lines)
        assert entity.dxf.layer == line.layer
        key = (line.layer, round(1000 * line.at, 3))
        found[key] = found.get(key, 0.0) + shapely.Polygon([p[:2] for p in entity.get_points()]).area
    assert found == pytest.approx(areas_by_library(), rel=1e-3)


def test_svg_outlines_have_the_areas_of_the_sections(cut):
    root = ElementTree.fromstring(lines_out.svg(cut, "A hull & its lines"))
    space = "{http://www.w3.org/2000/svg}"
    assert root.get("width").endswith("mm")
    found = {}
    for group in root.iter(f"{space}g"):
        for path in group.iter(f"{space}path"):
            points = np.array([float(v) for v in re.findall(r"-?\d+\.\d+", path.get("d"))]).reshape(-1, 2)
            key = (group.get("id").upper(), round(float(path.get("data-at-mm")), 3))
            found[key] = found.get(key, 0.0) + shapely.Polygon(points).area
    assert found == pytest.approx(areas_by_library(), rel=1e-3)


def test_a_table_survives_csv():
    table = Offsets()
    again = offsets_csv.read(offsets_csv.write(table), "f", 0.0254)
    assert again.lines == table.lines
    for a, b in zip(again.stations, table.stations, strict=True):
        assert (a.x_m, *a.half_breadths_m, *a.heights_m) == pytest.approx((b.x_m, *b.half_breadths_m, *b.heights_m), abs=1e-9)
    changed = dataclasses.replace(table, changes=(Change("wider", 0.18, 0, 4),))
    assert (
        offsets_csv.read(offsets_csv.write(changed), "f", 0.001).stations
        == offsets_csv.read(offsets_csv.write(changed.changed()), "f", 0.001).stations
    )


@pytest.mark.parametrize(
    ("text", "shown"),
    [
        ("0\t0\t10\t30\t40\n100\t0\t0\t40\t50\n200\t0\t5\t20\t45\n", 0.01),  # from a spreadsheet, in centimetres
        ("0;0;10;30;40\n100;0;0;40;50\n200;0;5;20;45", 0.01),
        ("0,0,10,30,40\n100,0,0,40,50\n200,0,5,20,45\n\n", 0.01),
        ("x (cm),keel,keel,sheer,sheer\n0,0,10,30,40\n100,0,0,40,50\n200,0,5,20,45\n", 1.0),
        ("0;0;10,0;30;40\n100;0;0,0;40;50\n200;0;5,0;20;45", 0.01),  # decimal commas
    ],
)
def test_rows_as_spreadsheets_paste_them(text, shown):
    table = offsets_csv.read(text, "f", shown)
    assert [s.x_m for s in table.stations] == pytest.approx([0.0, 1.0, 2.0])
    assert table.stations[1].half_breadths_m == pytest.approx((0.0, 0.4))
    assert table.stations[2].heights_m == pytest.approx((0.05, 0.45))
    assert len(table.lines) == 2


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "Paste one row a station"),
        ("0\t0\t10\t30\n", "Row 1 has 4 numbers"),
        ("0\t0\t10\t30\tforty\n1\t0\t1\t2\t3\n", "is not a number"),
        ("0\t0\t1\t2\t3\n1\t0\t1\t2\t3\t4\t5\n", "as many numbers as the first"),
        ("0\t0\t9\t2\t3\n1\t0\t1\t2\t3\n", "heights must rise"),
        ("9" * 70_000, "far more than"),
    ],
)
def test_rows_that_cannot_be_used_are_refused(text, words):
    with pytest.raises(InvalidInput, match=words):
        offsets_csv.read(text, "f", 0.01)


def test_a_lifted_table_holds_what_the_hull_holds():
    for mesh in (HULL, wigley_table().build(2), box(1.0, 0.4, 0.2)):
        assert table_of(mesh).build(2).volume == pytest.approx(mesh.volume, rel=0.03)
    with pytest.raises(InvalidInput, match="cannot describe"):
        table_of(TwinHull().build())


def boat_with_mesh():
    mesh = box(0.9, 0.3, 0.15)
    shape = MeshFile("hull.ply", "m", mesh=mesh)
    return Design("Reed punt", bodies=(Body("hull", shape), Body("fin", Box(0.1, 0.02, 0.05), (0.2, 0.0, -0.05), role="appendage"))), mesh


def test_a_boat_travels_with_its_meshes():
    design, mesh = boat_with_mesh()
    data = bundle.pack(design, lambda name: mesh_out.write(mesh, "ply", per_metre=1.0), bytes)
    again, _ = bundle.unpack(data)
    assert again.name == "Reed punt"
    assert Craft(again).hull.mesh.volume == pytest.approx(Craft(design).hull.mesh.volume, rel=1e-6)
    assert data == bundle.pack(design, lambda name: mesh_out.write(mesh, "ply", per_metre=1.0), bytes)


@pytest.mark.parametrize("data", [b"PK\x03\x04", b"", b"PK\x05\x06" + b"\0" * 18])
def test_a_broken_zip_is_one_sentence(data):
    with pytest.raises(InvalidInput) as caught:
        bundle.unpack(data)
    assert str(caught.value).endswith(".")
