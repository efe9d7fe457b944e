"""``make mutants``: judging, changes and wiring broken in small ways (mutmut), a seeded sample of them for as long as there is time.

Prints the share that the tests notice, and the mutants that lived. Not part of ``make test``.
"""

import json
import os
import random
import shutil
import subprocess
import sys
import time
from pathlib import Path

ROOT = Path(__file__).parents[1]
WORK = ROOT / ".mutants"
MINUTES, WANTED, SEED = 10.0, 0.85, 13
MUTATED = (
    "src/yarekeel/stages/judging/*.py",
    "src/yarekeel/stages/changes/*",
    "src/yarekeel/stages/design/limits.py",
    "src/yarekeel/web/stages/commands.py",
    "src/yarekeel/web/stages/routes.py",
    "src/yarekeel/web/stages/*/commands.py",
)
TESTS = (
    "tests/stages/judging", "tests/stages/changes", "tests/web/test_wiring.py",
    "tests/web/weights", "tests/web/brief", "tests/web/shape", "tests/web/afloat", "tests/web/stability",
)  # fmt: skip
UNTESTED = 33
"""What mutmut says of a mutant that no test reaches."""


def prepared() -> None:
    """A copy of the project to break, with mutmut told what and how."""
    shutil.rmtree(WORK, ignore_errors=True)
    WORK.mkdir()
    for name in ("src", "tests", "docs"):
        shutil.copytree(ROOT / name, WORK / name, ignore=shutil.ignore_patterns("__pycache__", "screenshots"))
    settings = {
        "source_paths": ["src"],
        "only_mutate": list(MUTATED),
        "also_copy": ["docs"],
        "pytest_add_cli_args_test_selection": list(TESTS),
        "pytest_add_cli_args": ["-n", "0"],
    }
    lines = "".join(f"{key} = {json.dumps(value)}\n" for key, value in settings.items())
    (WORK / "pyproject.toml").write_text(f"{(ROOT / 'pyproject.toml').read_text()}\n[tool.mutmut]\n{lines}")


def mutmut(*words: str, seconds: float) -> str:
    """Run it; what it printed, also when the time is up."""
    command = [str(Path(sys.executable).with_name("mutmut")), *words]
    env = {**os.environ, "PYTHONPATH": str(WORK / "mutants" / "src"), "COLUMNS": "200"}
    with subprocess.Popen(
        command, cwd=WORK, env=env, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, start_new_session=True
    ) as run:
        try:
            return run.communicate(timeout=seconds)[0]
        except subprocess.TimeoutExpired:
            os.killpg(run.pid, 9)
            return run.communicate()[0]


def outcomes(*, tried: bool = True) -> dict[str, int | None]:
    """Exit codes by the names of the mutants, of those that were tried or of all."""
    out: dict[str, int | None] = {}
    for path in (WORK / "mutants").rglob("*.meta"):
        found = json.loads(path.read_text())["exit_code_by_key"]
        out.update({name: code for name, code in found.items() if code is not None or not tried})
    return out


def main() -> int:
    """The share noticed; 1 if it is less than wanted."""
    end = time.monotonic() + 60 * MINUTES
    prepared()
    # A first run that matches no mutant writes them all and learns which tests reach which function.
    printed = mutmut("run", "none of them", seconds=end - time.monotonic())
    names = sorted(outcomes(tried=False))
    if not names:
        print(printed[-2000:])
        return 1
    random.Random(SEED).shuffle(names)
    print(f"{len(names)} mutants; a sample in the order of seed {SEED}, for {(end - time.monotonic()) / 60:.1f} minutes")
    printed = mutmut("run", *names[:600], seconds=end - time.monotonic())
    found = outcomes()
    if not found:
        print(printed[-3000:])
    lived = sorted(name for name, code in found.items() if code in (0, UNTESTED))
    killed = len(found) - len(lived)
    for name in lived:
        print("lived:", name)
    share = killed / len(found) if found else 0.0
    print(f"{killed} of {len(found)} killed, {100 * share:.0f} %; {100 * WANTED:.0f} % or more is wanted")
    return 0 if share >= WANTED else 1


if __name__ == "__main__":
    sys.exit(main())
