"""Every family is closed and right side out at every allowed parameter; sums by hand where there are any."""

import dataclasses
import math

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from tools.fuzz import examples
from yarekeel.core.errors import InvalidInput, InvalidMesh
from yarekeel.core.geometry.checks import check_closed, open_edges
from yarekeel.core.geometry.crossings import crossing_faces
from yarekeel.core.geometry.edges import silhouette
from yarekeel.core.geometry.families import FAMILIES, Box, FlatBottom, MeshFile, Offsets, RoundBilge, TwinHull, Vee
from yarekeel.core.geometry.families.pipe_raft import PipeRaft
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.union import united
from yarekeel.core.parameters import parameters_of
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.design.resizing import scaled

LOFTED = [RoundBilge, Vee, FlatBottom, TwinHull]
PARAMETRIC = [f for f in FAMILIES.values() if f not in (MeshFile, Offsets, Box)]


def drawn(family, data):
    """Values for every parameter, anywhere in its range (lengths to 3 m)."""
    values = {}
    for p in parameters_of(family):
        if p.kind == "choice":
            values[p.name] = data.draw(st.sampled_from([code for code, _ in p.choices]), label=p.name)
        elif p.kind == "count":
            values[p.name] = data.draw(st.integers(int(p.low), int(p.high)), label=p.name)
        else:
            values[p.name] = data.draw(st.floats(p.low, min(p.high, 3.0) if p.kind == "length" else p.high), label=p.name)
    return values


@pytest.mark.parametrize("family", PARAMETRIC)
@examples(60)
@given(data=st.data())
def test_closed_at_every_allowed_parameter(family, data):
    values = drawn(family, data)
    try:
        shape = family(**values)
    except InvalidInput as refused:
        assert refused.field in values  # the refusal names a field of its own
        return
    mesh = shape.build()
    assert len(open_edges(mesh.faces)) == 0
    assert mesh.volume > 0
    assert len(crossing_faces(mesh)) == 0
    solid = trimesh.Trimesh(mesh.vertices, mesh.faces, process=False)
    assert mesh.volume == pytest.approx(solid.volume, rel=1e-9)
    assert mesh.area == pytest.approx(solid.area, rel=1e-9)
    assert mesh.centroid == pytest.approx(solid.center_mass, rel=1e-6, abs=1e-6 * mesh.length)


@pytest.mark.parametrize("family", LOFTED)
def test_port_is_the_mirror_of_starboard(family):
    mesh = family().build()
    mirrored = {tuple(v) for v in np.round(mesh.vertices * [1, -1, 1], 9) + 0.0}
    assert mirrored == {tuple(v) for v in np.round(mesh.vertices, 9) + 0.0}


def test_straight_flat_bottom_by_hand():
    # No rocker, no sheer, no rake, square ends, no flare: a box with a parabolic plan.
    # Plan aft of 0.45 L: 1 - (1 - s) a^2 over a in 0..1 has mean 1 - (1 - s)/3; forward 1 - (1 - b) f^p has mean 1 - (1 - b)/(p + 1).
    shape = FlatBottom(2.0, 1.0, 0.4, 0.0, 0.0, 0.0, 0.0, stern_width=0.7, bow_width=0.4, bow_fineness=0.0, stem_rake_m=0.0)
    plan = 2.0 * 1.0 * (0.45 * (1 - 0.3 / 3) + 0.55 * (1 - 0.6 / 5.0))
    assert shape.build(2).volume == pytest.approx(plan * 0.4, rel=1e-3)


def test_vee_section_by_hand():
    # A prism as nearly as the family allows: volume over plan area is the mean depth of the section.
    shape = Vee(2.0, 0.5, 0.3, 20.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, stern_width=1.0, bow_fineness=0.0, stem_rake_m=0.0)
    rise = 0.25 * math.tan(math.radians(20))
    _, high = shape.build().bounds
    assert high[2] == pytest.approx(0.3)
    _, pieces, _ = Hull(shape.build(2)).stations[3]
    sides = [p for p in pieces.reshape(-1, 3) if abs(p[1] - 0.25) < 1e-3]
    assert min(p[2] for p in sides) == pytest.approx(rise, abs=2e-3)  # the chine lies at half the beam times tan(deadrise)


def test_half_round_prism_by_hand():
    # Bilge radius half the beam and as deep: a half-round trough with the plan's parabola taken out of the ends only.
    shape = RoundBilge(2.0, 0.4, 0.4, 0.2, 0.0, 0.0, 0.0, stern_width=1.0, bow_fineness=0.0, stem_rake_m=0.0)
    _, pieces, _ = Hull(shape.build(2)).stations[2]
    # Half disc of radius 0.2 under a rectangle 0.4 x 0.2, within the arc's facets.
    assert _area_of_section(pieces) == pytest.approx(math.pi * 0.2**2 / 2 + 0.4 * 0.2, rel=3e-3)


