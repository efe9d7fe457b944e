"""Wings against the outside: lifting-line and vortex sums worked out here, and closed forms of thin-aerofoil theory."""

import math

import numpy as np
import pytest

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.lifting import wing
from yarekeel.core.running.forces import Foil
from yarekeel.core.running.laws.foils import coefficients, wet_share


def lifting_line_slope(aspect: float, terms: int = 60) -> float:
    """Prandtl's equation for an elliptic wing by Glauert's series: lift coefficient per radian."""
    theta = (np.arange(terms) + 1) * math.pi / (terms + 1)
    n = np.arange(terms) + 1
    chord = 4 / (math.pi * aspect) * np.sin(theta)  # of an elliptic wing of span 1
    mu = 2 * math.pi * chord / 4
    rows = np.sin(np.outer(theta, n)) * (np.sin(theta)[:, None] + np.outer(mu, n))
    a = np.linalg.solve(rows, mu * np.sin(theta))
    return float(a[0] * math.pi * aspect)


@pytest.mark.parametrize("aspect", [3.0, 6.0, 12.0])
def test_lift_slope_against_the_lifting_line(aspect):
    """Glauert's series for an elliptic wing, solved here."""
    assert wing.lift_slope(aspect, aspect) == pytest.approx(lifting_line_slope(aspect), rel=1e-3)


def plate_with_image(depth: float, sense: int, panels: int = 60) -> float:
    """Lift of a flat plate of chord 1 with its image so far beyond the surface, over that alone: vortices at a quarter of each panel, flow
    along it at three quarters."""
    vortex, point = (np.arange(panels) + 0.25) / panels, (np.arange(panels) + 0.75) / panels
    dx = point[:, None] - vortex[None, :]
    down = 1 / (2 * math.pi * dx) + sense * dx / (2 * math.pi * (dx**2 + 4 * depth**2))
    return float(np.linalg.solve(down, np.ones(panels)).sum() / math.pi)


@pytest.mark.parametrize(("depth", "within"), [(0.25, 0.09), (0.5, 0.03), (1.0, 0.004), (2.0, 0.001)])
def test_near_the_surface_against_a_sheet_of_vortices(depth, within):
    """An image of the same sense, many panels; the law has one vortex, whose closed form it is exactly."""
    assert wing.near_surface(depth, 1.0) == pytest.approx(plate_with_image(depth, 1), rel=within)
    assert wing.near_surface(depth, 1.0) == pytest.approx(plate_with_image(depth, 1, panels=1), rel=1e-12)


def mutual_share(apart: float, points: int = 400) -> float:
    """Induced drag that two equal elliptic loads, twice ``apart`` from one another, give each other, over a wing's own: sums over the wake
    far behind (Trefftz's plane)."""
    t, u = (np.arange(points) + 0.5) * math.pi / points, (np.arange(points) + 1.0) * math.pi / points
    y, z = np.cos(t) / 2, np.cos(u) / 2
    each, other = np.cos(t) * math.pi / points, np.cos(u) * math.pi / points
    mutual = -(each[:, None] * each * np.log((y[:, None] - y) ** 2 + 4 * apart**2) / 2).sum()
    own = -(each[:, None] * other * np.log(np.abs(y[:, None] - z))).sum()
    return float(mutual / own)


@pytest.mark.parametrize("apart", [1 / 30, 0.1, 0.15, 0.25])
def test_the_images_share_of_induced_drag(apart):
    """Prandtl's formula against the sums of the wake, over the range that it is given for."""
    assert wing.image_share(apart, 1.0) == pytest.approx(mutual_share(apart), rel=0.01)


def test_two_laws_of_the_ground_differ_by_a_third():
    """At a tenth of the span (the handbook of the trade says so): McCormick's 1.6²/(1 + 1.6²), Prandtl's 1 less his image's share."""
    assert wing.induced_over(0.1, 1.0, "mccormick") == pytest.approx(2.56 / 3.56)
    assert wing.induced_over(0.1, 1.0, "wieselsberger") == pytest.approx(1 - mutual_share(0.1), rel=0.01)
    assert wing.induced_over(0.1, 1.0, "mccormick") > 1.3 * wing.induced_over(0.1, 1.0, "wieselsberger")
    assert wing.induced_over(50.0, 1.0, "mccormick") == pytest.approx(1.0, abs=1e-4)
    assert wing.image_share(2.0, 1.0) == 0.0


def test_thin_aerofoils_by_hand():
    """Glauert: a parabolic camber of 4 % lifts nothing at -2 x 0.04 rad, 4.58°; a quarter of the chord that moves counts for 0.609."""
    assert math.degrees(wing.zero_lift(0.04)) == pytest.approx(-4.584, abs=1e-3)
    assert wing.deflection_effect(0.25) == pytest.approx(0.609, abs=5e-4)
    assert wing.deflection_effect(1.0) == pytest.approx(1.0)
    assert wing.deflection_effect(0.0) == pytest.approx(0.0)
    assert wing.induced_drag(0.5, 6.0) == pytest.approx(0.25 / (math.pi * 6 * 0.9))
    # Re 1e5: ITTC 0.075 / 9; t/c 0.1: 1 + 0.2 + 60e-4
    assert wing.profile_drag(1e5, 0.1) == pytest.approx(2 * 0.075 / 9 * 1.206)
    assert wing.most_lift(0.04) > wing.most_lift(0.0)


FOIL = Foil("f", (0.0, 0.0, 0.0), 0.6, 0.1, 0.06, math.radians(4))


def test_a_level_foil_comes_through_the_surface_within_its_chord():
    assert wet_share(FOIL, -0.05) == 1.0
    assert wet_share(FOIL, 0.0) == pytest.approx(0.5)
    assert wet_share(FOIL, 0.05) == 0.0
    vee = Foil("v", (0.0, 0.0, 0.0), 0.6, 0.1, 0.06, math.radians(4), dihedral=math.radians(30))
    # its tips are 0.3 tan 30° up: 0.1732; at a third of that under, a third of it is wet
    assert wet_share(vee, -0.1732 / 3) == pytest.approx(1 / 3, abs=0.01)
    deep = [wet_share(vee, -d) for d in np.linspace(-0.05, 0.3, 50)]
    assert (np.diff(deep) >= -1e-12).all()
    assert Attitude(0.0, 0.0, -0.1).height_of((0.0, 0.0, 0.0)) == -0.1


def test_water_takes_lift_and_adds_drag_and_ground_takes_drag():
    def at(apart, wet, law="wieselsberger"):
        return coefficients(FOIL, math.radians(4), 1.0, apart, 1e5, wet=wet, law=law)

    deep, shallow = at(10.0, True), at(0.03, True)
    assert deep[0] == pytest.approx(2 * math.pi / (1 + 2 / 6) * math.radians(4), rel=1e-4)
    assert shallow[0] < 0.75 * deep[0]
    # at the same lift the image adds drag
    assert (shallow[1] - wing.profile_drag(1e5, 0.1)) / shallow[0] ** 2 > (deep[1] - wing.profile_drag(1e5, 0.1)) / deep[0] ** 2
    high, low = at(10.0, False), at(0.05, False)
    assert low[0] > high[0]
    assert (low[1] - wing.profile_drag(1e5, 0.1)) / low[0] ** 2 < (high[1] - wing.profile_drag(1e5, 0.1)) / high[0] ** 2
    assert at(0.06, False, "mccormick")[1] != at(0.06, False)[1]
    stalled = coefficients(FOIL, math.radians(40), 1.0, 1.0, 1e5, wet=True)
    assert stalled[0] == pytest.approx(wing.most_lift(0.0))
