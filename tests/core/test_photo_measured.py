"""Photos of boats of known attitude, made with a camera of a general kind: tilted, and marked with a hand that shakes."""

import math

import numpy as np
import pytest

from yarekeel.core.errors import InvalidInput
from yarekeel.core.trials import photo
from yarekeel.core.trials.photo import MarkSeen, measured

SIZE = (1200, 900)
LENGTH = 0.8
FOUR = ((0.05, 0.02), (0.75, 0.03), (0.70, 0.14), (0.10, 0.13))
"""Marks on the side of a boat 0.8 m long: along and up, in metres."""


def shot(rng, trim: float, draft: float, marks, tilt: float, port: bool = False, noise: float = photo.MARKING):
    """Where marks and waterline are in a picture: a pinhole camera by its rotation matrix, 0.9 m off, held ``tilt`` off each way."""
    focal = SIZE[0] / 2 / math.tan(math.radians(30))
    yaw, pitch, roll = np.radians([rng.normal(0, tilt), rng.normal(0, tilt), rng.normal(0, 3.0)])
    cy, sy, cp, sp, cr, sr = (f(a) for a in (yaw, pitch, roll) for f in (math.cos, math.sin))
    turn = np.array([[cr, -sr, 0], [sr, cr, 0], [0, 0, 1]]) @ np.array([[1, 0, 0], [0, cp, -sp], [0, sp, cp]])
    turn = turn @ np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]])

    def seen(along: float, up: float) -> np.ndarray:
        side = -1.0 if port else 1.0
        at = turn @ np.array([side * (along - LENGTH / 2), -(up - 0.07), 0.0]) + np.array([0.02, 0.03, 0.9])
        return np.array(SIZE) / 2 + focal * at[:2] / at[2] + rng.normal(0, noise, 2)

    water = [tuple(seen(x, draft + math.tan(math.radians(trim)) * (x - LENGTH / 2))) for x in (0.08, 0.72)]
    known = [MarkSeen(*seen(*m), *(v + rng.normal(0, photo.PLACED * (noise > 0)) for v in m)) for m in marks]
    return known, water


@pytest.mark.parametrize(("marks", "tilt", "within"), [(FOUR, 8.0, 0.3), (FOUR[2:], 4.0, 0.8)])
def test_trim_and_draft_with_a_tilted_camera_and_noise(marks, tilt, within):
    """Four marks: trim within 0.3 degrees and draft within 1 % of the length; two are worse, and say so; the band holds either way."""
    rng = np.random.default_rng(18)
    held, trims, drafts, stated = 0, [], [], []
    for _ in range(200):
        trim, draft = rng.uniform(-4, 4), rng.uniform(0.03, 0.08)
        known, water = shot(rng, trim, draft, marks, tilt, port=bool(rng.integers(2)))
        found = measured(known, water, (0.4,), SIZE)
        trims.append(found.slope - trim)
        drafts.append(found.heights[0][0] - draft)
        stated.append(found.slope_half)
        held += (abs(trims[-1]) <= found.slope_half) + (abs(drafts[-1]) <= found.heights[0][1])
    assert np.percentile(np.abs(trims), 90) < within
    assert np.percentile(np.abs(drafts), 90) < 0.01 * LENGTH
    assert held / 400 >= 0.9
    assert np.median(stated) < 4 * np.std(trims)  # no wider than it must be


def test_a_picture_without_error_gives_what_it_was_taken_of():
    rng = np.random.default_rng(1)
    for port in (False, True):
        known, water = shot(rng, 2.5, 0.05, FOUR, 10.0, port=port, noise=0.0)
        found = measured(known, water, (0.4, 0.8), SIZE)
        assert found.slope == pytest.approx(2.5, abs=1e-6)
        assert [h for h, _ in found.heights] == pytest.approx([0.05, 0.05 + 0.4 * math.tan(math.radians(2.5))], abs=1e-7)
        straight, line = shot(rng, -1.5, 0.06, FOUR[2:], 0.0, port=port, noise=0.0)
        assert measured(straight, line, (0.4,), SIZE).slope == pytest.approx(-1.5, abs=1e-6)


@pytest.mark.parametrize(
    ("marks", "water", "said"),
    [
        ([MarkSeen(0, 0, 0, 0)], [(0, 300), (900, 300)], "Two marks, or four"),
        ([MarkSeen(0, 0, 0, 0), MarkSeen(9, 0, 1, 0)], [(0, 300), (900, 300)], "one place of the picture"),
        ([MarkSeen(0, 0, 0, 0), MarkSeen(900, 0, 0, 0)], [(0, 300), (900, 300)], "one place of the boat"),
        ([MarkSeen(0, 0, 0, 0), MarkSeen(900, 0, 1, 0)], [(0, 300), (9, 300)], "two places well apart"),
        ([MarkSeen(-9000, 0, 0, 0), MarkSeen(900, 0, 1, 0)], [(0, 300), (900, 300)], "outside the picture"),
        ([MarkSeen(100 * k, 0, k, 0) for k in range(4)], [(0, 300), (900, 300)], "do not fix"),
    ],
)
def test_marks_that_tell_nothing_are_refused(marks, water, said):
    with pytest.raises(InvalidInput, match=said):
        measured(marks, water, (0.4,), SIZE)
