"""Curves over draft, the boat under forces, the chance of keeping the brief: closed forms, and one way against another."""

import math

import numpy as np
import pytest
import trimesh

from tests.bodies import box, spheroid, tube
from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.errors import BoatSinks
from yarekeel.core.geometry.families import RoundBilge
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.hydrostatics import chance
from yarekeel.core.hydrostatics.afloat import float_boat
from yarekeel.core.hydrostatics.curves import curves, levels, side_top, waterline_at
from yarekeel.core.hydrostatics.equilibrium import solve_held
from yarekeel.core.hydrostatics.forces import AppliedForce, Overpowered, solve_pushed, wind_force
from yarekeel.core.weights.items import WeightItem, total_of

RHO = 1000.0


def _prism(length: float, beam: float, depth: float) -> Mesh:
    """A triangular prism, its edge down."""
    v = np.array([[x, y, z] for x in (0, length) for y, z in ((0, 0), (beam / 2, depth), (-beam / 2, depth))], dtype=float)
    return Mesh(v, np.array([(0, 2, 1), (3, 4, 5), (0, 1, 4), (0, 4, 3), (1, 2, 5), (1, 5, 4), (2, 0, 3), (2, 3, 5)]))


def test_curves_of_a_box():
    hull = Hull(box(4.0, 1.0, 0.8))
    c = curves(hull, np.array([0.1, 0.25, 0.6]))
    for n, t in enumerate((0.1, 0.25, 0.6)):
        assert (c.volume[n], c.lcb[n], c.kb[n], c.area[n], c.lcf[n]) == pytest.approx((4 * t, 2.0, t / 2, 4.0, 2.0), rel=1e-12)
        assert (c.bm[n], c.bm_long[n]) == pytest.approx((1 / 12 / t, 16 / 12 / t), rel=1e-12)
        assert c.km[n] == pytest.approx(t / 2 + 1 / 12 / t, rel=1e-12)
        assert c.wetted[n] == pytest.approx(4 + 2 * t * 5, rel=1e-12)
        assert (c.block[n], c.midship[n], c.prismatic[n], c.waterplane[n]) == pytest.approx((1, 1, 1, 1), rel=1e-9)


def test_curves_of_a_prism_and_a_log():
    """Wedge of breadth b = B t / D at draft t: V = b t L / 2, KB = 2 t / 3, BM = b3 L / 12 V. Log to its axis: KM at the axis."""
    hull = Hull(_prism(3.0, 1.2, 0.6))
    c = curves(hull, np.array([0.2, 0.5]))
    for n, t in enumerate((0.2, 0.5)):
        b = 1.2 * t / 0.6
        assert c.volume[n] == pytest.approx(b * t * 3 / 2, rel=1e-12)
        assert c.kb[n] == pytest.approx(2 * t / 3, rel=1e-12)
        assert c.bm[n] == pytest.approx(b**3 * 3 / 12 / (b * t * 3 / 2), rel=1e-12)
        assert (c.midship[n], c.prismatic[n]) == pytest.approx((0.5, 1.0), rel=1e-6)
    log = Hull(tube(2.0, 0.3, sides=720))
    c = curves(log, np.array([-0.1, 0.0, 0.12]))
    assert c.km == pytest.approx([0.0, 0.0, 0.0], abs=2e-5)


def test_curves_against_a_general_mesh_library():
    """RoundBilge at five drafts against trimesh: cut with a cap, then volume, centre, area less the cap."""
    hull = Hull(RoundBilge().build())
    mesh = trimesh.Trimesh(hull.mesh.vertices, hull.mesh.faces, process=False)
    drafts = levels(hull, 8)[1:6]
    c = curves(hull, drafts)
    for n, t in enumerate(drafts.tolist()):
        cut = mesh.slice_plane([0, 0, t], [0, 0, -1], cap=True)
        cap = cut.area_faces[(cut.face_normals[:, 2] > 0.999999) & (cut.triangles_center[:, 2] > t - 1e-9)].sum()
        assert c.volume[n] == pytest.approx(cut.volume, rel=1e-9)
        assert (c.lcb[n], c.kb[n]) == pytest.approx(cut.center_mass[[0, 2]], rel=1e-9)
        assert c.area[n] == pytest.approx(cap, rel=1e-9)
        assert c.wetted[n] == pytest.approx(cut.area - cap, rel=1e-9)
        outline = mesh.section(plane_origin=[0, 0, t], plane_normal=[0, 0, 1]).vertices
        assert c.length[n] == pytest.approx(np.ptp(outline[:, 0]), rel=1e-9)


