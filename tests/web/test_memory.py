"""What was freed is handed back once the program is quiet, and not while somebody waits."""

import gc
import threading
import time
import weakref

import pytest

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
