"""Bodies united: overlaps, faces and edges in contact, one within another, placed, turned, mirrored, stretched; and crossings."""

import math

import manifold3d
import numpy as np
import pytest
import trimesh

from tests.bodies import box, spheroid, tube
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.crossings import crossing_faces
from yarekeel.core.geometry.families import Box, Vee
from yarekeel.core.geometry.families.strut import Strut
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Mesh, joined, without_folds
from yarekeel.core.geometry.placing import mirrored, placed, righted
from yarekeel.core.geometry.sections import area_of, outlines
from yarekeel.core.geometry.union import simplified, united, without
from yarekeel.core.hydrostatics.form import station_figures
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.shape import shape

CASES = [
    ("overlap", (0.5, 0.1, 0.05), 2 * 0.08 - 0.5 * 0.3 * 0.15),
    ("faces in one plane", (1.0, 0.0, 0.0), 0.16),
    ("edges in contact", (1.0, 0.4, 0.0), 0.16),
    ("corners in contact", (1.0, 0.4, 0.2), 0.16),
    ("the same twice", (0.0, 0.0, 0.0), 0.08),
    ("a face half covered", (1.0, 0.2, 0.0), 0.16),
]


@pytest.mark.parametrize(("name", "offset", "volume"), CASES, ids=[c[0] for c in CASES])
def test_two_boxes_in_every_kind_of_contact(name, offset, volume):
    both = united([box(1.0, 0.4, 0.2), box(1.0, 0.4, 0.2).moved(offset)])
    assert both.volume == pytest.approx(volume, rel=1e-9)
    assert trimesh.Trimesh(both.vertices, both.faces, process=False).volume == pytest.approx(volume, rel=1e-9)


def test_a_body_inside_another_counts_for_nothing():
    assert united([box(1.0, 0.4, 0.2), box(0.3, 0.1, 0.05).moved((0.3, 0.0, 0.05))]).volume == pytest.approx(0.08, rel=1e-9)


def test_what_is_cut_out_is_gone():
    assert without(box(1.0, 0.4, 0.2), [box(0.5, 0.2, 0.4).moved((0.25, 0.0, -0.1))]).volume == pytest.approx(
        0.08 - 0.5 * 0.2 * 0.2, rel=1e-9
    )


def vee_with_strips():
    strip = Body("strip", Box(0.7, 0.05, 0.03), (0.1, 0.14, 0.04), mirrored=True, role="float")
    return Design("d", bodies=(Body("hull", Vee()), strip), weights=(WeightItem("all", 4.0, (0.45, 0.0, 0.09), "weighed"),))


def test_strips_glued_on_a_hull_count_once():
    design = vee_with_strips()
    hull, strip = Vee().build(), box(0.7, 0.05, 0.03).moved((0.1, 0.14, 0.04))
    solids = [
        manifold3d.Manifold(manifold3d.Mesh64(np.array(m.vertices), np.array(m.faces, dtype=np.uint64)))
        for m in (hull, strip, mirrored(strip))
    ]
    by_library = (solids[0] + solids[1] + solids[2]).volume()
    mesh = Craft(design).hull.mesh
    assert mesh.volume == pytest.approx(by_library, rel=1e-9)
    assert mesh.volume < hull.volume + 2 * strip.volume
    assert any(f.code == "shape.overlap" for f in shape.assess(Craft(design)).findings)


def test_strips_at_the_waterline_raise_gm():
    with_strips = Craft(vee_with_strips())
    bare = Craft(Design("d", bodies=(Body("hull", Vee()),), weights=with_strips.design.weights))
    assert afloat.assess(with_strips).afloat.gm_transverse > afloat.assess(bare).afloat.gm_transverse


def test_scale_along_each_axis():
    body = Body("b", Box(1.0, 0.4, 0.2), scale=(2.0, 0.5, 3.0))
    assert Craft(Design("d", bodies=(body,))).hull.mesh.volume == pytest.approx(0.08 * 3.0, rel=1e-12)
    even = Body("b", Vee(), scale=(1.2, 1.2, 1.2))
    mesh, plain = Craft(Design("d", bodies=(even,))).hull.mesh, Vee().build()
    assert mesh.volume == pytest.approx(1.728 * plain.volume, rel=1e-9)  # lengths by 1.2: volume 1.728, area 1.44
    assert mesh.area == pytest.approx(1.44 * plain.area, rel=1e-9)


