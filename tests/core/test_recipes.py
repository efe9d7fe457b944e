"""Estimates against closed forms, a general mesh library and sums by hand."""

import math

import numpy as np
import pytest
import trimesh

from tests.bodies import spheroid
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Mesh, block
from yarekeel.core.weights.inertia import inertia_of
from yarekeel.core.weights.materials import MATERIALS, Material
from yarekeel.core.weights.recipes import RECIPES, Basis
from yarekeel.core.weights.recipes.block import Block
from yarekeel.core.weights.recipes.foam import Foam
from yarekeel.core.weights.recipes.frames import Frames
from yarekeel.core.weights.recipes.person import Person
from yarekeel.core.weights.recipes.pipe import Pipe
from yarekeel.core.weights.recipes.plywood import Plywood
from yarekeel.core.weights.recipes.printed import Printed
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.core.weights.recipes.tank import Tank
from yarekeel.core.weights.recipes.wire import Wire
from yarekeel.units import SYSTEMS, parse

BOX = block(2.0, 0.6, 0.3)


def basis(mesh: Mesh = BOX, open: bool = False) -> Basis:
    return Basis(lambda name: Hull(mesh, open), MATERIALS)


def theirs(mesh: Mesh) -> trimesh.Trimesh:
    return trimesh.Trimesh(mesh.vertices, mesh.faces, process=False)


def test_a_six_ounce_cloth():
    """6 oz/yd2 is 203 g/m2 (a fact of the trade: an avoirdupois ounce over a square yard)."""
    assert parse("6 oz/yd²", "areal", SYSTEMS["mm_g"], "cloth") == pytest.approx(6 * 28.349523125e-3 / 0.9144**2)
    assert 1000 * parse("6 oz/yd2", "areal", SYSTEMS["mm_g"], "cloth") == pytest.approx(203.4, abs=0.05)
    assert parse("200 gsm", "areal", SYSTEMS["mm_g"], "cloth") == pytest.approx(0.2)


def test_a_skin_by_hand():
    """A box of 2 x 0.6 x 0.3 m: 2 (1.2 + 0.6 + 0.18) = 3.96 m2, without its lid 2.76 m2."""
    skin = Skin("", "all", 0.006, "ply_okoume", 1, 1, 0.2, 0.5, 3, 0.08)
    each = 0.006 * 500 + 2 * 0.2 / 0.5 + 3 * 0.08
    assert skin.made(basis()).mass == pytest.approx(3.96 * each)
    lidless = Skin("", "hull", 0.006, "ply_okoume", 1, 1, 0.2, 0.5, 3, 0.08).made(basis())
    assert lidless.mass == pytest.approx(2.76 * each)
    # Bottom 1.2 m2 at 0, sides and ends 1.56 m2 at 0.15 m.
    assert lidless.offset == pytest.approx((1.0, 0.0, 1.56 * 0.15 / 2.76))
    facts = skin.made(basis()).facts
    assert sum(f.value for f in facts if f.units_kind == "mass") == pytest.approx(3.96 * each)
    assert next(f.value for f in facts if f.label == "Sheets") == 2  # 3.96 m2 and 15 % more on sheets of 2.977 m2


def test_a_skin_against_trimesh():
    mesh = spheroid(1.3, 0.4, 0.3, 40, 20)
    made = Skin("", "all", 0.003, "balsa", 0, 0, 0.2, 0.5, 0, 0.0).made(basis(mesh))
    other = theirs(mesh)
    assert made.mass == pytest.approx(other.area * 0.003 * 160, rel=1e-9)
    centre = (other.area_faces[:, None] * other.triangles_center).sum(axis=0) / other.area
    assert made.offset == pytest.approx(centre.tolist(), abs=1e-9)
    # Its inertia against many points spread evenly over the same faces.
    points, _ = trimesh.sample.sample_surface(other, 400_000, seed=3)
    spread = inertia_of([made.mass / len(points)] * len(points), points)
    assert np.diag(made.inertia) == pytest.approx(np.diag(spread), rel=5e-3)


def test_a_sphere_in_a_sphere():
    """A shell between radii R and r weighs 4/3 pi (R3 - r3) rho; thin, it is area times thickness; its inertia 2/3 m R2."""
    mesh = spheroid(0.5, 0.5, 0.5, 160, 80)
    made = Skin("", "all", 0.001, "aluminium", 0, 0, 0.0, 0.0, 0, 0.0).made(basis(mesh))
    shell = 4 / 3 * math.pi * (0.5**3 - 0.499**3) * 2700
    assert made.mass == pytest.approx(shell, rel=0.003)  # facets, and the mean radius half a millimetre further in
    assert np.diag(made.inertia) == pytest.approx([2 / 3 * made.mass * 0.25] * 3, rel=1e-3)


