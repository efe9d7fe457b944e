"""The table of fixes, races, the life of a boat and the binder, over HTTP."""

import csv
import dataclasses
import io
import json
import re

import numpy as np
import pypdfium2
import pytest
from fastapi.testclient import TestClient

from tests.web.conftest import solved_rows
from yarekeel.core.errors import InvalidInput
from yarekeel.core.kept import KEEP
from yarekeel.demo.fast_boats import sandpiper
from yarekeel.exchange.binder.ink import inked, styles
from yarekeel.stages.changes.register import CHANGES
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.fixes.expected import came_of
from yarekeel.stages.fixes.race import order, raced
from yarekeel.stages.underway import run

ROWS = "/boats/2/A/fixes/rows"


def words(html: str) -> str:
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", html))


def test_rows_come_in_the_order_of_the_causes_with_what_they_answer(client: TestClient):
    rows = solved_rows(client, ROWS)
    assert [re.search(r'data-code="([^"]*)"', r)[1] for r in rows][:2] == ["move", "ballast_at"]
    assert "answers: Its centre of gravity lies too far forward" in words(rows[0])
    assert 'data-code=""' in rows[2]  # a larger hull has nothing to mend
    assert "Freeboard is already met" in rows[2]
    assert "tone-holds" in rows[0]
    assert "now misses all-up mass" in words(rows[1])
    keys = json.loads(re.search(r'data-keys="([^"]*)"', rows[0])[1].replace("&#34;", '"'))
    assert keys["gain"] > json.loads(re.search(r'data-keys="([^"]*)"', rows[1])[1].replace("&#34;", '"'))["gain"]
    assert set(keys) >= {"trim", "freeboard", "gm"}


def test_the_float_is_mended_at_once_and_the_causes_come_when_the_runs_are_fitted(client: TestClient):
    KEEP.clear()
    early = words(client.get("/boats/6/A/fixes").text)
    assert "Being worked out: the readings are held against every cause" in early
    assert "speaks strongly" not in early
    came = client.get("/boats/6/A/fixes/rows?trial=", headers={"accept": "text/event-stream"}).text
    assert re.findall(r'data-code=\\"(\w*)\\"', came) == ["move", "ballast_at", ""]
    assert came.count("event: found") == 1
    assert "event: end" not in came
    whole = words(client.get("/boats/6/A/fixes").text)
    assert "Being worked out" not in whole
    assert "Its centre of gravity" in whole or "speaks strongly" in whole
    last = client.get("/boats/6/A/fixes/rows?trial=", headers={"accept": "text/event-stream"}).text
    assert last.count("event: end") == 1
    assert "event: found" not in last
    KEEP.clear()  # nothing of it could be kept: a page that waited once gets all of it, and does not wait again
    assert "Being worked out" not in words(client.get("/boats/6/A/fixes?found=1").text)
    KEEP.clear()
    last = client.get("/boats/6/A/fixes/rows?trial=&found=1", headers={"accept": "text/event-stream"}).text
    assert last.count("event: end") == 1
    assert "event: found" not in last


@pytest.mark.parametrize(
    ("show", "says"),
    [("afloat", "Carried ashore"), ("tipped", "Worst plain test"), ("running", "Top speed"), ("work", "What it takes")],
)
def test_each_group_of_figures_has_its_heads_and_as_many_cells(client: TestClient, show, says):
    page = client.get(f"/boats/2/A/fixes?show={show}").text
    assert says in page
    heads = len(re.findall(r"<th\s", page.partition("fixes-table")[2].partition("</thead>")[0]))
    row = solved_rows(client, f"{ROWS}?show={show}")[0]
    assert row.count("<td") + 1 == heads
    assert "{" not in words(row)


def test_what_one_cannot_do_is_left_out_and_another_change_tried(client: TestClient):
    codes = [re.search(r'data-code="([^"]*)"', r)[1] for r in solved_rows(client, f"{ROWS}?cannot=lead")]
    assert "ballast_at" not in codes
    rows = solved_rows(client, f"{ROWS}?also=fin,nothing")
    assert "A fin of" in rows[-1]
    assert len(rows) == 4
    page = client.get("/boats/2/A/fixes?cannot=lead,junk&also=fin").text
    assert 'value="lead"' in page
    assert 'data-cannot="lead" checked' in re.sub(r"\s+", " ", page)
    offered = re.findall(r'<option value="(\w+)">', page.partition("another change")[2].partition("</select>")[0])
    assert set(offered) <= set(CHANGES)
    assert "fin" not in offered


