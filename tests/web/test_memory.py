"""What was freed is handed back once the program is quiet, and not while somebody waits."""

import gc
import threading
import time
import weakref

import pytest

from benchmarks import memory as measured
from tests.bodies import spheroid
from yarekeel.core import kept
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.design.design import Body, Design
from yarekeel.web import memory


class Loop:
    """Only the collector finds it."""

    def __init__(self) -> None:
        self.itself = self


@pytest.fixture
def tidied(monkeypatch):
    """Runs beside the test, looking often; the collector does nothing by itself."""
    monkeypatch.setattr(memory, "EVERY", 0.3)
    monkeypatch.setattr(memory, "WORKED", 0.02)
    end = threading.Event()
    gc.disable()
    beside = threading.Thread(target=memory.handed_back, args=(end,))
    beside.start()
    yield
    end.set()
    beside.join(5)
    gc.enable()
    assert not beside.is_alive()


def busy(seconds: float) -> None:
    ends = time.process_time() + seconds
    while time.process_time() < ends:
        pass


def test_it_waits_for_quiet(tidied):
    left = weakref.ref(Loop())
    busy(1.0)
    assert left() is not None
    ends = time.monotonic() + 5
    while left() is not None and time.monotonic() < ends:
        time.sleep(0.05)
    assert left() is None


def test_nothing_is_looked_through_where_nothing_was_done(tidied, monkeypatch):
    busy(0.05)
    time.sleep(1.2)
    collected = []
    monkeypatch.setattr(gc, "collect", lambda: collected.append(1))
    time.sleep(1.0)
    assert collected == []


FACES = 39_000


def large_hulls() -> int:
    gc.collect()
    return sum(isinstance(o, Hull) and len(o.mesh.faces) > FACES for o in gc.get_objects())


def test_what_edits_leave_is_limited_whoever_holds_it(demo_yard, client, monkeypatch):
    """One field of a mesh typed again and again: no more hulls of it stay than there is room for, held by questions or by answers."""
    monkeypatch.setattr(kept, "KEEP", kept.Keep(room=64 << 20, large_room=70 << 20))
    yard = demo_yard
    shape = yard.keep_mesh(spheroid(1.0, 0.3, 0.2, 140, 142))
    weight = WeightItem("all", 500 * shape.build().volume, (0.0, 0.0, 0.0))
    boat = yard.create(Design("Fine", bodies=(Body("hull", shape),), weights=(weight,)), "mm_kg")
    on, held = yard.revision(boat, "A").snapshot, []
    for n in range(24):
        change = {"path": "bodies.0.scale.0", "action": "set", "text": f"{1 + 1e-3 * n:.6f}"}
        stage = ("float", "stability", "shape")[n % 3]
        answer = client.post(f"/boats/{boat}/A/{stage}/look", json={"on": on, "changes": [change], "keep": True}).json()
        assert not answer["errors"]
        on = answer["snapshot"]
        held.append(large_hulls())
    assert max(held[:12]) >= 2  # there is room for some
    assert max(held[12:]) <= max(held[:12]) <= 5


@pytest.mark.whole
def test_two_hundred_edits_of_a_large_mesh_and_five_thousand_views():
    assert max(measured.edits(200)) < 700
    seen = measured.views(5000)
    assert max(seen[1:]) < seen[0] + 30
