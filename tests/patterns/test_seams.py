"""Seams, folds, ends and stitches: by hand on a box, a tray and the pram."""

import math

import numpy as np
import pytest
from shapely import Point, Polygon

from tests.bodies import box
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.folded_tray import FoldedTray
from yarekeel.core.patterns.panels import panels_of
from yarekeel.core.patterns.seams import bend_allowance, bend_deduction, lean_of_end, seams_of, stitches
from yarekeel.demo.boats import wagtail
from yarekeel.exchange.patterns.order import panels_cut
from yarekeel.exchange.patterns.sheet import laid_along, panel_pattern
from yarekeel.stages.design.craft import Craft


@pytest.fixture(scope="module")
def pram():
    craft = Craft(wagtail())
    hull = craft.design.main_hull
    return craft.piece(hull), panels_cut(craft, hull)


def test_a_right_angled_bend_by_the_rule_of_the_trade():
    """1 mm sheet bent by 90° round 2 mm: pi / 2 (2 + 0.4) = 3.77 mm of fibre; two outer legs of 3 mm less that: 2.23 mm shorter. A flat bend
    takes and saves nothing."""
    assert bend_allowance(90.0, 0.002, 0.001) == pytest.approx(math.pi / 2 * 0.0024)
    assert bend_deduction(90.0, 0.002, 0.001) == pytest.approx(0.006 - math.pi / 2 * 0.0024)
    assert bend_allowance(0.0, 0.002, 0.001) == 0
    assert bend_deduction(0.0, 0.002, 0.001) == 0


def test_seams_of_a_box_are_its_edges_at_right_angles():
    """2 by 0.4 by 0.3 m: bottom to each side 2 m, bent by 90°; its sheer is as long where it is open."""
    mesh = box(2.0, 0.4, 0.3)
    panels = tuple(p for p in panels_of(mesh) if not p.name.startswith("deck"))
    found = {(s.kind, s.panels): s for s in seams_of(mesh, panels, open_top=True)}
    chine = found["chine", ("bottom", "side")]
    assert chine.length == pytest.approx(2.0)
    assert chine.turn == pytest.approx(90.0)
    assert chine.pair
    assert found["sheer", ("side",)].length == pytest.approx(2.0)
    assert ("sheer", ("side",)) not in {(s.kind, s.panels) for s in seams_of(mesh, panels, open_top=False)}


def test_the_ends_of_the_pram_lean_as_its_rakes_say(pram):
    """The stem's top stands further out than its foot by the rake over the height between; a box's ends are upright."""
    mesh, panels = pram
    for p in (p for p in panels if p.name.startswith("end")):
        low, high = p.corners[np.argmin(p.corners[:, 2])], p.corners[np.argmax(p.corners[:, 2])]
        out = abs(float(high[0] - low[0])) / float(high[2] - low[2])
        assert abs(math.tan(math.radians(lean_of_end(mesh, p)))) == pytest.approx(out, rel=0.02, abs=1e-3)
    upright = box(1.0, 0.3, 0.2)
    assert [lean_of_end(upright, p) for p in panels_of(upright) if p.name.startswith("end")] == pytest.approx([0.0] * 2, abs=1e-9)


def test_a_tray_folds_by_as_much_as_its_sides_lean():
    """A tray of sides that flare by a third of their height stands 18.4° off upright: bent up by 90 less that."""
    tray = FoldedTray()
    mesh = tray.build()
    panels = tuple(p for p in panels_of(mesh) if p.develops and not p.name.startswith("deck"))
    chine = next(s for s in seams_of(mesh, panels, open_top=True) if s.kind == "chine")
    side, bottom = (next(p for p in panels if p.name == name) for name in ("side", "bottom"))
    one, other = (mesh.area_vectors[np.array(p.faces)].sum(axis=0) for p in (side, bottom))
    between = math.degrees(math.acos(float(one @ other / np.linalg.norm(one) / np.linalg.norm(other))))
    assert chine.turn == pytest.approx(between, abs=2.0)
    assert 30 < chine.turn <= 90


def test_stitches_lie_off_sewn_edges_and_none_at_the_sheer(pram):
    """Every 100 mm and 8 mm off: as many as the sewn edges have room for, each inside the panel and 8 mm from its edge."""
    _, panels = pram
    for p in panels:
        spots = stitches(p, panels, 0.1, 0.008)
        shape = Polygon(p.outline)
        off = [shape.exterior.distance(Point(s)) for s in spots]
        assert all(shape.contains(Point(s)) for s in spots)
        assert off == pytest.approx([0.008] * len(off), abs=1e-3)
    side = next(p for p in panels if p.name == "side")
    spots = stitches(side, panels, 0.1, 0.008)
    nearest = [int(np.argmin(np.linalg.norm(side.outline - s, axis=1))) for s in spots]
    high = side.corners[nearest, 2]
    sheer = side.corners[:, 2].max()
    along = [k for k, z in zip(nearest, high, strict=True) if z > 0.9 * sheer]
    assert len(along) <= 4  # at the corners with the ends alone
    end = next(p for p in panels if p.name == "end")
    across = stitches(end, panels, 0.1, 0.008)
    halves = [int(((across - end.outline.mean(axis=0)) @ (end.outline[k] - end.outline.mean(axis=0)) > 0).sum()) for k in (0, 1, 2)]
    assert min(halves) > 1  # both its sides are sewn
    drawn = panel_pattern(side, "Wagtail", spots)
    assert len(drawn.holes) == len(spots)
    flat = Polygon(1000 * laid_along(side)[0])
    assert all(flat.contains(Polygon(h)) for h in drawn.holes)
    with pytest.raises(InvalidInput, match="further apart"):
        stitches(side, panels, 0.005, 0.008)
    with pytest.raises(InvalidInput, match="more than"):
        stitches(side, panels, 0.0006, 0.0005)
