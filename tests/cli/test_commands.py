"""The command line, as a user runs it."""

import dataclasses
import json
import math
import re

import pytest

from tests.core.test_righting import exact_box_arm
from tests.exchange.test_boat_file import PLAIN, changed, with_mesh, write_count, write_with_hole
from yarekeel.cli import commands
from yarekeel.core.geometry.families import MeshFile
from yarekeel.demo.boats import dabchick, reedwarden
from yarekeel.exchange import boat_file, bundle, mesh_out
from yarekeel.exchange.boat_file import FORMAT, write
from yarekeel.stages.design.craft import Craft


def run(monkeypatch, capsys, *words: str) -> tuple[int, str, str]:
    monkeypatch.setattr("sys.argv", ["yare-keel", *words])
    with pytest.raises(SystemExit) as ended:
        commands.main()
    out = capsys.readouterr()
    return int(ended.value.code or 0), out.out, out.err


def boat(tmp_path, data) -> str:
    path = tmp_path / "boat.json"
    path.write_text(json.dumps(data))
    return str(path)


def test_float_json_of_a_box_by_hand(tmp_path, monkeypatch, capsys):
    data = changed("weights.0", {"name": "all up", "mass_kg": 40.0, "at_m": [0.5, 0.0, 0.05]})
    code, out, _ = run(monkeypatch, capsys, "float", boat(tmp_path, data), "--json")
    got = json.loads(out)
    assert code == 0
    assert set(got) >= {"heel_deg", "trim_deg", "origin_height_m", "volume_m3", "center_of_buoyancy_m", "waterplane_area_m2", "gm_transverse_m", "gm_longitudinal_m", "stable", "freeboard_min_m", "spread", "findings"}  # fmt: skip
    assert got["origin_height_m"] == pytest.approx(-0.1)
    assert got["gm_transverse_m"] == pytest.approx(0.05 + 0.16 / 1.2 - 0.05)
    assert got["gm_longitudinal_m"] == pytest.approx(0.05 + 1 / 1.2 - 0.05)
    assert got["freeboard_min_m"] == pytest.approx(0.1)
    assert got["stable"] is True
    assert all({"code", "severity", "sentence", "source"} <= set(f) for f in got["findings"])


def test_gz_json_against_the_exact_box(tmp_path, monkeypatch, capsys):
    data = changed("weights.0", {"name": "all up", "mass_kg": 40.0, "at_m": [0.5, 0.0, 0.08]})
    _, out, _ = run(monkeypatch, capsys, "gz", boat(tmp_path, data), "--angles", "0:80:20", "--json")
    points = json.loads(out)["points"]
    assert [p["heel_deg"] for p in points] == [0, 20, 40, 60, 80]
    for p in points:
        assert p["gz_m"] == pytest.approx(exact_box_arm(0.4, 0.2, 0.1, 0.08, math.radians(p["heel_deg"])), abs=1e-9)


def test_report_gives_every_stage_in_json_and_in_words(tmp_path, monkeypatch, capsys):
    path = boat(tmp_path, changed("weights.0", {"name": "all up", "mass_kg": 40.0, "at_m": [0.5, 0.0, 0.08]}))
    code, out, _ = run(monkeypatch, capsys, "report", path, "--json")
    stages = json.loads(out)["stages"]
    assert code == 0
    assert list(stages) == ["brief", "shape", "weights", "float", "stability", "drive", "underway", "trials", "fixes"]
    assert stages["float"]["figures"]["adds_to_rim_kg"] == pytest.approx(80 - 40)
    assert all({"code", "severity", "sentence", "source"} <= set(f) for f in stages["float"]["findings"])
    _, out, _ = run(monkeypatch, capsys, "report", path, "--stage", "float")
    assert re.search(r"adds to rim +40", out)
    assert "Stability" not in out
    code, _, err = run(monkeypatch, capsys, "report", path, "--stage", "keel")
    assert code != 0
    assert "A stage is one of" in err


