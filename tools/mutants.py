"""``make mutants``: judging, changes and wiring broken in small ways (mutmut), a seeded sample of them for as long as there is time.

Prints the share that the tests notice, and the mutants that lived. Two kinds are left out of the count: what runs once at import, since a
mutant is chosen after it, and the words of sentences, which carry no figure.
"""

import ast
import copy
import json
import os
import random
import re
import shutil
import subprocess
import sys
import time
from pathlib import Path

ROOT = Path(__file__).parents[1]
WORK = ROOT / ".mutants"
MINUTES, WANTED, SEED, SAMPLE = 10.0, 0.85, 13, 240
MUTATED = (
    "src/yarekeel/stages/judging/*.py",
    "src/yarekeel/stages/changes/*",
    "src/yarekeel/stages/design/limits.py",
    "src/yarekeel/web/stages/commands.py",
    "src/yarekeel/web/stages/routes.py",
    "src/yarekeel/web/stages/*/commands.py",
)
TESTS = (
    "tests/stages", "tests/web/test_wiring.py", "tests/web/test_taken.py", "tests/web/test_pages.py", "tests/web/weights",
    "tests/web/brief", "tests/web/afloat", "tests/web/stability", "tests/web/shape",
)  # fmt: skip
AT_IMPORT = re.compile(
    r"commands\.x__(register|modules|on_\w+|to|named|moved_change)__|register\.x__found__|limits\.x__test__"
    r"|figures\.x__(rest|spread|lean)__"
)
UNTESTED = 33
"""What mutmut says of a mutant that no test reaches."""


def prepared() -> None:
    """A copy of the project to break, with mutmut told what and how."""
    shutil.rmtree(WORK, ignore_errors=True)
    WORK.mkdir()
    for name in ("src", "tests", "tools", "docs"):
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
            return run.communicate(timeout=max(seconds, 1.0))[0]
        except subprocess.TimeoutExpired:
            os.killpg(run.pid, 9)
            return run.communicate()[0]


def outcomes() -> dict[str, tuple[Path, int | None]]:
    """Every mutant by name: the module with all of its file's mutants, and the exit code, None where it was not tried."""
    out: dict[str, tuple[Path, int | None]] = {}
    for path in (WORK / "mutants").rglob("*.meta"):
        found = json.loads(path.read_text())["exit_code_by_key"]
        out.update({name: (path.with_suffix(""), code) for name, code in found.items()})
    return out


def functions_of(module: Path) -> dict[str, ast.FunctionDef]:
    """Every mutant of a module and the function as it was, by name."""
    tree = ast.parse(module.read_text())
    return {n.name: n for n in ast.walk(tree) if isinstance(n, ast.FunctionDef) and "__mutmut_" in n.name}


def change_of(name: str, functions: dict[str, ast.FunctionDef]) -> tuple[str, str]:
    """What the mutant changed: the line as it was and as it is; empty where only the words of a sentence differ."""
    last = name.rpartition(".")[2]
    pair = functions[re.sub(r"__mutmut_\d+$", "__mutmut_orig", last)], functions[last]
    before, after = (ast.unparse(f).splitlines()[1:] for f in pair)
    bare = [_without_sentences(f) for f in pair]
    differ = [(a, b) for a, b in zip(before, after, strict=False) if a != b]
    return differ[0] if differ and bare[0] != bare[1] else ("", "")


def _without_sentences(function: ast.FunctionDef) -> str:
    function = copy.deepcopy(function)
    for node in ast.walk(function):
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and " " in node.value:
            node.value = ""
    return "\n".join(ast.dump(line) for line in function.body)


def main() -> int:
    """Print the share noticed; 1 if it is less than wanted."""
    end = time.monotonic() + 60 * MINUTES
    prepared()
    # A first run that matches no mutant writes them all and learns which tests reach which function.
    printed = mutmut("run", "none of them", seconds=end - time.monotonic())
    names = sorted(name for name in outcomes() if not AT_IMPORT.search(name))
    if not names:
        print(printed[-3000:])
        return 1
    random.Random(SEED).shuffle(names)
    print(f"{len(names)} mutants; a sample in the order of seed {SEED}, for {(end - time.monotonic()) / 60:.1f} minutes", flush=True)
    printed = mutmut("run", *names[:SAMPLE], seconds=end - time.monotonic())
    tried = {name: found for name, found in outcomes().items() if found[1] is not None}
    if not tried:
        print(printed[-3000:])
    functions = {module: functions_of(module) for module in {module for module, _ in tried.values()}}
    changes = {name: change_of(name, functions[module]) for name, (module, _) in tried.items()}
    counted = [name for name in tried if changes[name] != ("", "")]
    lived = sorted(name for name in counted if tried[name][1] in (0, UNTESTED))
    for name in lived:
        print("lived:", name, *(f"\n  {sign} {line.strip()[:150]}" for sign, line in zip("-+", changes[name], strict=True)))
    share = 1 - len(lived) / len(counted) if counted else 0.0
    print(f"{len(counted) - len(lived)} of {len(counted)} killed, {100 * share:.0f} %; {100 * WANTED:.0f} % or more is wanted")
    return 0 if share >= WANTED else 1


if __name__ == "__main__":
    sys.exit(main())
