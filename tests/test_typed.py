"""What people type: each with its value in SI by hand, shown again as the reader's system writes it, and read back the same.

Units by their definitions (NIST SP 811, appendix B): 1 in = 25.4 mm, 1 ft = 12 in, 1 yd = 3 ft, 1 lb = 453.59237 g, 1 oz = lb / 16,
1 kgf = 9.80665 N, 1 lbf = 4.4482216152605 N, 1 US gal = 3.785411784 l, 1 knot = 1852 m/h.
"""

import math

import pytest

from yarekeel.core.errors import InvalidInput
from yarekeel.typed import NotUnderstood, measures, number
from yarekeel.units import SYSTEMS, field_text, parse

IN, FT, LB, OZ = 0.0254, 0.3048, 0.45359237, 0.45359237 / 16
GAL, KN, KGF, LBF = 3.785411784e-3, 1852 / 3600, 9.80665, 4.4482216152605
LENGTHS = [
    ("45", 0.045), ("45 mm", 0.045), ("4.5cm", 0.045), ("4,5 cm", 0.045), ("0.045 m", 0.045), ("1.8 in", 1.8 * IN), ("1 in", IN),
    ('1"', IN), ("1″", IN), ("3/8 in", 0.375 * IN), ("3/8\"", 0.375 * IN), ("1 3/8 in", 1.375 * IN), ("½ in", IN / 2), ("2½ in", 2.5 * IN),
    ("2 ½ in", 2.5 * IN), ("¾\"", 0.75 * IN), ("⅛ in", IN / 8), ("5 ft", 5 * FT), ("5'", 5 * FT), ("5′", 5 * FT), ("5 ft 6 in", 5.5 * FT),
    ("5ft6in", 5.5 * FT), ("5'6\"", 5.5 * FT), ("5' 6\"", 5.5 * FT), ("5′6″", 5.5 * FT), ("5’ 6”", 5.5 * FT), ("5' 6", 5.5 * FT),
    ("8'6\"", 8.5 * FT), ("12' 6½\"", 12 * FT + 6.5 * IN), ("5 ft 6 1/2 in", 5 * FT + 6.5 * IN), ("1 yd 1 ft", 4 * FT), ("2 m 30 cm", 2.3),
    ("1 m 5 mm", 1.005), ("1200/2 mm", 0.6), ("1200 / 2 mm", 0.6), ("3*85 mm", 0.255), ("3 * 85 mm", 0.255), ("3×85 mm", 0.255),
    ("3 x 85 mm", 0.255), ("3 X 85 mm", 0.255), ("85 mm * 3", 0.255), ("85 mm / 2", 0.0425), ("10 + 5 mm", 0.015), ("10 mm + 5", 0.015),
    ("1 ft + 2 in", FT + 2 * IN), ("1 m - 5 cm", 0.95), ("1 m − 5 cm", 0.95), ("(3+4)*2 cm", 0.14), ("2*(3 cm + 4 mm)", 0.068),
    ("(1200-40)/2 mm", 0.58), ("-5 mm", -0.005), ("−5 mm", -0.005), ("-5 ft 6 in", -5.5 * FT), ("+5 mm", 0.005), (".5 m", 0.5), (",5 m", 0.5),
    ("1e3 mm", 1.0), ("1.5e-2 m", 0.015), ("1.234,5 mm", 1.2345), ("1,234.5 mm", 1.2345), ("1 234,5 mm", 1.2345), ("1'234 mm", 1.234),
    ("1'234.5 mm", 1.2345), ("1.234.567 mm", 1234.567), ("1,234,567 mm", 1234.567), ("12 345 mm", 12.345), ("0,125 m", 0.125),
    ("0.001 km", 1.0), ("6 inches", 6 * IN), ("6 inch", 6 * IN), ("2 feet", 2 * FT), ("2 foot", 2 * FT), ("3 yards", 9 * FT),
]  # fmt: skip
MASSES = [
    ("860", 0.86), ("860 g", 0.86), ("0.86 kg", 0.86), ("0,86kg", 0.86), ("30 oz", 30 * OZ), ("12 lb", 12 * LB), ("12 lb 3 oz", 12 * LB + 3 * OZ),
    ("12lb3oz", 12 * LB + 3 * OZ), ("12 lbs 3.5 oz", 12 * LB + 3.5 * OZ), ("12 lb 3 1/2 oz", 12 * LB + 3.5 * OZ), ("½ kg", 0.5), ("½ lb", LB / 2),
    ("1½ lb", 1.5 * LB), ("1 1/2 lb", 1.5 * LB), ("1.234,5 g", 1.2345), ("1,234.5 g", 1.2345), ("1 234 g", 1.234), ("3*85 g", 0.255),
    ("2 x 18.5 g", 0.037), ("4 × 45 g + 20 g", 0.2), ("85 g + 2 oz", 0.085 + 2 * OZ), ("1 kg 200 g", 1.2), ("1 kg - 40 g", 0.96),
    ("2*(1 kg + 50 g)", 2.1), ("1.2 kg / 3", 0.4), ("0.001 t", 1.0), ("85 mg", 8.5e-5), ("1e-3 kg", 0.001), ("3/4 lb", 0.75 * LB),
    ("1000 g/4", 0.25), ("10 pounds", 10 * LB), ("8 ounces", 8 * OZ), ("2 st", 28 * LB), ("(85 + 15) g", 0.1), ("100 - 15 g", 0.085),
]  # fmt: skip
OTHERS = [
    ("12", "force", 12.0), ("12 N", "force", 12.0), ("1.2 kgf", "force", 1.2 * KGF), ("2.7 lbf", "force", 2.7 * LBF), ("850 g", "force", 0.85 * KGF),
    ("1 lb 4 oz", "force", 1.25 * LBF), ("2*600 g", "force", 1.2 * KGF), ("5", "speed", 5.0), ("18 km/h", "speed", 5.0), ("10 knots", "speed", 10 * KN),
    ("10 kn", "speed", 10 * KN), ("2 kt + 1 kt", "speed", 3 * KN), ("20 ft/s", "speed", 20 * FT), ("2 l", "volume", 0.002), ("500 ml", "volume", 5e-4),
    ("2 l 500 ml", "volume", 0.0025), ("0.5 US gal", "volume", 0.5 * GAL), ("1 dm3", "volume", 0.001), ("1 ft3", "volume", FT**3),
    ("3.4 m²", "area", 3.4), ("340 dm2", "area", 3.4), ("36 ft²", "area", 36 * FT**2), ("36 ft^2", "area", 36 * FT**2), ("2*(1.5 m2)", "area", 3.0),
    ("200 g/m²", "areal", 0.2), ("200 g/m2", "areal", 0.2), ("2*200 g/m2", "areal", 0.4), ("12.4 s", "seconds", 12.4), ("1 min 20 s", "seconds", 80.0),
    ("0.5 min", "seconds", 30.0), ("5000 mAh", "capacity", 5.0), ("2*2200 mAh", "capacity", 4.4), ("11.1 V", "voltage", 11.1), ("3*3.7 V", "voltage", 11.1),
    ("20 mohm", "resistance", 0.02), ("75 W", "power", 75.0), ("12 A", "current", 12.0), ("2 x 12 A", "current", 24.0), ("2.5°", "degrees", 2.5),
    ("1000 kg/m3", "density", 1000.0), ("20 %", "percent", 0.2), ("20", "percent", 0.2), ("4", "count", 4.0), ("2*3", "count", 6.0),
    ("12 °C", "temperature", 12.0), ("54 °F", "temperature", (54 - 32) / 1.8), ("50 ml/min", "flow", 5e-5 / 60),
]  # fmt: skip
ALL = [*((t, "length", v) for t, v in LENGTHS), *((t, "mass", v) for t, v in MASSES), *OTHERS]