def test_a_printed_part_by_hand():
    """A box 200 x 100 x 50 mm in PLA: sides 2 (0.2 + 0.1) 0.05 = 0.03 m2 at 3 walls of 0.45 mm, flats 0.04 m2 at 4 layers of
    0.2 mm, 15 % of what is left of a litre: 40.5 + 32 + 0.15 x 927.5 = 211.6 cm3, times 1.24 g."""
    made = Printed("", 3, 0.00045, 4, 0.0002, 0.15, "pla").made(basis(block(0.2, 0.1, 0.05)))
    assert made.mass == pytest.approx(1e-6 * (40.5 + 32 + 0.15 * 927.5) * 1240)
    assert {f.label: f.value for f in made.facts}["Sides"] == pytest.approx(0.03)
    assert made.offset == pytest.approx((0.1, 0.0, 0.025))
    assert len(made.facts) == 5  # every assumption is said


def test_a_print_never_weighs_more_than_the_solid():
    thin = block(0.2, 0.1, 0.001)
    made = Printed("", 10, 0.0005, 20, 0.0003, 1.0, "pla").made(basis(thin))
    assert made.mass == pytest.approx(thin.volume * 1240)


def test_walls_thicker_weigh_more():
    masses = [Printed("", walls, infill=0.1).made(basis()).mass for walls in range(1, 8)]
    assert masses == sorted(masses)


def test_a_block_turned():
    """Turned by yaw 90 its length lies across; by any turn the tensor's trace stays."""
    plain = Block(0.4, 0.2, 0.1, "lead").made(basis())
    m = 0.008 * 11340
    assert plain.mass == pytest.approx(m)
    assert np.diag(plain.inertia) == pytest.approx([m / 12 * (0.04 + 0.01), m / 12 * (0.16 + 0.01), m / 12 * (0.16 + 0.04)])
    across = Block(0.4, 0.2, 0.1, "lead", yaw_deg=90).made(basis())
    assert np.diag(across.inertia) == pytest.approx(np.diag(plain.inertia)[[1, 0, 2]])
    askew = Block(0.4, 0.2, 0.1, "lead", 30, 40, 50).made(basis())
    assert np.trace(askew.inertia) == pytest.approx(np.trace(plain.inertia))
    other = trimesh.creation.box((0.4, 0.2, 0.1))
    other.density = 11340
    assert np.diag(plain.inertia) == pytest.approx(np.diag(other.moment_inertia))


def test_a_pipe_with_caps():
    """Against a general library's annulus and discs (fine facets), and pi (R2 - r2) L by hand."""
    made = Pipe(1.0, 0.110, 0.0032, 2, 0.004, "pvc").made(basis())
    tube, cap = math.pi * (0.055**2 - 0.0518**2) * 1.0, math.pi * 0.0518**2 * 0.004
    assert made.mass == pytest.approx(1400 * (tube + 2 * cap))
    ring = trimesh.creation.annulus(0.0518, 0.055, 1.0, sections=720)
    disc = trimesh.creation.cylinder(0.0518, 0.004, sections=720)
    ring.density = disc.density = 1400
    axial = ring.moment_inertia[2, 2] + 2 * disc.moment_inertia[2, 2]
    across = ring.moment_inertia[0, 0] + 2 * (disc.moment_inertia[0, 0] + disc.mass * 0.498**2)
    assert np.diag(made.inertia) == pytest.approx([axial, across, across], rel=1e-4)
    one = Pipe(1.0, 0.110, 0.0032, 1, 0.004, "pvc").made(basis())
    assert one.offset[0] == pytest.approx(cap * 0.498 / (tube + cap))
    up = Pipe(1.0, 0.110, 0.0032, 1, 0.004, "pvc", pitch_deg=-90).made(basis())
    assert up.offset == pytest.approx((0.0, 0.0, one.offset[0]), abs=1e-12)


def test_frames_of_a_box():
    """A ring of 30 mm round 0.6 x 0.3 m: 1.8 m x 30 mm = 0.054 m2; whole 0.18 m2; open at the top 1.2 m of it."""
    ring = Frames("", 3, 0.25, 0.75, "ring", 0.03, 0.006, "ply_okoume").made(basis())
    assert ring.mass == pytest.approx(3 * 1.8 * 0.03 * 0.006 * 500)
    assert ring.offset == pytest.approx((1.0, 0.0, 0.15))
    whole = Frames("", 2, 0.25, 0.75, "solid", 0.03, 0.006, "ply_okoume").made(basis())
    m = 2 * 0.18 * 0.006 * 500
    assert whole.mass == pytest.approx(m)
    # Two plates of 0.6 x 0.3 m half a metre either side: about x m/12 (b2 + d2); about y their distance comes in.
    assert np.diag(whole.inertia) == pytest.approx([m / 12 * (0.36 + 0.09), m * 0.25 + m / 12 * 0.09, m * 0.25 + m / 12 * 0.36], rel=1e-3)
    open_one = Frames("", 1, 0.5, 0.8, "ring", 0.03, 0.006, "ply_okoume").made(basis(open=True))
    assert open_one.mass == pytest.approx(1.2 * 0.03 * 0.006 * 500)


