"""The Weights stage over HTTP: photos, files, the scale's stream, and bad input that loses nothing."""

import asyncio
import io
import re
import zipfile
from concurrent.futures import ThreadPoolExecutor

import pytest
from fastapi.testclient import TestClient

from tests.exchange.test_photo import picture
from yarekeel.instruments.shelf import Shelf
from yarekeel.store.yard import Yard
from yarekeel.web.shared import live
from yarekeel.web.stages.weights import scale

BASE = "/boats/2/B"
JSON = {"accept": "application/json"}


def act(verb: str, **args: object) -> dict:
    return {"action": "do", "verb": verb, "path": verb, "args": args}


def keep(client: TestClient, yard: Yard, *changes: dict[str, str], ask: dict[str, str] | None = None) -> dict:
    on = yard.revision(2, "B").snapshot
    answer = client.post(f"{BASE}/weights/look", json={"on": on, "changes": list(changes), "ask": ask or {}, "keep": True})
    assert answer.status_code == 200
    return answer.json()


def test_a_photo_is_kept_shown_and_travels(client: TestClient, demo_yard: Yard):
    sent = client.post(f"{BASE}/weights/2/photo", files={"file": ("cells.jpg", picture(2000, 1000))}, follow_redirects=False)
    assert (sent.status_code, sent.headers["location"]) == (303, f"{BASE}/weights?item=2")
    name = demo_yard.revision(2, "B").design.weights[2].photo
    shown = client.get(f"/photos/{name}")
    assert (shown.status_code, shown.headers["content-type"]) == (200, "image/jpeg")
    assert name in client.get(f"{BASE}/weights?item=2").text
    bundle = client.get(f"{BASE}/boat.json")
    assert name in zipfile.ZipFile(io.BytesIO(bundle.content)).namelist()
    back = client.post("/boats/import", files={"file": ("boat.zip", bundle.content)}, follow_redirects=False)
    copy = demo_yard.boat(int(back.headers["location"].split("/")[2])).latest.design
    assert client.get(f"/photos/{copy.weights[2].photo}").status_code == 200
    keep(client, demo_yard, act("weights.no_photo", line=2))
    assert demo_yard.revision(2, "B").design.weights[2].photo == ""


@pytest.mark.parametrize(("index", "data"), [(2, b"nothing"), (99, picture(20, 20)), (2, b"")])
def test_a_photo_that_cannot_be_is_a_sentence(client: TestClient, index, data):
    answer = client.post(f"{BASE}/weights/{index}/photo", files={"file": ("x.jpg", data)})
    assert answer.status_code == 422
    assert client.get("/photos/photo-0000000000000000.jpg").status_code == 404


def test_the_list_as_csv_comes_back(client: TestClient, demo_yard: Yard):
    table = client.get(f"{BASE}/weights.csv")
    assert table.headers["content-type"].startswith("text/csv")
    before = demo_yard.revision(2, "B").design.weights
    assert keep(client, demo_yard, act("weights.paste", text=table.text))["errors"] == {}
    after = demo_yard.revision(2, "B").design.weights
    assert [w.mass_kg for w in after] == pytest.approx([w.mass_kg for w in (*before, *before)])


@pytest.mark.parametrize(
    ("path", "text", "words"),
    [
        ("weights.0.mass_kg", "5 parsec", "not understood"),
        ("weights.0.quantity", "-1", "between 0 and"),
        ("weights.0.spread", "-5", "between"),
        ("weights.0.moves_with", "the moon", "no other weight"),
        ("weigh_in.tip_deg", "120", "between 0.01 and 89.99"),
        ("weigh_in.mass_kg", "heavy", "not understood"),
        ("cases.0.counts.0", "lots", "not understood"),
        ("cases.0.name", "half a basket", "same name"),
        ("case", "at sea", "one of"),
        ("weights.0.recipe.walls", "3", "No page edits"),
    ],
)
def test_bad_input_is_a_sentence_beside_the_field(client: TestClient, demo_yard: Yard, path, text, words):
    before = demo_yard.revision(2, "B")
    answer = keep(client, demo_yard, {"path": path, "text": text})
    assert words in answer["errors"][path]
    assert "form" not in answer["parts"]  # what was typed stays
    assert demo_yard.revision(2, "B") == before


@pytest.mark.parametrize(
    "deed",
    [
        ("scale.take", {"number": 1}),
        ("scale.take", {"number": 99999999, "path": "weigh_in.fore_kg"}),
        ("scale.take", {"number": 1, "path": "weights.0.mass_kg"}),
        ("weights.correct", {"text": "magic"}),
        ("weights.many.remove", {"lines": []}),
        ("weights.many.group", {"lines": [0], "to": "felt"}),
        ("weights.lighten", {"text": "weights.0.name"}),
        ("weights.recipe", {"line": 9999, "kind": "skin"}),
        ("weights.place", {"line": 0, "place": [1, 2]}),
        ("weights.place", {"line": -1, "place": [1, 2, 3]}),
        ("cases.remove", {"case": 77}),
        ("materials.remove", {"material": 5}),
        ("weights.recipe", {"line": 0, "kind": "witchcraft"}),
        ("weights.sing", {}),
    ],
)
def test_deeds_that_cannot_be_done_are_refused(client: TestClient, demo_yard: Yard, deed):
    before = demo_yard.revision(2, "B")
    on = before.snapshot
    answer = client.post(f"{BASE}/weights/look", json={"on": on, "changes": [act(deed[0], **deed[1])], "keep": True}, headers=JSON)
    assert answer.status_code in (200, 409)
    sentence = answer.json()["message"] if answer.status_code == 409 else next(iter(answer.json()["errors"].values()))
    assert sentence.endswith(".")
    assert demo_yard.revision(2, "B") == before


