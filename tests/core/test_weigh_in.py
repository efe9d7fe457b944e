"""The weigh-in gives back a centre of gravity that is known, within the interval it states."""

import math

import numpy as np
import pytest

from yarekeel.core.errors import InvalidInput
from yarekeel.core.found import Found
from yarekeel.core.weights.weigh_in import WeighIn, are_swapped, between, hung, one_end_raised, over_edge, unit_slip, weighed

MASS, X, Y, Z = 4.3, 0.36, 0.012, 0.095
RUNS = 2000


def test_moments_by_hand():
    """3 kg at 0.2 m and 1 kg at 1.0 m balance at 0.4 m: moments about the origin."""
    assert between(3.0, 1.0, 0.2, 1.0) == pytest.approx(0.4)
    assert over_edge(-0.1, 0.0, 0.0, math.radians(45)) == pytest.approx(0.1)  # as high as it is wide, it balances at 45 degrees
    assert hung(0.4, 0.2, 0.5, math.radians(45)) == pytest.approx(0.1)


def test_one_end_raised_against_statics():
    """Forces worked out from a boat turned point by point, not by the formula under test."""
    x1, x2, z, rise = 0.1, 0.7, 0.02, 0.18
    angle = math.asin(rise / (x2 - x1))
    turn = np.array([[math.cos(angle), -math.sin(angle)], [math.sin(angle), math.cos(angle)]])
    aft, fore, g = (turn @ p for p in ([x1, z], [x2, z], [X, Z]))
    reading = MASS * (g[0] - aft[0]) / (fore[0] - aft[0])
    assert fore[1] - aft[1] == pytest.approx(rise)
    assert one_end_raised(reading, MASS, X, x1, x2, z, rise) == pytest.approx(Z)


LCG_LISTED, TCG_LISTED = 0.010, 0.006
"""m: half widths of the list's own centre, which a height leans on where LCG or TCG was not measured."""


def drawn(rng: np.random.Generator, true: float, half_width: float) -> Found:
    """What a list says of a centre that it knows so well."""
    return Found(true + rng.normal(0.0, half_width / 2), half_width)


def readings(rng: np.random.Generator, method: str) -> WeighIn:
    """What a builder would read of the known boat: every reading off by chance."""
    scale, ruler, angle = 0.004, 0.001, 0.5

    def kg(true: float) -> float:
        return true + rng.uniform(-scale, scale)

    def m(true: float) -> float:
        return true + rng.uniform(-ruler, ruler)

    base = {"scale_kg": scale, "place_m": ruler, "angle_deg": angle}
    if method == "two":
        fore = MASS * (X - 0.1) / 0.6
        return WeighIn(**base, aft_kg=kg(MASS - fore), fore_kg=kg(fore), aft_x_m=m(0.1), fore_x_m=m(0.7))
    if method == "edge":
        return WeighIn(**base, edge_x_m=m(X))
    if method == "side":
        port = MASS * (Y + 0.15) / 0.3
        return WeighIn(**base, port_kg=kg(port), starboard_kg=kg(MASS - port), port_y_m=m(0.15), starboard_y_m=m(-0.15))
    if method == "tip":
        true = math.degrees(math.atan2(Y + 0.13, Z - 0.01))
        return WeighIn(**base, tip_deg=true + rng.uniform(-angle, angle), tip_y_m=m(-0.13), tip_z_m=m(0.01))
    if method == "hang":
        true = math.degrees(math.atan2(X - 0.30, 0.16 - Z))
        return WeighIn(**base, hang_deg=true + rng.uniform(-angle, angle), hang_x_m=m(0.30), hang_z_m=m(0.16))
    pitch = math.asin(0.25 / 0.6)
    raised = MASS * ((X - 0.1) - (Z - 0.02) * math.tan(pitch)) / 0.6
    return WeighIn(**base, mass_kg=kg(MASS), raised_kg=kg(raised), rise_m=m(0.25), support_z_m=m(0.02), aft_x_m=m(0.1), fore_x_m=m(0.7))


@pytest.mark.parametrize(
    ("method", "figure", "true"),
    [
        ("two", "lcg", X),
        ("two", "mass", MASS),
        ("edge", "lcg", X),
        ("side", "tcg", Y),
        ("tip", "vcg", Z),
        ("raise", "vcg", Z),
        ("hang", "vcg", Z),
    ],
)
def test_the_known_centre_lies_inside_the_stated_interval(method, figure, true):
    """In 95 of 100, over two thousand seeded runs (three standard errors of that are 1.5)."""
    rng = np.random.default_rng(20)
    inside, widths = 0, []
    for _ in range(RUNS):
        found = getattr(weighed(readings(rng, method), drawn(rng, X, LCG_LISTED), drawn(rng, Y, TCG_LISTED)), figure)
        inside += abs(found.value - true) <= found.half_width
        widths.append(found.half_width)
    assert 0.935 * RUNS <= inside <= 0.965 * RUNS
    assert max(widths) < {"mass": 0.01, "lcg": 0.004, "tcg": 0.004, "vcg": 0.06}[figure]  # and it is no barn door


