"""Frames at full size, read back from what is written, against shapely, a cone by hand, and the page's own size."""

import io
import math
import re

import ezdxf
import numpy as np
import pypdfium2
import pytest
import shapely
from ezdxf import recover
from fastapi.testclient import TestClient
from lxml import etree

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.box import Box
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.sections import area_of, outlines
from yarekeel.core.patterns.frames import Wanted, frames_of, set_up, stations_of
from yarekeel.demo.boats import reedwarden, wagtail
from yarekeel.exchange.patterns import cad, tiles
from yarekeel.exchange.patterns.order import Order, ordered
from yarekeel.exchange.patterns.sheet import code_of, title_of
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import with_value
from yarekeel.units import DEFAULT, parse


def length(text: str, name: str) -> float:
    return parse(text, "length", DEFAULT, name)


@pytest.fixture(scope="module")
def pram():
    return Craft(wagtail())


@pytest.fixture(scope="module")
def found(pram):
    order = Order(every="300 mm", skin="6 mm", ring="50 mm", keelson="30 mm x 20 mm", clamp="20 mm x 30 mm", limber="10 mm")
    return ordered(pram, 0, order, length)


def polygon(points) -> shapely.Polygon:
    return shapely.Polygon(np.asarray(points)[:, :2])


def test_a_whole_frame_is_the_section_and_the_skin_is_taken_off_as_shapely_offsets_it(pram):
    mesh = pram.piece(0)
    (whole,) = frames_of(mesh, (1.0,), Wanted())
    rounds = outlines(mesh, 0, 1.0)
    assert whole.area == pytest.approx(sum(area_of(r, 0) for r in rounds), rel=1e-9)
    (thin,) = frames_of(mesh, (1.0,), Wanted(skin=0.006))
    by_shapely = polygon(rounds[0][:, 1:]).buffer(-0.006, join_style="mitre", quad_segs=16)
    assert thin.area == pytest.approx(by_shapely.area, rel=1e-3)
    assert polygon(thin.outlines[0]).symmetric_difference(by_shapely).area < 1e-6
    assert thin.perimeter == pytest.approx(by_shapely.length, abs=1e-4)


def test_bevels_of_a_cone_are_its_half_angle():
    """A cone of half angle a, its axis fore and aft: everywhere off square by a (by hand)."""
    around = np.linspace(0, 2 * math.pi, 97)[:-1]
    ring = np.stack([np.zeros(96), 0.25 * np.cos(around), 0.25 * np.sin(around)], axis=1)
    vertices = np.vstack([ring, [[1.0, 0.0, 0.0], [0.0, 0.0, 0.0]]])  # apex ahead
    k = np.arange(96)
    faces = np.vstack([np.stack([k, (k + 1) % 96, np.full(96, 96)], axis=1), np.stack([(k + 1) % 96, k, np.full(96, 97)], axis=1)])
    turned = Mesh(vertices, faces)
    assert turned.volume == pytest.approx(math.pi * 0.25**2 / 3, rel=2e-3)
    low, high = turned.bounds
    (frame,) = frames_of(turned, ((float(low[0]) + float(high[0])) / 2,), Wanted())
    half = math.degrees(math.atan2(0.25 * math.cos(math.pi / 96), 1.0))  # of its flat facets
    assert len(frame.bevels) >= 8
    for b in frame.bevels:
        assert abs(b.angle) == pytest.approx(half, abs=0.05)
    assert all(b.angle > 0 for b in frame.bevels)  # it narrows ahead


def test_rings_notches_and_limber_holes_take_away_what_they_are(pram):
    mesh = pram.piece(0)
    (whole,) = frames_of(mesh, (1.0,), Wanted())
    (notched,) = frames_of(mesh, (1.0,), Wanted(keelson=(0.03, 0.02)))
    assert whole.area - notched.area == pytest.approx(0.03 * 0.02, rel=0.02)  # the bottom is all but flat there
    (clamped,) = frames_of(mesh, (1.0,), Wanted(clamp=(0.02, 0.03)))
    assert 0 < whole.area - clamped.area < 2 * 0.02 * 0.03
    (ring,) = frames_of(mesh, (1.0,), Wanted(ring=0.05))
    assert len(ring.holes) == 1
    assert ring.area == pytest.approx(whole.area - polygon(ring.holes[0]).area, rel=1e-9)
    (limbered,) = frames_of(mesh, (1.0,), Wanted(keelson=(0.03, 0.02), limber=0.01))
    assert notched.area - limbered.area == pytest.approx(2 * math.pi * 0.01**2 / 2, rel=0.05)  # two half rounds


