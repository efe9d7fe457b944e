"""Shared: a yard in a temporary folder, its application, and a served copy for the browser."""

import os
import shutil
import threading
import time
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import pytest
import uvicorn
from fastapi.testclient import TestClient
from playwright.sync_api import expect

from tools.fuzz import WHOLE
from yarekeel.core.kept import KEEP
from yarekeel.demo.story import load_demo
from yarekeel.instruments.shelf import Shelf
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard
from yarekeel.web import waiting
from yarekeel.web.app import create_app
from yarekeel.web.serving import Server, free_socket
from yarekeel.web.settings import Settings

DEMO_BOATS = 7
# A busy test machine can stall for seconds; an answer that never comes still fails.
expect.set_options(timeout=60_000)


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Long tests whose point a quicker one holds too run with ``make whole``, and so do most cases of those that are sampled."""
    if WHOLE:
        return
    cases: Counter[str] = Counter()
    left: list[pytest.Item] = []
    for item in items:
        mark, name = item.get_closest_marker("sampled"), item.nodeid.partition("[")[0]
        if item.get_closest_marker("whole") or (mark and cases[name] % mark.kwargs["of"]):
            left.append(item)
        cases[name] += 1
    if left:
        config.hook.pytest_deselected(items=left)
        gone = set(left)
        items[:] = [item for item in items if item not in gone]


@pytest.fixture(scope="session", autouse=True)
def nothing_kept() -> None:
    """A run of the tests works everything out itself, also where it is forked off one that did (``make mutants``)."""
    KEEP.__init__(room=1 << 30)  # type: ignore[misc]  # a run of tests goes over all demo boats again and again


@pytest.fixture(scope="session", autouse=True)
def patient() -> None:
    """On a machine that is busy with tests every page would first say that it is being worked out; tests of that set their own patience."""
    waiting.PATIENCE = 5.0


@pytest.fixture
def yard(tmp_path: Path) -> Yard:
    return Yard(open_database(tmp_path / "yard.db"))


@pytest.fixture(scope="session")
def demo_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database with the demo boats, made once: telling their story takes a second each time."""
    together = tmp_path_factory.getbasetemp().parent if os.environ.get("PYTEST_XDIST_WORKER") else tmp_path_factory.getbasetemp()
    path, lock = together / "demo-yard.db", together / "demo-yard.lock"
    try:
        lock.touch(exist_ok=False)
    except FileExistsError:  # another worker tells it
        ends = time.monotonic() + 120
        while not path.exists() and time.monotonic() < ends:
            time.sleep(0.1)
        return path
    making = together / "demo-yard-making.db"
    engine = open_database(making)
    load_demo(Yard(engine))
    with engine.connect() as connection:
        connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")
    engine.dispose()
    making.rename(path)
    return path


@pytest.fixture
def demo_yard(demo_file: Path, tmp_path: Path) -> Yard:
    shutil.copy(demo_file, tmp_path / "yard.db")
    return Yard(open_database(tmp_path / "yard.db"))


@pytest.fixture
def client(demo_yard: Yard, tmp_path: Path) -> TestClient:
    app = create_app(Settings(tmp_path / "yard.db"), demo_yard)
    return TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False)


@pytest.fixture
def instruments() -> Shelf:
    """The instruments of the served application."""
    return Shelf()


@pytest.fixture
def served(demo_yard: Yard, tmp_path: Path, instruments: Shelf) -> Iterator[str]:
    """The address of a real server over the demo yard; the socket is bound first, so no port is raced for."""
    listening = free_socket(0)
    app = create_app(Settings(tmp_path / "yard.db"), demo_yard, instruments)
    server = Server(uvicorn.Config(app, log_level="error", timeout_graceful_shutdown=1, ws="none"), instruments)
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{listening.getsockname()[1]}"
    server.stop()
    thread.join(5)
    listening.close()


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict) -> dict:
    quiet = ["--no-sandbox", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run"]
    return {**browser_type_launch_args, "executable_path": "/usr/bin/chromium", "args": quiet}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict) -> dict:
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}}
