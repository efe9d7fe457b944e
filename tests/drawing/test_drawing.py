"""The drawings show what the sums say, at the place and scale the sums give, in well-formed SVG."""

import json
import math
import re
import xml.etree.ElementTree as ET

import numpy as np
import pytest

from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.families import Box
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.afloat import float_boat
from yarekeel.core.hydrostatics.form import form_of
from yarekeel.core.propulsion.bench.rig import Rig
from yarekeel.core.propulsion.bench.sheet import BenchTest
from yarekeel.core.stability.righting import righting_curve
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import reedwarden, wagtail
from yarekeel.drawing import charts, lines, righting, svg, tank, thrust_rig
from yarekeel.drawing.view import ASTERN, STARBOARD, View
from yarekeel.stages.design.craft import Craft
from yarekeel.units import SYSTEMS, say

MM = SYSTEMS["mm_g"]
NAMESPACE = "{http://www.w3.org/2000/svg}"


def words(value: float, kind: str) -> str:
    return say(value, kind, MM)


def parsed(text: str) -> ET.Element:
    """The drawing as a tree; the browser adds the namespace by itself, so it is not needed here."""
    return ET.fromstring(text)


def lines_sheet(craft, ghost=None, chosen=None):
    """The lines of a boat at half its depth, nine stations."""
    low, high = craft.hull.mesh.bounds
    half = Attitude(0.0, 0.0, -float(low[2] + high[2]) / 2)
    grid = lines.grid_of(
        craft.hull, 9, lines.nice_spacing(float(high[2] - low[2])), lines.nice_spacing(float(high[1] - low[1]) / 2), chosen
    )
    return lines.draw(craft.hull, grid, words, form=form_of(craft.hull, half), floating=half, ghost=ghost, unit=(0.001, "mm", 0))


def tank_of(items, at=(0.5, 0.0, 0.05), mass=40.0):
    hull = Hull(Box(1.0, 0.4, 0.2).build())
    afloat = float_boat(hull, mass, at, 1000.0) if mass < 80 else None
    return tank.Tank(hull, items, afloat, 0.9, 0.1, 0.09, words), afloat


def test_a_point_is_where_the_scale_puts_it():
    view = View(STARBOARD, Attitude(0.0, 0.0, -0.1), 500.0, 100.0, 240.0)
    assert view.point((0.2, 0.3, 0.15)) == pytest.approx((100 + 500 * 0.2, 240 - 500 * 0.05))
    astern = View(ASTERN, Attitude(0.0, 0.0, -0.1), 500.0, 100.0, 240.0)
    assert astern.point((0.2, 0.3, 0.15))[0] == pytest.approx(100 - 500 * 0.3)  # port is left, seen from astern


def test_one_point_and_many_agree_at_any_attitude():
    rng = np.random.default_rng(2)
    for side in (STARBOARD, ASTERN):
        view = View(side, Attitude(0.4, -0.2, 0.03), 300.0, 10.0, 200.0)
        points = rng.uniform(-1, 1, (20, 3))
        singles = [view.point(tuple(p)) for p in points.tolist()]
        assert view.page(points) == pytest.approx(np.array(singles), abs=1e-9)


def test_bow_down_and_heel_show_the_right_way_round():
    bow_down = View(STARBOARD, Attitude(0.0, -0.1, 0.0), 100.0, 0.0, 0.0)
    assert bow_down.point((1.0, 0.0, 0.0))[1] > bow_down.point((0.0, 0.0, 0.0))[1]  # page y grows downwards
    starboard_down = View(ASTERN, Attitude(0.2, 0.0, 0.0), 100.0, 0.0, 0.0)
    assert starboard_down.point((0.0, -1.0, 0.0))[1] > starboard_down.point((0.0, 1.0, 0.0))[1]


def test_the_tank_holds_every_weight_twice_as_a_slider():
    items = (
        WeightItem("Battery <big>", 30.0, (0.5, 0.0, 0.05)),
        WeightItem("Motor", 10.0, (0.5, 0.0, 0.05), "weighed"),
        WeightItem("none", 0.0, (0, 0, 0)),
    )
    drawing, _ = tank_of(items)
    tree = parsed(tank.draw(drawing))
    sliders = [e for e in tree.iter() if e.get("role") == "slider"]
    assert [(e.get("data-weight"), e.get("data-side")) for e in sliders] == [
        ("0", "starboard"),
        ("1", "starboard"),
        ("0", "astern"),
        ("1", "astern"),
    ]
    assert sliders[0].get("data-at") == "0.5,0,0.05"
    assert sliders[0].get("aria-label").startswith("Battery <big>, 30")  # escaped in the text, whole in the tree
    assert "weight-guessed" in sliders[0].get("class")
    assert "weight-guessed" not in sliders[1].get("class")


