"""What every answer carries, and what is refused at the door."""

import contextlib
import socket
import time

import httpx2
import pytest
from fastapi.testclient import TestClient

from tests.conftest import DEMO_BOATS
from yarekeel.cli import commands
from yarekeel.core.errors import YareKeelError
from yarekeel.web import security
from yarekeel.web.app import create_app
from yarekeel.web.security import MOST_BODY, MOST_UPLOAD
from yarekeel.web.serving import Proxied
from yarekeel.web.settings import Settings

JSON = {"content-type": "application/json", "accept": "application/json"}


def test_every_answer_carries_the_policy(client: TestClient):
    for path in ("/", "/boats/2/B/float", "/nowhere", "/static/css/app.css", "/boats/999/A/float"):
        headers = client.get(path).headers
        policy = headers["content-security-policy"]
        assert "script-src 'self'" in policy
        assert "unsafe" not in policy
        assert headers["x-content-type-options"] == "nosniff"


@pytest.mark.parametrize("host", ["evil.example", "127.0.0.1.evil.example", "", "10.0.0.1:8421"])
def test_foreign_hosts_are_refused(client: TestClient, host):
    assert client.get("/", headers={"host": host}).status_code == 421


@pytest.mark.parametrize(
    "headers",
    [
        {"origin": "http://evil.example"},
        {"origin": "null"},
        {"origin": "http://127.0.0.1:9999"},
        {"sec-fetch-site": "cross-site"},
        {"sec-fetch-site": "same-site"},
    ],
)
def test_writes_from_elsewhere_are_refused(client: TestClient, demo_yard, headers):
    assert client.post("/boats/2/delete", headers=headers).status_code == 403
    assert len(demo_yard.boats()) == DEMO_BOATS


NAVIGATION = {"sec-fetch-mode": "navigate", "sec-fetch-dest": "document", "sec-fetch-user": "?1"}


@pytest.mark.parametrize("site", ["cross-site", "same-site"])
def test_another_sites_page_may_not_ask_for_anything_by_itself(client: TestClient, site):
    for headers in (
        {"sec-fetch-mode": "no-cors", "sec-fetch-dest": "image"},
        {"sec-fetch-mode": "cors", "sec-fetch-dest": "empty"},
        {**NAVIGATION, "sec-fetch-dest": "iframe"},
        {k: v for k, v in NAVIGATION.items() if k != "sec-fetch-user"},
    ):
        answer = client.get("/boats/2/B/brief?tab=size", headers={"sec-fetch-site": site, **headers})
        assert (answer.status_code, "another site" in answer.text) == (403, True)
    assert client.get("/boats/2/B/float", headers={"sec-fetch-site": site, **NAVIGATION}).status_code == 200
    assert client.get("/boats/2/B/float", headers={"sec-fetch-site": "none"}).status_code == 200


@pytest.mark.parametrize(
    "path", [f"/boats/{2**63}/A/float", f"/boats/{'9' * 5000}/A/float", "/boats/2/B/weights/99999999999999999999/photo", "/boats/0/A/float"]
)
def test_numbers_beyond_all_boats_are_no_page(client: TestClient, path):
    assert client.get(path).status_code in (404, 405)
    assert client.post(path).status_code in (404, 405, 422)


@pytest.mark.parametrize(
    "ask", ["item=²", "item=٣", f"item={'9' * 5000}", "flood=²,1", "page=²", "tab=dive&fill=²", "throttle=²", "what_pitch=²"]
)
def test_numbers_that_are_none_are_asked_as_if_nothing_was(client: TestClient, ask):
    for stage in ("weights", "float", "drive", "underway", "shape"):
        assert client.get(f"/boats/2/B/{stage}?{ask}").status_code == 200
    assert client.get(f"/?{ask}").status_code in (200, 422)
    assert client.get("/boats/2/compare?before=²:A&after=A").status_code == 404


@pytest.mark.parametrize("on", [2**70, -1, 1e300, "x", None])
def test_a_state_that_cannot_be_is_refused(client: TestClient, on):
    for where in ("undo", "redo", "float/look"):
        assert client.post(f"/boats/2/B/{where}", json={"on": on}, headers=JSON).status_code in (409, 422)


@pytest.mark.parametrize(
    "stream",
    ["stand/stream", "scale/stream", "tilt/stream", "float/check", "brief/map", "stability/cures", "fixes/rows", "history/figures"],
)
def test_a_stream_of_no_boat_is_refused_before_it_begins(client: TestClient, stream):
    for base in ("/boats/99/A", "/boats/1/Z"):
        assert client.get(f"{base}/{stream}").status_code == 404


def test_head_answers_as_get_does(client: TestClient):
    for path in ("/", "/boats/2/B/float", "/boats/2/B/boat.json", "/static/css/app.css", "/nowhere"):
        get, head = client.get(path), client.head(path)
        assert head.status_code == get.status_code
        assert head.content == b""
        assert head.headers["content-type"] == get.headers["content-type"]


