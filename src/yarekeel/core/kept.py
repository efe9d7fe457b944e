"""What was worked out is kept while there is room for it: one store for the whole program, limited in bytes, least used first out.

Functions of a design, a hull or a craft are asked again and again while a field is typed or a weight dragged. Each says so with
``@kept``. Their answers are counted by what they hold (meshes and what is worked out over them grow with the count of faces), so
that a model of 400 000 faces cannot fill the memory as forty small boats may.
"""

import dataclasses
import inspect
import threading
from collections.abc import Callable, Hashable, Iterable
from functools import wraps
from typing import Any, ParamSpec, Protocol, TypeVar, cast

import numpy as np
from cachetools import LRUCache
from cachetools.keys import hashkey

from yarekeel.core.quantities import Seconds
from yarekeel.core.stopping import checkpoint

P = ParamSpec("P")
T = TypeVar("T")
T_co = TypeVar("T_co", covariant=True)

ROOM, LARGE_ROOM = 64 << 20, 420 << 20
"""Bytes counted at most, of ordinary entries and of large ones. A hull that several answers hold is counted with each, so that less than
this is used; a mesh of 200 000 faces with all that is worked out over it must find room, and must not drive everything else out."""
LARGE = 20 << 20
"""Bytes from which an entry is a large one."""
ENTRY = 32_768
"""Bytes of any entry beside its meshes: its key is a design."""
DEPTH = 2
"""How far in an answer meshes and arrays are looked for; what lies deeper is small."""
LONG = 8
"""Items of a list that are weighed one by one."""


_NONE: Any = object()


class Keep:
    """A store limited in bytes, safe to use from many threads. An answer too large for it is not kept."""

    def __init__(self, room: int = ROOM, large_room: int = LARGE_ROOM) -> None:
        self._lock = threading.RLock()
        self._entries: LRUCache[Hashable, Any] = LRUCache(room, getsizeof=size_of)
        self._large: LRUCache[Hashable, Any] = LRUCache(large_room, getsizeof=size_of)

    def get(self, key: Hashable, default: object = None) -> Any:
        """What was kept under a key, or ``default``. What may have grown since it was put in is weighed again."""
        with self._lock:
            value = self._entries.get(key, _NONE)
            if value is _NONE:
                value = self._large.get(key, _NONE)
            if value is _NONE:
                return default
            if hasattr(value, "__dict__"):
                self.put(key, value)
            return value

    def put(self, key: Hashable, value: Any) -> None:
        """Keep a value; the least used give way."""
        with self._lock:
            store, other = self._entries, self._large
            if size_of(value) > LARGE:
                store, other = other, store
            other.pop(key, None)
            try:
                store[key] = value
            except ValueError:  # larger than all the room there is
                store.pop(key, None)

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._entries.clear()
            self._large.clear()

    @property
    def size(self) -> int:
        """Bytes counted."""
        return int(self._entries.currsize + self._large.currsize)

    def __len__(self) -> int:
        return len(self._entries) + len(self._large)


def size_of(value: object) -> int:
    """Bytes that a value holds, near enough: its arrays, and whatever says its ``footprint``, each once. Of a long list the first
    stands for all."""
    seen: dict[int, int] = {}
    _weigh(value, DEPTH, seen)
    return ENTRY + sum(seen.values())


def _weigh(value: object, deeper: int, seen: dict[int, int]) -> None:
    if value is None or isinstance(value, (float, int)):
        return
    if isinstance(value, np.ndarray):
        seen[id(value)] = value.nbytes
    elif isinstance(value, str):
        seen[id(value)] = len(value)
    elif (footprint := getattr(value, "footprint", None)) is not None:
        seen[id(value)] = footprint
    elif deeper and isinstance(value, (tuple, list)) and len(value) > LONG:
        seen[id(value)] = len(value) * (size_of(value[0]) - ENTRY)
    elif deeper:
        for part in _parts(value):
            _weigh(part, deeper - 1, seen)


def _parts(value: object) -> Iterable[object]:
    if isinstance(value, (tuple, list)):
        return value
    if isinstance(value, dict):
        return value.values()
    if hasattr(value, "__dict__"):
        return vars(value).values()
    return [getattr(value, f.name) for f in dataclasses.fields(value)] if dataclasses.is_dataclass(value) else ()


KEEP = Keep()
"""The program's store."""


class _UnderWay:
    """An answer that a thread is at; ``value`` is there once it is ``done``, unless it ended without one."""

    def __init__(self) -> None:
        self.by = threading.get_ident()
        self.done = threading.Event()
        self.value: Any = _NONE


_UNDER_WAY: dict[Hashable, _UnderWay] = {}
_ONE_AT_A_TIME = threading.Lock()
LOOKS: Seconds = 0.05
"""How often one that waits for another's answer looks whether it is to stop itself."""


def _shared(key: Hashable, work_out: Callable[[], T]) -> T:
    """The answer of whoever is at it already, else one's own. Nobody waits in a circle: an answer never asks for itself. Of one that
    was stopped or failed it is worked out anew."""
    while True:
        with _ONE_AT_A_TIME:
            other = _UNDER_WAY.get(key)
            if other is None:
                mine = _UNDER_WAY[key] = _UnderWay()
                break
        if other.by == threading.get_ident():
            return work_out()
        while not other.done.wait(LOOKS):
            checkpoint()
        if other.value is not _NONE:
            return cast(T, other.value)
    try:
        mine.value = work_out()
        KEEP.put(key, mine.value)
        return cast(T, mine.value)
    finally:
        del _UNDER_WAY[key]
        mine.done.set()


class Kept(Protocol[P, T_co]):
    """A function whose answers are kept; ``known`` gives one that is there already, or None, and works nothing out."""

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> T_co: ...

    def known(self, *args: P.args, **kwargs: P.kwargs) -> T_co | None:
        """The answer if it is kept."""


def kept(of: Callable[P, T]) -> Kept[P, T]:
    """Decorator: keep the answers of a pure function of hashable arguments; one that is left out is the same as its default given.
    Threads that ask at once have it worked out once; an error is not kept."""
    usual = {name: p.default for name, p in inspect.signature(of).parameters.items()}
    names = tuple(usual)

    def key_of(args: tuple[Any, ...], kwargs: dict[str, Any]) -> Hashable:
        return hashkey(of, *args, *(kwargs.get(name, usual[name]) for name in names[len(args) :]))

    @wraps(of)
    def ask(*args: P.args, **kwargs: P.kwargs) -> T:
        checkpoint()
        key = key_of(args, kwargs)
        known = KEEP.get(key, _NONE)
        return _shared(key, lambda: of(*args, **kwargs)) if known is _NONE else cast(T, known)

    def known(*args: P.args, **kwargs: P.kwargs) -> T | None:
        return cast(T | None, KEEP.get(key_of(args, kwargs), None))

    ask.known = known  # type: ignore[attr-defined]
    return cast(Kept[P, T], ask)
