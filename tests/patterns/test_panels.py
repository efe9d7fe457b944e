"""Panels unrolled: cylinder, cones and a helical strip against their exact development; what curves two ways is refused."""

import io
import math
import re

import numpy as np
import pytest
import shapely
from ezdxf import recover
from fastapi.testclient import TestClient

from tests.bodies import spheroid
from yarekeel.core.geometry.families.box import Box
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.patterns.panels import panels_of
from yarekeel.demo.boats import moorhen, wagtail
from yarekeel.exchange.patterns import cad
from yarekeel.exchange.patterns.sheet import panel_pattern, title_of
from yarekeel.stages.design.craft import Craft


def strip(one: np.ndarray, other: np.ndarray) -> Mesh:
    """A ruled strip between two curves (n, 3), with a back behind it, so that it is a closed body whose front is one panel."""
    n = len(one)
    normal = np.cross(one[1:] - one[:-1], other[:-1] - one[:-1]).sum(axis=0)
    back = (np.vstack([one, other]).mean(axis=0) - 0.8 * normal / np.linalg.norm(normal))[None]
    vertices = np.vstack([one, other, back])
    k = np.arange(n - 1)
    front = np.vstack([np.stack([k, k + 1, k + n], 1), np.stack([k + 1, k + n + 1, k + n], 1)])
    rim = [*range(n), *range(2 * n - 1, n - 1, -1)]
    sides = np.array([[b, a, 2 * n] for a, b in zip(rim, [*rim[1:], rim[0]], strict=True)])
    mesh = Mesh(vertices, np.vstack([front, sides]))
    return mesh if mesh.volume > 0 else Mesh(vertices, mesh.faces[:, ::-1])


def front_of(mesh: Mesh):
    """The panel that the strip is: of the most faces."""
    return max(panels_of(mesh), key=lambda p: len(p.faces))


def test_a_cylinder_is_a_rectangle_of_its_arc():
    turn = np.linspace(0.2, 1.7, 400)
    one = np.stack([np.zeros(400), 0.5 * np.cos(turn), 0.5 * np.sin(turn)], 1)
    panel = front_of(strip(one, one + np.array([2.0, 0, 0])))
    assert panel.develops
    sides = np.ptp(panel.outline, axis=0)
    length = shapely.Polygon(panel.outline).minimum_rotated_rectangle.exterior.coords
    edges = sorted(math.dist(length[k], length[k + 1]) for k in range(4))
    assert edges[0] == pytest.approx(0.75, rel=1e-4)  # radius times angle
    assert edges[-1] == pytest.approx(2.0, rel=1e-4)
    assert panel.area == pytest.approx(1.5, rel=1e-4)
    assert max(sides) >= 2.0 - 1e-9


@pytest.mark.parametrize("tilt", [0.0, 0.35])
def test_a_cone_is_a_sector_and_a_tilted_one_keeps_every_ruling(tilt):
    """Right: radius the slant height, angle 2 pi sin a (exact). Tilted: rulings keep their lengths, the rim its arc (both by quadrature)."""
    turn = np.linspace(0, 1.4, 600)
    rim = np.stack([np.full(600, 2.0), 0.6 * np.cos(turn) + tilt, 0.6 * np.sin(turn)], 1)
    inner = 0.25 * rim
    skin = float(sum(np.linalg.norm(np.cross(rim[k + 1], rim[k])) / 2 for k in range(599))) * (1 - 0.25**2)
    panel = front_of(strip(rim, inner))
    assert panel.develops
    assert panel.area == pytest.approx(skin, rel=1e-4)
    perimeter = float(panel.edges.sum())
    arc = float(np.linalg.norm(np.diff(rim, axis=0), axis=1).sum())
    ends = float(np.linalg.norm(rim[0]) + np.linalg.norm(rim[-1])) * 0.75
    assert perimeter == pytest.approx(arc * 1.25 + ends, rel=1e-4)
    if tilt == 0.0:
        slant = math.hypot(2.0, 0.6)
        angle = 1.4 * 0.6 / slant
        assert panel.area == pytest.approx(slant**2 * (1 - 0.25**2) * angle / 2, rel=1e-4)


