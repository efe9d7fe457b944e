"""``python -m tools.attack 300``: so many seconds of requests that mean harm, over every route, and of boat files with something changed.

Requests are made from the application's own schema: every path with numbers, letters and names that may or may not be, every question and
field with values that are empty, long, foreign, huge, negative or of another kind; boat files lose, gain and swap values. Anything answered
by a 5xx, with a traceback, or after more than two seconds is printed. Seeded: the same seed asks the same.
"""

import argparse
import copy
import json
import random
import sys
import tempfile
import time
import urllib.parse
from collections import Counter
from pathlib import Path
from typing import Any

from tests.hostile import boat_text
from tests.web.test_hostile_files import Served
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard
from yarekeel.web.app import create_app
from yarekeel.web.settings import Settings
from yarekeel.web.shared.page import STAGES
from yarekeel.web.stages.commands import COMMANDS

SLOW = 2.0
STREAMS = ("/events", "/cures", "/map", "/readings")
"""Addresses that tell how far they are while they work."""
WORDS = (
    "", "0", "1", "-1", "2", "²", "1e999", "nan", "inf", "9" * 400, "1,5", "1.234,5 kg", "12 lb 3 oz", "½ kg", "3*85 g", "g", "kg kg",
    "<script>alert(1)</script>", "'; DROP TABLE boat; --", "{{7*7}}", "../../etc/passwd", "\u202egpj", "\x00", "a" * 3000, "ü", "🚤", "on", "true",
    "null", "[]", "{}", "A", "B", "ZZ", "mm_g", "load", "size", "tests", "cures", "run", "fixed", "50%", "10 m/s", "90°", "-5 mm", "1/0", "1**9**9",
)  # fmt: skip
PLACES = ("name", "weights.0.mass_kg", "weights.0.name", "weights.99.mass_kg", "weights.0.at_m.0", "bodies.0.shape.length_m", "bodies.0.scale.0",
          "bodies.0.shape.kind", "drive.motors.0.propulsor.kind", "drive.battery.cells", "brief.target_mass_kg", "water.kind", "water.temperature_c",
          "compartments.0.name", "cases.0.counts.0", "x", "", "weights", "bodies.0.turn_deg.1", "weights.-1.mass_kg", "bodies.0.shape.stations.0.x_m")  # fmt: skip


