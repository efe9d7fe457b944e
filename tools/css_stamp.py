"""Whether the built style sheet is the one that its sources give: a hash over both, kept beside it."""

import hashlib
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
WEB = ROOT / "src/yarekeel/web"
BUILT = WEB / "static/css/app.css"
STAMP = WEB / "static/css/app.css.sha256"


def current() -> str:
    """The hash of the sources and of what was built from them."""
    digest = hashlib.sha256()
    sources = [ROOT / "frontend/app.css", ROOT / "frontend/package-lock.json", *sorted(WEB.rglob("*.html")), BUILT]
    for path in sources:
        digest.update(path.relative_to(ROOT).as_posix().encode())
        digest.update(path.read_bytes())
    return digest.hexdigest()


if __name__ == "__main__" and "--write" in sys.argv:
    STAMP.write_text(current() + "\n")