def test_a_strip_of_tangents_of_a_helix_develops_to_rings_about_one_centre():
    """The tangents of a helix make a developable surface: its edge becomes an arc of radius (a2 + b2) / a (do Carmo, sec. 3-5)."""
    a, b = 0.4, 0.15
    t = np.linspace(0, 1.2, 900)
    curve = np.stack([b * t, a * np.cos(t), a * np.sin(t)], 1)
    tangent = np.stack([np.full(900, b), -a * np.sin(t), a * np.cos(t)], 1) / math.hypot(a, b)
    panel = front_of(strip(curve + 0.05 * tangent, curve + 0.5 * tangent))
    assert panel.develops
    radius = (a * a + b * b) / a
    centre_far = [math.hypot(radius, s) for s in (0.05, 0.5)]  # a point s along its tangent lies so far from the centre
    points = panel.outline
    from scipy.optimize import least_squares

    def off(c):
        d = np.linalg.norm(points - c, axis=1)
        return np.minimum(abs(d - centre_far[0]), abs(d - centre_far[1]))

    starts = [points.mean(axis=0) + radius * np.array([math.cos(w), math.sin(w)]) for w in np.linspace(0, 2 * math.pi, 24)]
    best = min((least_squares(off, s) for s in starts), key=lambda r: r.cost)
    assert np.sqrt(np.mean(off(best.x) ** 2)) < 1e-3 * radius


def test_what_curves_two_ways_is_refused_with_the_gap_and_where():
    found = panels_of(spheroid(1.0, 0.4, 0.3, 64, 48))
    assert not any(p.develops for p in found)
    assert found[0].gap > 0.01
    assert found[0].why == "it curves two ways"
    assert abs(found[0].where[0]) <= 1.0


def test_the_pairs_of_a_hull_are_told_once_and_areas_are_those_of_its_skin():
    for design in (wagtail(), moorhen()):
        mesh = Craft(design).piece(0)
        found = panels_of(mesh)
        whole = sum(p.skin * (2 if p.pair else 1) for p in found)
        assert whole == pytest.approx(mesh.area, rel=1e-3)
        side = next(p for p in found if p.name == "side")
        assert side.pair
        for p in found:
            assert p.develops
            assert p.area == pytest.approx(p.skin, rel=1e-3)
            lengths = np.linalg.norm(np.roll(p.corners, -1, axis=0) - p.corners, axis=1)
            assert np.abs(p.edges - lengths).max() < max(1e-4, p.gap)  # a tenth of a millimetre, or as far as it was bent
            assert shapely.Polygon(p.outline).is_valid
    box = panels_of(Box(1.0, 0.4, 0.2).build())
    assert sorted(round(p.area, 6) for p in box) == [0.08, 0.08, 0.2, 0.4, 0.4]  # the two long sides are one pair


def test_a_panel_is_written_turned_and_never_mirrored():
    craft = Craft(wagtail())
    panels = [p for p in panels_of(craft.piece(0)) if p.develops]
    title = title_of(craft.design, "A", "2026-06-01")
    patterns = [panel_pattern(p, "Wagtail") for p in panels]
    drawing, audit = recover.read(io.BytesIO(cad.dxf(patterns, title)))
    assert not audit.has_errors
    cut = [shapely.Polygon(list(e.get_points("xy"))) for e in drawing.modelspace().query('LWPOLYLINE[layer=="CUT"]')]
    for p, polygon in zip(panels, cut, strict=True):
        assert polygon.area / 1e6 == pytest.approx(p.area, rel=1e-6)
        assert polygon.length / 1000 == pytest.approx(float(p.edges.sum()), abs=1e-4)
        assert polygon.exterior.is_ccw == shapely.LinearRing(p.outline).is_ccw


def test_the_page_shows_panels_and_refuses_what_does_not_develop(client: TestClient):
    page = client.get("/boats/1/B/patterns").text
    assert "bottom" in page
    names = re.findall(r"panels/([\w-]+)\.svg", page)
    assert {"bottom", "side"} <= set(names)
    assert "deck" not in names  # it is open
    assert client.get("/boats/1/B/panels/bottom.svg").status_code == 200
    assert client.get("/boats/1/B/panels/none.svg").status_code == 404
    assert client.get("/boats/1/B/panels.pdf").content.startswith(b"%PDF")
    assert client.get("/boats/1/B/panels.dxf").status_code == 200
    round_one = re.sub(r"\s+", " ", client.get("/boats/5/A/patterns").text)
    assert "does not develop" in round_one
    assert "two ways of unrolling it differ by" in round_one
