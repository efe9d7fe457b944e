"""Parts on sheets: none over another, all inside, at least as few sheets as first fit by height; scarfs and lengths of timber by hand."""

import itertools

import numpy as np
import pytest
from shapely import Polygon, box, unary_union

from yarekeel.core.errors import InvalidInput
from yarekeel.core.patterns.nesting import SCARF, Part, Stock, nest, scarfed, stick

PLY = Stock(2.44, 1.22, 0.003)


def oblong(name: str, length: float, height: float) -> Part:
    return Part(name, np.array([[0, 0], [length, 0], [length, height], [0, height]], dtype=float))


def boat(seed: int) -> list[Part]:
    """Panels and frames such as a boat has: long bent strips, and rings cut open."""
    rng = np.random.default_rng([21, seed])
    parts = []
    for k in range(4):
        length, height, bend = rng.uniform(1.0, 2.4), rng.uniform(0.1, 0.45), rng.uniform(0.0, 0.2)
        x = np.linspace(0, length, 12)
        low = bend * np.sin(np.pi * x / length)
        parts.append(Part(f"panel {k}", np.vstack([np.column_stack([x, low]), np.column_stack([x, low + height])[::-1]])))
    for k in range(8):
        wide, high = rng.uniform(0.4, 1.1), rng.uniform(0.2, 0.5)
        outline = [[0, high], [0.1 * wide, 0.2 * high], [0.5 * wide, 0], [0.9 * wide, 0.2 * high], [wide, high], [0.9 * wide, high],
                   [0.5 * wide, 0.3 * high], [0.1 * wide, high]]  # fmt: skip
        parts.append(Part(f"frame {k}", np.array(outline)))
    return parts


def first_fit_by_height(parts: list[Part], stock: Stock) -> int:
    """Sheets that rows of boxes take, the highest first; by itself, to compare with."""
    sizes = sorted((tuple(np.ptp(p.outline, axis=0)) for p in parts), key=lambda s: -s[1])
    sheets: list[list[list[float]]] = []
    for length, height in sizes:
        for rows in [*sheets, None]:
            if rows is None:
                sheets.append([[length + stock.kerf, height, 0.0]])
                break
            fits = next((r for r in rows if r[0] + length <= stock.length and height <= r[1]), None)
            top = max(r[1] + r[2] for r in rows) + stock.kerf
            if fits is not None:
                fits[0] += length + stock.kerf
                break
            if top + height <= stock.width:
                rows.append([length + stock.kerf, height, top])
                break
    return len(sheets)


@pytest.mark.parametrize("seed", range(10))
def test_nothing_overlaps_and_no_more_sheets_than_row_by_row(seed):
    parts = boat(seed)
    found = nest(parts, PLY)
    assert sorted(one.name for one in found.laid) == sorted(p.name for p in parts)
    sheet = box(0, 0, PLY.length, PLY.width).buffer(1e-5)
    by = {p.name: p for p in parts}
    for _, lying in itertools.groupby(found.laid, key=lambda one: one.sheet):
        shapes = [(one, Polygon(one.outline)) for one in lying]
        for one, shape in shapes:
            assert sheet.contains(shape)
            assert shape.area == pytest.approx(by[one.name].area, rel=1e-9)
            assert one.turn in (0.0, 180.0)  # with the grain
        for (_, a), (_, b) in itertools.combinations(shapes, 2):
            assert a.distance(b) >= PLY.kerf - 1e-6
    assert found.sheets <= first_fit_by_height(parts, PLY)
    used = sum(p.area for p in parts)
    assert found.waste == pytest.approx(1 - used / (found.sheets * PLY.length * PLY.width))


def test_bent_parts_lie_into_one_another():
    """Four bows, each 0.9 high in its box though 0.3 wide: row by row a sheet takes one, and they lie in each other's arms two by two."""
    t = np.linspace(0, np.pi, 25)
    arc = np.column_stack([1.1 - 1.1 * np.cos(t), 0.6 * np.sin(t)])
    bow = Part("bow", np.vstack([arc + np.array([0, 0.25]), arc[::-1]]))
    parts = [Part(f"bow {k}", bow.outline) for k in range(4)]
    found = nest(parts, Stock(2.4, 1.25))
    assert found.sheets < first_fit_by_height(parts, Stock(2.4, 1.25))


def test_a_scarf_is_eight_times_the_thickness_and_keeps_off_frames():
    """A panel of 4 m from sheets of 2.44, 6 mm thick: one scarf of 48 mm in the middle; a frame there moves it aside."""
    panel = oblong("bottom", 4.0, 0.5)
    parts, scarfs = scarfed(panel, 2.44, 0.006)
    assert [round(float(np.ptp(p.outline[:, 0])), 6) for p in parts] == [2.024, 2.024]
    assert scarfs[0].length == pytest.approx(SCARF * 0.006)
    assert scarfs[0].at == pytest.approx(2.0)
    together = unary_union([Polygon(p.outline) for p in parts])
    assert together.area == pytest.approx(2.0)
    assert sum(p.area for p in parts) == pytest.approx(2.0 + 0.048 * 0.5)
    _, moved = scarfed(panel, 2.44, 0.006, keep_off=(2.01,))
    assert abs(moved[0].at - 2.01) >= 0.024 + 0.02 - 1e-9
    assert scarfed(oblong("short", 2.0, 0.3), 2.44, 0.006)[1] == ()
    with pytest.raises(InvalidInput, match="too short for scarfs"):
        scarfed(panel, 0.1, 0.006)


def test_timber_is_as_long_as_it_lies_with_its_scarfs():
    """5 m of 20 mm from lengths of 2.4: 160 mm scarfs, (5 - 0.16) / (2.4 - 0.16) = 2.16, so three, 5.32 m in all."""
    made = stick("chine log", 5.0, 2.4, 0.02)
    assert made.lengths == 3
    assert made.to_cut == pytest.approx(5.32)
    assert stick("clamp", 2.3, 2.4, 0.02).to_cut == 2.3
    with pytest.raises(InvalidInput, match="too short"):
        stick("clamp", 2.3, 0.1, 0.02)


def test_what_is_larger_than_a_sheet_is_a_sentence():
    with pytest.raises(InvalidInput, match="smaller than big"):
        nest([oblong("big", 3.0, 0.5)], PLY)
    with pytest.raises(InvalidInput, match="length and a width"):
        nest([], Stock(0.0, 1.0))
    tall = Stock(1.22, 2.44, turned=True)
    assert nest([oblong("across", 2.0, 0.5)], tall).laid[0].turn in (90.0, 270.0)
    with pytest.raises(InvalidInput, match="At most"):
        nest([oblong(f"{k}", 0.1, 0.1) for k in range(500)], PLY)


def test_outlines_of_very_many_points_are_laid_out_no_closer_than_the_kerf():
    """Six discs of 300 mm with 3 000 points each on a sheet: every two stay the kerf apart in their true outlines."""
    around = np.linspace(0, 2 * np.pi, 3000, endpoint=False)
    disc = 0.15 * np.column_stack([np.cos(around), np.sin(around)])
    laid = nest([Part(f"D{k}", disc) for k in range(6)], Stock(1.2, 0.7, kerf=0.004)).laid
    shapes = [(one.sheet, Polygon(one.outline)) for one in laid]
    for k, (sheet, one) in enumerate(shapes):
        for other_sheet, other in shapes[k + 1 :]:
            assert sheet != other_sheet or one.distance(other) >= 0.004 - 1e-9
