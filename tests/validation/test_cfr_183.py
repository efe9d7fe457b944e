"""33 CFR 183 by hand: each figure worked from the clause as recalled (from memory), in pounds, feet and horsepower."""

import pytest

from yarekeel.core.rules import cfr_183 as rule

LB, FT = rule.POUND, rule.FOOT


def test_weight_capacity():
    # 183.35: (1800 - 300) / 5 = 300 lb; 183.37: three tenths of 1500 = 450 lb
    assert rule.weight_capacity("outboard", 1800 * LB, 300 * LB) == pytest.approx(300 * LB)
    assert rule.weight_capacity("manual", 1800 * LB, 300 * LB) == pytest.approx(450 * LB)
    assert rule.weight_capacity("manual", 200 * LB, 300 * LB) == 0


@pytest.mark.parametrize(("pounds", "count"), [(109, 1), (179.4, 1), (179.5, 2), (250, 2), (450, 3), (461.5, 4), (0, 0), (38.5, 1)])
def test_persons_round_a_half_up(pounds, count):
    # (250 + 32) / 141 = 2.0; (461.5 + 32) / 141 = 3.5 rounds to 4, where Python's own round gives 4 and 2.5 would give 2
    assert rule.persons(pounds * LB) == count


def test_a_half_is_rounded_up_where_python_would_not():
    assert rule.persons((2.5 * 141 - 32) * LB + 1e-9) == 3
    assert round(2.5) == 2


def test_persons_capacity_is_the_least():
    # 183.41: 450 - 60 = 390 lb by weight, 120 / 0.6 = 200 lb on one side
    assert rule.persons_capacity("outboard", 450 * LB, 60 * LB, 120 * LB) == pytest.approx(200 * LB)
    # 183.43: nine tenths of 450 = 405 lb
    assert rule.persons_capacity("manual", 450 * LB, 0.0, 400 * LB) == pytest.approx(405 * LB)
    # 550 lb and more: the side test is not asked for
    assert rule.persons_capacity("outboard", 900 * LB, 100 * LB, 10 * LB) == pytest.approx(800 * LB)


@pytest.mark.parametrize(
    ("length", "transom", "remote", "flat", "hp"),
    [
        (8.0, 4.0, False, False, 3),  # factor 32
        (9.0, 4.2, False, False, 5),  # 37.8, taken as 38
        (9.0, 4.2, False, True, 3),  # a flat bottom takes one step less
        (10.0, 4.5, False, False, 10),  # 45
        (12.0, 5.0, True, False, 30),  # 60: 2 x 60 - 90 = 30
        (12.0, 5.0, False, False, 25),  # 0.8 x 60 - 25 = 23, up to 25
        (12.0, 5.0, False, True, 15),  # 0.5 x 60 - 15 = 15
    ],
)
def test_horsepower(length, transom, remote, flat, hp):
    factor = rule.power_factor(length * FT, transom * FT)
    assert rule.horsepower(factor, remote, flat) == hp


def test_flotation_weight():
    # 183.225: half of 550 and an eighth of the 150 over = 275 + 18.75 lb
    assert rule.flotation_weight(700 * LB) == pytest.approx(293.75 * LB)
    assert rule.flotation_weight(400 * LB) == pytest.approx(200 * LB)


def test_dead_weight_is_a_quarter_of_what_is_left_for_gear():
    # 183.225, from memory: 1000 lb of persons, motor and gear, 700 lb of persons, 100 lb of motor and battery.
    assert rule.dead_weight(1000 * LB, 700 * LB, 100 * LB) == pytest.approx(50 * LB)
    assert rule.dead_weight(700 * LB, 700 * LB, 100 * LB) == 0.0
