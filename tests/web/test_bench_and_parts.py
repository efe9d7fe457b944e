"""The bench and the parts bin over HTTP: taken points are saved, bad input is a sentence beside its field, parts in use stay."""

import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.web.test_pages import look
from tests.web.test_security import JSON
from yarekeel.core.propulsion.parts import STARTERS
from yarekeel.demo.story import load_demo
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard

POINT = {"throttle": 0.5, "reading_n": 2.5, "volts": 12.1, "amps": 3.0, "rpm": 4000.0, "at_s": 3.0, "spread_n": 0.01, "step_n": 0.0}


def do(verb: str, **args) -> dict:
    return {"path": verb, "action": "do", "verb": verb, "args": args}


def done(client: TestClient, yard: Yard, *changes: dict, ask: dict | None = None) -> dict:
    answer = look(client, "drive", *changes, ask=ask, on=yard.revision(2, "B").snapshot)
    assert answer.status_code == 200, answer.text
    return answer.json()


def sheets_of(yard: Yard):
    return yard.revision(2, "B").design.drive.tests


def test_readings_are_taken_pasted_kept_and_left_out(client: TestClient, demo_yard: Yard):
    count = len(sheets_of(demo_yard))
    answer = done(client, demo_yard, do("bench.add"), ask={"tab": "bench"})
    assert "Thrust test" in answer["parts"]["form"]
    done(client, demo_yard, do("bench.take", test=count, **POINT), ask={"tab": "bench", "test": str(count)})
    (point,) = sheets_of(demo_yard)[count].points
    assert point.practice  # whoever sends it, the stand is a stand-in
    assert point.reading_n == 2.5
    done(client, demo_yard, do("bench.paste", test=count, text="10,1\n20,2\n30,OL\n"))
    assert [p.reading_n for p in sheets_of(demo_yard)[count].points[1:]] == [1.0, 2.0, None]
    done(client, demo_yard, do("bench.leave", test=count, point=1))
    assert sheets_of(demo_yard)[count].points[1].keep == "out"
    done(client, demo_yard, do("bench.drop", test=count, point=3))
    assert len(sheets_of(demo_yard)[count].points) == 3
    table = client.get(f"/boats/2/B/bench-{count}.csv")
    assert table.text.startswith("throttle (%),reading (N)")
    assert client.get("/boats/2/B/bench-99.csv").status_code == 404


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"path": "drive.tests.0.rig.unit_arm_m", "text": "0"}, "drive.tests.0.rig.unit_arm_m", "without an arm there is no lever"),
        ({"path": "drive.tests.0.points.3.volts", "text": "-4"}, "drive.tests.0.points.3.volts", "between 0 and 1000 V"),
        ({"path": "drive.tests.0.points.3.throttle", "text": "140 %"}, "drive.tests.0.points.3.throttle", "between -100 and 100 %"),
        ({"path": "drive.battery.voltage_v", "text": "0"}, "drive.battery.voltage_v", "a pack has a cell at least"),
        (do("bench.paste", test=0, text="10,1\n" * 50_000), "bench.paste", "this has 50000 rows"),
        (do("bench.take", test=77, **POINT), "bench.take", "no such thrust test"),
        (do("parts.fit", key="nobody", motor="Port motor"), "parts.fit", "no such part"),
        (do("parts.fit", key=next(iter(STARTERS)), motor="Nobody"), "parts.fit", "Say which motor"),
        (do("parts.off", number=3), "parts.off", "no such part"),
        (do("bench.remove", test=1), "bench.remove", "choose another"),
    ],
)
def test_bad_input_is_a_sentence_beside_its_field(client: TestClient, demo_yard: Yard, change, field, words):
    before = demo_yard.revision(2, "B").snapshot
    answer = done(client, demo_yard, change)
    assert words in answer["errors"][field]
    assert demo_yard.revision(2, "B").snapshot == before


