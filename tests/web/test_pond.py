"""The pond sheet: what comes in is kept once, collected into a trial, and reached by the phone that was let in, and nobody else."""

import base64
import contextlib
import io
import json
import os
import re
import shutil
import subprocess
import sys
import threading
import time

import httpx2
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from yarekeel.core.errors import InvalidInput
from yarekeel.exchange import photo
from yarekeel.stages.design.editing import with_value
from yarekeel.stages.trials.sheet import NOTINGS, Entry, collected, read
from yarekeel.store import sheets as store
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS, parse

BOAT = "/boats/2/B"
MM = SYSTEMS["mm_g"]


def reader(text: str, kind: str, name: str) -> float:
    return parse(text, kind, MM, name)


def entry(key: str, kind: str, /, at: str = "2026-05-14T10:00:00Z", **typed: str) -> dict[str, object]:
    return {"key": key.ljust(8, "0"), "code": kind, "at": at, "typed": typed}


def picture(size: tuple[int, int] = (60, 40), **how) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, "#336699").save(out, "JPEG", **how)
    return out.getvalue()


def note(client: TestClient, code: str, sent: dict[str, object], photo: bytes | None = None):
    files = {"file": ("photo.jpg", photo, "image/jpeg")} if photo else None
    return client.post(f"/pond/{code}/entries", data={"entry": json.dumps(sent)}, files=files, headers={"accept": "application/json"})


def test_the_sheet_shows_what_is_expected_beside_its_fields(client, demo_yard, code):
    page = client.get(f"/pond/{code}").text
    card = demo_yard.sheets.sheet(code).shows["card"]
    for name in ("Draft at the bow mark", "Ten rolls take"):
        value = next(v for n, v, _ in card["expected"] if n == name)
        assert f"Expected {value}" in page
    assert all(f'data-code="{n}"' in page for n, row in NOTINGS.items() if row.part)


def test_an_entry_sent_twice_is_kept_once_and_joined_from_two_phones(client, demo_yard, code):
    first = entry("a", "drafts", bow="44 mm", stern="51")
    for _ in range(3):
        assert note(client, code, first).status_code == 200
    assert note(client, code, entry("b", "run", throttle="100", distance="20 m", time="14.2")).status_code == 200
    assert [e["key"] for e in client.get(f"/pond/{code}/entries").json()["entries"]] == ["a0000000", "b0000000"]
    changed = entry("a", "drafts", bow="99 mm")
    assert note(client, code, changed).status_code == 200
    assert demo_yard.sheets.entries(demo_yard.sheets.sheet(code))[0].typed == {"bow": "44 mm", "stern": "51"}  # as it was


