"""What was worked out is kept while there is room for it: one store for the whole program, limited in bytes, least used first out.

Functions of a design, a hull or a craft are asked again and again while a field is typed or a weight dragged. Each says so with
``@kept``. Their answers are counted by what they hold (meshes and what is worked out over them grow with the count of faces), so
that a model of 400 000 faces cannot fill the memory as forty small boats may.
"""

import dataclasses
import threading
from collections.abc import Callable, Hashable, Iterator
from functools import wraps
from typing import Any, ParamSpec, TypeVar, cast

import numpy as np
from cachetools import LRUCache
from cachetools.keys import hashkey

P = ParamSpec("P")
T = TypeVar("T")

ROOM = 1 << 30
"""Bytes counted at most. A hull that several answers hold is counted with each, so that less than this is used."""
ENTRY = 32_768
"""Bytes of any entry beside its meshes: its key is a design."""
DEPTH = 3
"""How far in an answer meshes and arrays are looked for; what lies deeper is small."""


class Keep:
    """A store limited in bytes, safe to use from many threads. An answer too large for it is not kept."""

    def __init__(self, room: int = ROOM) -> None:
        self._lock = threading.RLock()
        self._entries: LRUCache[Hashable, Any] = LRUCache(room, getsizeof=size_of)

    def get(self, key: Hashable, default: object = None) -> Any:
        """What was kept under a key, or ``default``. What may have grown since it was put in is weighed again."""
        with self._lock:
            value = self._entries.get(key, default)
            if hasattr(value, "__dict__"):
                self.put(key, value)
            return value

    def put(self, key: Hashable, value: Any) -> None:
        """Keep a value; the least used give way."""
        with self._lock:
            try:
                self._entries[key] = value
            except ValueError:  # larger than all the room there is
                self._entries.pop(key, None)

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._entries.clear()

    @property
    def size(self) -> int:
        """Bytes counted."""
        return int(self._entries.currsize)

    def __len__(self) -> int:
        return len(self._entries)


def size_of(value: object) -> int:
    """Bytes that a value holds, near enough: its arrays, and whatever says its ``footprint``."""
    return ENTRY + sum({id(v): n for v, n in _heavy(value, DEPTH)}.values())


def _heavy(value: object, deeper: int) -> Iterator[tuple[object, int]]:
    if isinstance(value, np.ndarray):
        yield value, value.nbytes
    elif isinstance(value, str):
        yield value, len(value)
    elif (footprint := getattr(value, "footprint", None)) is not None:
        yield value, footprint
    elif deeper:
        for part in _parts(value):
            yield from _heavy(part, deeper - 1)


def _parts(value: object) -> Iterator[object]:
    if isinstance(value, (tuple, list)):
        yield from value
    elif isinstance(value, dict):
        yield from value.values()
    elif dataclasses.is_dataclass(value):
        names = {f.name for f in dataclasses.fields(value)} | set(getattr(value, "__dict__", ()))
        yield from (getattr(value, name) for name in names if name in getattr(value, "__dict__", names))


KEEP = Keep()
"""The program's store."""
_MISSING: Any = object()


def kept(of: Callable[P, T]) -> Callable[P, T]:
    """Decorator: keep the answers of a pure function of hashable arguments. Two threads that ask at once may both work it out; an
    error is not kept."""

    @wraps(of)
    def ask(*args: P.args, **kwargs: P.kwargs) -> T:
        key = hashkey(of, *args, **cast(dict[str, Hashable], kwargs))
        known = KEEP.get(key, _MISSING)
        if known is _MISSING:
            known = of(*args, **kwargs)
            KEEP.put(key, known)
        return cast(T, known)

    return ask
