"""``python -m tools.kills 100``: the program is killed in the middle of its writes so often; what it had confirmed must be there.

A process saves edits as fast as it can and says each one that is saved; it is killed at a random moment, and its file is read.
"""

import os
import random
import signal
import subprocess
import sys
import tempfile
from pathlib import Path

from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard

WRITER = """
import sys
from pathlib import Path
from yarekeel.demo.boats import reedwarden
from yarekeel.stages.design.design import with_value
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard
yard = Yard(open_database(Path(sys.argv[1])))
boat = 1 if yard.boats() else yard.create(reedwarden(), "mm_g")
r = yard.revision(boat, "A")
n = int(r.design.weights[2].mass_kg)
while True:
    n += 1
    r = yard.save(boat, "A", with_value(r.design, "weights.2.mass_kg", float(n)), r.snapshot, "edit")
    print(n, flush=True)
"""


def killed(folder: Path, times: int, seed: int = 7) -> list[str]:
    """Kill a writer so often on one file; what was lost, in words, none for nothing."""
    path, rng, wrong, total = folder / "yard.db", random.Random(seed), [], 0
    for k in range(times):
        with subprocess.Popen([sys.executable, "-c", WRITER, str(path)], stdout=subprocess.PIPE, text=True, env={**os.environ}) as writer:
            assert writer.stdout is not None
            first = int(writer.stdout.readline())
            confirmed = first
            for _ in range(rng.randrange(1, 60)):
                confirmed = int(writer.stdout.readline())
            writer.send_signal(signal.SIGKILL)
            confirmed = max([confirmed, *(int(line) for line in writer.stdout if line.strip())])
        total += confirmed - first + 1
        yard = Yard(open_database(path))
        kept = int(yard.revision(1, "A").design.weights[2].mass_kg)
        yard.close()
        if kept not in (confirmed, confirmed + 1):  # the last one may have been saved without the word getting out
            wrong.append(f"kill {k + 1}: {confirmed} was confirmed, {kept} is there")
    print(f"{times} kills, {total} confirmed edits, {len(wrong)} lost")
    return wrong


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as name:
        lost = killed(Path(name), int(sys.argv[1]) if len(sys.argv) > 1 else 100)
    print("\n".join(lost))
    sys.exit(bool(lost))