def test_entries_become_a_trial_by_hand(client, demo_yard, code):
    """Units, tare, way over time, the last of what is single, and what was struck out."""
    day = [
        entry("wind", "wind", wind="3 m/s", gust="5 m/s", surface="ripples", water="fresh", water_c="12", depth="1.5 m", load="full"),
        entry("one", "drafts", at="2026-05-14T10:01:00Z", bow="40", stern="50"),
        entry("two", "drafts", at="2026-05-14T10:02:00Z", bow="42"),
        entry("heel", "heel", heel="1.5", side="port"),
        entry("rolls", "rolls", count="10", time="12.5 s"),
        entry("shift1", "shift", weight="200 g", moved="100 mm", heel="3.1"),
        entry("pull", "pull", throttle="100", pull="700 g", tare="100 g", amps="9.5"),
        entry("run1", "run", throttle="60 %", distance="20 m", time="10"),
        entry("run2", "run", throttle="100", speed="9 km/h", amps="8"),
        entry("run3", "run", throttle="100", speed="99 m/s"),
        entry("tick", "seen", code="tippy"),
        entry("note", "note", text="Wind from the weir."),
        entry("rating", "rating", rating="4"),
        entry("charge", "charge", charge="620 mAh"),
        entry("strike1", "strike", at="2026-05-14T11:00:00Z", entry="run30000", reason="read off the wrong clock"),
        entry("broken", "mass", mass="a lot"),
    ]
    for one in day:
        assert note(client, code, one).status_code == 200
    answer = client.post(f"{BOAT}/pond/{code}/trial", follow_redirects=False)
    assert answer.status_code == 303
    again = client.post(f"{BOAT}/pond/{code}/trial", follow_redirects=False)
    assert again.headers["location"] == answer.headers["location"]  # the same entries make it once
    test = demo_yard.revision(2, "B").trials[-1].test
    assert (test.draft_bow_m, test.draft_stern_m) == (pytest.approx(0.042), pytest.approx(0.050))
    assert test.heel_deg == -1.5
    assert (test.rolls.count, test.rolls.time_s) == (10, 12.5)
    assert test.pulls[0].thrust_n == pytest.approx(0.6 * 9.80665)
    assert [r.speed_ms for r in test.runs] == [pytest.approx(2.0), pytest.approx(2.5)]
    assert (test.inclining.weight_kg, test.inclining.shifts[0].moved_m) == (pytest.approx(0.2), pytest.approx(0.1))
    assert (test.seen, test.rating, test.charge_ah) == (("tippy",), 4, pytest.approx(0.62))
    assert (test.conditions.wind_ms, test.conditions.surface, test.conditions.depth_m) == (3.0, "ripples", 1.5)
    assert (test.struck[0].what, test.struck[0].reason) == ("Run", "read off the wrong clock")
    assert (test.load, test.place, test.mass_kg) == ("full", "mill pond", None)
    page = client.get(answer.headers["location"]).text
    for words in ("read off the wrong clock", "ripples", "4 of 5"):
        assert words in page
    assert "was not understood" in client.get(f"{BOAT}/pond/{code}").text  # the mass, kept as it was typed


@pytest.mark.parametrize(
    ("kind", "typed", "field"),
    [
        ("drafts", {}, "bow"),
        ("drafts", {"bow": "-2 furlongs"}, "draft_bow_m"),
        ("heel", {"heel": "2", "side": "up"}, "side"),
        ("rolls", {"count": "3.5", "time": "4"}, "count"),
        ("run", {"throttle": "50"}, "speed"),
        ("run", {"throttle": "50", "distance": "5 m", "time": "-3"}, "time"),
        ("pull", {"throttle": "50"}, "pull"),
        ("wind", {"wind": "900 m/s"}, "wind_ms"),
        ("note", {}, "text"),
    ],
)
def test_what_cannot_be_read_is_said_beside_its_field(kind, typed, field):
    with pytest.raises(InvalidInput) as refused:
        read(kind, typed, reader)
    assert refused.value.field == field


def test_only_strikes_and_nothing_read_make_no_trial():
    found = collected((Entry("k", "note", "2026-05-14T10:00:00Z", {"text": "rain"}),), reader, "2026-05-14", "")
    assert found.test is None
    assert "at least one reading" in found.problems[""]


def test_the_card_is_sealed_whatever_is_changed_after(client, demo_yard):
    made = client.post(f"{BOAT}/pond", data={"place": "bath"}, follow_redirects=False).headers["location"].rsplit("/", 1)[1]
    before = demo_yard.sheets.sheet(made).shows
    written = [p.figures for p in demo_yard.predictions.of(demo_yard.revision(2, "B").id)]
    revision = demo_yard.revision(2, "B")
    heavier = with_value(revision.design, "weights.0.mass_kg", revision.design.weights[0].mass_kg * 2)
    demo_yard.save(boat_id=2, letter="B", design=heavier, on=revision.snapshot, label="heavier")
    assert demo_yard.sheets.sheet(made).shows == before
    assert [p.figures for p in demo_yard.predictions.of(revision.id)] == written
    assert before["card"]["expected"] != []


