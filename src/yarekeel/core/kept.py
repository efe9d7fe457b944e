"""What was worked out is kept while there is room for it: one store for the whole program, limited in bytes, least used first out.

Functions of a design, a hull or a craft are asked again and again while a field is typed or a weight dragged. Each says so with
``@kept``. What the store holds is weighed, questions as well as answers, and a mesh that twenty of them hold is counted once. A craft
is asked by its design (``kept_as``): the hulls that were built from it are not held by the question.
"""

import dataclasses
import inspect
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterable
from functools import wraps
from typing import Any, ParamSpec, Protocol, TypeVar, cast

import numpy as np
from cachetools.keys import hashkey

from yarekeel.core.quantities import Seconds
from yarekeel.core.stopping import checkpoint

P = ParamSpec("P")
T = TypeVar("T")
T_co = TypeVar("T_co", covariant=True)

ROOM, LARGE_ROOM = 64 << 20, 320 << 20
"""Bytes counted at most, of ordinary parts and of large ones: a mesh of 200 000 faces with all that is worked out over it must find room,
and must not drive everything else out."""
LARGE = 2 << 20
"""Bytes from which a part of an answer (a mesh, a kernel, a table) is a large one."""
ENTRY = 32_768
"""Bytes of any entry beside its meshes and tables."""
DEPTH = 4
"""How far in an answer meshes and arrays are looked for; what lies deeper is small."""
LONG_TEXT = 1_000
"""Characters of a text from which it is weighed."""
LONG = 8
"""Items of a list that are weighed one by one."""
EVERY = 4
"""Answers that are put in until one that does not seem to have grown is weighed again."""

Parts = dict[int, int]
"""Bytes by the identity of what takes them."""
_NONE: Any = object()


class _Entry:
    """An answer, and the question as it was put: what is weighed must be held, or another thing may have its identity later."""

    def __init__(self, key: Hashable, value: Any) -> None:
        self.key, self.value = key, value
        self.attributes = self._attributes()
        self.parts = _parts_of(key, value)

    @property
    def has_grown(self) -> bool:
        """Whether something more was worked out of the answer since it was weighed."""
        return self._attributes() != self.attributes

    def _attributes(self) -> int:
        return len(getattr(self.value, "__dict__", ()))


class Keep:
    """A store limited in bytes, safe to use from many threads. An answer too large for it is not kept."""

    def __init__(self, room: int = ROOM, large_room: int = LARGE_ROOM) -> None:
        self._lock = threading.RLock()
        self._room, self._large_room = room, large_room
        self.clear()

    def get(self, key: Hashable, default: object = None) -> Any:
        """What was kept under a key, or ``default``."""
        with self._lock:
            entry = self._entries.get(key)
            if entry is None:
                return default
            self._entries.move_to_end(key)
            if entry.has_grown:
                self._weigh_again(entry)
            return entry.value

    def put(self, key: Hashable, value: Any) -> None:
        """Keep a value; the least used give way."""
        entry = _Entry(key, value)
        small, large = _sums(entry.parts)
        with self._lock:
            self._drop(key)
            if small + ENTRY > self._room or large > self._large_room:
                return
            self._entries[key] = entry
            self._add(entry.parts)
            self._turn[id(entry)] = entry
            self._weigh_in_turn()
            self._make_room()

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._entries: OrderedDict[Hashable, _Entry] = OrderedDict()
            self._holders: dict[int, list[int]] = {}  # bytes of a part, and how many entries hold it
            self._turn: OrderedDict[int, _Entry] = OrderedDict()  # by identity, in the order in which they are weighed again
            self._puts = 0
            self._small = self._large = 0

    @property
    def size(self) -> int:
        """Bytes counted."""
        return self._small + self._large + ENTRY * len(self._entries)

    def __len__(self) -> int:
        return len(self._entries)

    def _add(self, parts: Parts) -> None:
        for part, taken in parts.items():
            holders = self._holders.get(part)
            if holders is not None:
                holders[1] += 1
                continue
            self._holders[part] = [taken, 1]
            self._count(taken, 1)

    def _remove(self, parts: Parts) -> None:
        for part in parts:
            holders = self._holders[part]
            holders[1] -= 1
            if not holders[1]:
                del self._holders[part]
                self._count(holders[0], -1)

    def _count(self, taken: int, sign: int) -> None:
        if taken >= LARGE:
            self._large += sign * taken
        else:
            self._small += sign * taken

    def _drop(self, key: Hashable) -> None:
        entry = self._entries.pop(key, None)
        if entry is not None:
            self._remove(entry.parts)
            del self._turn[id(entry)]

    def _weigh_again(self, entry: _Entry) -> None:
        weighed = _Entry(entry.key, entry.value)  # before anything is taken off the count
        self._remove(entry.parts)
        entry.parts, entry.attributes = weighed.parts, weighed.attributes
        self._add(entry.parts)

    def _weigh_in_turn(self) -> None:
        """One that has grown since it was asked for last, or deep within."""
        self._puts += 1
        turn = next(iter(self._turn))
        self._turn.move_to_end(turn)
        if self._turn[turn].has_grown or not self._puts % EVERY:
            self._weigh_again(self._turn[turn])

    def _make_room(self) -> None:
        while self._small + ENTRY * len(self._entries) > self._room:
            self._drop(next(iter(self._entries)))
        if self._large > self._large_room:
            for key in [k for k, e in self._entries.items() if _sums(e.parts)[1]]:
                self._drop(key)
                if self._large <= self._large_room:
                    break


