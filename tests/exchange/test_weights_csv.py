"""Lists of weights as text: what spreadsheets give, understood or refused in a sentence."""

import dataclasses

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tools.fuzz import examples
from yarekeel.core.errors import InvalidInput
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import reedwarden, wagtail
from yarekeel.exchange import weights_csv
from yarekeel.stages.design.craft import Craft
from yarekeel.units import SYSTEMS

CRAFT = Craft(reedwarden())
GRAMS = SYSTEMS["mm_g"]


def read(text: str, system=GRAMS) -> list[WeightItem]:
    return weights_csv.read(text, "weights.paste", system, CRAFT)


@pytest.mark.parametrize(
    "text",
    [
        "battery\t860\t270\t0\t60",
        "battery,860,270,0,60",
        "battery;860;270;0;60",
        "\ufeffname;mass (g);from aft (mm);to port (mm);up (mm)\r\nbattery;860,0;270,0;0;60\r\n",
        "Item,Weight (kg),x (m),y (m),z (m)\nbattery,0.86,0.27,0,0.06",
        'up (cm),"mass (oz)",name,to port (in),from aft (in)\n6,30.3356,battery,0,10.6299',
        "battery, 860 g, 27 cm, 0, 60",
        "\n\nname\tmass\tlcg\ttcg\tvcg\nbattery\t860\t270\t0\t60\n\n",
    ],
)
def test_many_ways_of_writing_the_same(text):
    (item,) = read(text)
    assert item.name == "battery"
    assert item.mass_kg == pytest.approx(0.86, rel=1e-4)
    assert item.at_m == pytest.approx((0.27, 0.0, 0.06), rel=1e-4)


def test_all_the_columns():
    (item,) = read("name,mass,quantity,group,known,spread,aboard,note\ncell,45,8,Electrics,weighed on the scale,2 %,no,from the drawer")
    assert (item.quantity, item.group, item.known, item.on, item.note) == (8.0, "electrics", "weighed", False, "from the drawer")
    assert item.spread == pytest.approx(0.02)
    low, high = CRAFT.hull.mesh.bounds
    assert item.at_m[0] == pytest.approx((low[0] + high[0]) / 2, abs=1e-3)  # no place given: amidships


def test_decimal_commas_are_found_out():
    assert [i.mass_kg for i in read("a;1,5\nb;2,25\nc;1,250")] == pytest.approx([0.0015, 0.00225, 0.00125])


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "Paste one row"),
        ("battery", "columns"),
        ("name,colour\nbattery,red", "no column for the mass"),
        ("mass,from aft\n1,2", "no column for the name"),
        ("name,mass", "header|no column|no row"),
        ("name;mass\nbattery;heavy", "Row 2"),
        ("name;mass\nbattery;5 parsec", "Row 2"),
        ("name;mass\nbattery;", "Row 2 has no mass"),
        ("name;mass\nbattery;1,250", "two ways"),
        ("name;mass\nbattery;-4", "Row 2, battery"),
        ("name;mass;how many\nbattery;4;-1", "Row 2, battery"),
    ],
)
def test_refusals_are_a_sentence_that_names_the_row(text, words):
    with pytest.raises(InvalidInput, match=words) as caught:
        read(text)
    assert caught.value.field == "weights.paste"
    assert str(caught.value).endswith(".")


def test_too_many_rows_are_refused():
    with pytest.raises(InvalidInput, match="at most"):
        read("\n".join(f"part {k},1" for k in range(6000)))


def test_there_and_back():
    lines = (*reedwarden().weights, WeightItem("=SUM(A1)", 0.5, (0.1, -0.05, 0.02), quantity=3, on=False, spread=0.125, note="-2"))
    back = read(weights_csv.write(lines))
    for line, other in zip(lines[:-1], back, strict=False):
        assert other.mass_kg == pytest.approx(line.mass_kg)
        assert other.at_m == pytest.approx(line.at_m)
        assert dataclasses.replace(other, mass_kg=line.mass_kg, at_m=line.at_m) == dataclasses.replace(line, recipe=None)
    assert back[-1].name == "'=SUM(A1)"  # a spreadsheet must not take it for a formula
    assert (back[-1].quantity, back[-1].on, back[-1].spread) == (3.0, False, 0.125)


@given(st.text(max_size=300))
@examples(300)
def test_whatever_is_pasted_is_understood_or_refused(text):
    try:
        assert read(text)
    except InvalidInput as error:
        assert str(error).endswith(".")


def test_what_a_thing_is_made_of_travels_by_code_or_by_name():
    craft = Craft(wagtail())
    table = weights_csv.write(craft.design.weights)
    back = weights_csv.read(table, "weights.paste", SYSTEMS["mm_g"], craft)
    assert [w.material for w in back] == [w.material for w in craft.design.weights]
    hung = dataclasses.replace(craft.design.weights[0], hung_m=0.35)
    assert weights_csv.read(weights_csv.write((hung,)), "f", SYSTEMS["in_oz"], craft)[0].hung_m == pytest.approx(0.35)
    typed = weights_csv.read("name,mass (g),made of\nKeel,400,Lead\nBox,80,moon rock", "weights.paste", SYSTEMS["mm_g"], craft)
    assert [w.material for w in typed] == ["lead", ""]
