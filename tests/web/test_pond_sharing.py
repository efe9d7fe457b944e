"""Pond sheets shared with the local network: reached by the phone that was let in, and nobody else."""

import json
import ssl
import threading
import urllib.error
import urllib.request
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.web.test_pond import BOAT, entry, note
from yarekeel.core.errors import NotFound, YareKeelError
from yarekeel.instruments.shelf import Shelf
from yarekeel.store import sheets as store
from yarekeel.store.yard import Yard
from yarekeel.web.pond import sharing
from yarekeel.web.pond.sharing import create_pond_app
from yarekeel.web.serving import Share, shared


@pytest.fixture
def outside(demo_yard: Yard) -> TestClient:
    app = create_pond_app(demo_yard, frozenset({"192.0.2.7"}), secure=False)
    return TestClient(app, base_url="http://192.0.2.7:8521", client=("192.0.2.99", 50000))


def entered(demo_yard: Yard, outside: TestClient, code: str) -> str:
    secret = demo_yard.sheets.link(demo_yard.sheets.sheet(code))
    assert outside.get(f"/enter/{secret}").status_code == 200  # a preview does not use it up
    answer = outside.post(f"/enter/{secret}", headers={"origin": "http://192.0.2.7:8521"}, follow_redirects=False)
    assert answer.headers["location"] == f"/pond/{code}"
    assert "httponly" in answer.headers["set-cookie"].lower()
    return secret


def test_nothing_is_reached_without_the_link_and_only_the_sheet_with_it(client, demo_yard, outside, code):
    assert outside.get(f"/pond/{code}").status_code == 403
    entered(demo_yard, outside, code)
    assert outside.get(f"/pond/{code}").status_code == 200
    assert note(outside, code, entry("far", "drafts", bow="44")).status_code == 200
    other = client.post("/boats/1/B/pond", data={}, follow_redirects=False).headers["location"].rsplit("/", 1)[1]
    reached = ["/", "/boats/2/B/float", f"{BOAT}/pond/{code}", "/boats/2/B/boat.json", f"/pond/{other}", f"/pond/{other}/entries", "/parts"]
    assert [outside.get(path).status_code for path in reached] == [403] * len(reached)
    assert outside.post(f"{BOAT}/pond/{code}/link").status_code == 403


def test_a_link_is_good_once_for_a_while_and_until_it_is_ended(client, demo_yard, outside, code, monkeypatch):
    used = entered(demo_yard, outside, code)
    assert outside.post(f"/enter/{used}").status_code == 404
    sheet = demo_yard.sheets.sheet(code)
    waiting = demo_yard.sheets.link(sheet)
    assert demo_yard.sheets.phones(sheet) == 1
    client.post(f"{BOAT}/pond/{code}/end")
    assert outside.get(f"/pond/{code}").status_code == 403
    assert outside.post(f"/enter/{waiting}").status_code == 404
    old = demo_yard.sheets.link(sheet)
    monkeypatch.setattr(store, "LINK_LIVES", store.LINK_LIVES * 0)
    with pytest.raises(NotFound):
        demo_yard.sheets.enter(old)


def test_a_session_outlives_the_program(demo_yard, outside, code):
    entered(demo_yard, outside, code)
    later = TestClient(create_pond_app(demo_yard, frozenset({"192.0.2.7"}), secure=False), base_url="http://192.0.2.7:8521")
    later.cookies = outside.cookies
    assert later.get(f"/pond/{code}").status_code == 200


@pytest.mark.parametrize(
    "headers",
    [{"host": "evil.example"}, {"origin": "http://evil.example"}, {"sec-fetch-site": "cross-site"}],
)
def test_foreign_hosts_and_origins_are_refused(demo_yard, outside, code, headers):
    entered(demo_yard, outside, code)
    sent = {"entry": json.dumps(entry("x", "drafts", bow="1"))}
    assert outside.post(f"/pond/{code}/entries", data=sent, headers=headers).status_code in (403, 421)
    assert demo_yard.sheets.sheet(code).entries == 0


def test_guessing_is_slowed_and_each_address_by_itself(demo_yard, outside, code):
    answers = [outside.post(f"/enter/guess{k}").status_code for k in range(sharing.MOST_REFUSALS + 3)]
    assert answers[:3] == [404] * 3
    assert answers[-1] == 429
    other = TestClient(outside.app, base_url="http://192.0.2.7:8521", client=("192.0.2.50", 1))
    assert other.post("/enter/guess").status_code == 404 or other.get("/").status_code == 403


def test_the_bench_says_how_to_share_and_makes_a_link_where_it_is(client, demo_yard, code):
    assert "--share" in client.get(f"{BOAT}/pond/{code}").text
    assert client.post(f"{BOAT}/pond/{code}/link").status_code == 422
    from yarekeel.web.pond.phones import Sharing

    client.app.state.sharing = Sharing("http://192.0.2.7:8521", secure=False)
    page = client.post(f"{BOAT}/pond/{code}/link").text
    assert "http://192.0.2.7:8521/enter/" in page
    assert "<svg" in page.split("pond-link")[1][:200]
    assert "no TLS" in page


@pytest.mark.parametrize(
    ("share", "said"),
    [
        (Share("192.0.2.1"), "not an address of this machine"),
        (Share("127.0.0.1", cert="here"), "needs both"),
    ],
)
def test_sharing_that_cannot_be_is_one_sentence(demo_yard, share, said):
    with pytest.raises(YareKeelError, match=said):
        shared(demo_yard, share, Shelf())


def test_a_certificate_that_is_none_is_said(demo_yard, tmp_path):
    wrong = tmp_path / "a.pem"
    with pytest.raises(YareKeelError, match="is not there"):
        shared(demo_yard, Share("127.0.0.1", wrong, wrong), Shelf())
    wrong.write_text("nothing")
    with pytest.raises(YareKeelError, match="cannot be used"):
        shared(demo_yard, Share("127.0.0.1", wrong, wrong), Shelf())


def test_over_https_the_sheet_is_served_and_its_cookie_is_for_https_alone(demo_yard, code):
    cert = key = Path(__file__).parent / "localhost.pem"
    server, at, where = shared(demo_yard, Share("127.0.0.1", cert, key), Shelf())
    assert where.address.startswith("https://127.0.0.1:")
    thread = threading.Thread(target=server.run, kwargs={"sockets": [at]}, daemon=True)
    thread.start()
    secret = demo_yard.sheets.link(demo_yard.sheets.sheet(code))
    context = ssl.create_default_context(cafile=str(cert))
    request = urllib.request.Request(f"{where.address}/enter/{secret}", data=b"", headers={"origin": where.address})
    opener = urllib.request.build_opener(urllib.request.HTTPSHandler(context=context), _NoRedirect)
    with pytest.raises(urllib.error.HTTPError) as moved:
        opener.open(request, timeout=10)
    assert moved.value.code == 303
    assert "secure" in moved.value.headers["set-cookie"].lower()
    moved.value.close()
    server.stop()
    thread.join(5)
    at.close()


class _NoRedirect(urllib.request.HTTPRedirectHandler):
    def redirect_request(self, *_: object) -> None:
        return None
