"""A failure stays inside its boat: the solver made to fail, a state that cannot be read."""

import pytest

from tests.cases import rewritten, whole_yard
from yarekeel.core.errors import InvalidMesh, Unsolved
from yarekeel.core.hydrostatics import afloat
from yarekeel.core.kept import KEEP
from yarekeel.stages.design import craft as crafts
from yarekeel.web.shared.page import STAGES
from yarekeel.web.stages.routes import VIEWS


@pytest.fixture
def tender(monkeypatch):
    """The solver finds no balance for boats of one mass (the skimmer's), as a mesh full of slivers may make it do."""
    real = afloat.solve_equilibrium

    def fails(kernel, volume, gravity, start=None, **more):
        if kernel.total_volume < 0.05:
            raise Unsolved("No balance was found in 60 tries.")
        return real(kernel, volume, gravity, start, **more)

    monkeypatch.setattr(afloat, "solve_equilibrium", fails)
    KEEP.clear()
    yield
    KEEP.clear()


@pytest.mark.parametrize("stage", [s.slug for s in STAGES])
def test_no_balance_is_a_verdict_on_every_page_of_that_boat_alone(client, tender, stage):
    answer = client.get(f"/boats/2/B/{stage}")
    assert answer.status_code == 200
    assert "o balance was found" in answer.text
    assert client.get(f"/boats/1/B/{stage}").status_code == 200


def test_the_yard_shows_every_boat_beside_one_that_cannot_be_solved(client, tender):
    page = whole_yard(client)
    assert "o balance was found" in client.get("/boats/2/card").text
    assert page.text.count("freeboard") >= 3


def test_an_edit_of_a_boat_that_cannot_be_solved_is_kept(client, tender, demo_yard):
    on = demo_yard.revision(2, "B").snapshot
    change = {"path": "weights.0.mass_kg", "text": "800 g"}
    answer = client.post("/boats/2/B/float/look", json={"on": on, "changes": [change], "keep": True})
    assert answer.status_code == 200
    assert demo_yard.revision(2, "B").design.weights[0].mass_kg == pytest.approx(0.8)


def test_a_hull_that_can_no_longer_be_built_is_a_verdict_on_its_own_pages(client, monkeypatch):
    real = crafts._hull_of

    def fails(bodies):
        if len(bodies) == 1 and bodies[0].shape.kind == "twin_hull":
            raise InvalidMesh("bodies.0.shape", "Its faces cross one another.")
        return real(bodies)

    monkeypatch.setattr(crafts, "_hull_of", fails)
    KEEP.clear()
    for stage in VIEWS:
        page = client.get(f"/boats/2/B/{stage}")
        assert page.status_code == 200
        assert "cannot be worked out" in page.text  # on the ladder, whatever the page needs of the hull
        assert "faces cross" in page.text or stage in ("trials", "fixes")
    assert "faces cross" in client.get("/boats/2/card").text
    KEEP.clear()


def test_a_state_that_cannot_be_read_is_listed_with_its_name_and_file(client, demo_yard):
    rewritten(demo_yard, '"known": "guessed"', '"known": "felt"')
    assert "Wagtail" in client.get("/").text
    assert "cannot be read" in client.get("/boats/1/card").text
    saved = client.get("/boats/1/A/boat.json")
    assert saved.status_code == 200
    assert '"felt"' in saved.text
    assert client.get("/boats/1/A/float").status_code == 404