def test_a_test_is_used_and_the_chart_drawn(client: TestClient, demo_yard: Yard):
    page = client.get("/boats/2/B/drive?tab=bench&test=0").text
    assert "A joint slipped" in page
    assert "after a joint slipped" in page
    done(client, demo_yard, do("bench.use", test=2))
    assert {m.propulsor.test for m in demo_yard.revision(2, "B").design.drive.motors} == {"3 cells"}
    assert "Bench" in client.get("/boats/5/A/drive?tab=bench").text  # a boat without a test says what to do


def test_the_stand_obeys_and_refuses(client: TestClient):
    url = "/boats/2/B/stand"
    for ask in ({"do": "clamp", "what": "0"}, {"do": "tare"}, {"do": "throttle", "what": "40"}, {"do": "trouble", "what": "air"}):
        assert client.post(url, json=ask, headers=JSON).status_code == 200
    assert "before you tare" in client.post(url, json={"do": "tare"}, headers=JSON).json()["message"]
    for bad in ({"do": "throttle", "what": "140"}, {"do": "throttle", "what": "lots"}, {"do": "trouble", "what": "gremlins"}):
        assert client.post(url, json=bad, headers=JSON).status_code == 422
    assert client.post(url, json={"do": "explode"}, headers=JSON).status_code == 422


def test_a_part_of_ones_own_is_made_corrected_fitted_and_kept(client: TestClient, demo_yard: Yard):
    made = client.post("/parts", data={"kind": "motor"}, follow_redirects=False)
    href = made.headers["location"]
    key = href.rsplit("/", 1)[1]
    form = {"name": "Mill motor", "mass_kg": "95 g", "size": "", "note": "", "known": "own"}
    form |= {"kv": "800", "resistance_ohm": "60 mohm", "idle_current_a": "0.6", "gear": "1", "most_current_a": "25"}
    refused = client.post(href, data={**form, "mass_kg": "", "kv": "-5 lots"})
    assert refused.status_code == 422
    assert "A value is needed here" in refused.text
    assert 'value="-5 lots"' in refused.text  # what was typed is still there
    assert client.post(href, data={**form, "mass_kg": "0"}).text.count("a part with no mass cannot be placed") == 1
    assert client.post(href, data=form, follow_redirects=False).status_code == 303
    part = demo_yard.bin.part(key).part
    assert (part.name, part.mass_kg, part.spec.resistance_ohm) == ("Mill motor", pytest.approx(0.095), pytest.approx(0.06))
    before = sum(w.mass_kg for w in demo_yard.revision(2, "B").design.weights)
    done(client, demo_yard, do("parts.fit", key=key, motor="Port motor"))
    weights = demo_yard.revision(2, "B").design.weights
    assert sum(w.mass_kg for w in weights) == pytest.approx(before + 0.095)
    kept = client.post(f"/parts/{key}/remove")
    assert kept.status_code == 422
    assert "Reedwarden B" in kept.text
    client.post(href, data={**form, "mass_kg": "105 g"})
    assert "The bin&#39;s" in (page := client.get("/boats/2/B/drive?tab=parts").text) or "has changed since" in page
    done(client, demo_yard, do("parts.renew", number=0))
    assert sum(w.mass_kg for w in demo_yard.revision(2, "B").design.weights) == pytest.approx(before + 0.105)
    done(client, demo_yard, do("parts.off", number=0))
    assert sum(w.mass_kg for w in demo_yard.revision(2, "B").design.weights) == pytest.approx(before)
    gone = client.post(f"/parts/{key}/remove")
    assert "Mill motor was taken out" in gone.text
    assert client.post(f"/parts/{key}/restore").status_code == 200
    assert demo_yard.bin.part(key).part.mass_kg == pytest.approx(0.105)