def test_sinking_is_an_answer_not_an_error(tmp_path, monkeypatch, capsys):
    code, out, _ = run(monkeypatch, capsys, "float", boat(tmp_path, changed("weights.0.mass_kg", 300.0)), "--json")
    got = json.loads(out)
    assert (code, got["floats"], got["findings"][0]["code"]) == (0, False, "float.sinks")


def test_text_says_direction_in_words(tmp_path, monkeypatch, capsys):
    _, out, _ = run(monkeypatch, capsys, "float", boat(tmp_path, PLAIN))
    assert "bow up" in out
    code, out, _ = run(monkeypatch, capsys, "gz", boat(tmp_path, PLAIN))
    assert (code, out.count("mm")) == (0, 19)


@pytest.mark.parametrize(
    "words",
    [
        ["float", "missing.json"],
        ["gz", "BOAT", "--angles", "0:90"],
        ["gz", "BOAT", "--angles", "90:0:5"],
        ["gz", "BOAT", "--angles", "0:90:0.0001"],
    ],
)
def test_errors_are_one_sentence_and_exit_2(tmp_path, monkeypatch, capsys, words):
    path = boat(tmp_path, PLAIN)
    code, out, err = run(monkeypatch, capsys, *[path if w == "BOAT" else w for w in words])
    assert (code, out) == (2, "")
    assert err.startswith("yare-keel: ")
    assert err.count("\n") == 1


@pytest.mark.parametrize("write", [write_with_hole, lambda p: write_count(p, 0), lambda p: write_count(p, 3_000_000)])
def test_bad_meshes_are_one_sentence_and_exit_2(tmp_path, monkeypatch, capsys, write):
    code, _, err = run(monkeypatch, capsys, "float", str(with_mesh(tmp_path, write)))
    assert code == 2
    assert "bodies" in err or "hull.stl" in err
    assert "Traceback" not in err


def test_format_word_is_the_documented_one():
    assert PLAIN["format"] == FORMAT


def test_thrust_json_and_its_refusals(tmp_path, monkeypatch, capsys):
    path = boat(tmp_path, write(dabchick()))
    code, out, _ = run(monkeypatch, capsys, "thrust", path, "--throttle", "50", "--speeds", "0:1:0.5", "--json")
    rows = json.loads(out)["points"]
    assert code == 0
    assert [r["speed_ms"] for r in rows] == [0, 0.5, 1.0]
    assert set(rows[0]) == {"speed_ms", "thrust_n", "rpm", "current_a", "volts", "power_w"}
    full = json.loads(run(monkeypatch, capsys, "thrust", path, "--speeds", "0:0:1", "--json")[1])["points"]
    assert 0 < rows[0]["thrust_n"] < full[0]["thrust_n"]
    assert full[0]["volts"] == pytest.approx(11.1 - 0.02 * full[0]["current_a"])  # the pack's sag, by hand
    assert "turns/min" in run(monkeypatch, capsys, "thrust", path)[1]
    for words in (("--throttle", "120"), ("--speeds", "0:6"), ("--speeds", "-1:2:1")):
        code, _, told = run(monkeypatch, capsys, "thrust", path, *words)
        assert code == 2
        assert told.startswith("yare-keel: ")
        assert "Traceback" not in told


def test_speed_json_and_its_refusals(tmp_path, monkeypatch, capsys):
    path = boat(tmp_path, write(dabchick()))
    code, out, _ = run(monkeypatch, capsys, "speed", path, "--speeds", "0.5:1.5:0.5", "--json")
    data = json.loads(out)
    assert code == 0
    assert [p["speed_ms"] for p in data["points"]] == [0.5, 1.0, 1.5]
    for p in data["points"]:
        assert set(p) == {"speed_ms", "resistance_n", "band_n", "parts", "trim_deg", "sinkage_m", "thrust_n", "findings"}
        assert math.fsum(p["parts"].values()) == pytest.approx(p["resistance_n"])
    assert {"friction_n", "wave_n", "transom_n", "planing_n", "foil_n", "air_n", "appendage_n", "tow_n"} == set(data["points"][0]["parts"])
    assert 1.0 < data["low"] < data["top_speed_ms"] < min(1.5, data["high"])
    assert data["top_speed_is"] == "balance"
    (one,) = json.loads(run(monkeypatch, capsys, "speed", path, "--speeds", "1:1:1", "--json")[1])["points"]
    assert one["resistance_n"] == pytest.approx(data["points"][1]["resistance_n"], rel=1e-4)
    assert "top speed 1." in run(monkeypatch, capsys, "speed", path)[1]
    for words in (("--speeds", "0:6"), ("--speeds", "1:200:1")):
        code, _, told = run(monkeypatch, capsys, "speed", path, *words)
        assert code == 2
        assert told.startswith("yare-keel: ")