def test_what_is_written_is_read_back_to_a_tenth_of_a_millimetre(pram, found):
    title = title_of(pram.design, "B", "2026-06-01")
    drawing, audit = recover.read(io.BytesIO(cad.dxf(found.patterns, title)))
    assert not audit.has_errors
    assert drawing.units == ezdxf.units.MM
    cut = [polygon(list(e.get_points("xy"))) for e in drawing.modelspace().query('LWPOLYLINE[layer=="CUT"]')]
    holes = [polygon(list(e.get_points("xy"))) for e in drawing.modelspace().query('LWPOLYLINE[layer=="HOLE"]')]
    area = sum(p.area for p in cut) - sum(p.area for p in holes)
    assert area / 1e6 == pytest.approx(sum(f.area for f in found.frames), rel=1e-3)
    assert sum(p.length for p in (*cut, *holes)) == pytest.approx(1000 * sum(f.perimeter for f in found.frames), abs=0.1)
    assert not any(a.intersects(b) for k, a in enumerate(cut) for b in cut[k + 1 :])
    for frame, p in zip(found.frames, found.patterns, strict=True):
        root = etree.fromstring(cad.svg(p, title))
        assert root.get("width").endswith("mm")
        rounds = [
            polygon([[float(v) for v in pair.split()] for pair in d.strip("MZ").split("L")])
            for layer in ("CUT", "HOLE")
            for d in root.xpath(f"//*[@id='{layer}']/*/@d")
        ]
        assert sum(r.length for r in rounds) == pytest.approx(1000 * frame.perimeter, abs=0.1)
        assert title.code in "".join(root.itertext())


def test_tiles_cover_a_pattern_with_the_stated_overlap_and_every_point_once_without(found):
    for p in found.patterns:
        pages = tiles.tiles_of(p, "A4")
        left, low, right, high = p.bounds
        boxes = [shapely.box(t.left, t.low, t.right, t.high) for t in pages]
        assert shapely.union_all(boxes).covers(shapely.box(left, low, right, high))
        own = [shapely.box(t.left, t.low, t.right - tiles.OVERLAP, t.high - tiles.OVERLAP) for t in pages]
        for k, a in enumerate(own):
            assert all(a.intersection(b).area < 1e-9 for b in own[k + 1 :])
        beside = [(a, b) for a in pages for b in pages if b.row == a.row and b.column == a.column + 1]
        assert all(a.right - b.left == pytest.approx(tiles.OVERLAP) for a, b in beside)
    with pytest.raises(InvalidInput, match="Paper is one of"):
        tiles.tiles_of(found.patterns[0], "A9")


def test_the_pdf_is_at_full_size_and_its_text_is_text(pram, found, request):
    title = title_of(pram.design, "B", "2026-06-01")
    data = tiles.write(found.patterns[:2], title, "A4")
    assert data == tiles.write(found.patterns[:2], title, "A4")
    pdf = pypdfium2.PdfDocument(data)
    request.addfinalizer(pdf.close)
    assert len(pdf) == sum(len(tiles.tiles_of(p, "A4")) for p in found.patterns[:2])
    text = pdf[0].get_textpage().get_text_range()
    assert f"shape {title.code}" in text
    assert "50 mm a side" in text
    picture = np.asarray(pdf[0].render(scale=4, grayscale=True).to_pil())
    left = (tiles.MARGIN + 4) * 72 / 25.4 * 4
    bottom = (tiles.PAPERS["A4"][1] - tiles.MARGIN - 4) * 72 / 25.4 * 4
    side = tiles.SQUARE * 72 / 25.4 * 4  # 141.7 points
    column = picture[int(bottom - side / 2), int(left) - 6 : int(left + side) + 7]
    dark = np.flatnonzero(column < 128)
    assert dark[-1] - dark[0] == pytest.approx(side, abs=4)