def test_turns_follow_the_words():
    point = Mesh(np.array([[0.0, 1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]]), np.array([[0, 1, 2]]))
    port, bow, _ = placed(point, (0.0, 0.0, 0.0), (10.0, 0.0, 0.0)).vertices
    assert port[2] == pytest.approx(math.sin(math.radians(10)))  # roll lifts the port side
    assert bow == pytest.approx((1.0, 0.0, 0.0))
    assert placed(point, (0.0, 0.0, 0.0), (0.0, 10.0, 0.0)).vertices[1][2] == pytest.approx(
        -math.sin(math.radians(10))
    )  # pitch lowers the bow
    assert placed(point, (0.0, 0.0, 0.0), (0.0, 0.0, 10.0)).vertices[1][1] == pytest.approx(
        math.sin(math.radians(10))
    )  # yaw takes the bow to port


def test_turns_agree_with_a_general_library():
    angles = (12.0, -7.0, 31.0)
    turn = trimesh.transformations.euler_matrix(*np.radians(angles), axes="sxyz")[:3, :3]
    mesh = placed(box(1.0, 0.4, 0.2), (0.1, 0.2, 0.3), angles)
    assert mesh.vertices == pytest.approx(box(1.0, 0.4, 0.2).vertices @ turn.T + [0.1, 0.2, 0.3])
    assert mesh.volume == pytest.approx(0.08)


def test_any_hull_as_a_pair_or_with_floats():
    twin = Design("d", bodies=(Body("hull", Vee(), (0.0, 0.4, 0.0), mirrored=True),))
    assert Craft(twin).hull.mesh.volume == pytest.approx(2 * Vee().build().volume, rel=1e-9)
    assert Craft(twin).hull.mesh.volume == pytest.approx(Craft(twin).piece(0).volume)


@pytest.mark.parametrize(("forward", "up"), [("+x", "+z"), ("-y", "+x"), ("+z", "-y"), ("-x", "-z")])
def test_a_mesh_is_righted(forward, up):
    from yarekeel.core.geometry.placing import axis

    corner = Mesh(np.array([axis(forward), axis(up)]), np.zeros((0, 3), dtype=int))
    assert righted(corner, forward, up).vertices == pytest.approx(np.array([[1, 0, 0], [0, 0, 1]]))
    assert righted(box(1.0, 0.4, 0.2), forward, up).volume == pytest.approx(0.08)


def test_forward_and_up_must_differ():
    with pytest.raises(InvalidInput, match="two different axes"):
        righted(box(1.0, 0.4, 0.2), "+x", "-x")
    with pytest.raises(InvalidInput, match="one of"):
        righted(box(1.0, 0.4, 0.2), "ahead", "+z")


def test_roles():
    fairing = Body("nose", Box(0.2, 0.4, 0.2), (1.0, 0.0, 0.0), role="fairing")
    design = Design("d", bodies=(Body("hull", Box(1.0, 0.4, 0.2)), fairing))
    craft = Craft(design)
    assert craft.hull.mesh.volume == pytest.approx(0.08)  # a fairing displaces nothing
    assert craft.shown.mesh.volume == pytest.approx(0.096)  # but is drawn
    hidden = Craft(
        Design("d", bodies=(Body("hull", Box(1.0, 0.4, 0.2)), Body("fin", Strut(), (0.0, 0.0, -0.1), role="appendage", hidden=True)))
    )
    assert hidden.shown.mesh.volume == pytest.approx(0.08)
    assert hidden.hull.mesh.volume > 0.08
    with pytest.raises(InvalidInput, match="fairing"):
        Craft(Design("d", bodies=(fairing,))).hull  # noqa: B018


def test_only_hulls_have_a_sheer():
    low = Body("float", Box(1.0, 0.1, 0.05), (0.0, 0.4, 0.0), mirrored=True, role="float")
    hull = Craft(Design("d", bodies=(Body("hull", Box(1.0, 0.4, 0.2)), low))).hull
    assert hull.rim[:, 2].min() == pytest.approx(0.2)


@pytest.mark.parametrize(
    "bad", [{"scale": (0.0, 1.0, 1.0)}, {"at_m": (float("nan"), 0.0, 0.0)}, {"turn_deg": (400.0, 0.0, 0.0)}, {"name": " "}]
)
def test_bad_places_are_refused(bad):
    with pytest.raises(InvalidInput):
        Body(**{"name": "b", "shape": Box(), **bad})


