"""Where data lives and how the server runs."""

import os
from dataclasses import dataclass
from pathlib import Path

from platformdirs import user_data_path

HOME_VARIABLE = "YAREKEEL_HOME"
DATABASE = "yard.db"
DEMO = "demo"
"""The demo's own folder, within the data folder."""
DEMO_MARK = "demo-folder.txt"
"""The file that marks a folder as a demo's: only such a one is ever emptied."""
_MARK_TEXT = "Yare Keel's demo boats live in this folder. `yare-keel demo --reset` empties it.\n"


def data_folder(given: Path | None) -> Path:
    """``--data``, else YAREKEEL_HOME, else the user's own data folder."""
    if given is not None:
        return given
    home = os.environ.get(HOME_VARIABLE)
    return Path(home) if home else user_data_path("yarekeel", appauthor=False)


def is_demo_folder(folder: Path) -> bool:
    """Whether a folder is marked as a demo's."""
    return (folder / DEMO_MARK).is_file()


def mark_demo_folder(folder: Path) -> None:
    """Mark a folder as a demo's."""
    (folder / DEMO_MARK).write_text(_MARK_TEXT, encoding="utf-8")


@dataclass(frozen=True, slots=True)
class Settings:
    """``hosts`` are the Host headers answered; anything else is refused."""

    database: Path
    hosts: frozenset[str] = frozenset({"127.0.0.1", "localhost", "[::1]"})
    behind: str = ""
    """The address (scheme and host) at which a reverse proxy serves it; empty for none."""
