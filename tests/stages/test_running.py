"""Boats under way: every balance closes, a planing bottom is read off the hull, runs and flips follow, bad input is a sentence."""

import math
import re
from xml.etree import ElementTree

import numpy as np
import pytest

from tests.cases import rated
from tools import running_shares
from tools.fuzz import some
from tools.running_shares import boat_of
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import FAMILIES
from yarekeel.core.propulsion.drive import Battery, Drive, ElectricMotor, Motor
from yarekeel.core.propulsion.propulsors.water_propeller import WaterPropeller
from yarekeel.core.resistance.planing import planing_at
from yarekeel.core.running.balance import balanced, forces_at
from yarekeel.core.running.course import fin_for
from yarekeel.core.running.forces import State
from yarekeel.core.running.laws import LAWS
from yarekeel.core.running.laws import planing as law
from yarekeel.demo.boats import dabchick, moorhen, reedwarden, turnstone, wagtail
from yarekeel.exchange import gpx
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design, with_value
from yarekeel.stages.running.boat import underway_of
from yarekeel.stages.running.resistance import resistance_of
from yarekeel.stages.underway import coasting, flip, planing, run, schools, speed, steering


def fast(design: Design, at=(0.02, 0.0, 0.0)) -> Design:
    """With a drive that is strong for it."""
    motor = Motor("m", 0.0, at, electric=ElectricMotor(kv=2200, resistance_ohm=0.02), propulsor=WaterPropeller(0.036, 0.052, 2, 0.5))
    return with_value(design, "drive", Drive((motor,), Battery(14.8, 5.0, 40.0, 0.01)))


@pytest.mark.parametrize("boat", [reedwarden, wagtail, dabchick, moorhen, turnstone])
def test_every_speed_of_the_demo_boats_is_balanced(boat):
    found = resistance_of(Craft(boat()))
    assert all(b is not None and b.residual < 1e-6 for b in found.balances)
    assert np.isfinite(found.newtons).all()
    assert found.newtons[0] == pytest.approx(0.0, abs=1e-9)
    assert (found.band[1:] > 0).all()
    # parts sum to the whole, and forces to nothing
    for b in found.balances[1:]:
        assert math.fsum(b.part(n) for n in ("friction", "appendage", "wave", "transom", "planing", "air")) == pytest.approx(
            b.resistance, rel=1e-9
        )
        weight = found.boat.mass * 9.80665
        for axis in (0, 2):
            assert math.fsum(f.newtons[axis] for f in b.forces) == pytest.approx(0.0, abs=1e-6 * weight)


def test_at_no_speed_it_lies_as_it_floats():
    craft = Craft(reedwarden())
    b = balanced(underway_of(craft), 0.0)
    assert b.attitude.trim == pytest.approx(craft.settled.attitude.trim, abs=1e-8)
    assert b.attitude.origin_height == pytest.approx(craft.settled.attitude.origin_height, abs=1e-8)


def test_a_planing_bottom_is_read_off_the_hull():
    vee = underway_of(Craft(boat_of("vee"))).bottom
    shape = FAMILIES["vee"]()
    assert vee.deadrise == pytest.approx(shape.deadrise_deg, abs=0.1)
    assert vee.slope == pytest.approx(0.0, abs=0.1)
    assert 0.7 * shape.beam_m < vee.beam <= shape.beam_m
    for kind in ("round_bilge", "twin_hull", "flat_bottom"):  # the last has a keel that rises astern
        assert underway_of(Craft(boat_of(kind))).pads == ()


def test_on_the_plane_it_is_savitskys_own_balance():
    """The balance of all forces against his equations solved by themselves: trim within 0.1°, drag within 6 %."""
    found = resistance_of(Craft(boat_of("vee")))
    hull = planing.planing_hull(found.boat)
    for k in (34, 41, 48):
        b, speed_there = found.balances[k], float(found.speeds[k])
        alone = planing_at(hull, speed_there, found.boat.density, found.boat.viscosity)
        assert math.degrees(b.attitude.trim) + found.boat.bottom.slope == pytest.approx(alone.trim, abs=0.1)
        assert b.resistance - b.part("air") == pytest.approx(alone.drag, rel=0.06)


def test_random_boats_end_in_an_answer_or_in_words():
    """Some of what the command does with three hundred: no figure that is none, every balance closes, what has none is said."""
    fates = [running_shares.fate_of(running_shares.random_boat(seed)) for seed in range(some(16))]
    assert sum("balance" in f for f in fates) * 4 >= 3 * len(fates)


def test_a_stout_hull_widens_the_band_and_says_so():
    slim, stout = (resistance_of(Craft(boat_of("round_bilge", 0.15, up=0.1, beam_m=b))) for b in (0.10, 0.30))
    assert "underway.stout" in {f.code for f in stout.findings}
    assert "underway.stout" not in {f.code for f in slim.findings}
    assert stout.band[30] / stout.newtons[30] > slim.band[30] / slim.newtons[30]


def test_every_law_has_a_part():
    boat = underway_of(Craft(boat_of("vee")))
    parts = {f.part for f in forces_at(boat, State(6.0, boat.rest))}
    assert {"weight", "buoyancy", "friction", "planing", "air"} <= parts | {"buoyancy"}
    assert [law.rank for law in LAWS] == sorted(law.rank for law in LAWS)


