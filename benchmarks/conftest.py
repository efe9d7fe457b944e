"""The tests' yard and browser, and the program started as its user starts it: a process of its own."""

import re
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.conftest import browser_context_args, browser_type_launch_args, demo_file, demo_yard, yard

__all__ = ["browser_context_args", "browser_type_launch_args", "demo_file", "demo_yard", "yard"]


@pytest.fixture
def served(tmp_path: Path) -> Iterator[str]:
    """The address of the demo; inside this process the browser's driver would keep the server waiting for its turn."""
    command = [sys.executable, "-m", "yarekeel.cli", "demo", "--no-browser", "--port", "8600", "--data", str(tmp_path / "served")]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as program:
        assert program.stdout is not None
        said = re.search(r"http://127\.0\.0\.1:\d+", program.stdout.readline())
        assert said is not None
        yield said[0]
        program.terminate()