def test_two_ticked_are_solved_together_and_chosen_with_their_job(client: TestClient, demo_yard):
    rows = solved_rows(client, f"{ROWS}?join=move%2Bfin")
    assert 'data-code="move+fin"' in rows[0]
    assert "join" not in words(rows[0])  # joined ones are not joined again
    trial = str(demo_yard.revision(2, "A").trials[0].id)
    after = client.post("/boats/2/A/fixes/choose", data={"code": "move+fin", "trial": trial}, follow_redirects=False)
    assert after.status_code == 303
    letter = after.headers["location"].split("/")[3]
    design = demo_yard.revision(2, letter).design
    assert any(b.name == "stern fin" for b in design.bodies)
    job = demo_yard.predictions.of(demo_yard.revision(2, letter).id)[0].figures["job"]
    assert "sheet for the blade" in job["parts"]
    assert job["time"] == "an evening"
    shown = words(client.get(f"/boats/2/{letter}/trials").text)
    assert "To get and to do" in shown
    assert "get: sheet for the blade" in shown
    assert "Mind." in shown


@pytest.mark.parametrize("bad", ["code=none", "code=move%2Bnone", "code="])
def test_a_fix_that_is_none_is_refused_in_a_sentence(client: TestClient, demo_yard, bad):
    trial = demo_yard.revision(2, "A").trials[0].id
    answer = client.post(
        "/boats/2/A/fixes/choose", content=f"{bad}&trial={trial}", headers={"content-type": "application/x-www-form-urlencoded"}
    )
    assert answer.status_code == 422
    assert client.get(f"{ROWS}?trial=999").status_code == 404
    assert client.get(f"{ROWS}?ballast=far").status_code == 422


def test_the_demo_tells_of_a_fix_that_did_not_hold_and_of_one_that_did(demo_yard):
    came = {}
    for boat, letter in ((6, "B"), (6, "C"), (7, "B"), (7, "C")):
        revision = demo_yard.revision(boat, letter)
        kept = demo_yard.predictions.of(revision.id)[-1].figures
        came[boat, letter] = came_of(kept, Craft(revision.design), revision.trials[-1].test if revision.trials else None)[1]
        assert kept["job"]["work"]
    assert came == {(6, "B"): "partly", (6, "C"): "met", (7, "B"): "partly", (7, "C"): "not measured"}
    assert "had slid aft" in demo_yard.revision(6, "B").trials[0].test.notes


def test_a_race_orders_boats_and_refuses_a_course_of_nothing(client: TestClient):
    page = client.get("/boats/6/B/race?who=2:B&who=6:B&over=50 m")
    assert page.status_code == 200
    result = words(page.text.partition('aria-label="Result"')[2])
    assert result.index("Sandpiper B") < result.index("Reedwarden B")
    assert "±" in result
    refused = client.get("/boats/6/B/race?who=6:B&over=0 m")
    assert "A course from more than nothing" in refused.text
    assert 'value="0 m"' in refused.text
    assert client.get("/boats/6/B/race?who=99:A").status_code == 404
    assert client.get("/boats/6/B/race?who=x:A").status_code == 404


def test_a_race_is_the_run_of_each_boat_cut_at_the_course():
    boat = Craft(sandpiper())
    racer = raced(boat, 50.0)
    whole = run.assess(boat, (run.Leg(30.0, 1.0),)).motion
    assert racer.there == pytest.approx(float(np.interp(50.0, whole.distance, whole.time)), rel=1e-6)
    assert racer.place[-1] == 50.0
    assert 0.9 < racer.left < 1.0
    still = dataclasses.replace(boat.design, drive=dataclasses.replace(boat.design.drive, motors=()))
    assert raced(Craft(still), 50.0) is None
    slow = dataclasses.replace(racer, there=racer.there + 1)
    never = dataclasses.replace(racer, there=None)
    assert order([None, slow, never, racer]) == [3, 1, 2, 0]
    for course in (0.0, 5001.0):
        with pytest.raises(InvalidInput, match="A course"):
            raced(boat, course)


