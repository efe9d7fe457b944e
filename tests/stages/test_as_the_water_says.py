"""The boat as found: held to hidden boats, to a general least-squares library, to redrawn readings, and its words."""

import dataclasses
import math

import numpy as np
import pytest
from scipy.optimize import minimize

from tools import trial_shares
from yarekeel.core.errors import InvalidInput
from yarekeel.core.propulsion.cells import measured_resistance
from yarekeel.core.propulsion.drive import warmed
from yarekeel.demo.boats import dabchick, reedwarden, turnstone, wagtail
from yarekeel.demo.fast_boats import sandpiper
from yarekeel.exchange import readings_csv, readings_file, trial_file
from yarekeel.instruments.pond import day, hidden_boat
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.fixes.correcting import as_found
from yarekeel.stages.running.resistance import resistance_of
from yarekeel.stages.trials import found, holding, plan
from yarekeel.stages.trials.fitting import fitted
from yarekeel.stages.trials.model import COVERAGE, EVEN, TOLD, UNKNOWNS, WATER, Model, lines_of
from yarekeel.stages.trials.readings import Inclining, Pull, Readings, ReadTo, Rolls, Run, Tilt
from yarekeel.stages.trials.trials import FloatTest
from yarekeel.stages.trials.weather import CALM, Weather
from yarekeel.stages.underway import speed
from yarekeel.units import SYSTEMS

SI = SYSTEMS["mm_g"]


@pytest.fixture(scope="module")
def tender() -> Craft:
    return Craft(wagtail())


@pytest.mark.whole
def test_the_shares_of_hidden_boats():
    """Two here; ``python -m tools.trial_shares 100`` prints the whole."""
    crafts = trial_shares.crafts()
    ok, told, widths = 0, 0, []
    for seed in range(2):
        for inside, width in trial_shares.held(seed, crafts[seed % 3]).values():
            ok, told = ok + inside, told + 1
            widths.append(width)
    assert ok / told >= 0.8
    assert max(widths) < 1.5
    assert sum(trial_shares.misread(seed, crafts[seed % 3])[0] for seed in range(2)) >= 1
    assert all(0.75 < share < 1.25 for seed in (0, 1, 2) for share in trial_shares.followed(seed, crafts[seed % 3]))


def test_an_advice_narrows_by_what_it_promised_and_tells_how_it_may_turn_out(tender):
    """A factor's doubt is a share of it: the same scale and line read a weak drive as finely as a strong one."""
    left, narrowed = trial_shares.followed(16, tender)
    assert left == pytest.approx(1.0, abs=0.02)
    assert narrowed == pytest.approx(1.0, abs=0.02)
    first = found.assess(tender, day(tender, 4, ("inclining", "rolls", "pulls", "runs")).readings).next
    assert first.least <= first.after <= first.most < first.before


def test_the_fit_is_the_least_squares_of_a_general_library(tender):
    """The same residuals, minimised as a plain function by another method (BFGS)."""
    one = day(tender, 4, ("runs",))
    fit = fitted(tender, one.readings)
    model, lines = Model(tender, one.readings), lines_of(tender, one.readings)
    before, doubt = model.before

    def cost(w):
        u = before + w * doubt
        return 0.5 * (sum(((line.of(model, u) - line.measured) / line.sigma) ** 2 for line in lines) + float((w**2).sum()))

    start = (fit.values - before) / doubt + 0.02
    other = minimize(cost, start, method="BFGS", options={"gtol": 1e-3, "maxiter": 120})
    away = (before + other.x * doubt - fit.values) / np.sqrt(np.diag(fit.covariance))
    assert np.abs(away).max() < 0.1  # of each figure's own doubt
    assert cost((fit.values - before) / doubt) <= other.fun + 0.01