def test_a_wet_transom_drags_until_it_runs_clean():
    """A box's stern by hand: breadth times draft, Holtrop and Mennen's coefficient (1982, from memory)."""
    craft = Craft(boat_of("box", 0.3, 0.5))
    boat = underway_of(craft)
    high, low = craft.hull.mesh.bounds[1], craft.hull.mesh.bounds[0]
    breadth = float(high[1] - low[1])
    draft = boat.volume / (breadth * float(high[0] - low[0]))
    assert boat.transom == pytest.approx(breadth * draft, rel=0.02)
    assert boat.transom_draft == pytest.approx(draft, rel=0.02)
    for v in (0.2, 0.6):
        drag = -next(f for f in forces_at(boat, State(v, boat.rest)) if f.part == "transom").newtons[0]
        froude = v / math.sqrt(2 * 9.80665 * draft)
        assert drag == pytest.approx(0.5 * boat.density * v**2 * breadth * draft * 0.2 * (1 - 0.2 * froude), rel=0.03)
    clean = 5 * math.sqrt(2 * 9.80665 * draft) * 1.05
    assert next(f for f in forces_at(boat, State(clean, boat.rest)) if f.part == "transom").newtons[0] == 0
    assert "underway.transom" in {f.code for f in resistance_of(craft).findings}
    assert underway_of(Craft(moorhen())).transom < 1e-5  # a submarine is round astern


def test_bands_are_wide_where_the_chine_is_dry_or_the_boat_slow():
    boat = underway_of(Craft(boat_of("vee")))
    inside = law.band_of(boat, boat.bottom, 4.0, 2.0, 2.0, 1.0)
    assert inside == law.BAND
    for trim, wetted, cv, share in (
        (1.9, 2.0, 2.0, 1.0),
        (4.0, 4.1, 2.0, 1.0),
        (4.0, 2.0, 0.5, 1.0),
        (4.0, 0.4, 2.0, 1.0),
        (4.0, 2.0, 2.0, 0.9),
    ):
        assert law.band_of(boat, boat.bottom, trim, wetted, cv, share) == law.BLEND
    # by hand: tan 15° / (2 pi tan 4°)
    assert law.wet_chine(4.0, 2.0, 15.0) == pytest.approx(2.0 - 0.26795 / (2 * math.pi * 0.069927), rel=1e-4)


def test_a_head_wind_costs_speed_and_is_refused_beyond_reason():
    craft = Craft(dabchick())
    assert speed.assess(craft, 1.0, 8.0).resistance.newtons[20] > speed.assess(craft).resistance.newtons[20]
    for throttle, wind in ((1.2, 0.0), (-0.1, 0.0), (1.0, 200.0), (1.0, math.nan)):
        with pytest.raises(InvalidInput):
            speed.assess(craft, throttle, wind)


def test_planing_says_where_its_law_ends():
    found = planing.assess(Craft(boat_of("vee", 0.12, 0.46)))
    codes = {f.code for f in found.findings}
    assert "underway.planes" in codes
    assert "underway.planing_range" in codes  # fast, its trim falls under 2°
    assert any(not p.in_range for p in found.points)
    assert all((p.planing.trim >= 2) or not p.in_range for p in found.points)
    hopping = planing.assess(Craft(boat_of("vee", 0.2, 0.18)))
    assert "underway.porpoising" in {f.code for f in hopping.findings}
    assert planing.assess(Craft(reedwarden())) is None


def test_flip_speeds_and_what_moves_them():
    craft = Craft(fast(boat_of("vee", 0.05, 0.25)))
    found = flip.assess(craft, 3.0)
    assert found.calm > found.windy > found.gusty > found.pitched > 0
    assert found.windy == pytest.approx(found.calm - 3.0)
    assert found.gusty == pytest.approx(found.calm - 4.5)
    assert all(gain > 0 for _, _, gain in found.buys)
    assert [b[2] for b in found.buys] == sorted((b[2] for b in found.buys), reverse=True)
    larger = flip.assess(craft, 3.0, 4 * found.plan.area)
    assert larger.plan.area == 4 * found.plan.area
    for wind, area in ((200.0, None), (3.0, -1.0), (3.0, 1e9)):
        with pytest.raises(InvalidInput):
            flip.assess(craft, wind, area)


@pytest.mark.parametrize(("margin", "word"), [(0.9, "fails"), (1.1, "near"), (1.3, "holds")])
def test_a_flip_is_judged_by_the_speed_it_reaches(margin, word):
    plan = flip.plan_of(Craft(dabchick()))
    (verdict, *_) = flip._findings(plan, margin * 5.0, 5.0, 0.0)
    assert (verdict.code, verdict.severity) == ("underway.flip", word)
    assert flip._findings(plan, 5.0, None, 0.0)[0].severity == "note"


