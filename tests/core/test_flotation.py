"""The kernel against closed forms, a general mesh library, and itself turned over."""

import math

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from tests.bodies import box, spheroid, tube, wigley
from tools.fuzz import examples
from yarekeel.core.geometry import flotation
from yarekeel.core.geometry.attitude import Attitude, rotation
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.mesh import Mesh


def at(mesh: Mesh, heel_deg: float, trim_deg: float, origin_height: float):
    """(kernel, immersed, centre of buoyancy in boat axes)."""
    kernel = Flotation(mesh)
    attitude = Attitude(math.radians(heel_deg), math.radians(trim_deg), origin_height)
    rows = np.array(attitude.rows)
    d = -attitude.height_of(kernel.centre)
    m = kernel.evaluate(attitude.rows, d)
    world = np.array([m.mx, m.my, m.mz]) / m.volume
    return kernel, m, np.array(kernel.centre) + d * rows[2] + world @ rows


def test_box_upright_is_a_box():
    _, m, b = at(box(2.0, 0.6, 0.5), 0, 0, -0.2)
    assert m.volume == pytest.approx(2 * 0.6 * 0.2, rel=1e-12)
    assert b == pytest.approx([1.0, 0.0, 0.1], abs=1e-12)
    assert m.area == pytest.approx(1.2, rel=1e-12)
    assert m.syy == pytest.approx(2 * 0.6**3 / 12, rel=1e-12)
    assert m.sxx == pytest.approx(0.6 * 2**3 / 12, rel=1e-12)


def test_box_heeled_until_a_triangle_is_left():
    # At 45 deg with the surface through the lower corner's diagonal the wet part is a right-angled prism: by geometry.
    side = 0.4
    _, m, b = at(box(1.0, side, side), 45, 0, -0.0)
    # starboard edge at depth (side/2) sin45; legs along bottom and side, each that depth over sin45.
    leg = side / 2
    assert m.volume == pytest.approx(leg * leg / 2, rel=1e-12)
    assert b == pytest.approx([0.5, -side / 2 + leg / 3, leg / 3], rel=1e-12)
    assert m.area == pytest.approx(leg * math.sqrt(2), rel=1e-12)


def test_box_trimmed_until_the_deck_is_under():
    length, beam, depth, trim = 1.0, 0.3, 0.2, 30.0
    t = math.radians(trim)
    # Stern corner of the deck (0, depth) under: the dry part is a triangle at the bow top corner, by geometry.
    height = -0.25
    _, m, _ = at(box(length, beam, depth), 0, trim, height)
    bow_top = height + length * math.sin(t) + depth * math.cos(t)
    bow_bottom = height + length * math.sin(t)
    stern_top = height + depth * math.cos(t)
    assert stern_top < 0 < bow_bottom  # the case meant
    top = -stern_top / math.sin(t)  # along the deck from aft to the surface
    bottom = -height / math.sin(t)
    assert m.volume == pytest.approx(beam * depth * (top + bottom) / 2, rel=1e-12)
    assert bow_top > 0


def test_half_sunk_log_and_ball_within_their_facets():
    r, sides = 0.2, 96
    _, m, b = at(tube(1.0, r, sides), 0, 0, 0.0)
    facets = (2 * math.pi / sides) ** 2  # order of a polygon's error in area
    assert m.volume == pytest.approx(math.pi * r * r / 2, rel=facets)
    assert b[2] == pytest.approx(-4 * r / (3 * math.pi), rel=facets)
    assert m.area == pytest.approx(2 * r, rel=1e-12)
    _, m, b = at(spheroid(0.3, 0.3, 0.3, 96, 48), 20, 10, 0.0)
    assert m.volume == pytest.approx(2 / 3 * math.pi * 0.3**3, rel=4e-3)
    assert np.linalg.norm(b) == pytest.approx(3 / 8 * 0.3, rel=4e-3)


def test_wigley_hull_has_its_coefficients():
    # Cb 4/9, Cwp 2/3, Cm 2/3: integrals of the parabolas that define it.
    length, beam, draft = 1.0, 0.2, 0.1
    mesh = wigley(length, beam, draft, 120, 40)
    assert mesh.volume / (length * beam * draft) == pytest.approx(4 / 9, rel=1e-3)
    _, m, _ = at(mesh, 0, 0, -draft * (1 - 1e-9))
    assert m.area / (length * beam) == pytest.approx(2 / 3, rel=1e-3)


