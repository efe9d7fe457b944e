"""The rim found by its shape, on fifty hulls made from known families; the outer skin of those with an inside."""

import numpy as np
import pytest
import trimesh

from tests.bodies import box
from tests.tubs import tub
from yarekeel.core.geometry.envelope import outer_skin
from yarekeel.core.geometry.mesh import Mesh, block
from yarekeel.core.geometry.rim import find_rim, through_heights
from yarekeel.core.geometry.union import solid_of, surface_of

SEEDS = range(25)
WITHIN = 0.01
"""Of the depth."""


@pytest.mark.sampled(of=3)
@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize("is_open", [True, False], ids=["open", "decked"])
def test_the_rim_is_the_familys_sheer_within_a_hundredth_of_the_depth(seed, is_open):
    """Sharp and rounded gunwales, with foredecks, skegs with a shoe, chine rails; a rim that is said to be doubtful may be off."""
    made = tub(seed, is_open=is_open)
    skin = outer_skin(made.mesh) if is_open else made.mesh
    assert skin is not None, made.words
    rim = find_rim(skin, open_hull=is_open)
    depth = float(np.ptp(made.mesh.vertices[:, 2]))
    off = np.abs(rim.points[:, 2] - made.true_at(rim.points[:, 0])) / depth
    assert rim.doubt or (np.quantile(off, 0.97) <= WITHIN and abs(rim.points[:, 2].min() - made.height.min()) <= WITHIN * depth), made.words
    assert not rim.doubt  # none of these is
    assert np.ptp(rim.points[:, 0]) >= (0.65 if "foredeck" in made.words else 0.9) * np.ptp(made.mesh.vertices[:, 0])


def test_a_cabin_or_a_ball_makes_it_doubtful():
    hull = solid_of(box(2.0, 0.6, 0.3)) + solid_of(block(0.8, 0.3, 0.25).moved((0.6, 0.0, 0.3)))
    assert find_rim(surface_of(hull), open_hull=False).doubt
    import manifold3d

    ball = surface_of(manifold3d.Manifold.sphere(0.3, 48))
    assert find_rim(ball, open_hull=False).doubt


def test_given_heights_go_before_what_was_found():
    rim = find_rim(box(2.0, 0.6, 0.3), open_hull=False)
    raised = through_heights(rim, 0.25, None, 0.35)
    x, z = raised.points[:, 0], raised.points[:, 2]
    assert z[np.argmin(x)] == pytest.approx(0.25, abs=1e-6)
    assert z[np.argmax(x)] == pytest.approx(0.35, abs=1e-6)
    middle = np.argmin(np.abs(x - 1.0))
    assert z[middle] == pytest.approx(0.30, abs=1e-3)
    assert through_heights(rim, None, None, None) is rim


def hollow_box() -> Mesh:
    """An open tub 2 x 0.6 x 0.3 m with walls of 20 mm."""
    return surface_of(solid_of(box(2.0, 0.6, 0.3)) - solid_of(block(1.96, 0.56, 0.4).moved((0.02, 0.0, 0.02))))


def test_an_outer_skin_has_the_area_of_the_outside_and_is_watertight():
    """A tub's outer skin is the box itself: 2 (2 x 0.6 + 2 x 0.3 + 0.6 x 0.3) = 3.96 m2 and 0.36 m3, by hand; trimesh finds it closed."""
    skin = outer_skin(hollow_box())
    assert skin.area == pytest.approx(3.96, rel=1e-3)
    assert skin.volume == pytest.approx(0.36, rel=1e-3)
    general = trimesh.Trimesh(skin.vertices, skin.faces, process=True)
    assert general.is_watertight
    assert general.body_count == 1


@pytest.mark.parametrize("seed", [2, 6, 8, 10])
def test_the_skin_of_a_tub_has_the_area_of_its_family_s_hull(seed):
    made = tub(seed)
    skin = outer_skin(made.mesh)
    general = trimesh.Trimesh(skin.vertices, skin.faces, process=True)
    assert general.is_watertight
    # The hull of the family itself, its fins and rails with it, has a deck where the skin has its lid and the top of its walls.
    whole = tub_filled(seed)
    assert skin.area == pytest.approx(whole.area, rel=0.02)


def tub_filled(seed: int) -> Mesh:
    from tests import tubs

    return tubs.tub(seed, is_open=True, hollow=False).mesh