class Attacker:
    """Requests by the dice."""

    def __init__(self, served: Served, seed: int) -> None:
        self.served, self.rng = served, random.Random(seed)
        self.counts: Counter[str] = Counter()
        self.wrong: list[str] = []
        self.slowest = 0.0
        with tempfile.TemporaryDirectory() as name:
            app = create_app(Settings(Path(name) / "x.db"), Yard(open_database(Path(name) / "x.db")))
            self.paths = [(p, m, op) for p, methods in app.openapi()["paths"].items() for m, op in methods.items()]

    def value(self) -> str:
        return self.rng.choice(WORDS)

    def filled(self, path: str) -> str:
        """A path's parameters by what they are called."""
        known = {
            "boat_id": [*(str(k) for k in range(1, 8)), *(str(k) for k in range(1, 8)), "99", "-1", str(2**63)],
            "letter": [*"AAAAAAABBB", "C", "a", "AAAA"],
            "slug": [*(s.slug for s in STAGES), "nothing"],
            "kind": ["stl", "obj", "ply", "3mf", "dxf", "svg", "exe"],
            "key": ["1", "motor-1", "x"],
        }
        for name in [p.split("}")[0] for p in path.split("{")[1:]]:
            choices = known.get(name, ["0", "1", "x", "99"])
            value = self.rng.choice(choices) if self.rng.random() < 0.95 else self.value()
            path = path.replace("{" + name + "}", urllib.parse.quote(value, safe="") or "x")
        return path

    def ask(self) -> None:
        path, method, op = self.rng.choice(self.paths)
        where = self.filled(path)
        questions = [p["name"] for p in op.get("parameters", []) if p["in"] == "query"] + [
            "tab",
            "item",
            "page",
            "q",
            "body",
            "throttle",
            "speed",
        ]
        asked = {self.rng.choice(questions): self.value() for _ in range(self.rng.randrange(0, 4))}
        address = where + ("?" + urllib.parse.urlencode(asked, errors="replace") if asked else "")
        body, headers = None, {"accept": self.rng.choice(["text/html", "application/json", "*/*"])}
        if method == "post":
            body, kind = self.body(path, op)
            headers["content-type"] = kind
        if path.endswith(STREAMS):
            return
        self.send(method.upper(), address, body, headers)

    def body(self, path: str, op: dict[str, Any]) -> tuple[bytes, str]:
        if path.endswith("/look"):
            return json.dumps(self.look()).encode(), "application/json"
        kinds = op.get("requestBody", {}).get("content", {"application/x-www-form-urlencoded": {}})
        if "application/json" in kinds:
            return json.dumps(
                {"on": self.rng.choice([0, 1, -1, 2**70, "x"]), "do": self.value(), "what": self.value()}
            ).encode(), "application/json"
        fields = ["name", "family", "kind", "text", "units", "stage", "date", "notes", "mass", "seen", "key", "unit", "up", "forward", "on"]
        form = urllib.parse.urlencode({self.rng.choice(fields): self.value() for _ in range(5)}, errors="replace")
        return form.encode(), "application/x-www-form-urlencoded"

    def look(self) -> dict[str, Any]:
        """Edits of fields and commands, some of which are."""
        changes = []
        for _ in range(self.rng.randrange(0, 4)):
            action = self.rng.choice(["set", "set", "add", "remove", "do", "x"])
            verb = self.rng.choice([*COMMANDS, "nothing"])
            args = {
                self.rng.choice(["line", "lines", "text", "body", "test", "kind", "at", "to", "case", "place", "which"]): self.thing()
                for _ in range(2)
            }
            changes.append({"path": self.rng.choice(PLACES), "action": action, "text": self.value(), "verb": verb, "args": args})
        ask = {
            self.rng.choice(["tab", "item", "body", "speed", "throttle", "lean", "run_at", "course", "find"]): self.value()
            for _ in range(3)
        }
        return {
            "on": self.rng.choice([0, 1, 5, 10**12]),
            "seq": 1,
            "changes": changes,
            "ask": ask,
            "keep": self.rng.random() < 0.2,
            "whole": True,
        }

    def thing(self) -> Any:
        return self.rng.choice([0, 1, -1, 10**9, 1.5, None, True, [], [0, 1, "x"], {}, [1e308] * 3, self.value(), "f", [self.value()]])

    def mutated(self) -> None:
        """A boat file with something lost, gained or swapped, brought in."""
        data = json.loads(boat_text())
        for _ in range(self.rng.randrange(1, 5)):
            self.change(data)
        name = "b.json"
        self.timed("POST /boats/import (mutated)", lambda: self.served.upload("/boats/import", name, json.dumps(data).encode()))

    def change(self, data: Any) -> None:
        at = data
        while True:
            keys = list(at) if isinstance(at, dict) else list(range(len(at))) if isinstance(at, list) else []
            if not keys:
                return
            key = self.rng.choice(keys)
            if isinstance(at[key], (dict, list)) and at[key] and self.rng.random() < 0.8:
                at = at[key]
                continue
            deed = self.rng.random()
            if deed < 0.25 and isinstance(at, dict):
                del at[key]
            elif deed < 0.6:
                at[key] = self.thing()
            elif isinstance(at[key], (int, float)):
                at[key] = at[key] * self.rng.choice([-1, 0, 1e-9, 1e9, 1e300, 10])
            elif isinstance(at, list):
                at.append(copy.deepcopy(at[key]))
            return

    def send(self, method: str, address: str, body: bytes | None, headers: dict[str, str]) -> None:
        self.timed(f"{method} {address[:160]}", lambda: self.served.ask(method, address, body, headers))

    def timed(self, words: str, of: Any) -> None:
        begun = time.monotonic()
        try:
            status, answer = of()
        except (OSError, ValueError) as error:
            self.wrong.append(f"{words}: {error!r}")
            return
        taken = time.monotonic() - begun
        self.counts[f"{status // 100}xx"] += 1
        self.slowest = max(self.slowest, taken)
        if status >= 500 or b"Traceback" in answer:
            self.wrong.append(f"{words}: {status} {answer[:200]!r}")
        if taken > SLOW:
            self.wrong.append(f"{words}: {taken:.1f} s")


def main() -> int:
    """Attack, and print the counts."""
    asked = argparse.ArgumentParser()
    asked.add_argument("seconds", type=float, nargs="?", default=300.0)
    asked.add_argument("--seed", type=int, default=17)
    given = asked.parse_args()
    with tempfile.TemporaryDirectory() as name:
        served = Served(Path(name))
        attacker = Attacker(served, given.seed)
        ends = time.monotonic() + min(given.seconds, 600)
        while time.monotonic() < ends:
            attacker.mutated() if attacker.rng.random() < 0.1 else attacker.ask()
        served.program.terminate()
        served.program.wait(30)
    counts = ", ".join(f"{n} {kind}" for kind, n in sorted(attacker.counts.items()))
    print(f"{sum(attacker.counts.values())} requests over {len(attacker.paths)} routes: {counts}; slowest {attacker.slowest:.2f} s")
    for line in attacker.wrong[:60]:
        print("  " + line)
    return 1 if attacker.wrong else 0


if __name__ == "__main__":
    sys.exit(main())