def test_the_life_of_a_boat_shows_what_is_known_and_fills_the_rest(client: TestClient):
    KEEP.clear()
    page = client.get("/boats/2/B/history").text
    assert "data-url" in page
    assert "…" in page
    answer = client.get("/boats/2/B/history/figures?figure=mass").text
    steps = [json.loads(line[6:]) for line in answer.splitlines() if line.startswith("data: ")]
    assert steps[-1]["done"] == steps[-1]["of"] == 3  # two revisions, a trial
    assert "…" not in steps[-1]["html"]
    assert "4 640 g" in steps[-1]["html"].replace("\xa0", " ")
    known = client.get("/boats/2/B/history").text
    assert "data-url=" not in known.partition('x-data="life"')[2].partition(">")[0]


def test_the_binder_says_on_paper_what_the_page_says(client: TestClient, request):
    def opened(data: bytes) -> pypdfium2.PdfDocument:
        document = pypdfium2.PdfDocument(data)
        request.addfinalizer(document.close)
        return document

    page = words(client.get("/boats/2/A/binder").text).replace("\xa0", " ")
    answer = client.get("/boats/2/A/binder.pdf")
    assert answer.headers["content-type"] == "application/pdf"
    pdf = opened(answer.content)
    text = "\n".join(pdf[k].get_textpage().get_text_range() for k in range(len(pdf)))
    text = re.sub(r"\s+", " ", text.replace("\xa0", " "))
    for label in ("LCG", "GM", "Lean, catch over the side"):
        assert label in page
        assert label in text
    for chapter in ("Brief", "Lines", "Weights", "Afloat", "Stability", "Drive", "Under way", "Trials", "Fixes", "History", "Cautions"):
        assert chapter in text
        assert chapter in page
    for figure in ("762 mm", "4 448 g", "59.0 mm", "bow down 1.8°", "Catch, wet weed 126 mm aft"):
        assert figure in text
        assert figure in page
    assert all(float(pdf[k].get_size()[0]) == pytest.approx(595.3, abs=0.5) for k in range(len(pdf)))
    again = client.get("/boats/2/A/binder.pdf").content
    assert again == answer.content  # the same boat gives the same bytes
    letter = opened(client.get("/boats/2/A/binder.pdf?paper=Letter").content)
    assert letter[0].get_size()[0] == pytest.approx(612, abs=0.5)
    assert client.get("/boats/2/A/binder.pdf?paper=A0").status_code == 422


def test_a_drawing_for_paper_carries_its_ink_and_no_classes(client: TestClient):
    sheet = styles()
    assert sheet[frozenset({"hull-line"})]["stroke"] == "#15232b"
    assert sheet[frozenset({"plot-line", "warm"})]["stroke"] == "#b5862c"
    page = client.get("/boats/2/B/float").text
    drawing = re.search(r'<svg[^>]*class="tank".*?</svg>', page, re.S)[0]
    out = inked(drawing)
    assert "class=" not in out
    assert "data-" not in out
    assert 'stroke="#15232b"' in out
    assert "arrow keys" not in out  # what only helps at a screen is left out


def test_the_log_of_trials_as_a_table_and_a_list(client: TestClient):
    rows = list(csv.DictReader(io.StringIO(client.get("/boats/6/trials.csv").text)))
    assert [r["revision"] for r in rows] == ["A", "B", "C"]
    assert float(rows[0]["mass_kg"]) == pytest.approx(1.04)
    assert rows[0]["runs"].endswith(" m/s")
    listed = json.loads(client.get("/boats/6/trials.json").text)
    assert [t["revision"] for t in listed["trials"]] == ["A", "B", "C"]
    assert listed["trials"][0]["readings"]["mass_kg"] == float(rows[0]["mass_kg"])
    assert client.get("/boats/99/trials.csv").status_code == 404


def test_revisions_laid_over_each_other_with_every_figure(client: TestClient):
    page = client.get("/boats/6/compare?before=A&after=B").text
    assert "Laid over each other" in page
    assert "laid-before" in page
    assert page.count("shift-to") >= 2  # battery and control went forward
    for head in ("Range", "Worst plain test", "Top speed", "Goes farthest"):
        assert head in page
    assert "known by" not in words(page.partition("What was changed")[2]).lower()
