"""Terms, signs, thresholds and floors that a boat's safety hangs on, each against a sum by hand: none can be dropped unseen."""

import dataclasses
import math

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.stats import norm

from tests.stages.rafts import raft
from tests.stages.stability.test_stability import OFF, heavy_raft
from yarekeel.core.found import Found
from yarekeel.core.propulsion.drive import Drive, Motor
from yarekeel.core.stability.inclining import Incline, Shift, height_from
from yarekeel.core.stability.righting import wall_sided_arm
from yarekeel.core.stability.roll_fit import fit_roll
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.weigh_in import unit_slip
from yarekeel.stages.afloat import afloat
from yarekeel.stages.changes import loading
from yarekeel.stages.changes.register import CHANGES
from yarekeel.stages.changes.ways import outrigger
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Compartment, Opening
from yarekeel.stages.drive import drive
from yarekeel.stages.judging import chances, criteria
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.stability import plain_tests, stability


def with_tank(height: float):
    """40 kg at a height on the raft of 2 x 0.6 x 0.3 m, and a full tank of 20 kg of water on its bottom, 0.05 m up."""
    tank = Compartment("tank", "hull", 0.5, 1.5, -0.1, 0.1, None, 0.1, "tank", filled=1.0, room=1.0)
    weights = (WeightItem("all", 40.0, (1.0, 0.0, height), "weighed"),)
    return Craft(dataclasses.replace(raft(), weights=weights, compartments=(tank,)))


def gm_with_tank(height: float) -> float:
    """By hand: 60 kg draw 0.05 m, B at 0.025 m, BM 0.6 m."""
    return 0.025 + 0.6**2 / 12 / 0.05 - (40 * height + 20 * 0.05) / 60


@pytest.mark.parametrize("height", [0.3, 1.2])
def test_gm_of_a_boat_with_a_full_tank_is_of_all_its_mass(height):
    rest = with_tank(height).rest()
    assert rest.is_unsteady == (height > 1)
    assert rest.upright_gm == pytest.approx(gm_with_tank(height), rel=1e-9)
    assert Figures(with_tank(height))["gm"] == pytest.approx(gm_with_tank(height), rel=1e-9)


def test_area_under_the_arm_of_a_boat_with_a_full_tank_is_of_all_its_mass():
    """Wall-sided until the bilge comes out, at atan(0.05 / 0.3) = 9.5 degrees."""
    craft, lean = with_tank(0.3), math.radians(8)
    found = stability.assess(craft)
    area, _ = quad(lambda heel: wall_sided_arm(gm_with_tank(0.3), 0.6, heel), 0, lean)
    assert criteria.area_to(found.boat, found.worse, lean) == pytest.approx(area, rel=1e-3)


def test_stiffness_of_a_hundredth_of_its_size_is_not_neutral():
    """GM 10 mm on a raft 2 m long: little, but it rights itself."""
    draft, gm = 40 / 1200, 0.010
    high = draft / 2 + 0.6**2 / 12 / draft - gm
    craft = Craft(dataclasses.replace(raft(), weights=(WeightItem("all", 40.0, (1.0, 0.0, high), "weighed"),)))
    assert craft.rest().gm_transverse == pytest.approx(gm, rel=1e-6)
    assert not craft.rest().equilibrium.neutral
    assert "float.neutral" not in {f.code for f in afloat.assess(craft).findings}
    with_less = Craft(dataclasses.replace(raft(), weights=(WeightItem("all", 40.0, (1.0, 0.0, high + 0.0098), "weighed"),)))
    assert with_less.rest().equilibrium.neutral  # 0.2 mm


@pytest.mark.parametrize(("factor", "said"), [(2.2046, True), (2.2046 * 1.10, True), (2.2046 * 1.16, False), (2.2046 / 1.16, False)])
def test_a_slip_of_units_is_taken_for_one_within_an_eighth(factor, said):
    """Pounds for kilograms is a factor of 2.2046 (NIST SP 811, B.8); the eighth is common practice."""
    assert (unit_slip(Found(5.0 * factor, 0.01), Found(5.0, 0.01)) == "pounds for kilograms") == said


def test_the_band_of_a_timed_roll_holds_nineteen_times_in_twenty():
    rng = np.random.default_rng(7)
    times, inside = np.linspace(0, 12, 600), []
    for _ in range(150):
        period = rng.uniform(1.2, 2.0)
        angles = 0.1 * np.exp(-times / 6) * np.cos(2 * math.pi * times / period) + rng.normal(0, 0.005, len(times))
        found = fit_roll(times, angles)
        inside.append(abs(found.period.value - period) <= found.period.half_width)
    assert 0.90 <= np.mean(inside) <= 0.99


def test_a_chance_follows_the_normal_law():
    """A mass of 40 kg +- 10 % (95 %) draws past a mark at half that band more: left of it lies the normal law's share (SciPy's norm)."""
    design = raft()
    item = WeightItem("all", 40.0, (1.0, 0.0, 0.1), "weighed", spread=0.10, place_spread_m=0.0)
    for share, more in ((norm.cdf(norm.ppf(0.975)), 4.0), (norm.cdf(norm.ppf(0.975) / 2), 2.0)):
        limit = 0.3 - (40.0 + more) / 1200
        brief = dataclasses.replace(design.brief, least_freeboard_m=limit, allowed_trim_deg=20.0, least_gm_m=0.01)
        found = chances.assess(Craft(dataclasses.replace(design, weights=(item,), brief=brief)))
        assert found.chances.freeboard == pytest.approx(share, abs=0.006)


