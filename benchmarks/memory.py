"""``python -m benchmarks.memory``: what the program takes while one field of a large mesh is typed again and again, and while the demo's
pages are opened in turn. Prints resident megabytes of a real server, measured from outside."""

import argparse
import re
import tempfile
import time
from pathlib import Path

from benchmarks.many_people import STAGES, Server
from tests.bodies import spheroid
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.story import load_demo
from yarekeel.stages.design.design import Body, Design
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard

RINGS = (280, 280)
"""Some 157 000 triangles."""
FIELDS = ("weights.0.mass_kg", "bodies.0.scale.0")


def resident(server: Server) -> float:
    """Of the program alone, MB."""
    status = Path(f"/proc/{server.program.pid}/status").read_text()
    found = re.search(r"VmRSS:\s+(\d+) kB", status)
    assert found
    return int(found[1]) / 1000


def edits(times: int) -> list[float]:
    """Resident MB after each tenth of the edits of a large mesh, on three stages in turn."""
    with tempfile.TemporaryDirectory() as name:
        yard = Yard(open_database(Path(name) / "yard.db"))
        shape = yard.keep_mesh(spheroid(1.0, 0.3, 0.2, *RINGS))
        mass = 500 * shape.build().volume
        yard.create(Design("Fine", bodies=(Body("hull", shape),), weights=(WeightItem("all", mass, (0.0, 0.0, 0.0)),)), "mm_kg")
        on = yard.revision(1, "A").snapshot
        yard.close()
        server = Server(Path(name))
        out = []
        try:
            for n in range(times):
                field = FIELDS[n % len(FIELDS)]
                text = f"{mass * (1 + 1e-4 * n):.6f} kg" if field == FIELDS[0] else f"{1 + 1e-4 * n:.6f}"
                stage = ("float", "stability", "shape")[n % 3]
                change = {"path": field, "action": "set", "text": text}
                _, answer = server.post(f"/boats/1/A/{stage}/look", {"on": on, "changes": [change], "keep": True})
                assert not answer["errors"], answer["errors"]
                on = answer["snapshot"]
                if (n + 1) % max(times // 10, 1) == 0:
                    out.append(resident(server))
        finally:
            server.end()
        return out


def views(times: int) -> list[float]:
    """Resident MB after each tenth of so many pages of the demo boats, the first hundredth view's before them."""
    with tempfile.TemporaryDirectory() as name:
        yard = Yard(open_database(Path(name) / "yard.db"))
        load_demo(yard)
        places = [(b.id, r.letter) for b in yard.boats() for r in b.revisions]
        yard.close()
        server = Server(Path(name))
        out = []
        try:
            for n in range(times):
                boat, letter = places[(n // len(STAGES)) % len(places)]
                server.get(f"/boats/{boat}/{letter}/{STAGES[n % len(STAGES)]}")
                if n == 99 or (n + 1) % max(times // 10, 1) == 0:
                    if n == 99:
                        time.sleep(3)
                    out.append(resident(server))
            time.sleep(3)
            out.append(resident(server))
        finally:
            server.end()
        return out


if __name__ == "__main__":
    parser = argparse.ArgumentParser()
    parser.add_argument("--edits", type=int, default=200)
    parser.add_argument("--views", type=int, default=5000)
    given = parser.parse_args()
    if given.edits:
        print(f"{given.edits} edits of a large mesh, MB:", *(f"{m:.0f}" for m in edits(given.edits)), flush=True)
    if given.views:
        print(f"{given.views} views of the demo, MB:", *(f"{m:.0f}" for m in views(given.views)))