def test_paraboloid_of_archimedes():
    """z = r2 / p, level at draft t: V = pi p t2 / 2, KB = 2 t / 3, BM = p / 2 whatever the draft (On Floating Bodies, book II)."""
    p, height, rings, sides = 0.4, 1.0, 160, 256
    z = height * np.linspace(0, 1, rings + 1)[1:] ** 2
    angle = np.linspace(0, 2 * np.pi, sides, endpoint=False)
    v = [[0.0, 0.0, 0.0]] + [[math.sqrt(p * h) * math.cos(a), math.sqrt(p * h) * math.sin(a), h] for h in z for a in angle]
    faces = [(0, 1 + (k + 1) % sides, 1 + k) for k in range(sides)]
    for r in range(rings - 1):
        for k in range(sides):
            a, b = 1 + r * sides + k, 1 + r * sides + (k + 1) % sides
            faces += [(a, b, b + sides), (a, b + sides, a + sides)]
    v.append([0.0, 0.0, height])
    faces += [(len(v) - 1, 1 + (rings - 1) * sides + k, 1 + (rings - 1) * sides + (k + 1) % sides) for k in range(sides)]
    hull = Hull(Mesh(np.array(v), np.array(faces)))
    assert hull.mesh.volume > 0
    c = curves(hull, np.array([0.3, 0.7]))
    for n, t in enumerate((0.3, 0.7)):
        assert c.volume[n] == pytest.approx(math.pi * p * t**2 / 2, rel=2e-4)
        assert c.kb[n] == pytest.approx(2 * t / 3, rel=2e-4)
        assert c.bm[n] == pytest.approx(p / 2, rel=5e-4)


def test_a_dived_spheroid_is_all_under():
    egg = spheroid(0.5, 0.2, 0.3)
    c = curves(Hull(egg), np.array([0.5]))  # the plane clears it
    assert c.volume[0] == pytest.approx(egg.volume, rel=1e-12)
    assert (c.area[0], c.bm[0]) == (0.0, 0.0)
    assert c.wetted[0] == pytest.approx(egg.area, rel=1e-12)


def test_where_a_waterline_is_painted():
    """A side that flares 0.2 in 0.5: at 0.3 up it is 0.4 + 0.12 out, and 0.2 below its rim."""
    v = np.array([[x, s * y, z] for x in (0, 2) for y, z in ((0.4, 0.0), (0.6, 0.5)) for s in (1, -1)], dtype=float)
    faces = [
        (0, 3, 1),
        (0, 2, 3),
        (4, 5, 7),
        (4, 7, 6),
        (0, 4, 6),
        (0, 6, 2),
        (1, 3, 7),
        (1, 7, 5),
        (0, 1, 5),
        (0, 5, 4),
        (2, 6, 7),
        (2, 7, 3),
    ]
    mesh = Mesh(v, np.array(faces))
    mesh = mesh if mesh.volume > 0 else Mesh(v, np.array(faces)[:, ::-1])
    out, top = waterline_at(mesh, 1.0, 0.3) or (0.0, 0.0)
    assert (out, top, side_top(mesh, 1.0)) == pytest.approx((0.4 + 0.2 * 0.3 / 0.5, 0.5, 0.5))
    assert waterline_at(mesh, 1.0, 0.8) is None


# Forces