def test_a_moved_weight_says_its_companions_again(client: TestClient, demo_yard: Yard):
    keep(client, demo_yard, {"path": "weights.4.moves_with", "text": "Battery, 4 cells"})
    answer = keep(client, demo_yard, {"path": "weights.2.at_m.0", "text": "120 mm"})
    assert answer["fields"]["weights.4.at_m.0"] != "190 mm"
    assert answer["fields"]["weights.2.at_m.0"] == "120 mm"


@pytest.mark.parametrize(
    "do", [{"do": "put", "what": "boat"}, {"do": "put", "what": "0"}, {"do": "tare"}, {"do": "unplug"}, {"do": "plug"}]
)
def test_what_is_done_to_the_scale(client: TestClient, do):
    assert client.post(f"{BASE}/scale", json=do).json() == {"done": True}


@pytest.mark.parametrize(("what", "words"), [("fore", "supports stand"), ("the moon", "Choose what"), ("999", "Choose what")])
def test_what_cannot_be_put_on_it(client: TestClient, what, words):
    answer = client.post(f"{BASE}/scale", json={"do": "put", "what": what}, headers=JSON)
    assert answer.status_code == 422
    assert words in answer.json()["message"]


def test_a_seal_keeps_the_weights(client: TestClient, demo_yard: Yard):
    sealed = demo_yard.revision(2, "A")
    change = act("weights.many.off", lines=[0])
    answer = client.post("/boats/2/A/weights/look", json={"on": sealed.snapshot, "changes": [change], "keep": True})
    assert answer.status_code == 409
    assert client.post("/boats/2/A/weights/0/photo", files={"file": ("x.png", picture(9, 9, "PNG"))}).status_code == 409
    assert demo_yard.revision(2, "A") == sealed


def events(shelf: Shelf, after: str, count: int) -> list[int]:
    """Numbers of the next readings, in a thread of its own: a browser's driver may have a loop in this one."""

    async def some() -> list[int]:
        out: list[int] = []
        async for event in live.readings(shelf, shelf.scale(2), after, scale.shown, 0.02):
            out += [r["number"] for r in event.data]
            if len(out) >= count:
                break
        return out[:count]

    with ThreadPoolExecutor(1) as pool:
        return pool.submit(lambda: asyncio.run(some())).result()


def test_a_page_that_lost_its_line_gets_what_it_missed():
    """The stream goes on after the last number that the page has: none twice, none left out."""
    shelf = Shelf()
    first = events(shelf, "", 4)
    again = events(shelf, str(first[1]), 4)  # the last two never arrived
    assert again[:2] == first[2:]
    assert again == list(range(again[0], again[0] + 4))
    shelf.close()
    assert events(shelf, "", 1) == []  # a program that ends lets its pages go


def test_one_boats_scale_is_not_anothers(client: TestClient):
    """What is put on the one does not show on the other, and a reading of the one is not taken for the other."""
    shelf = client.app.state.shelf
    client.post(f"{BASE}/scale", json={"do": "put", "what": "boat"})
    client.post("/boats/1/B/scale", json={"do": "put", "what": "nothing"})
    assert shelf.scale(2).scale._load > 3.0
    assert shelf.scale(1).scale._load == 0.0
    client.post("/boats/1/B/scale", json={"do": "unplug"})
    assert shelf.scale(2).scale.plugged


def shown(client: TestClient, **ask: str) -> list[str]:
    """Names in the list as the page shows them."""
    page = client.get(f"{BASE}/weights", params=ask).text
    return re.findall(r'aria-label="Tick (?!all)([^"]+)"', page)


def test_lines_are_found_and_put_in_order(client: TestClient, demo_yard: Yard):
    names = [w.name for w in demo_yard.revision(2, "B").design.weights]
    masses = {w.name: w.mass_kg for w in demo_yard.revision(2, "B").design.weights}
    assert shown(client, sort="listed") == names
    assert shown(client, sort="name") == sorted(names, key=str.lower)
    assert shown(client) == names  # and stays so whatever is edited
    assert shown(client, sort="mass") == sorted(names, key=lambda n: -masses[n])
    assert shown(client, find="BATTERY") == ["Battery, 4 cells"]
    assert set(shown(client, group="electrics")) == {"Battery, 4 cells", "Receiver and speed controls"}
    assert shown(client, find="nothing of the kind") == []
    assert shown(client, sort="by magic", page="99", group="none", item="12345") == names


def test_a_long_list_comes_in_pages(client: TestClient, demo_yard: Yard):
    rows = "\n".join(f"part {k:03}\t1" for k in range(90))
    keep(client, demo_yard, act("weights.paste", text=rows))
    first, second, third = (shown(client, sort="name", page=str(n)) for n in range(3))
    assert (len(first), len(second), len(third)) == (40, 40, 18)
    assert len({*first, *second, *third}) == 98
    assert shown(client, sort="name", page="77") == third  # past the end is the end
