"""What depends on a mesh's faces alone, kept while they live: a hull that is stretched or moved has the same ones."""

import weakref
from collections.abc import Callable
from typing import Any, TypeVar

from yarekeel.core.geometry.mesh import Ints

T = TypeVar("T")


class ByFaces:
    """Answers by the array of faces itself, not by what is in it; let go of with it."""

    def __init__(self) -> None:
        self._known: dict[int, tuple[weakref.ref[Any], Any]] = {}

    def of(self, faces: Ints, work: Callable[[], T]) -> T:
        """The answer for these faces, worked out the first time. An array that could be written to is never remembered."""
        number = id(faces)
        found = self._known.get(number)
        if found is not None and found[0]() is faces:
            return found[1]  # type: ignore[no-any-return]
        answer = work()
        if not faces.flags.writeable:
            self._known[number] = (weakref.ref(faces, lambda _: self._known.pop(number, None)), answer)
        return answer