def test_a_run_reaches_its_top_speed_and_coasts():
    craft = Craft(dabchick())
    found = run.assess(craft, run.legs_of("40 100%; 30 0%"))
    top = speed.assess(craft).match.top.speed
    assert found.motion.speed.max() == pytest.approx(top, rel=0.02)
    assert 0 < found.coasts < found.motion.distance[-1]
    assert found.motion.thrust_work - found.motion.drag_work == pytest.approx(found.motion.kinetic, abs=0.005 * found.motion.thrust_work)
    assert found.left[-1] == pytest.approx(1 - found.motion.used[-1] / 8.0)
    half = run.assess(craft, run.legs_of("40 50%"))
    assert half.motion.speed.max() < 0.8 * top
    assert run.assess(Craft(rated()), run.legs_of("10 100%")) is None


def test_a_fast_boat_gets_on_the_plane_or_it_is_said():
    strong = run.assess(Craft(fast(boat_of("vee", 0.07))), run.legs_of("20 100%"))
    weak = run.assess(Craft(fast(boat_of("vee", 0.30))), run.legs_of("20 20%"))
    assert 0 < strong.planes_after < 20
    assert weak.planes_after is None
    assert "does not get on the plane" in next(f.title for f in weak.findings if f.code == "underway.run_planes")


@pytest.mark.parametrize("text", ["", "10", "10 120%", "-5 50%", "0 50%", "10 50% 200", "5000 50%", "ten fifty", "1 1%;" * 61])
def test_courses_that_are_none(text):
    with pytest.raises(InvalidInput):
        run.legs_of(text)


def test_the_virtual_ponds_log_is_seeded_and_noisy():
    found = run.assess(Craft(dabchick()), run.legs_of("20 100%"))
    one, same, other = (run.logged(found, s) for s in (3, 3, 4))
    assert one == same != other
    speeds = np.array([r.speed for r in one])
    true = np.interp([r.time for r in one], found.motion.time, found.motion.speed)
    assert 0.02 < np.std(speeds - true) < 0.2
    track = ElementTree.fromstring(gpx.write("Dabchick & co", one))
    points = track.findall(".//{http://www.topografix.com/GPX/1/1}trkpt")
    assert len(points) == len(one)
    assert re.fullmatch(r"2026-05-01T09:00:00\.000Z", points[0].find("{http://www.topografix.com/GPX/1/1}time").text)
    north = (float(points[-1].get("lat")) - 52.0) * math.pi / 180 * 6_371_000
    assert north == pytest.approx(one[-1].north, abs=0.01)


def test_the_side_area_against_g_and_the_fin_that_would_do():
    """Areas by moments: A m + a l = (A + a) m_w."""
    found = steering.assess(Craft(turnstone()))
    last = found.rows[-1]
    length, arm = (
        underway_of(Craft(turnstone())).waterline,
        Craft(turnstone()).gravity[0] - float(Craft(turnstone()).hull.mesh.bounds[0][0]),
    )
    wanted = steering.WANTED * length
    assert last.area * last.margin * length + found.fin * arm == pytest.approx((last.area + found.fin) * wanted)
    assert 0.2 < last.fins < 0.6  # board and rudder
    assert last.fins_out < 0.05
    assert fin_for(1.0, 0.0, 0.3, 0.2) is None


@pytest.mark.parametrize("at", [0.28, 0.33, 0.42])
def test_on_the_plane_the_margin_is_judged(at):
    found = steering.assess(Craft(boat_of("vee", 0.1, at)))
    assert found is not None
    verdict = next(f for f in found.findings if f.code == "underway.margin")
    margin = found.rows[-1].margin
    wanted = "holds" if margin >= steering.WANTED else "near" if margin >= 0 else "fails"
    assert verdict.severity == wanted


def test_coasting_goes_further_from_faster_and_towing_costs_speed():
    craft = Craft(dabchick())
    found = coasting.assess(craft, 2.0)
    far = [c.distance for c in found.coasts]
    assert far == sorted(far)
    top = speed.assess(craft).match.top.speed
    assert found.coasts[-1].start == pytest.approx(top, rel=0.01)
    assert found.towed.top < top
    assert found.towed.pull == pytest.approx(2.0 * found.towed.top**2)
    high = coasting.assess(craft, 2.0, (0.0, 0.0, 0.3)).towed
    low = coasting.assess(craft, 2.0, (0.0, 0.0, 0.0)).towed
    assert high.trim > low.trim  # a high tow point lifts the bow
    assert coasting.assess(craft).towed is None
    for drag in (-1.0, 1e9, math.nan):
        with pytest.raises(InvalidInput):
            coasting.assess(craft, drag)


def test_both_schools_of_thrust_line_on_one_boat():
    """A line above G holds the bow down by the couple of thrust and its height; at rest there is none."""
    found = schools.assess(Craft(boat_of("vee")))
    fitted, high, middle = found.schools
    assert high.height > middle.height
    assert high.trim[0] == pytest.approx(middle.trim[0], abs=1e-6)
    both = np.isfinite(high.trim) & np.isfinite(middle.trim)
    assert (high.trim[both][3:] < middle.trim[both][3:]).all()
    assert "underway.schools" in {f.code for f in found.findings}
    assert fitted.height == underway_of(Craft(boat_of("vee"))).thrust_at[2]