def test_its_intervals_hold_over_two_thousand_redrawn_boats_and_readings(tender):
    """Boats drawn from what is known beforehand, readings drawn within what they are read to, each fitted by the slopes at the answer: the
    interval holds 95 of 100. A few fitted in full land where the slopes say."""
    one = day(tender, 3, ("runs", "pulls"))
    fit = fitted(tender, one.readings)
    rng = np.random.default_rng(5)
    sigma = np.array([line.sigma for line in fit.lines])
    gain = fit.covariance @ fit.slopes.T / sigma**2
    boats = rng.normal(0, 1, (2000, len(UNKNOWNS))) * fit.before[1]
    noise = rng.uniform(-1, 1, (2000, len(sigma))) * sigma / EVEN
    estimates = (boats @ fit.slopes.T + noise) @ gain.T
    for k in range(4):
        share = float((np.abs(estimates[:, k] - boats[:, k]) <= fit.half(k)).mean())
        assert 0.93 <= share <= 0.99  # what lies evenly within a half width never strays far
    model = Model(tender, one.readings)
    shown = dict(zip((line.name for line in fit.lines), (line.of(model, fit.values) for line in fit.lines), strict=True))
    steps = {"mass_kg": ("Mass", 1.0), "bow_m": ("Draft at the bow mark", -1.0), "stern_m": ("Draft at the stern mark", 1.0)}
    off = {line.name: line.sigma for line in fit.lines}
    base = fitted(tender, dataclasses.replace(one.readings, **{k: shown[n] for k, (n, _) in steps.items()}))
    moved = fitted(tender, dataclasses.replace(one.readings, **{k: shown[n] + way * off[n] for k, (n, way) in steps.items()}))
    names = [line.name for line in fit.lines]
    by_slopes = sum(gain[:, names.index(n)] * way * off[n] for n, way in steps.values())
    assert (moved.values - base.values)[:2] == pytest.approx(by_slopes[:2], rel=0.1, abs=1e-5)


def test_what_nothing_tells_is_not_told(tender):
    only = found.assess(tender, Readings(mass_kg=231.0))
    assert only.value("mass").value == pytest.approx(231.0, rel=1e-3)
    assert [t.name for t in only.told if t.value is None] == ["lcg", "tcg", "vcg", "thrust_factor", "drag_factor", "water", "pack_ohms"]
    assert only.next is not None
    with_speed = found.assess(tender, Readings(mass_kg=231.0, runs=(Run(1.0, 1.5),)))
    assert with_speed.value("thrust_factor").value is None  # a speed tells how both stand to one another, and neither
    with pytest.raises(InvalidInput, match="Nothing was read"):
        found.assess(tender, Readings())
    with pytest.raises(InvalidInput, match="Nothing was read"):
        found.assess(
            Craft(dataclasses.replace(dabchick(), drive=dataclasses.replace(dabchick().drive, motors=()))),
            Readings(pulls=(Pull(1.0, 3.0),)),
        )


def test_pull_and_drag_by_hand(tender):
    """A boat that pulls 0.8 of what was predicted at two throttles, and runs as fast as it would with drag 1.25 of that."""
    model = Model(tender, Readings())
    u = model.listed.copy()
    u[4], u[5] = 0.8, 1.25
    readings = Readings(
        mass_kg=tender.total.mass + tender.liquid_mass,
        bow_m=model.draft(u, True),
        stern_m=model.draft(u, False),
        pulls=(Pull(1.0, model.pull(u, 1.0)), Pull(0.5, model.pull(u, 0.5))),
        runs=(Run(1.0, model.speed(u, 1.0)), Run(0.6, model.speed(u, 0.6))),
    )
    told = found.assess(tender, readings)
    assert told.value("thrust_factor").value == pytest.approx(0.8, abs=0.005)
    assert told.value("drag_factor").value == pytest.approx(1.25, abs=0.03)
    assert {"trial.thrust_factor", "trial.drag_factor"} <= {f.code for f in told.findings}
    # at that speed thrust and drag are equal: by the curves themselves
    v = float(readings.runs[0].speed_ms)
    holds = resistance_of(tender)
    assert 0.8 * float(speed.thrust_over(tender, 1.0, np.array([v]))[0]) == pytest.approx(
        1.25 * float(holds.at(np.array([v]))[0]), rel=0.02
    )


