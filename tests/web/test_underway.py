"""Under way over HTTP: every tab of every boat answers, and what is asked beyond reason is refused beside its field."""

import re

import pytest
from fastapi.testclient import TestClient

from tests.conftest import DEMO_BOATS


@pytest.mark.parametrize("tab", ["speed", "run", "planing", "flip", "steering", "coast", "schools"])
@pytest.mark.parametrize("boat", range(1, DEMO_BOATS + 1))
def test_every_tab_of_every_boat(client: TestClient, boat: int, tab: str):
    answer = client.get(f"/boats/{boat}/A/underway?tab={tab}")
    assert answer.status_code == 200
    assert "Undefined" not in answer.text
    assert not re.search(r"\bnan\b|\binf\b", answer.text.lower())


@pytest.mark.parametrize("units", ["mm_g", "in_oz"])
def test_distances_are_in_the_readers_units(client: TestClient, units: str):
    client.post("/boats/2/B/units", data={"units": units, "stage": "underway"})
    page = client.get("/boats/2/B/underway?tab=run").text
    assert ('readout-unit">ft<' in page) == (units == "in_oz")


@pytest.mark.parametrize(
    ("query", "words"),
    [
        ("tab=speed&throttle=120", "Throttle runs from 0 to 100 %."),
        ("tab=speed&wind=200", "A head wind of at most 40 m/s"),
        ("tab=speed&wind=lots", "was not understood"),
        ("tab=run&course=10 120%25", "Throttle runs from 0 to 100 %."),
        ("tab=run&course=-10 50%25", "Write legs as seconds"),
        ("tab=run&course=9000 50%25", "at most 30 minutes"),
        ("tab=flip&flip_wind=200", "A head wind of at most 40 m/s"),
        ("tab=coast&tow_drag=-4", "it cannot push"),
        ("tab=coast&tow_drag=1e9", "0 to 100000 N"),
        ("tab=flip&flip_area=-1", "A plan area above nothing"),
    ],
)
def test_bad_input_is_a_sentence_beside_its_field(client: TestClient, query: str, words: str):
    page = client.get(f"/boats/2/B/underway?{query}")
    assert page.status_code == 200
    assert words in page.text


def test_what_concerns_no_such_boat_says_what_it_needs(client: TestClient):
    assert "It needs a planing bottom" in client.get("/boats/2/B/underway?tab=planing").text
    made = client.post("/boats", data={"name": "Coot", "family": "vee", "kind": "model"}, follow_redirects=False)
    base = made.headers["location"].rsplit("/", 1)[0]
    assert "Enter the weights first" in client.get(f"{base}/underway").text
