"""Sums of a list, its spread against draws at random, and its inertia by parallel axes."""

import math

import numpy as np
import pytest

from tests.bodies import box
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.afloat import float_boat, outputs_of, spread_of
from yarekeel.core.weights.inertia import inertia_of
from yarekeel.core.weights.items import WeightItem, total_of

DRAWS = 20_000
LIST = (
    WeightItem("hull", 3.0, (0.50, 0.0, 0.06), "guessed", together="printed parts"),
    WeightItem("deck", 1.2, (0.55, 0.0, 0.12), "guessed", together="printed parts"),
    WeightItem("hatch", 0.4, (0.80, 0.1, 0.13), "guessed", together="printed parts"),
    WeightItem("battery", 2.0, (0.42, 0.02, 0.04), "data"),
    WeightItem("motor", 0.9, (0.15, 0.0, 0.05), "weighed"),
    WeightItem("load", 1.5, (0.60, -0.05, 0.15), "guessed", 0.3),
)


def drawn(seed: int) -> np.ndarray:
    """Masses (DRAWS, n): independent normal errors, one shared by a lot; a half width is two standard deviations."""
    rng = np.random.default_rng(seed)
    lots = {name: rng.standard_normal(DRAWS) for name in {i.together for i in LIST if i.together}}
    errors = [lots[i.together] if i.together else rng.standard_normal(DRAWS) for i in LIST]
    return np.stack([i.mass_kg + i.half_width / 2 * e for i, e in zip(LIST, errors, strict=True)], axis=1)


def test_the_spread_of_mass_and_centre_against_draws():
    """Within four standard errors of a standard deviation from 20 000 draws, 1 / sqrt(2 n) = 0.5 %, and the linear term's due."""
    total, masses = total_of(LIST), drawn(7)
    places = np.array([i.at_m for i in LIST])
    centres = masses @ places / masses.sum(axis=1)[:, None]
    assert 2 * masses.sum(axis=1).std() == pytest.approx(total.half_width, rel=0.02)
    for k in range(3):
        assert 2 * centres[:, k].std() == pytest.approx(total.centre_half_width[k], rel=0.025)


def test_one_factor_for_all_is_wider_than_three_by_themselves():
    alone = total_of([WeightItem(i.name, i.mass_kg, i.at_m, i.known, i.spread) for i in LIST])
    assert total_of(LIST).half_width > alone.half_width
    lot = [i for i in LIST if i.together]
    assert total_of(lot).half_width == pytest.approx(0.2 * sum(i.mass_kg for i in lot))  # plainly added
    assert total_of(lot).centre_half_width == pytest.approx((0.0, 0.0, 0.0), abs=1e-12)  # one factor moves no centre


def test_the_spread_of_draft_and_gm_against_draws():
    """A box floats by closed forms (T = m / rho L B, GM = T/2 + B2/12T - KG), so 20 000 boats need no solver."""
    hull = Hull(box(1.0, 0.5, 0.3))
    total = total_of(LIST)
    even = tuple(WeightItem(i.name, i.mass_kg, (0.5, 0.0, i.at_m[2]), i.known, i.spread, together=i.together) for i in LIST)
    afloat = float_boat(hull, total.mass, total_of(even).centre, 1000.0)
    spread = spread_of(hull, even, afloat, 1.0, 0.0)
    assert spread is not None
    masses = drawn(11)
    mass = masses.sum(axis=1)
    draft = mass / (1000 * 0.5)
    gm = draft / 2 + 0.25 / 12 / draft - masses @ np.array([i.at_m[2] for i in even]) / mass
    assert outputs_of(afloat, hull, 1.0, 0.0).draft_bow == pytest.approx(total.mass / 500)
    assert 2 * draft.std() == pytest.approx(spread.draft_bow, rel=0.02)
    assert 2 * gm.std() == pytest.approx(spread.gm, rel=0.06)  # GM bends with the draft; the rest is the linear term


def test_inertia_by_parallel_axes():
    """Two kilograms 2 m apart turn about their middle with 2 x 1 kg x 1 m2; a point at the centre adds nothing."""
    tensor = inertia_of([1.0, 1.0, 5.0], [(-1.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 0.0)])
    assert np.diag(tensor) == pytest.approx([0.0, 2.0, 2.0])
    own = [np.diag([0.1, 0.2, 0.3])] * 2
    moved = inertia_of([1.0, 1.0], [(0.0, 3.0, 1.0), (0.0, 5.0, 1.0)], own)
    assert np.diag(moved) == pytest.approx([0.2 + 2.0, 0.4, 0.6 + 2.0])
    # A rod of ten thousand points: m L2 / 12 about its middle.
    x = (np.arange(10_000) + 0.5) / 10_000
    rod = inertia_of([3.0 / 10_000] * 10_000, [(float(v), 0.2, 0.1) for v in x])
    assert rod[2, 2] == pytest.approx(3.0 / 12, rel=1e-6)
    assert inertia_of([0.0], [(1.0, 1.0, 1.0)]) == pytest.approx(np.zeros((3, 3)))


def test_nothing_aboard_has_no_centre():
    with pytest.raises(InvalidInput):
        total_of([WeightItem("air", 0.0, (0.0, 0.0, 0.0))])


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"quantity": -1.0}, "quantity"),
        ({"quantity": math.inf}, "quantity"),
        ({"group": "cargo"}, "group"),
        ({"factor": 0.0}, "factor"),
        ({"note": "x" * 401}, "note"),
    ],
)
def test_a_line_that_cannot_be(changes, field):
    with pytest.raises(InvalidInput) as caught:
        WeightItem("x", 1.0, (0.0, 0.0, 0.0), **changes)
    assert caught.value.field == field
