"""Where data lives and how the server runs."""

import os
from dataclasses import dataclass
from pathlib import Path

from platformdirs import user_data_path

HOME_VARIABLE = "YAREKEEL_HOME"
DATABASE = "yard.db"


def data_folder(given: Path | None) -> Path:
    """``--data``, else YAREKEEL_HOME, else the user's own data folder."""
    if given is not None:
        return given
    home = os.environ.get(HOME_VARIABLE)
    return Path(home) if home else user_data_path("yarekeel", appauthor=False)


@dataclass(frozen=True, slots=True)
class Settings:
    """``hosts`` are the Host headers answered; anything else is refused."""

    database: Path
    hosts: frozenset[str] = frozenset({"127.0.0.1", "localhost", "[::1]"})