def test_crossings_are_found_and_touches_are_not():
    one = box(1.0, 0.4, 0.2)
    assert len(crossing_faces(joined([one, one.moved((0.5, 0.1, 0.05))]))) > 0
    assert len(crossing_faces(joined([one, one.moved((1.0, 0.0, 0.0))]))) == 0
    assert len(crossing_faces(joined([one, box(0.2, 0.1, 0.05).moved((0.3, 0.0, 0.05))]))) == 0  # a shell within does not cross
    assert len(crossing_faces(joined([tube(1.0, 0.1), tube(1.0, 0.1).moved((0.2, 0.15, 0.0))]))) > 0
    assert len(crossing_faces(spheroid(1.0, 0.3, 0.2))) == 0


def test_one_pushed_in_corner_crosses():
    ball = spheroid(1.0, 1.0, 1.0)
    pushed = ball.vertices.copy()
    pushed[len(pushed) // 2] *= -1.5
    assert len(crossing_faces(Mesh(pushed, ball.faces))) > 0


def test_crossings_agree_with_brute_force():
    rng = np.random.default_rng(7)
    for _ in range(20):
        vertices = rng.random((60, 3))
        mesh = Mesh(vertices, np.arange(60).reshape(20, 3))
        found = set(crossing_faces(mesh, most=10_000).tolist())
        expected = set()
        for i in range(20):
            for j in range(20):
                if i != j and _edge_through(mesh.corners[i], mesh.corners[j]):
                    expected |= {i, j}
        assert found == expected


def _edge_through(tri, other):
    """Whether an edge of ``tri`` passes through ``other``: barycentric solution of p + t d = a + u e1 + v e2 (linear algebra)."""
    for k in range(3):
        p, d = tri[k], tri[(k + 1) % 3] - tri[k]
        t, u, v = np.linalg.solve(np.column_stack([-d, other[1] - other[0], other[2] - other[0]]), p - other[0])
        if 0 < t < 1 and u > 0 and v > 0 and u + v < 1:
            return True
    return False


def test_folds_that_enclose_nothing_are_dropped():
    one = box(1.0, 0.4, 0.2)
    fold = np.array([[0, 1, 2], [0, 2, 1]])
    assert len(without_folds(Mesh(one.vertices, np.vstack([one.faces, fold]))).faces) == 12


def test_simplifying_keeps_it_closed_and_nearly_the_same():
    fine = spheroid(1.0, 0.3, 0.3, 200, 100)
    coarse = simplified(fine, 0.002)
    assert len(coarse.faces) < len(fine.faces) / 4
    assert coarse.volume == pytest.approx(fine.volume, rel=0.02)


def test_outlines_have_the_area_of_what_they_cut():
    assert sum(area_of(o, 0) for o in outlines(box(1.0, 0.4, 0.2), 0, 0.3)) == pytest.approx(0.08)
    assert sum(area_of(o, 2) for o in outlines(box(1.0, 0.4, 0.2), 2, 0.1)) == pytest.approx(0.4)
    pierced = without(box(1.0, 0.4, 0.2), [box(0.5, 0.2, 0.4).moved((0.25, 0.0, -0.1))])
    assert sum(area_of(o, 2) for o in outlines(pierced, 2, 0.1)) == pytest.approx(0.4 - 0.1)  # the hole runs the other way
    assert len(outlines(pierced, 2, 0.1)) == 2


def test_a_section_under_an_inclined_surface_by_hand():
    hull, middle = Hull(box(1.0, 0.4, 0.2)), np.array([0.5, 0.0, 0.1])

    def through_the_middle(heel, trim):
        up = np.array(Attitude(heel, trim, 0.0).up)
        return Attitude(heel, trim, -float(up @ middle))

    # A plane through the middle of a rectangle halves it, however it is turned.
    for heel in (0.0, 0.3, 1.2):
        assert station_figures(hull, 0.5, through_the_middle(heel, 0.0)).under_water == pytest.approx(0.04, rel=1e-9)
    # Bow up by 10 degrees: a tenth of a metre ahead of the middle the surface lies 0.1 tan 10 lower in the boat.
    lower = 0.1 * math.tan(math.radians(10))
    assert station_figures(hull, 0.6, through_the_middle(0.0, math.radians(10))).under_water == pytest.approx(0.4 * (0.1 - lower), rel=1e-9)
    figures = station_figures(hull, 0.6, None)
    assert (figures.from_aft, figures.width, figures.depth, figures.under_water) == (
        pytest.approx(0.6),
        pytest.approx(0.4),
        pytest.approx(0.2),
        None,
    )
