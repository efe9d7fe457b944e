"""Printing sentences: on a terminal no word is broken at its edge; into a file or a pipe, a line each as ever."""

import shutil
import sys
import textwrap
from collections.abc import Iterator
from contextlib import contextmanager

INDENT = "    "


def show(text: str = "") -> None:
    """Print lines, each wrapped between words where it is longer than the terminal is wide."""
    wide = shutil.get_terminal_size().columns if sys.stdout.isatty() else 0
    for line in text.split("\n"):
        print(wrapped(line, wide))


def wrapped(line: str, wide: int) -> str:
    """A line for a terminal so wide; as it is for no width. What follows is set in a little."""
    if not wide or len(line) <= wide:
        return line
    return textwrap.fill(
        line, wide, subsequent_indent=INDENT, break_long_words=False, break_on_hyphens=False, replace_whitespace=False, drop_whitespace=True
    )


@contextmanager
def working(what: str) -> Iterator[None]:
    """While it lasts a terminal shows what is being worked out and for how long; a file or a pipe nothing."""
    if not sys.stderr.isatty():
        yield
        return
    from rich.console import Console
    from rich.progress import Progress, SpinnerColumn, TextColumn, TimeElapsedColumn

    columns = (SpinnerColumn(), TextColumn("{task.description}"), TimeElapsedColumn())
    with Progress(*columns, console=Console(stderr=True), transient=True) as progress:
        progress.add_task(what)
        yield