def test_draft_dimension_is_the_draft():
    drawing, afloat = tank_of((WeightItem("all", 40.0, (0.5, 0.0, 0.05)),))
    text = tank.draw(drawing)
    tree = parsed(text)
    scale = float(tree.get("data-scale"))
    dims = [e.get("d") for e in tree.iter() if e.get("class") == "dim"]
    top, bottom = (float(v) for v in re.match(r"M[\d.-]+ ([\d.]+)h10M[\d.-]+ ([\d.]+)h10", dims[0]).groups())
    assert (bottom - top) / scale == pytest.approx(0.1, abs=0.06 / scale)  # 40 kg on 1.0 x 0.4 m, to a tenth of a pixel
    assert text.count("100.0\N{NO-BREAK SPACE}mm") == 2
    assert afloat is not None


def test_labels_never_cross_each_other():
    items = tuple(WeightItem(f"w{k}", 1.0 + k, (0.45 + 0.01 * k, 0.0, 0.1)) for k in range(9))
    drawing, _ = tank_of(items)
    tree = parsed(tank.draw(drawing))
    boxes = []
    for e in tree.iter():
        if e.get("class") == "weight-label":
            x, y, wide = float(e.get("x")), float(e.get("y")), 6.8 * len(e.text)
            assert not [b for b in boxes if abs(b[0] - x) < (b[2] + wide) / 2 and abs(b[1] - y) < 12]
            boxes.append((x, y, wide))
    assert len(boxes) == 9


def test_a_sunk_boat_lies_on_the_bottom_and_says_so():
    drawing, _ = tank_of((WeightItem("all", 90.0, (0.5, 0.0, 0.05)),), mass=90.0)
    tree = parsed(tank.draw(drawing))
    assert "bottom" in tree.get("aria-label")
    assert not [e for e in tree.iter() if e.get("class") == "cb"]


@pytest.mark.parametrize("design", [reedwarden(), wagtail()])
def test_every_drawing_is_well_formed_and_uses_no_colour(design):
    craft = Craft(design)
    total = craft.total
    afloat = float_boat(craft.hull, total.mass, total.centre, craft.density)
    curve = righting_curve(craft.hull, afloat.volume, afloat.gravity, [math.radians(a) for a in range(0, 91, 10)])
    marks = craft.marks
    drawings = [
        tank.draw(tank.Tank(craft.hull, design.weights, afloat, marks.bow_x_m, marks.stern_x_m, None, words)),
        tank.small(craft.hull, afloat.attitude, 300, 150, "x"),
        tank.leaning(craft.hull, Attitude(0.4, 0.0, -0.1), afloat.gravity, afloat.buoyancy, 0.05, words),
        lines_sheet(craft),
        righting.draw([righting.Curve("this", curve)], [righting.Happening("rim under 32°", 0.56)], 0.56, words, "mm", 0.001),
        thrust_rig.draw(BenchTest(), words),
        thrust_rig.draw(BenchTest(rig=Rig("direct")), words),
        thrust_rig.draw(BenchTest(stream="air", rig=Rig(unit_arm_m=0.2, scale_angle_deg=70.0)), words),
    ]
    for drawing in drawings:
        parsed(drawing)
        assert not re.search(r"fill=|stroke=|style=|#[0-9a-fA-F]{3}", drawing)
        assert "nan" not in drawing


def test_chart_points_lie_on_the_curve_drawn():
    hull = Hull(Box(1.0, 0.4, 0.2).build())
    curve = righting_curve(hull, 0.04, (0.5, 0.0, 0.05), [0.0, 0.2, 0.4, 0.6])
    tree = parsed(righting.draw([righting.Curve("this", curve, sides=("starboard",))], (), None, words, "mm", 0.001))
    points = json.loads(tree.get("data-points"))["starboard"]
    drawn = next(e.get("d") for e in tree.iter() if e.get("class") == "gz-line")
    pairs = [tuple(float(v) for v in p.split()) for p in re.split("[ML]", drawn)[1:]]
    assert np.array(points)[:, 1:] == pytest.approx(np.array(pairs), abs=0.06)
    assert [h for h, _, _ in points] == pytest.approx([math.degrees(h) for h in (0, 0.2, 0.4, 0.6)], abs=1e-3)


@pytest.mark.parametrize(("span", "most", "step"), [(1.0, 5, 0.2), (0.9, 6, 0.2), (73.0, 6, 20.0), (3e-4, 6, 5e-5), (0.0, 6, 1.0)])
def test_nice_steps(span, most, step):
    assert charts.nice_step(span, most) == pytest.approx(step)