def test_a_run_and_its_log(tmp_path, monkeypatch, capsys):
    path, course = boat(tmp_path, write(dabchick())), tmp_path / "course.json"
    course.write_text(json.dumps({"legs": [{"seconds": 12, "throttle": 1.0}, {"seconds": 3, "throttle": 0, "wind_ms": 2}]}))
    track = tmp_path / "track.gpx"
    code, out, _ = run(monkeypatch, capsys, "run", path, str(course), "--seed", "5", "--gpx", str(track), "--json")
    data = json.loads(out)
    assert code == 0
    assert data["stand_in"]
    assert len(data["points"]) == 16
    assert track.read_text().count("<trkpt") == 76
    plain = json.loads(run(monkeypatch, capsys, "run", path, str(course), "--json")[1])
    assert not plain["stand_in"]
    assert plain["points"][10]["speed_ms"] > 1.0
    assert "m/s" in run(monkeypatch, capsys, "run", path, str(course))[1]
    for bad in ('{"legs": 3}', "[]", "{", '{"legs": [{"seconds": 5}]}', '{"legs": [{"seconds": 5, "throttle": 2}]}', '{"legs": []}'):
        course.write_text(bad)
        code, _, told = run(monkeypatch, capsys, "run", path, str(course))
        assert code == 2
        assert told.startswith("yare-keel: ")
        assert "Traceback" not in told


def test_on_a_narrow_terminal_no_word_is_broken(monkeypatch, capsys):
    from yarekeel.cli import words

    line = "  [near] Trim: bow down 0.8°. Within the ±1.0° you allow, and it goes on with more words than a narrow terminal is wide."
    out = words.wrapped(line, 40).split("\n")
    assert all(len(one) <= 40 for one in out)
    assert " ".join(" ".join(out).split()) == " ".join(line.split())
    assert out[1].startswith("    ")
    assert words.wrapped(line, 0) == line  # into a pipe
    words.show("one\ntwo")
    assert capsys.readouterr().out == "one\ntwo\n"


def test_a_zip_with_its_meshes_is_read_as_a_boat_file_is(monkeypatch, capsys, tmp_path):
    """The skimmer's hull as a mesh, in one ZIP: it floats as with the mesh beside its file."""
    design = reedwarden()
    data = mesh_out.write(Craft(design).piece(0), "stl")
    as_mesh = dataclasses.replace(design, bodies=(dataclasses.replace(design.bodies[0], shape=MeshFile("hull.stl", "mm")),))
    (tmp_path / "boat.zip").write_bytes(bundle.pack(as_mesh, lambda name: data, lambda name: b""))
    (tmp_path / "boat.json").write_text(boat_file.dumps(as_mesh))
    (tmp_path / "hull.stl").write_bytes(data)
    zipped, beside = (run(monkeypatch, capsys, "float", str(tmp_path / name), "--json") for name in ("boat.zip", "boat.json"))
    assert zipped[0] == beside[0] == 0, zipped
    assert json.loads(zipped[1]) == json.loads(beside[1])
    (tmp_path / "torn.zip").write_bytes(b"PK\x03\x04 torn")
    code, _, said = run(monkeypatch, capsys, "float", str(tmp_path / "torn.zip"))
    assert code != 0
    assert "cannot be read" in said
