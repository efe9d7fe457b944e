"""Floats, rafts, trays, foils and submersibles against sums by hand."""

import math

import numpy as np
import pytest

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.foam_block import FoamBlock
from yarekeel.core.geometry.families.foil_wing import FoilWing
from yarekeel.core.geometry.families.folded_tray import FoldedTray
from yarekeel.core.geometry.families.pipe_raft import OUTSIDE, PipeRaft
from yarekeel.core.geometry.families.pontoon import Pontoon
from yarekeel.core.geometry.families.stepped import Stepped
from yarekeel.core.geometry.families.strut import Strut
from yarekeel.core.geometry.families.submersible import Submersible
from yarekeel.core.geometry.families.three_point import ThreePoint
from yarekeel.core.geometry.families.vee import Vee
from yarekeel.core.geometry.sections import area_of, outlines

SECTION_AREA = 0.68508
"""Of a four-digit section over thickness ratio times chord squared: 10 times the integral of the thickness form
0.2969 sqrt(x) - 0.1260 x - 0.3516 x^2 + 0.2843 x^3 - 0.1015 x^4, by hand from Abbott and von Doenhoff (1959) eq. 6.2."""


def area_at(mesh, axis, at):
    return sum(area_of(o, axis) for o in outlines(mesh, axis, at))


def test_pipe_raft_by_hand():
    raft = PipeRaft("mm-110", 4, 1.2, 0.16)
    assert raft.build().volume == pytest.approx(4 * math.pi * 0.055**2 * 1.2, rel=1e-9)
    assert raft.facts()[0].value == pytest.approx(math.pi * 0.055**2 * 1.2)


def test_nominal_pipe_sizes():
    # ASME B36.10M: NPS 2 is 2.375 in (60.3 mm), NPS 4 is 4.500 in (114.3 mm), NPS 6 is 6.625 in (168.3 mm) outside.
    assert OUTSIDE["in-2"] == pytest.approx(0.0603, abs=5e-5)
    assert OUTSIDE["in-4"] == pytest.approx(0.1143, abs=5e-5)
    assert OUTSIDE["in-6"] == pytest.approx(0.1683, abs=5e-5)
    assert OUTSIDE["mm-110"] == 0.110


def test_domed_pipe_is_a_cylinder_and_an_ellipsoid():
    raft = PipeRaft("mm-200", 1, 1.0, 0.3, "domed")
    dome = 0.05
    by_hand = math.pi * 0.01 * (1.0 - 2 * dome) + 4 / 3 * math.pi * 0.01 * dome
    assert raft.build(4).volume == pytest.approx(by_hand, rel=1e-3)
    assert raft.facts()[0].value == pytest.approx(by_hand, rel=1e-12)


def test_pipes_that_would_cross_are_refused():
    with pytest.raises(InvalidInput, match=r"0\.11 m must lie at least that far apart"):
        PipeRaft("mm-110", 3, 1.0, 0.1)


def test_folded_tray_by_hand():
    # A 300 x 200 mm sheet with 30 mm turned up: 240 x 140 x 30 mm outside.
    tray = FoldedTray(0.30, 0.20, 0.03, 0.0, 0.001)
    assert tray.build().volume == pytest.approx(0.24 * 0.14 * 0.03, rel=1e-12)
    inner = {f.label: f.value for f in tray.facts()}
    assert inner["Inner volume"] == pytest.approx(0.238 * 0.138 * 0.029, rel=1e-12)


def test_flared_tray_is_a_prismoid():
    tray = FoldedTray(0.30, 0.20, 0.03, 30.0, 0.00001)
    height, out = 0.03 * math.cos(math.radians(30)), 0.03 * math.sin(math.radians(30))
    top, low, middle = (0.24 + 2 * out) * (0.14 + 2 * out), 0.24 * 0.14, (0.24 + out) * (0.14 + out)
    assert tray.build().volume == pytest.approx(height / 6 * (top + low + 4 * middle), rel=1e-12)
    assert tray.facts()[0].value == pytest.approx(tray.build().volume, rel=2e-3)


def test_submersible_hull_is_a_capsule():
    boat = Submersible(0.8, 0.11, 1.0, casing_length=0.0, tower_height_m=0.0)
    by_hand = math.pi * 0.055**2 * (0.8 - 0.11) + 4 / 3 * math.pi * 0.055**3
    assert boat.build(4).volume == pytest.approx(by_hand, rel=1e-3)
    assert boat.facts()[0].value == pytest.approx(by_hand, rel=1e-12)


def test_tower_adds_what_stands_above_the_back():
    bare, towered = (Submersible(casing_length=0.0, tower_height_m=h).build() for h in (0.0, 0.2))
    taller = Submersible(casing_length=0.0, tower_height_m=0.3).build()
    assert towered.volume > bare.volume
    # Another 100 mm of oval tower: pi/4 times length times width times 0.1.
    assert taller.volume - towered.volume == pytest.approx(math.pi / 4 * 0.10 * 0.03 * 0.1, rel=1e-9)


