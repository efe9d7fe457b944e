"""Printing sentences: on a terminal no word is broken at its edge; into a file or a pipe, a line each as ever."""

import shutil
import sys
import textwrap

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