def test_photos_are_small_without_their_place_and_counted(client, demo_yard, code, monkeypatch):
    gps = Image.Exif()
    gps[0x8825] = {1: "N", 2: (51.0, 2.0, 3.0)}
    large = picture((7360, 5440), exif=gps.tobytes())  # 40 million points
    begun = time.process_time()
    photo.small(large)
    assert time.process_time() - begun < 2
    answer = note(client, code, entry("big", "photo", caption="bow"), large)
    assert answer.status_code == 200, answer.text
    name = answer.json()["entry"]["photo"]
    kept = client.get(f"/pond/{code}/photos/{name}").content
    with Image.open(io.BytesIO(kept)) as small:
        assert max(small.size) <= 1200
        assert not small.getexif()
    assert client.get(f"/pond/{code}/photos/photo-0000000000000000.jpg").status_code == 404
    assert note(client, code, entry("none", "photo")).status_code == 422
    assert "not a picture" in note(client, code, entry("fake", "photo"), b"nothing at all").json()["message"]
    monkeypatch.setattr(store, "MOST_PHOTOS", 2)
    assert note(client, code, entry("p2", "photo"), picture((20, 20))).status_code == 200
    assert "at most" in note(client, code, entry("p3", "photo"), picture((21, 20))).json()["message"]
    monkeypatch.setattr(store, "MOST_ENTRIES", 2)
    assert note(client, code, entry("one_more", "note", text="x")).status_code == 422


@pytest.mark.parametrize(
    "sent", ["", "{}", '{"key": "../../etc", "code": "note", "at": "x", "typed": {}}', json.dumps(entry("k", "none such"))]
)
def test_what_is_no_entry_is_one_sentence(client, code, sent):
    answer = client.post(f"/pond/{code}/entries", data={"entry": sent}, headers={"accept": "application/json"})
    assert answer.status_code == 422
    assert set(answer.json()) == {"message"}


def test_the_file_works_by_itself_and_its_readings_come_in_once(client, demo_yard, code):
    page = client.get(f"/pond/{code}/file")
    assert "attachment" in page.headers["content-disposition"]
    assert "src=" not in page.text.replace("data-src=", "")
    assert "<link" not in page.text
    brought = {
        "format": "yare-keel-sheet",
        "version": 1,
        "sheet": code,
        "entries": [
            entry("one", "drafts", bow="44", stern="50"),
            {**entry("two", "photo", caption="stern"), "photo": base64.b64encode(picture()).decode()},
        ],
    }
    for _ in range(2):
        files = {"file": ("readings.json", json.dumps(brought), "application/json")}
        assert client.post(f"{BOAT}/pond/{code}/readings", files=files, follow_redirects=False).status_code == 303
    kept = demo_yard.sheets.entries(demo_yard.sheets.sheet(code))
    assert [e.key for e in kept] == ["one00000", "two00000"]
    assert kept[1].photo is not None
    for wrong in (b"[]", json.dumps({**brought, "sheet": "another"}).encode(), json.dumps({**brought, "version": 9}).encode()):
        answer = client.post(f"{BOAT}/pond/{code}/readings", files={"file": ("r.json", wrong, "application/json")})
        assert answer.status_code == 422


def test_the_paper_has_every_prediction_and_room_to_write(client, demo_yard, code):
    page = client.get(f"/pond/{code}/print").text
    for name, value, _ in demo_yard.sheets.sheet(code).shows["card"]["expected"]:
        assert name in page
        assert value in page


# Tracks and measured photos, at the bench


def track_of(day: str = "") -> bytes:
    """There and back at 2 m/s, 5 points a second, on a day (the sheet's for none)."""
    import datetime

    from tests.core.test_track import as_gpx
    from tests.core.test_track import day as made

    start = datetime.datetime.now(datetime.UTC) if not day else datetime.datetime.fromisoformat(f"{day}T09:00:00+00:00")
    import tests.core.test_track as module

    before, module.START = module.START, start
    try:
        return as_gpx(*made(5, noise=0.05))
    finally:
        module.START = before


