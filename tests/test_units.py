"""Any unit in any field; directions in words."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding
from yarekeel.core.sources import BRIEF
from yarekeel.units import NBSP, SYSTEMS, band, field_text, number_within, parse, said, say

MM = SYSTEMS["mm_g"]


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [
        ("9 in", "length", 0.2286),
        ('9"', "length", 0.2286),
        ("1 1/2 in", "length", 0.0381),
        ("12 mm", "length", 0.012),
        ("12", "length", 0.012),
        ("12,5 mm", "length", 0.0125),
        ("−3 mm", "length", -0.003),
        ("1.66 kg", "mass", 1.66),
        ("250 g", "mass", 0.25),
        ("250", "mass", 0.25),
        ("6 lb", "mass", 2.72155422),
        ("6 lbf", "force", 26.6893292),
        ("250 g", "force", 2.4516625),
        ("2200 mAh", "capacity", 2.2),
        ("20 mΩ", "resistance", 0.02),
        ("54 °F", "temperature", 12.2222222),
        ("12", "temperature", 12.0),
        ("2.5°", "degrees", 2.5),
        ("0.1 rad", "degrees", math.degrees(0.1)),
        ("30 %", "ratio", 0.3),
        ("1 200 g", "mass", 1.2),
    ],
)
def test_what_builders_type(text, kind, value):
    """Inch, pound and pound-force by their exact definitions (NIST SP 811, from memory)."""
    assert parse(text, kind, MM, "f") == pytest.approx(value, rel=1e-7)


@pytest.mark.parametrize(
    "text",
    [
        "abc",
        "",
        "12 kg",
        "1,250 mm",
        "1.2.3 mm",
        "12 furlongs per",
        "mm",
        "1/0 in",
        "__import__('os')",
        "9" * 400,
        "1e999 mm",
        "nan",
        "5 1/0 in",
    ],
)
def test_what_is_refused_in_a_sentence(text):
    with pytest.raises(InvalidInput) as caught:
        parse(text, "length", MM, "beam")
    assert caught.value.field == "beam"
    assert caught.value.sentence.endswith(".")


@given(st.floats(-5, 5), st.sampled_from(sorted(SYSTEMS)))
def test_a_shown_field_reads_back_to_four_figures(value, code):
    system = SYSTEMS[code]
    again = parse(field_text(value, "length", system), "length", system, "f")
    assert again == pytest.approx(value, rel=6e-4, abs=system.length.si * 1e-3)


def test_directions_in_words():
    assert say(math.radians(-0.8), "trim") == "bow down 0.8°"
    assert say(math.radians(-4), "heel") == "leans 4.0° to port"
    assert say(0.0, "heel") == "stands upright"
    assert say(-0.038, "fore_aft") == "38\N{NO-BREAK SPACE}mm aft"
    assert say(4.212, "mass") == "4\N{NO-BREAK SPACE}212\N{NO-BREAK SPACE}g"
    assert say(-1e-9, "length") == "0\N{NO-BREAK SPACE}mm"


def test_a_finding_is_said_in_the_readers_units():
    f = Finding("x", "holds", "Floats with {spare:length} to spare", "", BRIEF, {"spare": 0.0508})
    assert said(f, SYSTEMS["in_lb"]).title == "Floats with 2.0\N{NO-BREAK SPACE}in to spare"


@pytest.mark.parametrize("typed", ["1 m**9**9**9", "1 m^9^9^9", "1 m**9", "1 m³³", "1 m2**9", "1 m*9**9*9**9", "1 m** 9**9"])
def test_no_power_that_could_take_for_ever_is_worked_out(typed):
    with pytest.raises(InvalidInput, match="not understood"):
        parse(typed, "length", MM, "x")


@pytest.mark.parametrize(
    ("text", "kind"), [("1 ton", "mass"), ("2 tons", "mass"), ("0.5 gal", "volume"), ("3 gallons", "volume"), ("1 pint", "volume")]
)
def test_a_unit_of_two_meanings_asks_which(text, kind):
    with pytest.raises(InvalidInput, match="more than one thing"):
        parse(text, kind, MM, "f")


@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [
        ("1 t", "mass", 1000.0),
        ("1 US ton", "mass", 2000 * 0.45359237),  # 2000 lb
        ("1 imp ton", "mass", 2240 * 0.45359237),  # 2240 lb
        ("1 US gal", "volume", 231 * 0.0254**3),  # 231 cubic inches
        ("1 imp gal", "volume", 4.54609e-3),  # Weights and Measures Act 1985
    ],
)
def test_which_is_understood(text, kind, si):
    assert parse(text, kind, MM, "f") == pytest.approx(si, rel=1e-6)


def test_a_figure_is_no_finer_than_its_band():
    """Two figures of the band are kept, and the value goes no further (JCGM 100:2008, 7.2.6)."""
    kg, g = SYSTEMS["mm_kg"], SYSTEMS["mm_g"]
    assert number_within(0.43412, 0.0548, "length", kg) == "434"
    assert band(0.43412, 0.0548, "length", kg) == f"±55{NBSP}mm"
    assert number_within(347.811, 12.34, "mass", g) == "348"
    assert band(347.811, 12.34, "mass", g) == f"±12{NBSP}kg"
    assert number_within(4.6123, 0.341, "mass", g) == f"4{NBSP}610"
    assert number_within(1.0214, 0.1234, "length", kg) == f"1{NBSP}020"
    assert number_within(0.0123, 0.0, "length", kg, 1) == "12.3"


def test_what_is_large_is_not_said_in_small_units():
    g = SYSTEMS["mm_g"]
    assert say(347.811, "mass", g) == f"347.81{NBSP}kg"
    assert say(4.61, "mass", g) == f"4{NBSP}610{NBSP}g"
    assert say(1382.3, "moment", g) == f"1{NBSP}382{NBSP}N m"