def test_what_a_trial_found_goes_into_the_next_revision(tender):
    model = Model(tender, Readings())
    u = model.listed.copy()
    u[0] *= 1.06
    u[4], u[5] = 0.8, 1.25
    test = FloatTest(
        "2026-05-01",
        mass_kg=float(u[0]) + tender.liquid_mass,
        draft_bow_m=model.draft(u, True),
        draft_stern_m=model.draft(u, False),
        heel_deg=model.heel(u),
        pulls=(Pull(1.0, model.pull(u, 1.0)),),
        runs=(Run(1.0, model.speed(u, 1.0)), Run(0.7, model.speed(u, 0.7))),
    )
    design, _ = as_found(tender, test)
    after = Craft(design)
    assert after.total.mass == pytest.approx(float(u[0]), rel=2e-3)
    assert design.drive.pull_factor == pytest.approx(0.8, abs=0.01)
    assert design.drag_factor == pytest.approx(1.25, abs=0.05)
    # what is predicted next is what was measured
    again = found.assess(after, test.readings)
    assert all(r.where == "inside" for r in again.rows)
    pull = float(speed.thrust_over(after, 1.0, np.zeros(1))[0])
    assert pull == pytest.approx(test.pulls[0].thrust_n, rel=0.02)


def test_drag_is_what_a_trial_found_and_the_boat_trims_by_it(tender):
    more = Craft(dataclasses.replace(tender.design, drag_factor=1.5))
    plain, found_so = resistance_of(tender), resistance_of(more)
    at = np.array([0.5, 1.0, 1.5])
    assert found_so.at(at) / plain.at(at) == pytest.approx(1.5, rel=0.03)
    tow = found_so.balances[20]
    assert tow.residual < 1e-6


def test_the_virtual_pond_is_seeded_and_differs_from_the_list(tender):
    assert day(tender, 5).readings == day(tender, 5).readings
    assert day(tender, 5).readings != day(tender, 6).readings
    off = [hidden_boat(tender, s)[0] / tender.total.mass - 1 for s in range(20)]
    assert max(off) > 0.05
    assert min(off) < -0.05
    assert day(tender, 5, ("rolls", "runs")).readings.rolls is None


@pytest.mark.parametrize(
    ("what", "field"),
    [
        ({"mass_kg": -1}, "mass_kg"),
        ({"mass_kg": "heavy"}, "mass_kg"),
        ({"mass_kg": True}, "mass_kg"),
        ({"drafts": {"bow_m": 1e9}}, "bow_m"),
        ({"drafts": [1, 2]}, "drafts"),
        ({"rolls": {"count": 0, "time_s": 3}}, "rolls.count"),
        ({"rolls": {"count": 10}}, "rolls.time_s"),
        ({"pulls": [{"throttle": 1.4, "thrust_n": 3}]}, "pulls.0.throttle"),
        ({"pulls": {"throttle": 1}}, "pulls"),
        ({"runs": [{"throttle": 1, "speed_ms": -2}]}, "runs.0.speed_ms"),
        ({"runs": [{"speed_ms": 2}]}, "runs.0.throttle"),
        ({"inclining": {"weight_kg": 1, "shifts": [{"moved_m": 1}]}}, "inclining.shifts.0.heel_deg"),
        ({"read_to": {"draft_m": 0}}, "read_to.draft_m"),
        ({"read_to": {"nothing": 1}}, "read_to.nothing"),
        ({"tide": 3}, "tide"),
        ({"version": 2}, "version"),
        ({"version": True}, "version"),
        ({"format": "other"}, "format"),
    ],
)
def test_readings_that_are_none_are_named(what, field):
    with pytest.raises(InvalidInput) as refused:
        readings_file.read({"format": "yare-keel-trial", "version": 1, **what})
    assert refused.value.field == field


