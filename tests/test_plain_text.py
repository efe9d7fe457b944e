"""Words without what cannot be seen, and whole numbers in plain digits."""

import json

import pytest

from yarekeel.core.geometry.families import FAMILIES
from yarekeel.demo.boats import reedwarden
from yarekeel.exchange import boat_file, lines_out, offsets_csv, tables
from yarekeel.plain_text import plain, plain_data, whole
from yarekeel.stages.design.design import with_value


@pytest.mark.parametrize(
    ("typed", "kept"),
    [
        ("Wagtail", "Wagtail"),
        ("Wag\u200btail\u202e", "Wagtail"),
        ("a\ud800b", "ab"),
        ("bell\x07 and\x00 nul", "bell and nul"),
        ("two\r\nlines\u2028three", "two  lines three"),
        ("Nußschale, Åse, 帆船", "Nußschale, Åse, 帆船"),
        ("می\u200cخواهم", "می\u200cخواهم"),  # joiners have their use between letters of such scripts
        ("a\u200db", "ab"),
    ],
)
def test_what_cannot_be_seen_is_left_out(typed, kept):
    assert plain(typed) == kept


def test_lines_stay_where_they_are_wanted():
    assert plain("a\tb\nc\x00", lines=True) == "a\tb\nc"
    assert plain_data({"a\u200b": ["x\u202e", 3, None, {"b": "c\n"}]}) == {"a": ["x", 3, None, {"b": "c\n"}]}


@pytest.mark.parametrize(
    ("text", "number"), [("0", 0), ("17", 17), ("", None), ("-1", None), ("²", None), ("٣", None), ("9" * 13, None), ("1.0", None)]
)
def test_whole_numbers(text, number):
    assert whole(text) == number


def test_names_in_files_are_plain():
    data = json.loads(boat_file.dumps(reedwarden())) | {"name": "Reed\u202ewarden\x07"}
    assert boat_file.read(data).name == "Reedwarden"


@pytest.mark.parametrize("name", ["=1+1", "+1+1", "@x", "-x", "|calc", "  =1+1", "\r=1", "\n=1"])
def test_no_cell_is_a_formula_or_more_than_a_line(name):
    text = tables.write(["name"], [[name]])
    assert len(text.strip().split("\n")) == 2
    assert text.split("\n")[1].lstrip('"')[0] == "'"
    table = with_value(reedwarden(), "name", "x") and FAMILIES["offsets"]()
    head = offsets_csv.write(type(table)(table.sections, (name, *table.lines[1:]), table.stations)).split("\n")[0]
    assert not any(cell.lstrip('"').startswith(("=", "+", "@", "|")) for cell in head.split(","))


def test_control_characters_in_a_name_leave_the_drawing_whole():
    from lxml import etree

    etree.fromstring(lines_out.svg([], "bell\x07 & <b>"))