def test_a_sealed_revision_keeps_what_the_water_saw(client: TestClient, demo_yard: Yard):
    """Revision A of the skimmer is sealed: its tests stay, whatever becomes of the bin, and nothing is fitted to it."""
    before = demo_yard.revision(2, "A").design
    body = {"on": demo_yard.revision(2, "A").snapshot, "seq": 1, "keep": True, "ask": {}}
    body["changes"] = [do("parts.fit", key="generic:servo-9-g")]
    answer = client.post("/boats/2/A/drive/look", json=body, headers=JSON)
    assert answer.status_code == 409
    assert demo_yard.revision(2, "A").design == before


def test_the_bin_as_csv_and_its_pages(client: TestClient, demo_yard: Yard):
    assert "Brushless, 28 mm, 1000 kV" in client.get("/parts").text
    assert "Brushless" not in client.get("/parts?kind=servo").text
    table = client.get("/parts.csv").text
    assert client.post("/parts/paste", data={"text": table}, follow_redirects=False).status_code == 303
    assert len(demo_yard.bin.own()) == len(STARTERS)
    bad = client.post("/parts/paste", data={"text": "kind,name,mass\nmotor,M,\n"})
    assert "Row 2 has no mass" in bad.text
    assert "motor,M," in bad.text
    copied = client.post("/parts/generic:servo-9-g/copy", follow_redirects=False).headers["location"]
    assert client.get(copied).status_code == 200
    for path in ("/parts/generic:servo-9-g", "/parts/999999", "/parts/²", "/parts/" + "9" * 400):
        assert client.get(path).status_code == 404
    assert client.post("/parts", data={"kind": "sponge"}).status_code == 422


def test_what_if_of_the_bin_is_put_in(client: TestClient, demo_yard: Yard):
    key = "generic:plastic-40-mm-3-blades"
    page = client.get(f"/boats/2/B/drive?tab=match&what_part={key}&what_lighter=200 g").text
    assert "Verdicts that change" in page or "No verdict" in page
    assert "200\N{NO-BREAK SPACE}g lighter" in page
    assert "left ashore" in client.get("/boats/2/B/drive?tab=match&what_lighter=90 kg").text
    done(client, demo_yard, do("drive.what_if", pitch=1.0, size=1.0, lighter=0.0, part=key))
    assert {m.propulsor.kind for m in demo_yard.revision(2, "B").design.drive.motors} == {"water_propeller"}


@pytest.mark.whole
def test_no_point_is_lost_when_the_server_is_killed(tmp_path: Path):
    """Points are taken over HTTP from a program of its own, which is then killed: every confirmed one is there, in order."""
    load_demo(Yard(open_database(tmp_path / "yard.db")))
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    command = [sys.executable, "-m", "yarekeel.cli", "serve", "--port", str(port), "--data", str(tmp_path), "--no-browser"]
    base = f"http://127.0.0.1:{port}/boats/2/B"

    def ask(on: int, *changes: dict) -> int:
        body = json.dumps({"on": on, "seq": 1, "changes": list(changes), "keep": True, "ask": {}}).encode()
        request = urllib.request.Request(f"{base}/drive/look", body, {**JSON, "content-type": "application/json"})
        return int(json.load(urllib.request.urlopen(request, timeout=10))["snapshot"])

    with subprocess.Popen(
        command, env={**os.environ, "HOME": str(tmp_path)}, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    ) as program:
        for _ in range(200):
            try:
                urllib.request.urlopen(f"{base}/drive", timeout=5).read()
                break
            except OSError:
                time.sleep(0.1)
        on = ask(Yard(open_database(tmp_path / "yard.db")).revision(2, "B").snapshot, do("bench.add"))
        for k in range(12):
            on = ask(on, do("bench.take", test=3, **{**POINT, "reading_n": float(k)}))
        program.send_signal(signal.SIGKILL)
        program.wait(10)
    points = Yard(open_database(tmp_path / "yard.db")).revision(2, "B").design.drive.tests[3].points
    assert [p.reading_n for p in points] == [float(k) for k in range(12)]