def test_readings_come_whole_from_a_file_and_a_record():
    data = {
        "format": "yare-keel-trial", "version": 1, "mass_kg": 3.2, "drafts": {"bow_m": 0.05, "stern_m": 0.06}, "heel_deg": -1, "water_inside_kg": 0.1,
        "rolls": {"count": 10, "time_s": 9.1}, "inclining": {"weight_kg": 0.2, "shifts": [{"moved_m": 0.05, "heel_deg": 2.0}]},
        "pulls": [{"throttle": 1, "thrust_n": 5}], "runs": [{"throttle": 0.5, "speed_ms": 1.1, "current_a": 4, "voltage_v": 11.2}], "wind_ms": 3, "depth_m": 0.4, "read_to": {"time_s": 0.1},
    }  # fmt: skip
    r = readings_file.read(data)
    assert r == Readings(
        3.2,
        0.05,
        0.06,
        -1.0,
        0.1,
        Rolls(10, 9.1),
        Inclining(0.2, (Tilt(0.05, 2.0),)),
        (Pull(1.0, 5.0),),
        (Run(0.5, 1.1, 4.0, 11.2),),
        3.0,
        0.4,
        ReadTo(time_s=0.1),
    )
    test = FloatTest("2026-05-01", rolls=r.rolls, inclining=r.inclining, pulls=r.pulls, runs=r.runs)
    assert trial_file.read(*trial_file.write(test)) == test
    assert trial_file.read("float", 1, '{"date": "2026-05-01", "mass_kg": 4.4, "seen": []}').pulls == ()


def test_tables_of_pulls_runs_and_shifts():
    assert readings_csv.pulls("100 %, 6.4 N, 9.5 A\n50 %, 2 N", "pulls", SI)[0] == Pull(1.0, 6.4, 9.5)
    assert readings_csv.runs("throttle\tspeed\tamps\n100 %\t1.8 m/s\t8", "runs", SI) == (Run(1.0, 1.8, 8.0),)
    assert readings_csv.shifts("200 mm, 3.4\n-200 mm, -3.1", "shifts", SI) == (Tilt(0.2, 3.4), Tilt(-0.2, -3.1))
    assert readings_csv.runs("  ", "runs", SI) == ()
    for text in ("x,y", "140 %,3 N", "100 %,-3 N"):
        with pytest.raises(InvalidInput):
            FloatTest("2026-05-01", pulls=readings_csv.pulls(text, "pulls", SI))


def test_a_boat_without_a_drive_and_a_sailing_one():
    craft = Craft(turnstone())
    model = Model(craft, Readings())
    result = found.assess(craft, Readings(bow_m=model.draft(model.listed, True), stern_m=model.draft(model.listed, False), heel_deg=0.0))
    assert result.value("mass").value == pytest.approx(craft.total.mass, rel=0.02)
    assert {t.name for t in result.told if t.value is not None} >= {"mass", "lcg", "tcg"}
    assert [UNKNOWNS[k] for k in TOLD] == [*UNKNOWNS[:6], "water", "pack_ohms"]
    assert COVERAGE == 1.96


def test_a_packs_resistance_by_two_loads(tender):
    """U = E - R I by hand: 12.4 V at 5 A and 11.5 V at 20 A are 60 mohm."""
    tired = found.assess(tender, Readings(pulls=(Pull(0.4, None, 5.0, 12.4), Pull(1.0, None, 20.0, 11.5))))
    told = tired.value("pack_ohms")
    assert told.value == pytest.approx(measured_resistance((5.0, 12.4), (20.0, 11.5)), abs=0.01)
    assert told.half < 0.012
    assert found.assess(tender, Readings(pulls=(Pull(1.0, None, 20.0, 11.5),))).value("pack_ohms").value is None  # one load tells nothing
    test = FloatTest("2026-05-01", pulls=(Pull(0.4, None, 5.0, 12.4), Pull(1.0, None, 20.0, 11.5)))
    battery = as_found(tender, test)[0].drive.battery
    assert battery.resistance_ohm == pytest.approx(told.value, abs=1e-4)
    cold = dataclasses.replace(battery, temperature_c=0.0)
    assert warmed(cold, 2 * 0.06) == pytest.approx(0.06)  # lithium cells: doubled from 20 to 0 degrees


