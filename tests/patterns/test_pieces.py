"""Pieces for a printer: closed, on the bed, adding up to the hull; pins that fit. Read again from what is written."""

import io
import math
from itertools import pairwise

import numpy as np
import pytest
import trimesh

from tests.bodies import box, spheroid
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.union import solid_of
from yarekeel.core.patterns import pieces
from yarekeel.core.patterns.pieces import Bed, pieces_of, stations_for
from yarekeel.demo.boats import dabchick, reedwarden, wagtail
from yarekeel.exchange import mesh_out
from yarekeel.stages.design.craft import Craft

BED = Bed(0.22, 0.22, 0.25)


def hull(boat):
    craft = Craft(boat())
    return craft.piece(craft.design.main_hull)


CASES = [
    (lambda: hull(reedwarden), BED, 0.0),
    (lambda: hull(reedwarden), BED, 0.0016),
    (lambda: hull(dabchick), BED, 0.002),
    (lambda: hull(wagtail), Bed(1.3, 0.7, 0.6, pin=0.02, deep=0.03), 0.0),
    (lambda: spheroid(0.5, 0.09, 0.08, 40, 30), BED, 0.003),
]


@pytest.mark.parametrize(("body", "bed", "wall"), CASES)
def test_pieces_are_closed_fit_the_bed_and_add_up(body, bed, wall):
    mesh = body()
    found = pieces_of(mesh, bed, wall=wall)
    total = 0.0
    for p in found.pieces:
        solid = trimesh.load(io.BytesIO(mesh_out.write(p.standing, "stl")), file_type="stl")
        assert solid.is_watertight
        assert solid.volume * 1e-9 == pytest.approx(p.volume, rel=1e-5)
        x, y, z = solid.extents / 1000
        assert z <= bed.height + 1e-6
        assert max(x, y) <= max(bed.length, bed.width) + 1e-6
        assert min(x, y) <= min(bed.length, bed.width) + 1e-6
        assert abs(float(solid.bounds[0][2])) < 1e-4
        flat = solid.area_faces[(solid.triangles_center[:, 2] < 1e-3) & (solid.face_normals[:, 2] < -0.999)].sum()
        assert flat > 10  # mm2: it stands on a face
        total += p.volume + p.holes - p.bosses
    assert total == pytest.approx(found.whole, rel=1e-6)
    if wall == 0:
        assert found.whole == pytest.approx(abs(mesh.volume), rel=1e-9)
    else:
        assert found.whole == pytest.approx(wall * mesh.area, rel=0.12)
    ends = [float(mesh.bounds[0][0]), *found.stations, float(mesh.bounds[1][0])]
    assert max(b - a for a, b in pairwise(ends)) <= bed.height + 1e-9


@pytest.mark.parametrize(("body", "bed", "wall"), CASES[:4])
def test_pins_fit_their_holes_with_the_clearance(body, bed, wall):
    """A pin where it goes touches nothing; one thicker by a little more than the clearance does; both faces have their half of the hole."""
    found = pieces_of(body(), bed, wall=wall)
    assert len(found.joints) >= 2
    parts = [solid_of(p.mesh) for p in found.pieces]
    taken = sum(p.holes for p in found.pieces)
    ring = pieces.ROUND / 2 * math.sin(2 * math.pi / pieces.ROUND)  # of a polygon of so many sides, over the square of its radius
    radius = bed.pin / 2 + bed.clearance
    assert taken == pytest.approx(len(found.joints) * ring * radius**2 * 2 * (bed.deep + bed.clearance), rel=1e-6)
    for joint in found.joints:
        pin = pieces._along(joint, bed.deep, bed.pin / 2)
        assert sum(float((pin ^ p).volume()) for p in parts) < 1e-15
        thick = pieces._along(joint, bed.deep, bed.pin / 2 + 1.1 * bed.clearance)
        assert sum(float((thick ^ p).volume()) > 0 for p in parts) == 2
    made = trimesh.load(io.BytesIO(mesh_out.write(found.pin, "stl")), file_type="stl")
    assert sorted(made.extents.round(3)) == pytest.approx(sorted([1000 * bed.pin, 1000 * bed.pin, 2000 * bed.deep]), abs=0.02)


def test_cuts_keep_clear_of_what_must_stay_whole():
    """A metre in lengths of at most 0.3: four, cut at 0.25, 0.5, 0.75; a hatch from 0.45 to 0.56 moves the middle one to its nearer end."""
    assert stations_for(0.0, 1.0, 0.3) == pytest.approx((0.25, 0.5, 0.75))
    assert stations_for(0.0, 1.0, 0.3, ((0.45, 0.56),)) == pytest.approx((0.25, 0.45, 0.75))
    assert stations_for(0.0, 1.0, 1.0) == ()
    with pytest.raises(InvalidInput, match="stay whole"):
        stations_for(0.0, 1.0, 0.3, ((0.1, 0.9),))
    found = pieces_of(box(1.0, 0.1, 0.1), Bed(0.2, 0.2, 0.3), stations=(0.3, 0.6, 0.8))
    assert found.stations == (0.3, 0.6, 0.8)
    assert [round(p.volume + p.holes, 9) for p in found.pieces] == [0.003, 0.003, 0.002, 0.002]


@pytest.mark.parametrize(
    ("bed", "how", "words"),
    [
        (Bed(0.05, 0.05, 0.3), {}, "larger than the bed"),
        (Bed(0.2, 0.2, 0.001), {}, "more than 120 pieces"),
        (Bed(0.2, 0.2, 0.0), {}, "more than nothing"),
        (BED, {"wall": 0.06}, "thicker than the hull"),
        (BED, {"stations": (1.5,)}, "within the hull"),
        (Bed(0.2, 0.2, 0.1), {"stations": (0.5,)}, "larger than the bed"),
    ],
)
def test_what_cannot_be_is_a_sentence(bed, how, words):
    with pytest.raises(InvalidInput, match=words):
        pieces_of(box(1.0, 0.1, 0.1), bed, **how)


def test_a_hull_wider_than_the_bed_is_cut_along_the_middle():
    found = pieces_of(box(0.4, 0.3, 0.1), Bed(0.2, 0.2, 0.25))
    assert len(found.pieces) == 4
    assert {j.axis for j in found.joints} == {0, 1}
    along = [j for j in found.joints if j.axis == 1]
    assert all(j.at[1] == 0 for j in along)
    assert all(abs(j.at[0] - 0.2) > 0.008 for j in along)
    assert all(float(np.ptp(p.mesh.bounds, axis=0)[1]) == pytest.approx(0.15) for p in found.pieces)
