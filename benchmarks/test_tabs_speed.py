"""First answer of every tab of the demo boats, the server's share: after an edit nothing of it is known, as a builder meets it."""

import re
import statistics
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from yarekeel.core.kept import KEEP
from yarekeel.demo.story import load_demo
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard
from yarekeel.web.app import create_app
from yarekeel.web.settings import Settings

STAGES = ("brief", "shape", "weights", "float", "stability", "drive", "underway", "trials", "fixes")
BOATS = ((1, "B"), (2, "B"), (3, "A"), (4, "A"), (5, "A"), (6, "C"), (7, "C"))
MEDIAN, WORST = 0.150, 0.30
"""s. What takes longer than 0.2 is answered then with how far it is; the rest is this machine's own."""


@pytest.fixture(scope="module")
def client(tmp_path_factory) -> Iterator[TestClient]:
    folder: Path = tmp_path_factory.mktemp("tabs")
    yard = Yard(open_database(folder / "yard.db"))
    load_demo(yard)
    with TestClient(create_app(Settings(folder), yard), base_url="http://127.0.0.1") as client:  # one loop: an answer goes on by itself
        for stage in STAGES:
            client.get(f"/boats/2/B/{stage}")  # what is loaded once is loaded
        yield client


def tabs_of(page: str) -> list[str]:
    return list(dict.fromkeys(re.findall(r'data-pick="tab:(\w+)"', page)))


def test_first_answer_of_every_tab(client):
    rows = []
    for boat, letter in BOATS:
        for stage in STAGES:
            base = f"/boats/{boat}/{letter}/{stage}"
            for tab in tabs_of(client.get(base).text) or [""]:
                url = f"{base}?tab={tab}" if tab else base
                KEEP.clear()
                start = time.perf_counter()
                answer = client.get(url, headers={"accept": "text/html"})
                rows.append((time.perf_counter() - start, f"{stage} {tab}".strip(), boat, "Being worked out" in answer.text))
                if answer.status_code == 202:  # its reader waits for it, and then goes on
                    token = re.findall(r'data-waiting="([\w-]+)"', answer.text)[0]
                    answer = client.get(f"/waiting/{token}/answer")
                assert answer.status_code == 200
    by_tab: dict[str, list[float]] = {}
    for took, tab, _, _ in rows:
        by_tab.setdefault(tab, []).append(took)
    for tab, each in sorted(by_tab.items(), key=lambda r: -max(r[1])):
        print(f"{tab:24s} median {1e3 * statistics.median(each):5.0f} ms, worst {1e3 * max(each):5.0f} ms of {len(each)}")
    all_of = [r[0] for r in rows]
    print(f"{len(all_of)} first answers: median {1e3 * statistics.median(all_of):.0f} ms, worst {1e3 * max(all_of):.0f} ms")
    print(f"over 300 ms: {sum(t > 0.3 for t in all_of)}; shown with progress: {sum(r[3] for r in rows)}")
    assert statistics.median(all_of) <= MEDIAN
    assert max(all_of) <= WORST
