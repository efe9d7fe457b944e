"""Foam, sheets, what was printed and what frames weigh; on the page and on the command line."""

import io
import re
import zipfile
from dataclasses import replace

import ezdxf
import numpy as np
import pytest
import trimesh
from shapely import Point, Polygon

from tests.bodies import box
from yarekeel.cli.commands import patterns_command
from yarekeel.core.errors import InvalidInput
from yarekeel.core.patterns.frames import Wanted, frames_of, stations_of
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.recipes.printed import Printed
from yarekeel.demo.boats import moorhen, reedwarden, wagtail
from yarekeel.drawing.set_up import set_up_drawing
from yarekeel.exchange import boat_file
from yarekeel.exchange.patterns import foam, printed
from yarekeel.exchange.patterns.order import Order, mass_of, ordered, panels_cut
from yarekeel.exchange.patterns.printing import PieceOrder, clear_of, pieces_asked, wall_of
from yarekeel.exchange.patterns.sheet import laid_along
from yarekeel.exchange.patterns.sheets import SheetOrder, cut_list
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import with_value
from yarekeel.units import DEFAULT, parse


def length(text, name):
    return parse(text, "length", DEFAULT, name)


def cut(boat, order=None, frames=None):
    craft = Craft(boat())
    hull = craft.design.main_hull
    found = ordered(craft, hull, frames or Order(), length)
    return cut_list(craft, hull, panels_cut(craft, hull), found.frames, order or SheetOrder(), length)


def test_frames_of_a_box_weigh_what_the_sum_says():
    """Sections of 0.4 by 0.3 m, 6 mm of 500 kg/m3: 0.36 kg each, at the middle of each station."""
    mesh = box(2.0, 0.4, 0.3)
    frames = frames_of(mesh, stations_of(mesh, None, (0.5, 1.5)), Wanted(), ())
    mass, at = mass_of(frames, 0.006, 500.0)
    assert mass == pytest.approx(2 * 0.4 * 0.3 * 0.006 * 500)
    assert at[0] == pytest.approx(1.0)
    assert at[1] == pytest.approx(0.0, abs=1e-12)
    rings = frames_of(mesh, stations_of(mesh, None, (0.5,)), Wanted(ring=0.05), ())
    assert mass_of(rings, 0.006, 500.0)[0] == pytest.approx((0.4 * 0.3 - 0.3 * 0.2) * 0.006 * 500, rel=1e-6)


def test_templates_of_a_block_pass_the_same_marks_at_once():
    """Of a square section of 0.2 m the sixteen marks stand 50 mm apart round it, from the keel; both ends have the same block."""
    mesh = box(1.0, 0.2, 0.2)
    frames = frames_of(mesh, stations_of(mesh, None, (0.2, 0.5, 0.8)), Wanted(), ())
    made = foam.templates(frames, "Punt")
    assert [p.name for p in made] == ["block-1-aft", "block-1-fore", "block-2-aft", "block-2-fore"]
    spots = np.array([spot for spot, _ in foam.ticks_of(1000 * frames[0].outlines[0], 16)])
    ring = Polygon(1000 * frames[0].outlines[0])
    along = [ring.exterior.project(Point(s)) for s in spots]
    steps = np.diff([*along, along[0]]) % ring.exterior.length
    assert np.minimum(steps, ring.exterior.length - steps) == pytest.approx(np.full(16, 50.0), abs=1e-6)
    assert [w.text for w in made[0].words][:16] == [str(k) for k in range(1, 17)]
    assert "block 220 x 220 x 300 mm" in made[0].words[-1].text
    with pytest.raises(InvalidInput, match="two stations"):
        foam.templates(frames[:1], "Punt")


def test_what_moved_since_it_was_printed():
    """A box wider by 20 mm: each side of a frame has moved by 10 mm; the same box has not; a frame that is gone is said."""
    before, after = box(1.0, 0.2, 0.1), box(1.0, 0.22, 0.1)
    frames = frames_of(before, stations_of(before, None, (0.3, 0.6)), Wanted(), ())
    kept = printed.remembered(frames, "abc123", "every=300mm", "mm_g", "2026-05-01")
    now = frames_of(after, stations_of(after, None, (0.3, 0.6)), Wanted(), ())
    assert [far for _, far in printed.moved(kept, now)] == pytest.approx([0.01, 0.01], abs=1e-6)
    assert max(far for _, far in printed.moved(kept, frames)) < printed.MOVED
    assert printed.moved(kept, now[:1])[1][1] is None