def test_a_list_off_by_12_mm_widens_a_height_found_by_tipping():
    """By hand: z = z_e + (y - y_e) / tan(angle), so 12 mm of TCG are 12 mm / tan(12 deg) = 56 mm of height."""
    read = WeighIn(tip_deg=12.0, tip_y_m=-0.01, tip_z_m=0.0, angle_deg=0.0, place_m=0.0)
    sure, off = (weighed(read, Found(0.0, 0.0), Found(0.0, by)).vcg for by in (0.0, 0.012))
    assert sure.half_width == 0.0
    assert off.half_width == pytest.approx(0.012 / math.tan(math.radians(12.0)), rel=1e-4)


def test_what_two_scales_read_twice_is_counted_once():
    """One end raised after both scales were read level: mass, LCG and height share four readings. The band is what readings drawn
    at random scatter by, to a tenth, where by squares alone it would be some 2.5 times that."""
    rng = np.random.default_rng(5)
    fore, raised = MASS * (X - 0.1) / 0.6, MASS * ((X - 0.1) - (Z - 0.02) * math.tan(math.asin(0.1 / 0.6))) / 0.6
    true = {"aft_kg": MASS - fore, "fore_kg": fore, "raised_kg": raised}
    places = {"aft_x_m": 0.1, "fore_x_m": 0.7, "support_z_m": 0.02, "rise_m": 0.1}

    def read() -> Found:
        off = {k: v + rng.uniform(-0.004, 0.004) for k, v in true.items()} | {k: v + rng.uniform(-0.001, 0.001) for k, v in places.items()}
        return weighed(WeighIn(scale_kg=0.004, place_m=0.001, **off), Found(0.0, 1.0), Found(0.0, 1.0)).vcg

    found = [read() for _ in range(4000)]
    values = np.array([f.value for f in found])
    holds = np.quantile(np.abs(values - Z), 0.95)
    assert np.mean([f.half_width for f in found]) == pytest.approx(holds, rel=0.05)


@pytest.mark.parametrize(
    ("measured", "slip"),
    [(4.3 * 2.2046, "pounds for kilograms"), (4.3 / 1000, "grams"), (4.3 * 35.27, "ounces for kilograms"), (4.4, ""), (6.0, "")],
)
def test_a_wrong_unit_is_noticed(measured, slip):
    said = unit_slip(Found(measured, 0.01), Found(4.3, 0.3))
    assert slip in said
    assert bool(said) == bool(slip)


def test_swapped_scales_are_noticed():
    listed = Found(0.30, 0.02)
    right = WeighIn(aft_kg=3.0, fore_kg=1.5, aft_x_m=0.1, fore_x_m=0.7)
    assert not are_swapped(right, listed)
    assert are_swapped(WeighIn(aft_kg=1.5, fore_kg=3.0, aft_x_m=0.1, fore_x_m=0.7), listed)
    assert not are_swapped(WeighIn(aft_kg=2.0, fore_kg=2.0, aft_x_m=0.1, fore_x_m=0.7), Found(0.4, 0.02))  # even: nothing to swap


@pytest.mark.parametrize(
    ("values", "field"),
    [
        ({"tip_deg": 0.0}, "tip_deg"),
        ({"mass_kg": -1.0}, "mass_kg"),
        ({"edge_x_m": math.nan}, "edge_x_m"),
        ({"aft_kg": 1.0, "fore_kg": 1.0, "aft_x_m": 0.7, "fore_x_m": 0.1}, "fore_x_m"),
        ({"mass_kg": 2.0, "raised_kg": 1.0, "aft_x_m": 0.1, "fore_x_m": 0.4, "support_z_m": 0.0, "rise_m": 0.5}, "rise_m"),
    ],
)
def test_what_contradicts_is_refused(values, field):
    with pytest.raises(InvalidInput) as caught:
        weighed(WeighIn(**values), Found(0.3, 0.0), Found(0.0, 0.0))
    assert caught.value.field == field


def test_nothing_read_finds_nothing():
    found = weighed(WeighIn(), Found(0.3, 0.0), Found(0.0, 0.0))
    assert (found.mass, found.lcg, found.tcg, found.vcg) == (None, None, None, None)
