"""A verdict: what was found, how it stands, why, by which source, and what to do about it.

Sentences hold places such as ``{spare:length}``; the edge fills them in the reader's units, so that a sentence
and the number it was judged by cannot part.
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Literal

from yarekeel.core.sources import Source

Values = Mapping[str, float | str]
"""SI numbers and words by the names used in a sentence."""
Severity = Literal["holds", "near", "fails", "note"]


AMOUNTS = ("mass", "length", "draft", "volume", "area", "force", "percent")
"""Kinds of which less than nothing means nothing; directions are said in words."""
_PLACE = re.compile(r"\{(\w+):(\w+)\}")


@dataclass(frozen=True, slots=True)
class Remedy:
    """A way to act: a sentence with places, and the stage of the work where it is done."""

    sentence: str
    stage: str | None = None


@dataclass(frozen=True, slots=True)
class Finding:
    """One verdict.

    ``code`` is stable and listed in the glossary, ``values`` are SI numbers by the names used in the sentences.
    """

    code: str
    severity: Severity
    title: str
    sentence: str
    source: Source
    values: Values = field(default_factory=lambda: MappingProxyType({}))
    remedies: tuple[Remedy, ...] = ()

    def __post_init__(self) -> None:
        object.__setattr__(self, "remedies", tuple(r for r in self.remedies if self._is_some(r)))

    def _is_some(self, remedy: Remedy) -> bool:
        """Whether every amount that a remedy names is more than nothing: less of a mass or a length is no way to act."""
        amounts = [self.values.get(name) for name, kind in _PLACE.findall(remedy.sentence) if kind in AMOUNTS]
        return all(not isinstance(v, float) or v > 0 for v in amounts)