def test_foam_block_less_its_pockets():
    block = FoamBlock(0.4, 0.2, 0.1, 2, 0.08, 0.1, 0.05)
    assert block.build().volume == pytest.approx(0.4 * 0.2 * 0.1 - 2 * 0.08 * 0.1 * 0.05, rel=1e-9)
    through = FoamBlock(0.4, 0.2, 0.1, 1, 0.08, 0.1, 0.1)
    assert through.build().volume == pytest.approx((0.4 * 0.2 - 0.08 * 0.1) * 0.1, rel=1e-9)
    assert {f.label: f.value for f in block.facts()}["Foam left"] == pytest.approx(block.build().volume)


def test_strut_section_is_the_published_one():
    strut = Strut(0.2, 0.1, 1.0, 0.12)
    assert strut.build(8).volume == pytest.approx(SECTION_AREA * 0.12 * 0.1**2 * 0.2, rel=2e-3)
    low, high = strut.build(8).bounds
    assert high[0] - low[0] == pytest.approx(0.1)
    assert high[1] - low[1] == pytest.approx(0.012, rel=3e-3)  # its thickness, 12 % of the chord


def test_foil_wing_area_and_volume_by_hand():
    wing = FoilWing(0.4, 0.08, 0.5, 0.12, 0.0, 0.0, 0.0)
    area = {f.label: f.value for f in wing.facts()}
    assert area["Wing area"] == pytest.approx(0.4 * 0.08 * 0.75)
    assert area["Aspect ratio"] == pytest.approx(0.4 / (0.08 * 0.75))
    # Section area goes as the chord squared: a frustum's mean of c1^2, c1 c2, c2^2.
    by_hand = SECTION_AREA * 0.12 * 0.4 * (0.08**2 + 0.08 * 0.04 + 0.04**2) / 3
    assert wing.build(8).volume == pytest.approx(by_hand, rel=2e-3)


def test_square_pontoon_is_a_box():
    assert Pontoon(0.8, 0.12, 0.1, 0.2, 0.0, 0.0, 0.0).build().volume == pytest.approx(0.8 * 0.12 * 0.1, rel=1e-9)


def test_vee_pontoon_section_by_hand():
    mesh = Pontoon(0.8, 0.12, 0.1, 0.2, 0.8, 0.0, 20.0).build()
    by_hand = 0.12 * 0.1 - 0.12 * (0.06 * math.tan(math.radians(20))) / 2
    assert area_at(mesh, 0, 0.3) == pytest.approx(by_hand, rel=1e-9)


def test_step_lifts_the_after_bottom_and_leaves_the_fore_body():
    plain, stepped = Stepped(step_m=0.0).build(), Stepped(step_m=0.01).build()
    assert area_at(stepped, 0, 0.6) == pytest.approx(area_at(plain, 0, 0.6), rel=1e-4)
    low = Stepped().build()
    assert low.bounds[0][2] == pytest.approx(0.0, abs=1e-3)
    # Abaft the step every section loses the step's height over the beam there.
    wide = np.ptp(outlines(plain, 0, 0.2)[0][:, 1])
    assert area_at(plain, 0, 0.2) - area_at(stepped, 0, 0.2) == pytest.approx(0.01 * wide, rel=2e-3)


def test_three_point_sponsons_apart_from_the_hull_add_up():
    wide = ThreePoint(beam_m=0.6, hull_beam_m=0.16, sponson_beam_m=0.11)
    side = Pontoon(0.36, 0.11, 0.07, 0.216, 0.8, 0.0, 8.0).build().volume
    centre = Pontoon(0.8, 0.16, 0.09, 0.25, 0.7, 0.0, 0.0).build().volume
    assert wide.build().volume == pytest.approx(2 * side + centre, rel=1e-9)
    assert ThreePoint().build().volume < 2 * side + centre  # where they overlap the shared part counts once


def test_deadrise_that_grows_forward():
    straight = Vee(2.0, 0.5, 0.3, 15.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0).build()
    twisted = Vee(2.0, 0.5, 0.3, 15.0, 20.0, 10.0, 1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0).build()

    def chine(mesh, x):
        outline = outlines(mesh, 0, x)[0]
        side = outline[np.abs(outline[:, 1] - outline[:, 1].max()) < 1e-6]
        return side[:, 2].min() / outline[:, 1].max()

    assert chine(straight, 1.5) == pytest.approx(math.tan(math.radians(15)), rel=1e-3)
    assert chine(twisted, 1.5) == pytest.approx(math.tan(math.radians(25)), rel=5e-3)  # half way forward: half the gain
    assert chine(twisted, 0.5) == pytest.approx(math.tan(math.radians(10)), rel=5e-3)
