"""What the documents promise, and what keeps the house in order."""

import ast
import json
import re
import sys
import tomllib
from pathlib import Path

import typer

from tools import licences
from tools.css_stamp import STAMP, current
from yarekeel.cli import commands
from yarekeel.web.stages.routes import COMMANDS

ROOT = Path(__file__).parents[1]


def test_the_style_sheet_is_the_one_its_sources_give():
    assert STAMP.read_text().strip() == current(), "run: make css"


def test_readme_commands_exist_and_pictures_are_there():
    readme = (ROOT / "README.md").read_text()
    targets = set(re.findall(r"^([a-z-]+):", (ROOT / "Makefile").read_text(), re.MULTILINE))
    assert set(re.findall(r"`make ([a-z-]+)", readme)) <= targets
    assert {"demo", "test", "demo-reset"} <= set(re.findall(r"`?make ([a-z-]+)", readme))
    names = {c.name for c in commands.app.registered_commands}
    assert (
        set(
            re.findall(
                r"yare-keel (float|gz|report|thrust|speed|run|trial|fixes|archive|binder|patterns|backup|restore|serve|demo)\b", readme
            )
        )
        == names
    )
    pictures = set(re.findall(r"docs/screenshots/([\w-]+\.png)", readme))
    assert pictures == {p.name for p in (ROOT / "docs/screenshots").glob("*.png")}
    assert 0 < len(pictures) < 20


def test_the_licence_of_all_that_is_installed_is_listed():
    text = licences.TABLE.read_text()
    listed = re.findall(r"^\| ([\w.-]+) \| \S+ \| (\S.*) \|$", text, re.MULTILINE)
    assert [n for n, _ in listed if n != "Package"] == licences.names()


def test_every_finding_code_is_in_the_glossary():
    glossary = (ROOT / "docs/glossary.md").read_text()
    used = set()
    for path in (ROOT / "src/yarekeel").rglob("*.py"):
        used |= set(
            re.findall(
                r'"((?:float|floats|test|sail|criterion|roll|incline|cure|flood|swamped|dive|force|sheer|chance|rule|size|need|brief|shape|weights|stability|drive|underway|trial|fixes|fix|caution|cases|weigh_in)\.[a-z_]+)"',
                path.read_text(),
            )
        )
    used -= {
        *COMMANDS,
        "brief.kind",
        "drive.motors",
        "drive.battery",
        "incline.shifts",
        "incline.time_practice",
    }  # what is done, and paths of the boat file
    missing = sorted(c for c in used if f"`{c}`" not in glossary)
    assert not missing


def test_boat_file_fields_are_documented():
    from yarekeel.exchange.boat_file import schema

    text = (ROOT / "docs/boat-file.md").read_text()
    made = schema()
    fields = set(made["properties"])
    for definition in made["$defs"].values():
        fields |= set(definition.get("properties", {}))
    assert not sorted(f for f in fields if f"`{f}`" not in text)


def test_no_file_names_a_registry_host():
    hosts = ["pypi" + ".org", "files." + "pythonhosted", "registry." + "npmjs", "npmjs" + ".com"]
    for path in ("requirements.txt", "requirements-dev.txt", "frontend/package-lock.json", "frontend/.npmrc", "Makefile", "README.md"):
        text = (ROOT / path).read_text()
        assert not [h for h in hosts if h in text]


def test_no_line_of_a_template_is_longer_than_the_codes():
    web = ROOT / "src/yarekeel/web"
    assert [f"{p.name}: {line[:60]}" for p in web.rglob("*.html") for line in p.read_text().splitlines() if len(line) > 140] == []


def test_every_write_goes_through_one_door():
    """Only ``writing`` commits, and sessions are opened there alone."""
    for path in (ROOT / "src/yarekeel").rglob("*.py"):
        if path.name != "transactions.py":
            assert not re.findall(
                r"\.commit\(\)|[^.\w]Session\(|\bengine\.begin\(",
                path.read_text().replace("engine.begin() as connection:\n        _run", ""),
            ), path


def test_what_a_server_is_told_holds():
    """The container file and the unit name files, folders, options and ports that there are."""
    container, server = (ROOT / "Containerfile").read_text(), (ROOT / "docs/server.md").read_text()
    assert re.search(r"^wheel:", (ROOT / "Makefile").read_text(), re.MULTILINE)
    assert "COPY dist/yarekeel-*.whl /tmp/" in container
    assert container.count("\nFROM ") == 1
    assert re.search(r"^USER (?!root)", container, re.MULTILINE)
    volume = re.search(r"^VOLUME (\S+)", container, re.MULTILINE)[1]
    assert f"YAREKEEL_HOME={volume}" in container
    command = json.loads(re.search(r"^CMD (.*)", container, re.MULTILINE)[1])
    unit = re.search(r"^ExecStart=(.*)", server, re.MULTILINE)[1].split()
    options = {o for p in typer.main.get_command(commands.app).commands["serve"].params for o in p.opts}
    for words in (command, unit):
        assert Path(words[0]).name in (ROOT / "pyproject.toml").read_text()
        assert words[1] == "serve"
        assert {w for w in words if w.startswith("--")} <= options
    port = command[command.index("--port") + 1]
    assert f"EXPOSE {port}" in container
    assert f"proxy_pass http://127.0.0.1:{port};" in server
    assert unit[unit.index("--behind") + 1] == "https://" + re.search(r"server_name (\S+);", server)[1]


def test_what_is_imported_is_declared_with_bounds():
    declared = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dependencies"]
    assert all(re.fullmatch(r"[a-z0-9-]+>=[\d.]+,<[\d.]+", d) for d in declared), declared
    names = {d.partition(">")[0].replace("-", "_") for d in declared}
    assert names == {line.replace("-", "_") for line in (ROOT / "requirements.in").read_text().split("\n") if line and line[0] != "#"}
    asked = set()
    for path in (ROOT / "src/yarekeel").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Import):
                asked |= {a.name.split(".")[0] for a in node.names}
            elif isinstance(node, ast.ImportFrom) and not node.level and node.module:
                asked.add(node.module.split(".")[0])
    others = {"PIL": "pillow", "fpdf": "fpdf2"}
    assert {others.get(m, m) for m in asked} - set(sys.stdlib_module_names) - {"yarekeel"} <= names