def _sums(parts: Parts) -> tuple[int, int]:
    """Bytes of ordinary and of large parts."""
    large = sum(taken for taken in parts.values() if taken >= LARGE)
    return sum(parts.values()) - large, large


def size_of(value: object) -> int:
    """Bytes that a value holds, near enough: its arrays, and whatever says its ``footprint``, each once. Of a long list the first
    stands for all."""
    return ENTRY + sum(_parts_of(value).values())


def _parts_of(*values: object) -> Parts:
    seen: Parts = {}
    for value in values:
        _weigh(value, DEPTH, seen)
    return seen


def _weigh(value: object, deeper: int, seen: Parts) -> None:
    if value is None or isinstance(value, (float, int)) or id(value) in seen:
        return
    if isinstance(value, np.ndarray):
        seen[id(value)] = value.nbytes
    elif isinstance(value, str):
        if len(value) > LONG_TEXT:
            seen[id(value)] = len(value)
    elif (footprint := getattr(value, "footprint", None)) is not None:
        seen[id(value)] = footprint
        for part in _parts(value):
            _weigh_heavy(part, seen)
    elif isinstance(value, (tuple, list)):
        if len(value) > LONG:
            seen[id(value)] = len(value) * (size_of(value[0]) - ENTRY)
        else:
            for part in value:
                _weigh(part, deeper, seen)
    elif deeper:
        seen[id(value)] = 0
        for part in _parts(value):
            _weigh(part, deeper - 1, seen)


def _weigh_heavy(value: object, seen: Parts) -> None:
    """What within a thing that says its own footprint says one too (a hull's mesh, its kernel)."""
    if isinstance(value, tuple):
        for part in value:
            _weigh_heavy(part, seen)
    elif hasattr(value, "footprint"):
        _weigh(value, 0, seen)


def _parts(value: object) -> Iterable[object]:
    if isinstance(value, (tuple, list)):
        return value
    if isinstance(value, dict):
        return value.values()
    if hasattr(value, "__dict__"):
        return tuple(vars(value).values())
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
    """Decorator: keep the answers of a pure function of hashable arguments; one that is left out is the same as its default given, one
    that says what it is ``kept_as`` is held as that. Threads that ask at once have it worked out once; an error is not kept."""
    usual = {name: p.default for name, p in inspect.signature(of).parameters.items()}
    names = tuple(usual)

    def key_of(args: tuple[Any, ...], kwargs: dict[str, Any]) -> Hashable:
        asked = (*args, *(kwargs.get(name, usual[name]) for name in names[len(args) :]))
        return hashkey(of, *(getattr(a, "kept_as", a) for a in asked))

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