def test_the_pram_is_cut_of_three_sheets_with_its_timber():
    """The chine and the sheer of the pram are a little longer than the straight way between their ends, by its rocker and its curve."""
    made = cut(wagtail, SheetOrder(price="38"), Order(skin="6 mm"))
    assert made.nested.sheets <= 3
    assert made.cost == pytest.approx(38 * made.nested.sheets)
    names = {one.name for one in made.nested.laid}
    assert {"bottom", "port-side", "starboard-side", "F1", "end"} <= names
    port, starboard = (next(one for one in made.nested.laid if one.name == f"{side}-side") for side in ("port", "starboard"))
    assert Polygon(port.outline).area == pytest.approx(Polygon(starboard.outline).area)
    sticks = {s.name: s for s in made.sticks}
    sheer = sticks["sheer clamp, one a side"]
    assert 2.35 < sheer.length < 2.35 * 1.06
    assert sheer.lengths == 2
    assert sheer.to_cut == pytest.approx(sheer.length + 8 * 0.018)
    assert any(name.startswith("chine log, bottom to side") for name in sticks)


def test_the_punts_long_panels_are_scarfed_off_the_frames():
    made = cut(moorhen)
    assert {s.part for s in made.scarfs} == {"bottom", "port-side", "starboard-side"}
    assert all(s.length == pytest.approx(0.048) for s in made.scarfs)
    craft = Craft(moorhen())
    hull = craft.design.main_hull
    stations = [f.x for f in ordered(craft, hull, Order(), length).frames]
    for p in panels_cut(craft, hull):
        if p.name in ("bottom", "side"):
            flat, along = laid_along(p)
            low = float(flat[:, 0].min())
            at = next(s.at for s in made.scarfs if p.name in s.part)
            assert min(abs(np.interp(x, *along) - low - at) for x in stations) >= 0.024 + 0.02 - 1e-6


@pytest.mark.parametrize(
    ("order", "words"),
    [
        (SheetOrder(sheet="2440"), "length x width"),
        (SheetOrder(sheet="300 x 200"), "not enough for this panel"),
        (SheetOrder(sheet="2440 x 200"), "smaller than"),
        (SheetOrder(thickness="-3 mm"), "more than nothing"),
        (SheetOrder(kerf="2 m"), "A saw takes"),
        (SheetOrder(price="dear"), "is a number"),
        (SheetOrder(price="-2"), "lies between"),
        (SheetOrder(timber="30 mm"), "too short"),
    ],
)
def test_a_cutting_that_cannot_be_is_a_sentence(order, words):
    with pytest.raises(InvalidInput, match=words):
        cut(wagtail, order)


def test_the_pages_give_what_they_show(client, demo_yard):
    page = client.get("/boats/1/B/sheets?price=38")
    assert "in your money" in page.text
    drawing = ezdxf.read(io.StringIO(client.get("/boats/1/B/sheets.dxf").text))
    outlines = [e for e in drawing.modelspace() if e.dxf.layer == "CUT"]
    assert len(outlines) >= 8
    assert "port-side,sheet" in client.get("/boats/1/B/cutting-list.csv").text
    assert client.get("/boats/1/B/sheets/sheet-1.svg").status_code == 200
    assert client.get("/boats/1/B/sheets/sheet-99.svg").status_code == 404
    small = client.get("/boats/1/B/sheets?sheet=300x200").text
    assert 'aria-invalid="true"' in small
    assert 'value="300x200"' in small
    assert client.get("/boats/1/B/sheets.dxf?sheet=300x200").status_code == 422
    pieces = client.get("/boats/2/B/pieces?wall=1.6mm").text
    assert "12 pieces" in pieces
    with zipfile.ZipFile(io.BytesIO(client.get("/boats/2/B/pieces.zip?wall=1.6mm").content)) as parts:
        names = parts.namelist()
        assert names == [*(f"P{k}.stl" for k in range(1, 13)), "pin.stl"]
        assert trimesh.load(io.BytesIO(parts.read("P3.stl")), file_type="stl").is_watertight
    assert client.get("/boats/2/B/pieces.zip?kind=obj").status_code == 422
    assert "larger than the bed" in client.get("/boats/2/B/pieces?bed=50x50x250").text
    assert client.get("/boats/1/B/foam.pdf").content[:5] == b"%PDF-"
    assert client.get("/boats/1/B/foam.dxf").status_code == 200
    assert client.get("/boats/1/B/foam.png").status_code == 404