def test_a_hand_on_the_rail_is_a_weight_there():
    """Pressing 10 N down at the rail is 10 / g kg there: two ways to one attitude."""
    hull = Hull(RoundBilge().build())
    at = (0.5, -0.1, 0.1)
    pushed = solve_pushed(hull, 6.0, (0.5, 0.0, 0.05), RHO, [AppliedForce("hand", at, (0.0, 0.0, -10.0))], (0.5, 0.0, 0.0))
    extra = 10.0 / STANDARD_GRAVITY
    total = 6.0 + extra
    centre = tuple((6.0 * g + extra * p) / total for g, p in zip((0.5, 0.0, 0.05), at, strict=True))
    laden = float_boat(hull, total, centre, RHO)
    a, b = pushed.afloat.attitude, laden.attitude
    assert (a.heel, a.trim, a.origin_height) == pytest.approx((b.heel, b.trim, b.origin_height), abs=1e-9)
    assert pushed.afloat.gm_transverse == pytest.approx(laden.gm_transverse, rel=1e-7)


def test_thrust_of_a_box_by_hand():
    """A push F at height h over the point of answer trims by F h / (W GM_L) for small angles, bow down when it is high."""
    hull = Hull(box(2.0, 0.5, 0.4))
    mass, kg, force, up = 100.0, 0.1, 5.0, 0.5
    free = float_boat(hull, mass, (1.0, 0.0, kg), RHO)
    pushed = solve_pushed(hull, mass, (1.0, 0.0, kg), RHO, [AppliedForce("fan", (1.0, 0.0, up), (force, 0.0, 0.0))], (1.0, 0.0, 0.0))
    draft = mass / RHO / (2.0 * 0.5)
    lever = up - draft / 2
    by_hand = -force * lever / (mass * STANDARD_GRAVITY * free.gm_longitudinal)
    assert pushed.afloat.attitude.trim == pytest.approx(by_hand, rel=2e-3)
    low = solve_pushed(hull, mass, (1.0, 0.0, kg), RHO, [AppliedForce("screw", (0.0, 0.0, 0.0), (force, 0.0, 0.0), True)], (1.0, 0.0, 0.0))
    assert low.afloat.attitude.trim == pytest.approx(force * draft / 2 / (mass * STANDARD_GRAVITY * free.gm_longitudinal), rel=0.05)
    assert low.moments[1] < 0 < pushed.moments[1]  # about y: bow down is positive


def test_wind_balances_the_righting_moment():
    """At the heel found, W GZ (of the free boat held there) equals the moment of the wind about the answering point."""
    hull = Hull(RoundBilge().build())
    mass, g = 6.0, (0.5, 0.0, 0.05)
    wind = [AppliedForce("wind", (0.5, 0.0, 0.2), (0.0, -4.0, 0.0))]
    found = solve_pushed(hull, mass, g, RHO, wind, (0.5, 0.0, 0.03))
    held = solve_held(hull.kernel, mass / RHO, g, found.afloat.attitude.heel, found.afloat.attitude.trim)
    assert held.righting_arm * mass * STANDARD_GRAVITY == pytest.approx(abs(found.moments[0]), rel=1e-6)
    assert found.afloat.attitude.heel > 0  # pushed to starboard, starboard goes down
    mirrored = solve_pushed(hull, mass, g, RHO, [AppliedForce("wind", (0.5, 0.0, 0.2), (0.0, 4.0, 0.0))], (0.5, 0.0, 0.03))
    assert mirrored.afloat.attitude.heel == pytest.approx(-found.afloat.attitude.heel, rel=1e-8)


def test_too_much_force_is_said():
    hull = Hull(box(1.0, 0.2, 0.2))
    with pytest.raises(Overpowered):
        solve_pushed(hull, 10.0, (0.5, 0.0, 0.1), RHO, [AppliedForce("gust", (0.5, 0.0, 2.0), (0.0, -40.0, 0.0))], (0.5, 0.0, 0.05))
    with pytest.raises(Overpowered):
        solve_pushed(hull, 10.0, (0.5, 0.0, 0.1), RHO, [AppliedForce("crane", (0.5, 0.0, 0.2), (0.0, 0.0, 200.0))], (0.5, 0.0, 0.05))
    with pytest.raises(BoatSinks):
        solve_pushed(hull, 10.0, (0.5, 0.0, 0.1), RHO, [AppliedForce("foot", (0.5, 0.0, 0.2), (0.0, 0.0, -400.0))], (0.5, 0.0, 0.05))


