"""Two revisions, line by line: what was changed, and what it did."""

import dataclasses
from dataclasses import dataclass
from typing import Any

from yarekeel.stages.design.craft import Craft
from yarekeel.stages.judging.outcome import Outcome, outcome_of


@dataclass(frozen=True, slots=True)
class Difference:
    """One field that differs; a side is None where it has no such field. ``path`` is the boat file's."""

    path: str
    before: Any
    after: Any


@dataclass(frozen=True, slots=True)
class ComparisonOfRevisions:
    """Changed fields, and how each revision floats."""

    changes: tuple[Difference, ...]
    before: Outcome | None
    after: Outcome | None


def assess(before: Craft, after: Craft) -> ComparisonOfRevisions:
    """Every leaf of the two designs that differs, and both outcomes. Weights and motors are matched by name."""
    one, two = dict(_leaves(before.design)), dict(_leaves(after.design))
    paths = list(dict.fromkeys([*one, *two]))
    changes = tuple(Difference(p, one.get(p), two.get(p)) for p in paths if one.get(p) != two.get(p) and not _says_nothing(p, one, two))
    return ComparisonOfRevisions(
        changes,
        outcome_of(before) if any(w.mass_kg > 0 for w in before.items) else None,
        outcome_of(after) if any(w.mass_kg > 0 for w in after.items) else None,
    )


PLAIN = ("", None, False, True, 0.0, 1.0)
"""What most fields of a thing hold that nobody filled in."""


def _says_nothing(path: str, one: dict[str, Any], two: dict[str, Any]) -> bool:
    """Whether a field belongs to a thing that one of the two has not at all, and holds what nobody filled in."""
    return (path not in one or path not in two) and (one.get(path) if path in one else two.get(path)) in PLAIN


def _leaves(value: Any, path: str = "") -> list[tuple[str, Any]]:
    if dataclasses.is_dataclass(value):
        return [leaf for f in dataclasses.fields(value) for leaf in _leaves(getattr(value, f.name), f"{path}.{f.name}" if path else f.name)]
    if isinstance(value, tuple) and value and dataclasses.is_dataclass(value[0]):
        out: list[tuple[str, Any]] = []
        seen: dict[str, int] = {}
        for item in value:
            name = getattr(item, "name", "")
            seen[name] = seen.get(name, 0) + 1
            label = f"{path}.{name}" + (f" ({seen[name]})" if seen[name] > 1 else "")
            out += [leaf for leaf in _leaves(item, label) if not leaf[0].endswith(".name")]
        return out
    return [(path, value)]
