"""Another pitch, size or pack beside what is fitted, each figure from the boat so altered."""

import pytest

from tests.cases import rated
from yarekeel.core.errors import InvalidInput
from yarekeel.demo.boats import dabchick, reedwarden
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import with_value
from yarekeel.stages.design.editing import set_field
from yarekeel.stages.design.fitted import sums_of
from yarekeel.stages.drive import match, packs
from yarekeel.stages.drive.what_if import WhatIf, altered, side_by_side


def test_pitch_alone_and_size_with_its_pitch():
    part = altered(dabchick(), WhatIf(pitch=0.9)).drive.motors[0].propulsor
    assert (part.diameter_m, part.pitch_m) == (0.045, pytest.approx(0.036))
    part = altered(dabchick(), WhatIf(size=1.2)).drive.motors[0].propulsor
    assert (part.diameter_m, part.pitch_m) == (pytest.approx(0.054), pytest.approx(0.048))
    fan = set_field(Craft(dabchick()), "drive.motors.0.propulsor.kind", "ducted_fan")
    was, now = (d.drive.motors[0].propulsor for d in (fan, altered(fan, WhatIf(pitch=1.5, size=1.1))))
    assert now.exit_m == pytest.approx(1.1 * was.exit_m)
    assert now.rated_n == was.rated_n
    assert altered(reedwarden(), WhatIf(pitch=0.9)) == reedwarden()
    assert WhatIf().is_nothing
    assert not WhatIf(cells=3).is_nothing


def test_each_figure_is_that_of_the_boat_so_altered():
    craft, what = Craft(dabchick()), WhatIf(pitch=0.85, cells=4)
    rows = {r.name: r for r in side_by_side(craft, what)}
    other = altered(dabchick(), what)
    assert other.drive.battery.voltage_v == 14.8
    for design, which in ((dabchick(), "was"), (other, "now")):
        sums, found = sums_of(design, craft.mass), match.assess(Craft(design))
        got = {name: getattr(row, which) for name, row in rows.items()}
        assert got["Pull from rest"] == sums.thrust
        assert got["Thrust to weight"] == sums.thrust_to_weight
        assert got["Current"] == sums.current
        assert got["of what the pack gives for long"] == pytest.approx(sums.current / packs.lasting_current(design.drive.battery))
        assert got["Top speed, about"] == found.top.speed
        assert got["Flat out, turn back by"] == found.top.distance / 2
        assert got["Goes farthest"] == found.economical.distance
    assert rows["Top speed, about"].is_better is True
    assert rows["Current"].is_better is False
    assert {r.is_better for r in side_by_side(craft, WhatIf())} == {None}


def test_what_is_not_known_stays_so():
    rows = {r.name: r for r in side_by_side(Craft(rated()), WhatIf(cells=3))}
    assert rows["Top speed, about"].was is None
    bare = {r.name: r for r in side_by_side(Craft(with_value(dabchick(), "drive.battery", None)), WhatIf(pitch=0.9))}
    assert bare["of what the pack gives for long"].was is None


@pytest.mark.parametrize("what", [WhatIf(pitch=0.49), WhatIf(size=2.01), WhatIf(cells=0), WhatIf(cells=25)])
def test_shares_and_cells_beyond_their_limits_are_refused(what):
    with pytest.raises(InvalidInput):
        altered(dabchick(), what)
