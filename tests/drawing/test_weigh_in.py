"""The drawings of the weigh-in: each way with each demo boat, supports where they were measured."""

import re
from xml.etree import ElementTree

import pytest

from yarekeel.core.weights.weigh_in import WeighIn
from yarekeel.demo.boats import moorhen, reedwarden, wagtail
from yarekeel.drawing import weigh_in
from yarekeel.stages.design.craft import Craft
from yarekeel.units import say

WAYS = ("scale", "two", "edge", "side", "tip", "raise", "hang")
READ = WeighIn(
    mass_kg=4.3,
    aft_kg=2.4,
    fore_kg=1.9,
    aft_x_m=0.1,
    fore_x_m=0.6,
    edge_x_m=0.33,
    port_kg=2.1,
    starboard_kg=2.2,
    port_y_m=0.16,
    starboard_y_m=-0.16,
    tip_deg=40.0,
    tip_y_m=-0.18,
    tip_z_m=0.01,
    raised_kg=1.4,
    rise_m=0.2,
    support_z_m=0.0,
    hang_deg=25.0,
    hang_x_m=0.3,
    hang_z_m=0.14,
)


def drawn(way: str, craft: Craft, readings: WeighIn) -> tuple[ElementTree.Element, str]:
    text = weigh_in.draw(way, craft.hull, readings, craft.total.centre, say)
    root = ElementTree.fromstring(text)
    return root, " ".join(t for t in root.itertext())


@pytest.mark.parametrize("way", WAYS)
@pytest.mark.parametrize("boat", [reedwarden, wagtail, moorhen])
@pytest.mark.parametrize("readings", [WeighIn(), READ])
def test_every_way_with_every_boat(way, boat, readings):
    root, _ = drawn(way, Craft(boat()), readings)
    assert root.get("aria-label") == weigh_in.words(way)
    numbers = [float(n) for path in root.iter("path") for n in re.findall(r"-?\d+(?:\.\d+)?", path.get("d", ""))]
    assert numbers
    assert all(abs(n) < 2000 for n in numbers)


def wedges(root: ElementTree.Element) -> list[float]:
    return [float(re.match(r"M(-?[\d.]+)", p.get("d", ""))[1]) for p in root.iter("path") if p.get("class") == "rig-wedge"]


def test_the_supports_stand_where_they_were_measured():
    """Their distance on the page is to the distance of two other supports as in the boat."""
    craft = Craft(reedwarden())
    near, far = (wedges(drawn("two", craft, WeighIn(aft_x_m=0.1, fore_x_m=x))[0]) for x in (0.35, 0.60))
    assert (far[1] - far[0]) / (near[1] - near[0]) == pytest.approx(2.0, rel=0.01)


def test_what_was_read_is_said_and_what_was_not_is_asked_for():
    craft = Craft(reedwarden())
    assert "measure" in drawn("two", craft, WeighIn())[1]
    words = drawn("two", craft, READ)[1].replace("\N{NO-BREAK SPACE}", " ")
    assert "aft scale 2 400 g" in words
    assert "from aft: 600 mm" in words
    assert "tipped 40°" in drawn("tip", craft, READ)[1]


def test_before_an_angle_is_read_the_listed_centre_hangs_plumb():
    """The quartered mark of the centre stands on the plumb line."""
    for way in ("tip", "hang"):
        root, _ = drawn(way, Craft(wagtail()), WeighIn())
        plumb = next(p for p in root.iter("path") if p.get("class") == "rig-plumb")
        disc = next(c for c in root.iter("circle") if c.get("class") == "cg-disc")
        assert float(re.match(r"M(-?[\d.]+)", plumb.get("d"))[1]) == pytest.approx(float(disc.get("cx")), abs=0.2)