def test_there_are_enough_of_them():
    assert len(ALL) >= 150
    assert len({(t, k) for t, k, _ in ALL}) == len(ALL)


@pytest.mark.parametrize("system", ["mm_g", "in_oz"])
def test_what_is_typed_is_what_was_meant_and_is_read_back_as_it_is_shown(system):
    metric, shown_in = SYSTEMS["mm_g"], SYSTEMS[system]
    for text, kind, si in ALL:
        value = parse(text, kind, metric, "x")
        assert value == pytest.approx(si, rel=1e-12, abs=1e-15), text
        shown = field_text(value, kind, shown_in)
        again = parse(shown, kind, shown_in, "x")
        assert field_text(again, kind, shown_in) == shown, (text, shown)
        assert again == pytest.approx(value, rel=2e-3, abs=1e-12), (text, shown)


@pytest.mark.parametrize(
    ("text", "kind"),
    [
        ("12,000 g", "mass"), ("1,234 mm", "length"), ("5 6", "length"), ("5 ft 6 kg", "length"), ("5 ft * 6 in", "length"), ("5 / 0 mm", "length"),
        ("((((((((((5))))))))))", "length"), ("5 +", "length"), ("* 5 mm", "length"), ("(5 mm", "length"), ("5) mm", "length"),
        ("5 mm 6", "length"), ("1.2.3 mm", "length"), ("1,23.4 mm", "length"), ("9**9**9 m", "length"), ("5 lb 3 in", "mass"),
        ("½½ kg", "mass"), ("12 °C + 3 °C", "temperature"), ("1e400 m", "length"), ("5 - - 3 mm", "length"), ("x 5 mm", "length"), ("5 mm²", "length"),
    ],
)  # fmt: skip
def test_what_is_none_or_could_be_two_things_is_refused_in_a_sentence(text, kind):
    with pytest.raises(InvalidInput) as refused:
        parse(text, kind, SYSTEMS["mm_g"], "x")
    assert refused.value.sentence.endswith(".")


def test_numbers_of_any_custom():
    assert number("1.234,5") == number("1,234.5") == number("1 234.5") == number("1'234.5") == 1234.5
    for text in ("1.23,4", "1,234", "1.2.3", "", "e5"):
        with pytest.raises(NotUnderstood):
            number(text)
    assert measures("5 ft 6 in") == ((5.0, "ft"), (6.0, "in"))
    assert measures("10 + 5 mm") == ((10.0, "mm"), (5.0, "mm"))
    assert math.isclose(sum(v for v, _ in measures("2*(3+4)")), 14.0)
    with pytest.raises(NotUnderstood):
        measures("1 + " * 40 + "1")
