"""Laps along seams, and trays as one flat blank: by hand, and against shapely and the sheet that a tray is folded from."""

import math

import numpy as np
import pytest
from shapely import Point, Polygon

from tests.bodies import box
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.folded_tray import FoldedTray
from yarekeel.core.patterns.joints import blank_of, lapped
from yarekeel.core.patterns.panels import panels_of
from yarekeel.core.patterns.seams import bend_deduction, seams_of
from yarekeel.demo.boats import reedwarden, wagtail
from yarekeel.exchange.patterns.order import PanelOrder, folded_from, panels_cut, panels_drawn
from yarekeel.stages.design.craft import Craft


def no_deck(mesh):
    return tuple(p for p in panels_of(mesh) if not p.name.startswith("deck"))


def turns_of(mesh, panels):
    found = seams_of(mesh, panels, open_top=True)
    return {next(n for n in s.panels if n != "bottom"): s.turn for s in found if s.kind in ("chine", "end") and "bottom" in s.panels}


def sides_of(blank):
    """The blank's measures along and across its folds."""
    along = blank.folds[0][0][1] - blank.folds[0][0][0]
    along = along / np.linalg.norm(along)
    return [float(np.ptp(blank.outline @ way)) for way in (along, np.array([-along[1], along[0]]))]


@pytest.mark.parametrize("flare", [0.0, 20.0])
def test_a_tray_unfolds_into_the_sheet_it_was_folded_from(flare):
    """Its builder's figures: a sheet of 300 x 200 mm, 30 mm turned up; of paper without thickness nothing is lost in the bends. The sides'
    corners, cut off square where they stand upright, are wider by the flare."""
    mesh = FoldedTray(flare_deg=flare).build()
    panels = no_deck(mesh)
    blank = blank_of(panels, turns_of(mesh, panels), 0.0, 1e-9)
    assert sides_of(blank) == pytest.approx([0.3, 0.2], abs=1e-6)
    wider = 0.03 * math.sin(math.radians(flare))
    assert Polygon(blank.outline).area == pytest.approx(0.24 * 0.14 + 2 * 0.03 * (0.24 + wider) + 2 * 0.03 * (0.14 + wider), rel=1e-5)
    assert sorted(name for _, name, _ in blank.folds) == ["end", "end 2", "side", "side"]
    assert all(turn == pytest.approx(90 - flare, abs=0.01) for _, _, turn in blank.folds)


@pytest.mark.parametrize("flare", [0.0, 20.0])
def test_a_thick_sheet_is_shorter_by_the_rule_of_the_trade_and_folds_in_the_middle_of_its_bends(flare):
    mesh = FoldedTray(flare_deg=flare).build()
    panels = no_deck(mesh)
    blank = blank_of(panels, turns_of(mesh, panels), 0.002, 0.001)
    less = bend_deduction(90 - flare, 0.002, 0.001)
    assert less > 0.001
    assert sides_of(blank) == pytest.approx([0.3 - 2 * less, 0.2 - 2 * less], abs=1e-6)
    ends = [line for line, name, _ in blank.folds if name.startswith("end")]
    apart = np.linalg.norm(ends[0].mean(axis=0) - ends[1].mean(axis=0))
    assert apart == pytest.approx(0.24 - less, abs=1e-6)  # the middle of each bend lies half the deduction inside the bottom's edge
    assert Polygon(blank.outline).is_valid


def test_a_hull_without_a_flat_bottom_or_straight_edges_is_not_folded_from_one_sheet():
    craft = Craft(wagtail())
    panels = panels_cut(craft, craft.design.main_hull)
    with pytest.raises(InvalidInput, match="along a curve"):
        blank_of(panels, {"side": 60.0}, 0.002, 0.001)
    with pytest.raises(InvalidInput, match="flat bottom"):
        blank_of([p for p in panels if p.name != "bottom"], {"side": 60.0}, 0.002, 0.001)
    told = folded_from(craft, craft.design.main_hull, "2 mm x 1 mm", lambda text, name: float(text.split()[0]) / 1000)
    assert told.blank is None
    assert "along a curve" in told.why
    assert told.folds


def test_laps_are_as_wide_as_asked_along_the_seams_and_nowhere_else():
    """A box of 2 x 0.4 x 0.3 m: the bottom carries none, a side one of 2 m on the bottom, an end three; each end of a lap loses half a
    square of its width."""
    panels = no_deck(box(2.0, 0.4, 0.3))
    wide = 0.02
    more = {p.name: Polygon(lapped(p, panels, wide).outline).area - p.area for p in panels}
    assert more["bottom"] == pytest.approx(0.0, abs=1e-12)
    assert more["side"] == pytest.approx(2.0 * wide - wide**2, rel=1e-6)
    ends = (0.3 + 0.4 + 0.3) * wide + 2 * wide**2 - wide**2  # two outer corners of the strip, less what the 45° takes
    assert more["end"] == pytest.approx(ends, rel=1e-6)


def test_laps_of_the_pram_follow_its_curved_seams():
    craft = Craft(wagtail())
    panels = panels_cut(craft, craft.design.main_hull)
    side = next(p for p in panels if p.name == "side")
    found = lapped(side, panels, 0.015)
    own, whole = Polygon(side.outline), Polygon(found.outline)
    assert whole.buffer(1e-7).covers(own)
    assert whole.within(own.buffer(0.015 * 1.02))
    (line,) = found.lines
    assert all(own.exterior.distance(Point(p)) < 1e-9 for p in line)
    drawn = {p.name: p for p in panels_drawn(craft, craft.design.main_hull, PanelOrder(lap="15"), lambda text, name: float(text) / 1000)}
    assert Polygon(drawn["side"].outlines[0]).area / 1e6 == pytest.approx(whole.area, rel=1e-9)
    assert "lap" in [w.text for w in drawn["side"].words]
    assert len(drawn["side"].marks) == 2
    assert len(drawn["bottom"].marks) == 1


def test_a_seam_that_turns_back_on_itself_takes_no_wide_lap():
    craft = Craft(reedwarden())
    with pytest.raises(InvalidInput) as error:
        panels_drawn(craft, craft.design.main_hull, PanelOrder(lap="15"), lambda text, name: float(text) / 1000)
    assert error.value.field == "lap"


@pytest.mark.parametrize("wide", [0.0, -0.01, 0.6])
def test_laps_that_cannot_be_are_refused(wide):
    panels = no_deck(box(2.0, 0.4, 0.3))
    end = next(p for p in panels if p.name == "end")
    with pytest.raises(InvalidInput) as error:
        lapped(end, panels, wide)
    assert error.value.field == "lap"