def test_own_writes_pass(client: TestClient):
    assert client.post("/boats/2/duplicate", headers={"origin": "http://127.0.0.1"}, follow_redirects=False).status_code == 303


def test_bodies_are_limited_with_and_without_a_length(client: TestClient):
    assert client.post("/boats", content=b"x" * (MOST_BODY + 1)).status_code == 413
    assert client.post("/boats/import", content=b"x" * (MOST_UPLOAD + 1)).status_code == 413  # a mesh may be larger
    assert client.post("/boats/2/B/mesh", content=b"x" * (MOST_BODY + 1)).status_code == 422

    def endless():
        for _ in range(MOST_BODY // 100_000 + 2):
            yield b"x" * 100_000

    answer = client.post("/boats/2/B/float/look", content=endless(), headers=JSON)
    assert answer.status_code < 500


def test_what_is_typed_is_escaped(client: TestClient):
    body = {"on": client_snapshot(client), "keep": True, "changes": [{"path": "weights.0.name", "text": "<img src=x onerror=alert(1)>"}]}
    answer = client.post("/boats/2/B/float/look", json=body, headers=JSON)
    assert answer.status_code == 200
    assert not [p for p in answer.json()["parts"].values() if "<img src=x" in p]
    assert "<img src=x" not in client.get("/boats/2/B/weights").text
    assert "&lt;img src=x" in client.get("/boats/2/B/weights").text


def client_snapshot(client: TestClient, path: str = "/boats/2/B/float") -> int:
    text = client.get(path).text
    return int(text.split('data-snapshot="')[1].split('"')[0])


def test_no_page_asks_the_network(client: TestClient):
    import re

    for path in ("/", "/boats/2/B/float", "/static/css/app.css", "/static/alpine/work.js", "/static/alpine/tank.js"):
        outside = re.findall(r"(?:https?:)?//(?!127\.0\.0\.1|www\.w3\.org)[a-z0-9.-]+\.[a-z]{2,}", client.get(path).text)
        assert not [o for o in outside if "tailwindcss" not in o]


@pytest.mark.parametrize("drip", [False, True], ids=["stops", "drips"])
@pytest.mark.parametrize("path", ["/boats/2/B/float/look", "/boats"], ids=["read", "answered before"])
def test_a_slow_body_is_closed(served: str, monkeypatch, path, drip):
    """Over a real socket: a change whose body never ends is answered no later than the limit allows, and the next one is served."""
    monkeypatch.setattr(security, "SLOWEST", 0.5)
    monkeypatch.setattr(security, "LEAST_RATE", 1_000_000)
    host, port = served.removeprefix("http://").split(":")
    head = f"POST {path} HTTP/1.1\r\nHost: {host}:{port}\r\nContent-Type: application/json\r\nContent-Length: 5000\r\n\r\n"
    begun = time.monotonic()
    with socket.create_connection((host, int(port)), timeout=10) as line:
        line.sendall(head.encode() + b"{")
        line.settimeout(0.1)
        while time.monotonic() - begun < 10:
            try:
                if not line.recv(4096):
                    break  # closed
            except TimeoutError:
                with contextlib.suppress(OSError):
                    line.sendall(b" " if drip else b"")
            except ConnectionResetError:
                break
    assert time.monotonic() - begun < 4
    assert httpx2.get(f"{served}/", timeout=5).status_code == 200


def test_behind_a_proxy_its_name_and_its_pages_are_taken_and_no_others(demo_yard, tmp_path):
    app = create_app(Settings(tmp_path / "yard.db", behind="https://boats.example.org"), demo_yard)
    client = TestClient(app, base_url="http://boats.example.org", raise_server_exceptions=False)
    assert client.get("/").status_code == 200
    body = {"on": demo_yard.revision(2, "B").snapshot}
    own, other, plain = ({"origin": o} for o in ("https://boats.example.org", "https://elsewhere.example", "http://boats.example.org"))
    assert client.post("/boats/2/B/undo", json=body, headers=own).status_code in (200, 409)
    assert client.post("/boats/2/B/undo", json=body, headers=other).status_code == 403
    assert client.post("/boats/2/B/undo", json=body, headers=plain).status_code == 403
    assert TestClient(app, base_url="http://evil.example").get("/").status_code == 421
    assert TestClient(app, base_url="http://127.0.0.1").get("/").status_code == 200


@pytest.mark.parametrize("at", ["boats.example.org", "https://boats.example.org/path", "ftp://x", "https://a b"])
def test_an_address_of_a_proxy_is_scheme_and_name(at):
    with pytest.raises(YareKeelError, match="--behind"):
        Proxied(at)


def test_the_pages_are_not_opened_to_a_network_without_a_proxy():
    with pytest.raises(YareKeelError, match="no log-in"):
        commands.serve_command(listen="0.0.0.0")
