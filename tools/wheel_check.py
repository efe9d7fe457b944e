"""``python -m tools.wheel_check WHEEL PYTHON``: the built wheel has all of the package's files, and the one installed for PYTHON, apart from
this checkout, serves the demo: its pages, styles and scripts answer.
"""

import re
import subprocess
import sys
import tempfile
import urllib.request
import zipfile
from pathlib import Path

ROOT = Path(__file__).parents[1]
PAGES = ("/", "/boats/1/A/float", "/boats/1/A/stability", "/boats/6/A/underway", "/guide")


def lacking(wheel: Path) -> list[str]:
    """Files of the package that a wheel has not."""
    tracked = subprocess.run(["git", "ls-files", "src/yarekeel"], cwd=ROOT, capture_output=True, text=True, check=True).stdout.split("\n")
    with zipfile.ZipFile(wheel) as packed:
        there = set(packed.namelist())
    return [
        name
        for name in tracked
        if name and not name.endswith(".sha256") and (ROOT / name).exists() and name.removeprefix("src/") not in there
    ]


def served(python: str, folder: str) -> list[str]:
    """What does not answer of the demo, served by an installed program; every style and script that a page names is asked for too."""
    place = subprocess.run(
        [python, "-c", "import yarekeel; print(yarekeel.__file__)"], cwd=folder, capture_output=True, text=True, check=True
    )
    if Path(place.stdout.strip()).is_relative_to(ROOT / "src"):
        return ["it is the checkout that is installed, not the wheel"]
    command = [str(Path(python).parent / "yare-keel"), "demo", "--no-browser", "--port", "0", "--data", folder]
    program = subprocess.Popen(command, cwd=folder, stdout=subprocess.PIPE, text=True)
    assert program.stdout is not None
    wrong = []
    try:
        found = re.search(r"http://[^/\s]+", program.stdout.readline())
        if not found:
            return ["it says no address"]
        asked, todo = set(), list(PAGES)
        while todo:
            path = todo.pop()
            asked.add(path)
            try:
                with urllib.request.urlopen(found[0] + path, timeout=60) as answer:
                    body = answer.read()
            except OSError as error:
                wrong.append(f"{path}: {error}")
                continue
            if path in PAGES:
                todo += [p for p in set(re.findall(r'(?:href|src)="(/static/[^"]+)"', body.decode())) if p not in asked]
        print(f"{len(asked)} addresses of the demo answered, {len(wrong)} did not")
    finally:
        program.terminate()
        program.wait(30)
    return wrong


if __name__ == "__main__":
    missing = [f"the wheel lacks {name}" for name in lacking(Path(sys.argv[1]))]
    with tempfile.TemporaryDirectory() as name:
        missing += served(str(Path(sys.argv[2]).absolute()), name)
    print("\n".join(missing))
    sys.exit(bool(missing))
