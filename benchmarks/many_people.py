"""``python -m benchmarks.many_people``: a yard of many boats and twenty people at it, a real server measured from outside.

Prints how long the yard and its pages take, how long the server starts, the memory it takes, and what twenty people at human pace meet: an
edit or a page every three seconds each. Bounded: some three minutes.
"""

import argparse
import json
import os
import random
import re
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import urllib.request
from pathlib import Path

from yarekeel.demo.boats import dabchick, moorhen, reedwarden, turnstone, wagtail
from yarekeel.demo.fast_boats import sandpiper, whimbrel
from yarekeel.stages.design.design import with_value
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard

MAKERS = (reedwarden, wagtail, dabchick, moorhen, turnstone, sandpiper, whimbrel)
STAGES = ("brief", "shape", "weights", "float", "stability", "drive", "underway", "trials", "fixes")


def filled(folder: Path, boats: int) -> None:
    """A yard of so many boats, no two alike."""
    yard = Yard(open_database(folder / "yard.db"))
    for k in range(boats):
        design = MAKERS[k % len(MAKERS)]()
        design = with_value(design, "weights.0.mass_kg", design.weights[0].mass_kg * (1 + 0.001 * k))
        yard.create(with_value(design, "name", f"{design.name} {k + 1}"), "mm_g")
    yard.close()


class Server:
    """The program, served over a folder."""

    def __init__(self, folder: Path) -> None:
        begun = time.perf_counter()
        command = [sys.executable, "-m", "yarekeel.cli", "serve", "--no-browser", "--data", str(folder), "--port", "0"]
        self.program = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env={**os.environ, "PYTHONUNBUFFERED": "1"})
        assert self.program.stdout is not None
        found = re.search(r"http://\S+?:\d+", self.program.stdout.readline())
        assert found
        self.address = found[0]
        self.get("/static/mark.svg")
        self.started = time.perf_counter() - begun

    def get(self, path: str) -> float:
        """Seconds that a page takes."""
        begun = time.perf_counter()
        request = urllib.request.Request(self.address + path)
        with urllib.request.urlopen(request, timeout=120) as answer:
            answer.read()
        return time.perf_counter() - begun

    def post(self, path: str, body: dict[str, object]) -> tuple[float, dict[str, object]]:
        """Seconds that an edit takes, and its answer."""
        headers = {"content-type": "application/json", "accept": "application/json"}
        begun = time.perf_counter()
        with urllib.request.urlopen(urllib.request.Request(self.address + path, json.dumps(body).encode(), headers), timeout=120) as answer:
            data = json.load(answer)
        return time.perf_counter() - begun, data

    def megabytes(self) -> float:
        """Memory of the program and what it started."""
        pids, total = [self.program.pid], 0
        while pids:
            pid = pids.pop()
            try:
                status = Path(f"/proc/{pid}/status").read_text()
                pids += [int(p) for p in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]
            except OSError:
                continue
            found = re.search(r"VmRSS:\s+(\d+)", status)
            total += int(found[1]) if found else 0
        return total / 1024

    def end(self) -> float:
        """Seconds that it takes to end."""
        begun = time.perf_counter()
        self.program.terminate()
        self.program.wait(30)
        return time.perf_counter() - begun


def people(server: Server, count: int, seconds: float, boats: int) -> list[float]:
    """What so many people meet in so many seconds, an edit or a page every three seconds each."""
    taken: list[float] = []
    lock = threading.Lock()
    ends = time.monotonic() + seconds

    def one(number: int) -> None:
        rng = random.Random(number)
        boat = 1 + number % boats
        time.sleep(3 * rng.random())
        mass = 100.0
        while time.monotonic() < ends:
            begun = time.monotonic()
            if rng.random() < 0.5:
                spent = server.get(f"/boats/{boat}/A/{rng.choice(STAGES)}")
            else:
                mass += 1
                page = urllib.request.urlopen(f"{server.address}/boats/{boat}/A/weights", timeout=120).read().decode()
                on = int(re.search(r'data-snapshot="(\d+)"', page)[1])  # type: ignore[index]
                change = {"path": "weights.0.mass_kg", "text": f"{mass:.0f} g"}
                spent, _ = server.post(f"/boats/{boat}/A/weights/look", {"on": on, "changes": [change], "keep": True})
            with lock:
                taken.append(spent)
            time.sleep(max(3 - (time.monotonic() - begun), 0))

    threads = [threading.Thread(target=one, args=(k,)) for k in range(count)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    return taken


def main() -> int:
    """Measure and print."""
    asked = argparse.ArgumentParser()
    asked.add_argument("--boats", type=int, default=500)
    asked.add_argument("--people", type=int, default=20)
    asked.add_argument("--seconds", type=float, default=60.0)
    given = asked.parse_args()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        filled(folder, given.boats)
        server = Server(folder)
        print(f"{given.boats} boats: starts in {server.started:.2f} s, {server.megabytes():.0f} MB")
        cold = server.get("/")
        for boat in range(given.boats, max(given.boats - 24, 0), -1):
            server.get(f"/boats/{boat}/card")
        warm = statistics.median(server.get("/") for _ in range(9))
        found = statistics.median(server.get("/?q=dab&order=name") for _ in range(9))
        print(f"yard: first view {cold * 1e3:.0f} ms, its cards kept {warm * 1e3:.0f} ms, a search {found * 1e3:.0f} ms")
        for boat in range(1, given.boats + 1):
            server.get(f"/boats/{boat}/A/float")
        print(f"after {given.boats} boats were opened: {server.megabytes():.0f} MB")
        taken = sorted(people(server, given.people, given.seconds, given.boats))
        p95 = taken[int(0.95 * len(taken))]
        print(f"{given.people} people, {len(taken)} requests: median {statistics.median(taken) * 1e3:.0f} ms, p95 {p95 * 1e3:.0f} ms")
        print(f"ends in {server.end():.2f} s; the data take {(folder / 'yard.db').stat().st_size / 1e6:.1f} MB")
    return 0


if __name__ == "__main__":
    sys.exit(main())