def test_a_track_is_looked_over_and_its_runs_noted_once(client, demo_yard, code):
    files = {"file": ("day.gpx", track_of(), "application/gpx+xml")}
    answer = client.post(f"{BOAT}/pond/{code}/tracks", files=files, follow_redirects=False)
    assert answer.status_code == 303, answer.text
    page = client.get(answer.headers["location"]).text
    for words in ("Both ways, 1 and 1 runs", "Best 5 seconds", "All 750 points are used", "Throttle of run 2"):
        assert words in page
    for _ in range(2):
        noted = client.post(f"{answer.headers['location']}/runs", data={"throttle_1": "80 %", "throttle_2": ""}, follow_redirects=False)
        assert noted.status_code == 303
    runs = [e for e in demo_yard.sheets.entries(demo_yard.sheets.sheet(code)) if e.code == "run"]
    assert len(runs) == 1
    assert read("run", runs[0].typed, reader)["speed"] == pytest.approx(2.0, rel=0.01)
    wrong = client.post(f"{answer.headers['location']}/runs", data={"throttle_2": "a lot"})
    assert wrong.status_code == 422
    assert "Run 2" in wrong.text
    assert ">noted<" in client.get(answer.headers["location"]).text.replace("\n", "")


def test_a_track_of_another_day_is_refused_unless_it_is_meant(client, code):
    files = {"file": ("old.gpx", track_of("2020-01-02"), "application/gpx+xml")}
    refused = client.post(f"{BOAT}/pond/{code}/tracks", files=files)
    assert refused.status_code == 422
    assert "2020-01-02" in refused.text
    meant = client.post(f"{BOAT}/pond/{code}/tracks", files=files, data={"anyway": "yes"}, follow_redirects=False)
    assert meant.status_code == 303
    for bad in (b"", b"<gpx/>", b"PK\x03\x04"):
        assert client.post(f"{BOAT}/pond/{code}/tracks", files={"file": ("x.gpx", bad, "a/b")}).status_code == 422
    assert client.get(f"{BOAT}/pond/{code}/tracks/track-0.gpx").status_code == 404


def test_a_phone_brings_a_track_once(client, demo_yard, code):
    sent = entry("track-by-phone", "track", name="day.csv.gpx")
    for _ in range(2):
        answer = note(client, code, sent, track_of())
        assert answer.status_code == 200, answer.text
    (kept,) = [e for e in demo_yard.sheets.entries(demo_yard.sheets.sheet(code)) if e.code == "track"]
    assert kept.typed["name"] == "day.csv.gpx"
    assert "Both ways, 1 and 1 runs" in client.get(f"{BOAT}/pond/{code}/tracks/{kept.typed['file']}").text
    old = note(client, code, entry("track-of-old", "track", name="old.gpx"), track_of("2020-01-02"))
    assert old.status_code == 422
    assert "2020-01-02" in old.json()["message"]
    assert note(client, code, entry("track-of-none", "track", name="none.gpx")).status_code == 422
    assert note(client, code, entry("track-of-harm", "track", name="../x.gpx"), b"<gpx/>").status_code == 422


