"""Words that somebody typed, pasted or sent, rid of what cannot be seen."""

import unicodedata
from typing import Any

_JOINERS = "\u200c\u200d"
"""Of use within some scripts and pictures, and nowhere else."""
_BREAKS = {"Zl", "Zp"}
_UNSEEN = {"Cc", "Cf", "Cs", "Co", "Cn"}


def plain(text: str, *, lines: bool = False) -> str:
    """Text without control characters, halves of characters, and marks that turn the direction of writing or take no room; what breaks
    a line is a space, unless ``lines`` keeps line ends and tabs."""
    if text.isascii() and text.isprintable():
        return text
    return "".join(_kept(text, k, lines=lines) for k in range(len(text)))


def _kept(text: str, k: int, *, lines: bool) -> str:
    c = text[k]
    if c in "\n\r\t":
        return c if lines else " "
    kind = unicodedata.category(c)
    if kind in _BREAKS:
        return "\n" if lines else " "
    if c in _JOINERS:
        within = 0 < k < len(text) - 1 and not text[k - 1].isascii() and not text[k + 1].isascii()
        return c if within else ""
    return "" if kind in _UNSEEN else c


LONGEST_WHOLE = 12
"""Digits of a whole number that somebody sends."""


def whole(text: str) -> int | None:
    """A whole number of 0 or more, in plain digits; None for anything else."""
    return int(text) if text.isascii() and text.isdigit() and len(text) <= LONGEST_WHOLE else None


def plain_data(data: Any) -> Any:
    """The same for every word in parsed JSON; line ends stay."""
    if isinstance(data, str):
        return plain(data, lines=True)
    if isinstance(data, list):
        return [plain_data(v) for v in data]
    if isinstance(data, dict):
        return {plain(k): plain_data(v) for k, v in data.items()}
    return data
