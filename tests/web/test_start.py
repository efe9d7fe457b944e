"""The start: the yard is shown before the pages beyond it are loaded, and each of them is there when it is asked for."""

import subprocess
import sys
import threading
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from yarekeel.store.yard import Yard
from yarekeel.web.app import create_app
from yarekeel.web.settings import Settings

ALONE = """
import sys
from pathlib import Path
from fastapi.testclient import TestClient
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard
from yarekeel.web.app import create_app
from yarekeel.web.settings import Settings

file = Path(sys.argv[1])
client = TestClient(create_app(Settings(file), Yard(open_database(file))), base_url="http://127.0.0.1")
print(client.get("/").status_code, "yarekeel.web.pages" in sys.modules)
print(client.get("/guide").status_code, "yarekeel.web.pages" in sys.modules)
"""


def test_the_yard_is_shown_before_the_other_pages_are_loaded(tmp_path: Path):
    said = subprocess.run([sys.executable, "-c", ALONE, str(tmp_path / "yard.db")], capture_output=True, text=True, timeout=60, check=True)
    assert said.stdout.split() == ["200", "False", "200", "True"]


@pytest.fixture
def app(yard: Yard, tmp_path: Path):
    return create_app(Settings(tmp_path / "yard.db"), yard)


def test_what_no_page_answers_is_not_found_before_and_after(app):
    client = TestClient(app, base_url="http://127.0.0.1")
    for _ in range(2):
        assert client.get("/nowhere").status_code == 404
        assert "There is no such page" in client.get("/nowhere").text
        assert client.put("/").status_code in (403, 405)


def test_every_router_is_added_once_though_many_ask_at_a_time(app):
    alone = len(app.router.routes)
    threads = [threading.Thread(target=app.state.later.load) for _ in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(30)
    assert len(app.router.routes) == alone + 1  # all of them together
    for path in ("/guide", "/need", "/parts"):
        assert TestClient(app, base_url="http://127.0.0.1").get(path).status_code == 200


def test_no_address_of_the_yard_is_a_later_pages_too_asked_another_way(app):
    """It would be refused until they are loaded."""
    before = {path: set(methods) for path, methods in app.openapi()["paths"].items()}
    app.openapi_schema = None
    app.state.later.load()
    whole = app.openapi()["paths"]
    assert len(whole) > 5 * len(before)
    assert {path: set(whole[path]) for path in before} == before