def test_a_thrust_line_under_g_is_said_to_be_under_it():
    craft = Craft(dataclasses.replace(heavy_raft(), drive=Drive((Motor("Screw", 10.0, (0.0, 0.0, 0.02)),))))
    finding = next(f for f in drive.assess(craft).findings if f.code == "drive.line")
    assert finding.values["gap"] == pytest.approx(0.02 - 0.10, abs=1e-9)
    assert Figures(craft)["thrust_line_above_cg"] == pytest.approx(0.02 - 0.10, abs=1e-9)


def test_the_heaviest_load_stops_at_an_opening():
    """A hole 0.1 m up goes under at a draft of 0.1 m, 120 kg in all; the rim would allow far more."""
    design = raft()
    body = dataclasses.replace(design.bodies[0], openings=(Opening("scupper", (1.0, 0.0, 0.1)),))
    weights = (WeightItem("all", 40.0, (1.0, 0.0, 0.05), "weighed"),)
    found = loading.heaviest(Craft(dataclasses.replace(design, bodies=(body,), weights=weights)), (1.0, 0.0, 0.05))
    assert found.mass == pytest.approx(80.0, rel=1e-3)
    assert found.limit == "an opening"


def test_beams_of_an_outrigger_weigh_a_third_of_its_floats():
    """Foam of 33 kg/m3 under 0.5 kg/m2 of glass, both sides, and 35 % of that for the beams (common practice)."""
    craft = Craft(heavy_raft())
    way = outrigger.CHANGE.way(craft)
    after = way.built(0.1)
    number = len(after.design.bodies) - 1
    mesh = after.piece(number)
    floats = 33 * mesh.volume + 0.5 * mesh.area
    assert after.design.weights[-1].mass_kg == pytest.approx(floats * 1.35, rel=1e-6)


def test_a_seat_is_lowered_no_further_than_a_person_sits_over_the_bottom():
    """0.32 m over the bottom (common practice); two sit at different heights, and neither goes under it."""
    crew = (WeightItem("low", 60.0, (1.0, 0.0, 0.50), group="crew"), WeightItem("high", 60.0, (1.0, 0.0, 0.70), group="crew"))
    craft = Craft(dataclasses.replace(heavy_raft(), weights=(*heavy_raft().weights, *crew)))
    way = CHANGES["seat"].way(craft)
    assert way.high == pytest.approx(0.50 - 0.32)
    lowest = way.make(way.high).weights
    assert [w.at_m[2] for w in lowest if w.group == "crew"] == pytest.approx([0.32, 0.52])
    assert [w.at_m[2] for w in way.make(0.3).weights if w.group == "crew"] == pytest.approx([0.32, 0.40])


def test_a_rim_under_lets_water_into_an_open_boat_and_not_into_a_decked_one():
    """Two men on the rail of a raft that draws deep: its rim goes under, which fails a test without any limit."""
    for deck, fails in (("open", True), ("decked", False)):
        design = heavy_raft()
        bodies = (dataclasses.replace(design.bodies[0], deck=deck),)
        weights = (WeightItem("all up", 250.0, (1.0, 0.0, 0.05), "weighed"),)
        brief = dataclasses.replace(design.brief, rail_mass_kg=45.0, rail_heel_deg=None)
        craft = Craft(dataclasses.replace(design, bodies=bodies, weights=weights, brief=brief, tipping=OFF))
        tested = next(t for t in plain_tests.assess(craft, stability.assess(craft)) if t.code == "test.rail")
        assert tested.left < 0
        assert (tested.finding.severity == "fails") == fails
        assert ("water comes in" in tested.finding.sentence) == fails


def test_a_propeller_off_the_middle_comes_out_where_the_surface_reaches_it():
    """40 kg draw 33 mm; a screw 23 mm down and 0.25 m out meets the surface at atan(0.0233 / 0.25)."""
    weights = (WeightItem("all", 40.0, (1.0, 0.0, 0.1), "weighed"),)
    motor = Motor("Screw", 10.0, (0.0, 0.25, 0.01))
    found = stability.assess(Craft(dataclasses.replace(raft(), weights=weights, drive=Drive((motor,)))))
    out = [e for e in found.events if e.code == "propeller"]
    assert [e.name for e in out] == ["Screw"]
    assert abs(out[0].heel) == pytest.approx(math.atan((40 / 1200 - 0.01) / 0.25), abs=1e-3)


def test_g_that_lies_off_the_middle_is_found_on_its_side():
    """The true boat has G 6 mm to port; read at five shifts, where each rests by the wall-sided arm, it is found there."""
    craft = Craft(heavy_raft())
    boat, gm, bm = stability.assess(craft).boat, 0.175, 0.2
    incline = Incline(weight_kg=4.0, shifts=())
    shifts = []
    for moved in (-0.2, -0.1, 0.0, 0.1, 0.2):
        # GZ(heel) = w d cos(heel) / W - off cos(heel), G off to port heels it to port (less than 0).
        heels = np.linspace(-0.1, 0.1, 200_001)
        left = np.sin(heels) * (gm + 0.5 * bm * np.tan(heels) ** 2) - (4.0 * moved / 180.0 - 0.006) * np.cos(heels)
        shifts.append(Shift(moved, math.degrees(float(heels[np.abs(left).argmin()]))))
    found, port = height_from(boat, 180.0, dataclasses.replace(incline, shifts=tuple(shifts)), 0.0)
    assert port == pytest.approx(0.006, rel=1e-3)
    assert found.value == pytest.approx(0.10, abs=2e-4)
