"""``python -m tools.licences --write``: docs/licences.md, the licence of all that is installed to run the program, from its own metadata."""

import re
import sys
from importlib import metadata
from pathlib import Path

ROOT = Path(__file__).parent.parent
TABLE = ROOT / "docs" / "licences.md"
HEAD = """# Licences

Yare Keel itself: MIT ([LICENSE](../LICENSE)). What ships within it carries its licence beside it: the fonts Atkinson Hyperlegible Next and
Barlow Condensed (SIL Open Font License 1.1), Alpine.js (MIT), and the reset and utilities of Tailwind CSS (MIT) in the built style sheet.

What is installed to run it, by `requirements.txt`, with the licence that each names in its own metadata:

| Package | Version | Licence |
|---|---|---|
"""
KNOWN = (
    ("MIT", "MIT"),
    ("BSD", "BSD"),
    ("Apache", "Apache-2.0"),
    ("PSF", "PSF-2.0"),
    ("Python Software", "PSF-2.0"),
    ("ISC", "ISC"),
    ("MPL", "MPL-2.0"),
    ("Mozilla", "MPL-2.0"),
)


def names() -> list[str]:
    """Packages that are installed to run the program."""
    return re.findall(r"^([A-Za-z0-9_.-]+)==", (ROOT / "requirements.txt").read_text(), re.MULTILINE)


def licence_of(name: str) -> str:
    """What a package says of its licence."""
    data = metadata.metadata(name)
    if data.get("License-Expression"):
        return str(data["License-Expression"])
    classes = [c.split("::")[-1].strip() for c in data.get_all("Classifier") or [] if c.startswith("License")]
    words = "; ".join(c for c in classes if c != "OSI Approved") or str(data.get("License") or "").strip().split("\n")[0][:60]
    return next((short for sign, short in KNOWN if sign in words), words)


def table() -> str:
    """The page."""
    return HEAD + "".join(f"| {n} | {metadata.version(n)} | {licence_of(n)} |\n" for n in names())


if __name__ == "__main__":
    if "--write" in sys.argv:
        TABLE.write_text(table(), encoding="utf-8")
