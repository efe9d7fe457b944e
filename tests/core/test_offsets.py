"""Tables of offsets: known hulls entered as tables, changes as builders say them, and random tables that must stay closed."""

import dataclasses

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from tools.fuzz import examples
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.checks import open_edges
from yarekeel.core.geometry.crossings import crossing_faces
from yarekeel.core.geometry.curves import fair
from yarekeel.core.geometry.families.offsets import Change, Offsets, Station, say
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics.form import form_of


def wigley_table(length=2.0, beam=0.3, draft=0.12, stations=11, waterlines=9):
    """y = B/2 (1 - (2x/L)^2)(1 - (z/T)^2), read off at even stations and waterlines."""
    x, z = np.linspace(-1, 1, stations), np.linspace(-1, 0, waterlines)
    rows = []
    for xi in x:
        half = beam / 2 * (1 - xi**2) * (1 - z**2)
        rows.append(Station(float((xi + 1) * length / 2), tuple(half.tolist()), tuple(((z + 1) * draft).tolist())))
    return Offsets("smooth", tuple(f"WL {k}" for k in range(waterlines)), tuple(rows))


def box_table():
    rows = [Station(x, (0.2, 0.2), (0.0, 0.2)) for x in (0.0, 0.5, 1.0)]
    return Offsets("chine", ("bottom", "sheer"), tuple(rows))


def test_wigley_hull_from_a_table():
    # C. Wigley's parabolic hull: Cb 4/9, Cm 2/3, Cwp 2/3, in closed form.
    hull = Hull(wigley_table().build(3))
    form = form_of(hull, Attitude(0.0, 0.0, -0.12 + 1e-9))
    assert form.block == pytest.approx(4 / 9, rel=2e-3)
    assert form.midship == pytest.approx(2 / 3, rel=2e-3)
    assert form.waterplane == pytest.approx(2 / 3, rel=2e-3)
    assert form.prismatic == pytest.approx(2 / 3, rel=3e-3)
    assert form.lcb == pytest.approx(1.0, rel=1e-3)


def test_a_box_from_a_table_is_exact():
    assert box_table().build().volume == pytest.approx(1.0 * 0.4 * 0.2, rel=1e-12)


def test_a_fair_curve_meets_a_rising_parabola_and_never_overshoots():
    at, wanted = np.linspace(0, 1, 6), np.linspace(0, 1, 41)
    assert fair(at, (at**2)[:, None], wanted)[:, 0] == pytest.approx(wanted**2, abs=1e-12)
    stepped = np.array([0.0, 0.0, 1.0, 1.0, 0.5, 0.5])[:, None]
    curve = fair(at, stepped, wanted)
    assert curve.min() >= 0
    assert curve.max() <= 1


CHANGES = [
    (Change("higher", 0.2), 1.2),
    (Change("wider", 0.18), 1.18),
    (Change("longer", 0.08), 1.08),
    (Change("wider", -0.1), 0.9),
]


@pytest.mark.parametrize(("change", "factor"), CHANGES)
def test_whole_changes_multiply_a_box(change, factor):
    changed = dataclasses.replace(box_table(), changes=(change,))
    assert changed.build().volume == pytest.approx(0.08 * factor, rel=1e-12)
    off = dataclasses.replace(box_table(), changes=(dataclasses.replace(change, on=False),))
    assert off.build().volume == pytest.approx(0.08, rel=1e-12)


def test_three_changes_of_a_fifth_scale_the_volume_by_1_728():
    # 1.2 cubed; areas go by 1.44 (handbook arithmetic).
    all_three = tuple(Change(what, 0.2) for what in ("higher", "wider", "longer"))
    table = Offsets()
    centred = dataclasses.replace(
        table, stations=tuple(dataclasses.replace(s, heights_m=tuple(z - min(s.heights_m) for z in s.heights_m)) for s in table.stations)
    )
    before, after = centred.build(), dataclasses.replace(centred, changes=all_three).build()
    assert after.volume == pytest.approx(1.728 * before.volume, rel=1e-9)
    assert after.area == pytest.approx(1.44 * before.area, rel=1e-9)


def test_a_change_fades_out_evenly_along_the_hull():
    table = Offsets(changes=(Change("wider", 0.18, station=0, fade_to=4),))
    before, after = Offsets().stations, table.changed().stations
    grown = [a.half_breadths_m[2] / b.half_breadths_m[2] for a, b in zip(after[:5], before[:5], strict=True)]
    # Stations lie evenly, so 18 % at the transom is 13.5, 9, 4.5 and 0 % at the next four.
    assert grown == pytest.approx([1.18, 1.135, 1.09, 1.045, 1.0])