def test_water_inside_is_told_apart_from_the_boat(tender):
    """The boat lies as deep as the list and 9 kg of water make it, of which about that was sponged out: boat and water each come out."""
    model = Model(tender, Readings(water_inside_kg=9.0))
    u = model.listed.copy()
    u[WATER] = 9.0
    readings = Readings(
        mass_kg=tender.total.mass + tender.liquid_mass, bow_m=model.draft(u, True), stern_m=model.draft(u, False), water_inside_kg=8.8
    )
    result = found.assess(tender, readings)
    assert result.value("water").value == pytest.approx(9.0, abs=0.5)
    assert result.value("mass").value == pytest.approx(tender.total.mass, rel=0.005)
    dry = found.assess(tender, dataclasses.replace(readings, water_inside_kg=None))
    assert dry.value("water").value is None
    over, nothing = model.draft(u, True), Model(tender, Readings()).listed
    u[WATER] = -9.0
    line = next(line for line in lines_of(tender, readings) if line.part == "bow")
    assert over != pytest.approx(model.draft(nothing, True), abs=1e-4)
    assert line.shown(model, u) - model.draft(nothing, True) == pytest.approx(model.draft(nothing, True) - over)


def test_wind_and_shallow_water_slow_a_run(tender):
    """Up and down a wind the drag is the mean of both ways, so that where thrust meets it is by the curves themselves; a bottom near the
    keel raises the waves' part."""
    calm, windy = Model(tender, Readings()), Model(tender, Readings(wind_ms=6.0))
    shallow = Model(tender, Readings(depth_m=0.35))
    v = windy.speed(windy.listed, 1.0)
    both = [float(resistance_of(tender, w).at(np.array([v]))[0]) for w in (6.0, -6.0)]
    assert float(windy.push(1.0, np.array([v]))[0][0]) == pytest.approx(sum(both) / 2, rel=0.01)
    assert v < calm.speed(calm.listed, 1.0)
    w = shallow.speed(shallow.listed, 1.0)
    assert float(shallow.push(1.0, np.array([w]))[0][0]) == pytest.approx(
        float(resistance_of(tender, depth=0.35).at(np.array([w]))[0]), rel=0.01
    )
    assert w < calm.speed(calm.listed, 1.0) - 0.01


@pytest.mark.parametrize("boat", [reedwarden, wagtail, sandpiper])
def test_a_boat_beside_the_middle_one_as_its_own_curve(boat):
    """Heavier by 6 % and G further aft by 2 % of the length: the few balances beside a whole curve give what its own whole curve does."""
    craft = Craft(boat())
    near = holding.Holding(craft)
    to = near._place(1, -1)
    quick = holding.held(craft, near._place(0, 0), to, CALM)
    speeds = holding.speeds_of(craft)
    there = dataclasses.replace(craft.design, weights=craft.acting, cases=(), case="")
    own = resistance_of(Craft(holding.moved_list(there, (craft.total.mass, craft.total.centre), *to))).at(speeds)
    off = np.abs(quick[12:] / own[12:] - 1)
    assert float(np.median(off)) < 1e-3
    assert float(np.quantile(off, 0.9)) < 0.012
    assert abs(float(own[100]) / float(holding.held(craft, near._place(0, 0), near._place(0, 0), CALM)[100]) - 1) > 0.01


def test_the_card_is_written_for_the_wind_and_the_depth(tender):
    calm, windy = (plan.card_of(tender, w) for w in (CALM, Weather(5.0, 0.5)))
    by = {name: {e.name: e for e in card.expected} for name, card in (("calm", calm), ("windy", windy))}
    assert by["windy"]["Speed at 100 %"].value < by["calm"]["Speed at 100 %"].value
    lean = by["windy"]["Leans in the wind abeam"]
    assert 0 < lean.value < math.radians(30)
    assert plan.card_of(tender, Weather(10.0)).expected[6].value > 3 * lean.value  # as the square of the wind, nearly
    assert "Leans in the wind abeam" not in by["calm"]
    with pytest.raises(InvalidInput, match="on the ground"):
        plan.card_of(tender, Weather(0.0, 0.05))
    assert plan.kept_as(windy, "mill pond", (), Weather(5.0, 0.5))["depth_m"] == 0.5