def test_frames_go_into_the_list_and_what_was_printed_is_told(client, demo_yard):
    there = client.post("/boats/1/B/patterns/weigh?ring=50mm", data={"thickness": "6 mm", "material": "ply_okoume"}, follow_redirects=False)
    assert there.headers["location"].endswith("/boats/1/B/weights")
    line = next(w for w in demo_yard.revision(1, "B").design.weights if w.name == "Frames, as cut")
    assert 0.5 < line.mass_kg < 4
    client.post("/boats/1/B/patterns/weigh?ring=100mm", data={"thickness": "6 mm", "material": "ply_okoume"})
    again = [w for w in demo_yard.revision(1, "B").design.weights if w.name == "Frames, as cut"]
    assert len(again) == 1
    assert again[0].mass_kg > 1.5 * line.mass_kg
    assert client.post("/boats/1/B/patterns/weigh", data={"thickness": "6 mm", "material": "cheese"}).status_code == 422
    client.post("/boats/1/B/patterns/printed?every=500")  # millimetres, as the boat is read
    assert "the hull is still the same" in client.get("/boats/1/B/patterns").text
    revision = demo_yard.revision(1, "B")
    wider = with_value(revision.design, "bodies.0.shape.beam_m", 1.24)
    demo_yard.save(1, "B", wider, revision.snapshot, "wider")
    demo_yard.set_units(1, "in_lb")  # what was typed then is still millimetres
    assert "cannot be cut" not in client.get("/boats/1/B/patterns").text
    demo_yard.set_units(1, "mm_kg")
    page = client.get("/boats/1/B/patterns").text
    assert "the hull has changed since" in page
    far = [float(v) for v in re.findall(r"has moved by up to ([\d.]+)", page)]
    assert far
    assert max(far) == pytest.approx(20.0, abs=2.0)


@pytest.mark.parametrize(
    ("more", "files"),
    [
        ({"panels": True, "foam": True, "sheets": "2440x1220"}, {"panels.pdf", "foam.dxf", "sheets.dxf", "cutting-list.csv"}),
        ({"pieces": "1300x700x600", "wall": "40mm"}, {"pieces/P1.stl", "pieces/pin.stl"}),
    ],
)
def test_the_command_line_writes_the_same(tmp_path, more, files):
    boat = tmp_path / "boat.json"
    boat.write_text(boat_file.dumps(wagtail()))
    out = tmp_path / "out"
    patterns_command(boat, out, **more)
    assert {"frames.pdf", "frames.dxf", "set-up.csv", *files} <= {str(p.relative_to(out)) for p in out.rglob("*.*")}


def test_the_set_up_is_drawn_with_every_height_and_spacing():
    craft = Craft(moorhen())
    found = ordered(craft, craft.design.main_hull, Order(every="500 mm"), length)
    drawn = set_up_drawing(found.set_up, lambda v: f"{1000 * v:.0f} mm", upside_down=True)
    for row in found.set_up:
        assert f">{row.name}<" in drawn
        assert f">{1000 * row.keel:.0f} mm<" in drawn
        assert f">{1000 * row.sheer:.0f} mm<" in drawn
    assert drawn.count(">500 mm<") >= len(found.set_up) - 1
    assert set_up_drawing((), str, upside_down=True) == ""


def test_pieces_have_the_wall_of_the_estimate_unless_told():
    """Three lines of 0.45 mm: 1.35 mm. A wall of nothing is solid."""
    boat = reedwarden()
    body = boat.bodies[boat.main_hull].name
    line = WeightItem(
        "Hulls, printed", 0.0, (0.4, 0.0, 0.06), "data", group="structure", recipe=Printed(body=body, walls=3, line_m=0.00045)
    )
    craft = Craft(replace(boat, weights=(*boat.weights, line)))
    assert wall_of(craft, boat.main_hull) == pytest.approx(0.00135)
    estimated, solid = (pieces_asked(craft, boat.main_hull, PieceOrder(wall=wall), length) for wall in ("", "0"))
    assert estimated.whole < 0.3 * solid.whole
    assert estimated.whole == pytest.approx(pieces_asked(craft, boat.main_hull, PieceOrder(wall="1.35 mm"), length).whole)
    assert all(b - a == pytest.approx(0.04) for a, b in clear_of(craft))
    for order, words in ((PieceOrder(bed="220"), "length x width x height"), (PieceOrder(whole="3"), "from .. to"),
                         (PieceOrder(whole="300 mm .. 200 mm"), "aft of where"), (PieceOrder(deep="0"), "some way")):  # fmt: skip
        with pytest.raises(InvalidInput, match=words):
            pieces_asked(craft, boat.main_hull, order, length)