def test_one_station_alone():
    table = Offsets(changes=(Change("wider", 0.12, station=2),))
    for k, (a, b) in enumerate(zip(table.changed().stations, Offsets().stations, strict=True)):
        assert a.half_breadths_m[1] == pytest.approx(b.half_breadths_m[1] * (1.12 if k == 2 else 1.0))


def test_higher_sides_leave_the_bottom_alone():
    raised = Offsets(changes=(Change("higher", 0.2, above=1),)).changed().stations[2]
    assert raised.heights_m == pytest.approx((0.02, 0.02, 0.02 + 0.38 * 1.2))


def test_changes_are_said_as_builders_say_them():
    lines = ("keel", "chine", "sheer")
    assert say(Change("higher", 0.2, above=1), lines) == "sides 20 % higher everywhere, above the chine"
    assert say(Change("wider", 0.18, station=0, fade_to=4), lines) == "18 % wider at station 0, fading out forward to station 4"
    assert say(Change("wider", 0.12, station=2), lines) == "12 % wider at station 2"
    assert say(Change("longer", 0.08), lines) == "8 % longer, same sections"
    assert say(Change("longer", -0.05), lines) == "5 % shorter, same sections"


def _tables():
    def table(draw):
        stations, lines = draw(st.integers(2, 7)), draw(st.integers(2, 6))
        step = st.floats(0.01, 1.0)
        half = st.one_of(st.just(0.0), st.floats(1e-4, 1.0))
        rise = st.one_of(st.just(0.0), st.floats(1e-4, 0.5))
        x, rows = 0.0, []
        for _ in range(stations):
            y = [draw(half) for _ in range(lines)]
            z = np.cumsum([draw(rise) for _ in range(lines)]).tolist()
            rows.append(Station(x, tuple(y), tuple(z)))
            x += draw(step)
        changes = draw(
            st.lists(
                st.builds(
                    Change,
                    st.sampled_from(["higher", "wider", "longer"]),
                    st.floats(-0.8, 2.0),
                    st.none() | st.integers(0, stations - 1),
                ),
                max_size=3,
            )
        )
        return draw(st.sampled_from(["chine", "smooth"])), lines, rows, changes

    return st.composite(table)()


@examples(150)
@given(_tables())
def test_any_table_with_any_changes_is_closed_or_refused_in_a_sentence(given_table):
    sections, lines, rows, changes = given_table
    try:
        mesh = Offsets(sections, tuple(f"line {k}" for k in range(lines)), tuple(rows), tuple(changes)).build()
    except InvalidInput as refused:
        assert refused.sentence.endswith(".")
        return
    assert len(open_edges(mesh.faces)) == 0
    assert mesh.volume > 0
    assert len(crossing_faces(mesh)) == 0
    assert mesh.volume == pytest.approx(trimesh.Trimesh(mesh.vertices, mesh.faces, process=False).volume, rel=1e-6)


@pytest.mark.parametrize(
    ("rows", "words"),
    [
        ([Station(0.0, (0.1, 0.2), (0.0, 0.2)), Station(0.0, (0.1, 0.2), (0.0, 0.2))], "must lie ahead"),
        ([Station(0.0, (0.1, 0.2), (0.3, 0.2)), Station(1.0, (0.1, 0.2), (0.0, 0.2))], "heights must rise"),
        ([Station(0.0, (-0.1, 0.2), (0.0, 0.2)), Station(1.0, (0.1, 0.2), (0.0, 0.2))], "cannot be negative"),
        ([Station(0.0, (0.1,), (0.0,)), Station(1.0, (0.1, 0.2), (0.0, 0.2))], "one for each line"),
        ([Station(0.0, (0.1, 0.2), (0.0, float("nan"))), Station(1.0, (0.1, 0.2), (0.0, 0.2))], "must lie within"),
        ([Station(0.0, (0.1, 0.2), (0.0, 0.2))], "2 to 60 stations"),
    ],
)
def test_bad_tables_are_refused(rows, words):
    with pytest.raises(InvalidInput, match=words):
        Offsets("chine", ("keel", "sheer"), tuple(rows))


def test_a_flat_plate_is_refused():
    plate = Offsets("chine", ("keel", "sheer"), (Station(0.0, (0.0, 0.0), (0.5, 0.5)), Station(1.0, (0.0, 1.0), (0.5, 0.5))))
    with pytest.raises(InvalidInput, match="encloses no volume"):
        plate.build()


def test_a_table_without_volume_is_refused():
    flat = Offsets("chine", ("keel", "sheer"), (Station(0.0, (0.0, 0.0), (0.0, 0.2)), Station(1.0, (0.0, 0.0), (0.0, 0.2))))
    with pytest.raises(InvalidInput, match="encloses no volume"):
        flat.build()