def test_text_and_attributes_are_escaped():
    assert "<b>" not in svg.text(0, 0, "<b>", 'a"b')
    assert svg.element("g", x=None, y=1.25) == '<g y="1.2"/>'


def test_the_sheet_reads_back_the_hulls_own_coordinates():
    craft = Craft(reedwarden())
    tree = parsed(lines_sheet(craft))
    views = json.loads(tree.get("data-views"))
    low, high = craft.hull.mesh.bounds
    profile = next(v for v in views["views"] if v["name"] == "profile")
    pieces = [p.get("d") for p in tree.iter("path") if p.get("class") == "lines-hull"]
    drawn = " ".join(pieces[: len(pieces) // 2])  # the profile's come first, then the plan's
    numbers = np.array([float(n) for n in re.findall(r"-?\d+(?:\.\d+)?", drawn)]).reshape(-1, 2)
    x, z = (numbers[:, 0] - profile["ox"]) / profile["scale"], (profile["oy"] - numbers[:, 1]) / profile["scale"]
    pixel = 0.2 / profile["scale"]
    assert (x.min(), x.max()) == pytest.approx((low[0], high[0]), abs=pixel)
    assert (z.min(), z.max()) == pytest.approx((low[2], high[2]), abs=pixel)


def test_the_chosen_station_says_its_own_figures():
    from yarekeel.stages.design.design import Body, Design

    craft = Craft(Design("box", bodies=(Body("hull", Box(1.0, 0.4, 0.2)),)))
    text = lines_sheet(craft, chosen=2)
    # A box half under: 400 mm by 100 mm below water is 400 cm2.
    assert (
        "Station 2, 255\N{NO-BREAK SPACE}mm from aft: 400\N{NO-BREAK SPACE}mm wide, 200\N{NO-BREAK SPACE}mm deep, 400.0\N{NO-BREAK SPACE}cm² under water"
        in text
    )


def test_a_ghost_shows_only_what_moved():
    from yarekeel.core.geometry.families import Vee
    from yarekeel.stages.design.design import Body, Design
    from yarekeel.stages.shape import bodies

    craft = Craft(Design("vee", bodies=(Body("hull", Vee()),)))
    whole = lines_sheet(craft, bodies.nudged(craft, "bodies.0.shape.length_m").shown)
    part = lines_sheet(craft, bodies.nudged(craft, "bodies.0.shape.deadrise_bow_gain_deg").shown)
    drawn = [sum(len(p.get("d")) for p in parsed(t).iter("path") if p.get("class") == "ghost") for t in (whole, part)]
    assert 0 < drawn[1] < drawn[0]
    same = lines_sheet(craft, craft.shown)
    assert not [p for p in parsed(same).iter("path") if p.get("class") == "ghost"]


def test_the_solid_is_the_hull_split_at_the_water():
    from yarekeel.drawing.solid import STEPS, solid

    hull = Hull(Box(1.0, 0.4, 0.2).build())
    data = solid(hull, Attitude(0.0, 0.0, -0.05))
    points = np.array(data["points"]).reshape(-1, 3) / STEPS * 0.5
    faces = np.array(data["faces"]).reshape(-1, 4)
    corners = points[faces[:, :3]]
    areas = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1) / 2
    below = faces[:, 3] % 2 == 1
    # Under 50 mm: the bottom, 0.4 m2, and a girth of 2.8 m times 0.05.
    assert areas[below].sum() == pytest.approx(0.4 + 2.8 * 0.05, rel=2e-3)
    assert areas.sum() == pytest.approx(hull.mesh.area, rel=2e-3)
    assert data["water"] / STEPS * 0.5 == pytest.approx(-0.05, abs=1e-3)  # the middle of the box is 50 mm above the surface
    assert (faces[:, 3] >= 2).any()


def test_an_open_boat_is_open_in_the_round():
    """The lid of an open box, 0.4 m2, is no face; of a decked one it is."""
    from yarekeel.drawing.solid import STEPS, solid

    mesh = Box(1.0, 0.4, 0.2).build()
    for is_open, lid in ((True, 0.4), (False, 0.0)):
        data = solid(Hull(mesh, open=is_open), Attitude(0.0, 0.0, -0.05))
        points = np.array(data["points"]).reshape(-1, 3) / STEPS * 0.5
        faces = np.array(data["faces"]).reshape(-1, 4)
        corners = points[faces[faces[:, 3] >= 16, :3]]
        areas = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1) / 2
        assert areas.sum() == pytest.approx(lid, rel=2e-3)
        assert points[faces[faces[:, 3] >= 16, :3]][..., 2].min(initial=1.0) > 0