def test_solid_frames_against_trimesh():
    mesh = spheroid(1.0, 0.5, 0.4, 60, 30)
    made = Frames("", 3, 0.3, 0.7, "solid", 0.03, 0.01, "oak").made(basis(mesh))
    low, high = mesh.bounds[0][0], mesh.bounds[1][0]
    areas = [theirs(mesh).section([1, 0, 0], [low + s * (high - low), 0, 0]).to_2D()[0].area for s in (0.3, 0.5, 0.7)]
    assert made.mass == pytest.approx(sum(areas) * 0.01 * 720, rel=1e-6)


def test_foam_fills_a_body():
    mesh = spheroid(1.0, 0.5, 0.4, 60, 30)
    made = Foam("", 0.8, "xps").made(basis(mesh))
    other = theirs(mesh)
    assert made.mass == pytest.approx(0.8 * other.volume * 33, rel=1e-9)
    assert made.offset == pytest.approx(other.center_mass.tolist(), abs=1e-9)
    other.density = made.mass / other.volume
    assert np.allclose(made.inertia, other.moment_inertia, rtol=1e-8, atol=1e-9)


def test_plywood_wire_and_tank_by_hand():
    assert Plywood(2, 0.5, 0.2, 0.009, 0.9, "flat", "ply_birch").made(basis()).mass == pytest.approx(2 * 0.1 * 0.9 * 0.009 * 680)
    wire = Wire(2.0, 2, 0.0018, 0.0007).made(basis())  # about 2.5 mm2 twice: 22.8 g of copper a metre each
    copper = 4.0 * math.pi * 0.0009**2 * 8960
    assert wire.mass == pytest.approx(copper + 4.0 * math.pi * (0.0016**2 - 0.0009**2) * 1400)
    half = Tank(0.2, 0.1, 0.3, 0.5, "fresh_water").made(basis())
    assert half.mass == pytest.approx(0.003 * 999)
    assert half.offset == pytest.approx((0.0, 0.0, 0.075))


@pytest.mark.parametrize(("posture", "low", "high"), [("standing", 0.54, 0.59), ("seated", 0.13, 0.18), ("kneeling", 0.19, 0.25)])
def test_where_a_person_weighs(posture, low, high):
    """Standing, the centre is at 55 to 57 % of stature (anthropometry textbooks, from memory), give or take the segments'
    own spread; seated about a quarter of a metre over the seat (common practice in small-craft sums)."""
    made = Person(75.0, 1.75, posture, "forward").made(basis())
    assert low < made.offset[2] / 1.75 < high
    assert made.mass == 75.0
    other = Person(75.0, 1.75, posture, "aft").made(basis())
    assert other.offset[0] == pytest.approx(-made.offset[0])


def test_heavier_people_weigh_so():
    assert Person(90.0).made(basis()).mass == 90.0


@pytest.mark.parametrize(
    ("make", "field"),
    [
        (lambda: Printed(walls=-1), "walls"),
        (lambda: Printed(walls=2.5), "walls"),
        (lambda: Printed(infill=1.2), "infill"),
        (lambda: Skin(resin_share=0.95), "resin_share"),
        (lambda: Skin(thickness_m=math.nan), "thickness_m"),
        (lambda: Pipe(wall_m=0.04), "wall_m"),
        (lambda: Frames(first=0.8, last=0.2), "last"),
        (lambda: Person(posture="hovering"), "posture"),
        (lambda: Material("x", "Nothing", "wood", 0.0, 0.0, 0.0), "density"),
        (lambda: Material("x", "Range", "wood", 500.0, 600.0, 700.0), "low"),
        (lambda: Block(material="unobtainium").made(basis()), "material"),
    ],
)
def test_what_cannot_be_is_refused_by_name(make, field):
    with pytest.raises(InvalidInput) as caught:
        make()
    assert caught.value.field == field
    assert str(caught.value).endswith(".")


def test_every_recipe_works_as_it_comes():
    for recipe in RECIPES.values():
        made = recipe().made(basis(block(2.0, 0.6, 0.5)))
        assert made.mass > 0
        assert made.facts
        assert np.allclose(made.inertia, made.inertia.T)
        assert np.linalg.eigvalsh(made.inertia).min() > -1e-9


def test_the_materials_stand_in_order():
    for code, m in MATERIALS.items():
        assert code == m.code
        assert m.low <= m.density <= m.high
        assert m.source
    # Facts of the trade that everyone can look up: lead 11.34, aluminium 2.7, sea water 1025.
    assert MATERIALS["lead"].density == 11340
    assert MATERIALS["aluminium"].density == 2700
    assert MATERIALS["sea_water"].density == 1025