def _area_of_section(pieces: np.ndarray) -> float:
    """Area inside unordered segments of a closed outline, as the deck's height less the bottom's, summed over the width."""
    total = 0.0
    for (_, y0, z0), (_, y1, z1) in pieces:
        top = (z0 + z1) / 2 > 0.4 - 1e-9
        total += (1 if top else -1) * abs(y1 - y0) * (z0 + z1) / 2
    return total


def test_twin_hull_is_two_hulls_and_a_bridge():
    twin = TwinHull()
    one = RoundBilge(
        twin.length_m,
        twin.hull_beam_m,
        twin.depth_m,
        twin.bilge_radius_m,
        twin.rocker_bow_m,
        twin.rocker_stern_m,
        0.0,
        twin.stern_width,
        twin.bow_fineness,
        twin.stem_rake_m,
    )
    bridge = twin.bridge_length_m * twin.hull_spacing_m * twin.bridge_thickness_m
    assert twin.build().volume == pytest.approx(2 * one.build().volume + bridge, rel=1e-12)


def test_scaling_lengths_volumes_and_areas():
    for family in [*LOFTED, Box]:
        design = Design("x", bodies=(Body("hull", family()),))
        larger = scaled(design, 1.2).bodies[0].shape.build()
        mesh = family().build()
        assert larger.volume == pytest.approx(1.728 * mesh.volume, rel=1e-9)  # 1.2 cubed, handbook arithmetic
        assert larger.area == pytest.approx(1.44 * mesh.area, rel=1e-9)


def test_least_freeboard_of_a_heeled_box_is_its_low_corner():
    from yarekeel.core.geometry.attitude import Attitude

    hull = Hull(Box(1.0, 0.4, 0.2).build())
    heel = math.radians(10)
    free, at = hull.least_freeboard(Attitude(heel, 0.0, -0.05))
    assert free == pytest.approx(-0.05 + 0.2 * math.cos(heel) - 0.2 * math.sin(heel), rel=1e-12)
    assert at[1:] == pytest.approx((-0.2, 0.2))


def test_union_counts_an_overlap_once():
    one, two = Box(1.0, 0.4, 0.2).build(), Box(1.0, 0.4, 0.2).build().moved((0.5, 0.0, 0.0))
    assert united([one, two]).volume == pytest.approx(1.5 * 0.4 * 0.2, rel=1e-9)


def test_outline_from_starboard_encloses_the_profile():
    mesh = Box(1.0, 0.4, 0.2).build()
    hull = Hull(mesh)
    loops, seen = silhouette(hull.edges, (0.0, -1.0, 0.0))
    assert seen.sum() == 2
    x, z = mesh.vertices[loops[0]][:, 0], mesh.vertices[loops[0]][:, 2]
    assert abs(np.sum(x * np.roll(z, -1) - np.roll(x, -1) * z) / 2) == pytest.approx(0.2)


@pytest.mark.parametrize(
    ("faces", "words"),
    [(lambda f: f[:-1], "not closed"), (lambda f: f[:0], "no triangles"), (lambda f: np.vstack([f[:1, ::-1], f[1:]]), "not closed")],
)
def test_bad_meshes_are_refused_in_a_sentence(faces, words):
    good = Box(1.0, 0.4, 0.2).build()
    with pytest.raises(InvalidMesh, match=words):
        check_closed(Mesh(good.vertices, faces(good.faces)), "hull")


def test_inside_out_is_turned():
    good = Box(1.0, 0.4, 0.2).build()
    assert check_closed(Mesh(good.vertices, good.faces[:, ::-1]), "hull").volume == pytest.approx(0.08)


def test_each_family_names_itself_and_its_parameters():
    for kind, family in FAMILIES.items():
        assert family.kind == kind
        if family not in (MeshFile, Offsets):
            shape = family()
            assert {p.name for p in parameters_of(shape)} == {f.name for f in dataclasses.fields(shape)}


def test_every_parameter_says_why_its_range_ends():
    for family in PARAMETRIC:
        for p in parameters_of(family):
            if p.kind == "choice":
                assert len(p.choices) > 1
            else:
                assert p.why_low, (family.kind, p.name)
                assert p.why_high, (family.kind, p.name)


def test_the_reason_is_said_when_a_range_is_left():
    with pytest.raises(InvalidInput, match=r"between 0 and 60° \(steeper is a side, not a bottom\)"):
        Vee(deadrise_deg=70.0)
    with pytest.raises(InvalidInput, match="whole number"):
        PipeRaft(pipes=2.5)
    with pytest.raises(InvalidInput, match="one of: flat, domed"):
        PipeRaft(ends="round")