def test_a_photo_is_measured_and_noted_once(client, demo_yard, code):
    """A made picture: one millimetre is one point and a half, the bow is to the right, the water rises by 2 degrees towards it."""
    import math

    name = note(client, code, entry("photo", "photo"), picture((1200, 900))).json()["entry"]["photo"]
    base = f"{BOAT}/pond/{code}/photos/{name}"
    assert "arrow keys move it" in client.get(f"{base}/measure").text

    def seen(along: float, up: float) -> list[float]:
        return [1.5 * along, 600 - 1.5 * up]

    def mark(along: float, up: float) -> dict[str, object]:
        x, y = seen(along, up)
        return {"x": x, "y": y, "along": f"{along} mm", "up": f"{up} mm"}

    slope = math.tan(math.radians(2))
    sent = {
        "look": "side",
        "marks": [mark(50, 20), mark(750, 30), mark(700, 140), mark(100, 130)],
        "water": [seen(80, 50 + slope * 80), seen(720, 50 + slope * 720)],
    }
    said = client.post(f"{base}/measured", json=sent).json()["words"]
    assert said.startswith("Bow down 2.0°")
    for _ in range(2):
        assert client.post(f"{base}/note", json=sent).status_code == 200
    kept = [e for e in demo_yard.sheets.entries(demo_yard.sheets.sheet(code)) if e.code == "drafts"]
    assert len(kept) == 1
    revision = demo_yard.revision(2, "B")
    from yarekeel.web.shared.page import craft_of

    marks = craft_of(revision.design).marks
    got = read("drafts", kept[0].typed, reader)
    assert got["bow"] == pytest.approx(0.05 + slope * marks.bow_x_m, abs=2e-5)
    assert got["stern"] == pytest.approx(0.05 + slope * marks.stern_x_m, abs=2e-5)
    assert 0.001 < got["good"] < 0.01
    made = client.post(f"{BOAT}/pond/{code}/trial", follow_redirects=False)
    test = demo_yard.revision(2, "B").trials[-1].test
    assert made.status_code == 303
    assert test.readings.read_to.draft_m == pytest.approx(got["good"])  # what the photo is good to goes into the fit
    assert test.photos == (name,)
    ends = client.post(f"{base}/measured", json={**sent, "look": "end"}).json()["words"]
    assert ends.startswith("Leans 2.0° to port")  # along is to port there, and the water stands higher to port
    for wrong in ({**sent, "marks": sent["marks"][:3]}, {**sent, "marks": []}, {**sent, "water": [[0, 0]]}):
        answer = client.post(f"{base}/measured", json=wrong, headers={"accept": "application/json"})
        assert answer.status_code == 422
    assert client.post(f"{BOAT}/pond/{code}/photos/photo-none.jpg/measured", json=sent).status_code == 404


def test_nothing_confirmed_is_lost_by_a_kill_photos_included(tmp_path, demo_file):
    """A program of its own takes entries over HTTP until it is killed between two of them: what was answered is there, whole."""
    database = tmp_path / "yard.db"
    shutil.copy(demo_file, database)
    yard = Yard(open_database(database))
    made = yard.sheets.open(yard.revision(2, "B").id, "mill pond", {"card": {"expected": []}, "boat": "x", "letter": "B", "units": "mm_g"})
    command = [sys.executable, "-m", "yarekeel.cli", "serve", "--no-browser", "--data", str(tmp_path), "--port", "0"]
    program = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env={**os.environ, "PYTHONUNBUFFERED": "1"})
    port = int(re.search(r":(\d+)/", program.stdout.readline())[1])
    confirmed: list[str] = []

    def fill() -> None:
        base = f"http://127.0.0.1:{port}/pond/{made}/entries"
        with contextlib.suppress(httpx2.HTTPError):
            for k in range(500):
                key = f"key{k:05d}"
                files = {"file": ("p.jpg", picture((40 + k, 30)), "image/jpeg")} if k % 2 else None
                sent = entry(key, "photo" if k % 2 else "note", text="x")
                if httpx2.post(base, data={"entry": json.dumps(sent)}, files=files, timeout=60).status_code == 200:
                    confirmed.append(key)

    filling = threading.Thread(target=fill)
    filling.start()
    while len(confirmed) < 8 and filling.is_alive():
        time.sleep(0.02)
    program.kill()
    program.wait(10)
    program.stdout.close()
    filling.join(20)
    kept = {e.key: e for e in yard.sheets.entries(yard.sheets.sheet(made))}
    assert len(confirmed) >= 8
    assert set(confirmed) <= set(kept)
    for e in kept.values():
        if e.code == "photo":
            assert yard.photo_data(e.photo)[:2] == b"\xff\xd8"