def test_set_up_heights_by_hand(found):
    """Upside down the strongback lies over the highest sheer; keel and sheer stand from it as the rocker says."""
    rows = set_up(found.frames, 0.1, upside_down=True)
    top = max(f.sheer for f in found.frames)
    for f, s in zip(found.frames, rows, strict=True):
        assert s.keel == pytest.approx(top + 0.1 - f.keel)
        assert s.sheer == pytest.approx(top + 0.1 - f.sheer)
    assert min(s.sheer for s in rows) == pytest.approx(0.1)
    upright = set_up(found.frames, 0.1, upside_down=False)
    assert min(s.keel for s in upright) == pytest.approx(0.1)
    assert sum(s.spacing for s in rows) == pytest.approx(found.frames[-1].x - found.frames[0].x)


@pytest.mark.parametrize(
    ("order", "says"),
    [
        (Order(at="9 m"), "outside the hull"), (Order(every="1 mm"), "more than a builder cuts"), (Order(every="0 mm"), "how far apart"),
        (Order(every="300 mm", skin="900 mm"), "thinner than two skins"), (Order(at="1 m", ring="0.01 mm", keelson="4 m x 4 m"), "Nothing is left"),
        (Order(at="1 m", keelson="20 mm"), "width x depth, such as"), (Order(at="1 m", skin="-2 mm"), "more than nothing"), (Order(at="here"), "not understood"),
    ],
)  # fmt: skip
def test_what_cannot_be_cut_is_a_sentence(pram, order, says):
    with pytest.raises(InvalidInput, match=says):
        ordered(pram, 0, order, length)


def test_the_code_changes_with_the_shape_and_not_with_the_weights():
    design = reedwarden()
    assert code_of(with_value(design, "weights.0.mass_kg", 1.5)) == code_of(design)
    assert code_of(with_value(design, "bodies.0.shape.length_m", 0.81)) != code_of(design)
    assert stations_of(Box(1.0, 0.4, 0.2).build(), 0.25, ()) == pytest.approx((0.125, 0.375, 0.625, 0.875))
    assert stations_of(Box(1.0, 0.4, 0.2).build(), 0.3, ()) == pytest.approx((0.2, 0.5, 0.8))  # what was asked, not what comes out even


def test_the_page_shows_frames_and_gives_the_files_and_a_wrong_field_keeps_what_was_typed(client: TestClient):
    page = client.get("/boats/1/B/patterns?every=300 mm&skin=6 mm")
    assert page.status_code == 200
    names = re.findall(r"patterns/(F\d+)\.svg", page.text)
    assert len(names) >= 6
    for ending, start in (("pdf", b"%PDF"), ("dxf", b"  0"), ("zip", b"PK")):
        assert client.get(f"/boats/1/B/patterns.{ending}?every=300 mm").content.startswith(start)
    assert client.get("/boats/1/B/patterns/F1.svg?every=300 mm").headers["content-type"].startswith("image/svg")
    assert client.get("/boats/1/B/patterns/F99.svg?every=300 mm").status_code == 404
    wrong = client.get("/boats/1/B/patterns?at=9 m&skin=6 mm").text
    assert 'value="9 m"' in wrong
    assert "outside the hull" in wrong
    assert client.get("/boats/1/B/patterns.pdf?at=9 m").status_code == 422
    for boat in ("2/B", "3/A", "4/A", "5/A", "6/C", "7/C"):
        assert client.get(f"/boats/{boat}/patterns").status_code == 200, boat


def test_the_command_writes_the_same_files(tmp_path, capsys):
    from yarekeel.cli.commands import patterns_command
    from yarekeel.exchange import boat_file

    boat = tmp_path / "b.json"
    boat.write_text(boat_file.dumps(wagtail()))
    patterns_command(boat, tmp_path / "out", frames="500mm", skin="6mm")
    names = {f.name for f in (tmp_path / "out").iterdir()}
    assert {"frames.pdf", "frames.dxf", "set-up.csv", "F1.svg"} <= names
    assert (tmp_path / "out/set-up.csv").read_text().startswith("frame,from_aft_mm")
    assert "Written to" in capsys.readouterr().out