def test_two_boxes_apart_add_by_parallel_axes():
    from yarekeel.core.geometry.mesh import joined

    hull, off = box(1.0, 0.1, 0.2), 0.4
    twin = joined([hull.moved((0, off, 0)), hull.moved((0, -off, 0))])
    _, m, _ = at(twin, 0, 0, -0.1)
    assert m.syy == pytest.approx(2 * (1.0 * 0.1**3 / 12 + 0.1 * off**2), rel=1e-12)


def random_mesh(seed: int) -> Mesh:
    """A lumpy star-shaped body, closed by construction."""
    rng = np.random.default_rng(seed)
    ball = spheroid(rng.uniform(0.3, 2), rng.uniform(0.1, 1), rng.uniform(0.1, 1), 14, 9)
    return Mesh(ball.vertices * rng.uniform(0.6, 1.3, (len(ball.vertices), 1)) + rng.uniform(-3, 3, 3), ball.faces)


@examples(150)
@given(st.integers(0, 10**6), st.floats(-math.pi, math.pi), st.floats(-1.5, 1.5), st.floats(-1, 1), st.booleans())
def test_below_plus_above_is_the_whole(seed, heel, trim, share, blocks):
    """Volume, moments and waterplane seen from both sides of the plane, by both paths of the kernel."""
    mesh = random_mesh(seed)
    saved = flotation.BLOCK_FROM
    flotation.BLOCK_FROM = 1 if blocks else 10**9
    try:
        kernel = Flotation(mesh)
    finally:
        flotation.BLOCK_FROM = saved
    rows = rotation(heel, trim)
    d = share * kernel.half_extent
    below = kernel.evaluate(rows, d)
    turned = (rows[0], tuple(-v for v in rows[1]), tuple(-v for v in rows[2]))
    above = kernel.evaluate(turned, -d)
    total, size = mesh.volume, kernel.half_extent
    assert below.volume + above.volume == pytest.approx(total, rel=1e-9)
    assert below.area == pytest.approx(above.area, abs=1e-9 * size**2)
    assert below.syy == pytest.approx(above.syy, abs=1e-9 * size**4)
    solid = trimesh.Trimesh(mesh.vertices, mesh.faces, process=False)
    offset = np.array(rows) @ (np.array(solid.center_mass) - np.array(kernel.centre)) - [0, 0, d]
    whole = total * offset
    assert [below.mx + above.mx, below.my - above.my, below.mz - above.mz] == pytest.approx(whole.tolist(), abs=1e-9 * total * size)


@pytest.mark.parametrize("seed", range(6))
def test_agrees_with_a_general_mesh_library(seed):
    mesh = random_mesh(seed)
    kernel = Flotation(mesh)
    attitude = Attitude(0.3 * seed, 0.1 * seed - 0.2, 0.0)
    rows = np.array(attitude.rows)
    m = kernel.evaluate(attitude.rows, 0.05)
    solid = trimesh.Trimesh(mesh.vertices, mesh.faces, process=False)
    cut = solid.slice_plane(np.array(kernel.centre) + 0.05 * rows[2], -rows[2], cap=True)
    assert m.volume == pytest.approx(cut.volume, rel=1e-9)
    centre = rows @ (cut.center_mass - np.array(kernel.centre)) - [0, 0, 0.05]
    assert [m.mx / m.volume, m.my / m.volume, m.mz / m.volume] == pytest.approx(centre.tolist(), abs=1e-9)


def test_plane_through_vertices_and_facets_needs_no_care():
    # Exactly on the bottom, on the deck, and through four edges at once.
    for height, volume in ((0.0, 0.0), (-0.2, 1.0 * 0.4 * 0.2), (-0.1, 0.04)):
        _, m, _ = at_safe(box(1.0, 0.4, 0.2), height)
        assert m.volume == pytest.approx(volume, abs=1e-15)


def at_safe(mesh: Mesh, height: float):
    kernel = Flotation(mesh)
    attitude = Attitude(0.0, 0.0, height)
    return kernel, kernel.evaluate(attitude.rows, -attitude.height_of(kernel.centre)), None