def test_wind_pressure():
    """10 m/s on a square metre at C = 1.2: half of 1.225 x 100 x 1.2 = 73.5 N (by hand)."""
    assert wind_force(10.0, 1.0) == pytest.approx(73.5)
    assert wind_force(-10.0, 1.0) == pytest.approx(-73.5)


# Chance


def _boat():
    hull = Hull(RoundBilge().build())
    items = [
        WeightItem("hull", 4.0, (0.48, 0.0, 0.07), "guessed"),
        WeightItem("battery", 3.0, (0.38, 0.01, 0.04), "guessed", together="lot"),
        WeightItem("motor", 1.5, (0.15, 0.0, 0.05), "guessed", together="lot"),
    ]
    total = total_of(items)
    return hull, items, float_boat(hull, total.mass, total.centre, RHO)


def test_linear_chance_against_floating_each_boat():
    """The same limits judged by linear propagation and by 1500 boats drawn and solved; a share seen in n is off by
    sqrt(p (1 - p) / n), here 0.013 at most."""
    hull, items, afloat = _boat()
    rows = chance.drawn(hull, items, afloat, 0.9, 0.1)
    assert rows is not None
    true = np.array([r for r in chance.true_floats(hull, items, afloat, 0.9, 0.1, count=1500) if r])
    assert len(true) == 1500
    limits = chance.Limits(afloat.freeboard - 0.001, abs(afloat.attitude.trim) + 0.004, math.radians(2), afloat.gm_transverse - 0.002)
    linear, floated = chance.chances(rows, limits), chance.chances(true, limits)
    for name in ("freeboard", "trim", "heel", "gm", "all"):
        assert getattr(linear, name) == pytest.approx(getattr(floated, name), abs=0.045), name
    assert 0.1 < linear.all < 0.9  # the limits do bite
    a, b = chance.half_widths(rows), chance.half_widths(true)
    assert (b.mass, b.trim, b.draft_stern) == pytest.approx((a.mass, a.trim, a.draft_stern), rel=0.08)


def test_chance_of_one_figure_is_the_normal_law():
    """Only the mass is unsure and the limit is a draft away: the share is the normal distribution's (math.erf)."""
    hull = Hull(box(2.0, 0.5, 0.4))
    items = [WeightItem("all", 100.0, (1.0, 0.0, 0.1), "guessed")]  # +-20 kg, 19 times in 20: +-20 mm of freeboard
    afloat = float_boat(hull, 100.0, (1.0, 0.0, 0.1), RHO)
    rows = chance.drawn(hull, items, afloat, 1.9, 0.1)
    assert rows is not None
    limits = chance.Limits(0.29, 1.0, 1.0, -1.0)  # freeboard is 0.3: one half width is 20 mm, so 10 mm is 0.98 sigma
    by_hand = 0.5 * (1 + math.erf(0.5 * chance.BAND / math.sqrt(2)))
    assert chance.chances(rows, limits).freeboard == pytest.approx(by_hand, abs=0.008)
    assert chance.chances(rows, limits, [(1.0, 0.0, 0.09)]).openings < 0.5  # a hole just under water is seldom dry


def test_lowest_of_many_points_is_found_on_a_few():
    rng = np.random.default_rng(1)
    points = rng.uniform(-1, 1, (500, 3))
    heel, trim, height = rng.normal(0, 0.1, 200), rng.normal(0, 0.05, 200), rng.normal(0, 0.1, 200)
    ups = np.stack([np.sin(trim), np.cos(trim) * np.sin(heel), np.cos(trim) * np.cos(heel)], axis=1)
    plain = (ups @ points.T).min(axis=1) + height
    assert chance.least_heights(points, heel, trim, height) == pytest.approx(plain, abs=5e-3)
