"""A property that is worked out once for each object."""

import functools
from typing import TYPE_CHECKING, Any, TypeVar

T_co = TypeVar("T_co", covariant=True)


class cached_property(functools.cached_property[T_co]):  # noqa: N801 - named as the one it stands for
    """``functools.cached_property`` without the lock that Python 3.11 puts around it, as later versions have it.

    That lock is one for all objects of a class: a long sum on one boat holds up the same sum on every other, and two threads whose sums
    ask for each other's, on different boats, wait for ever. Here two threads that ask at once may both work it out; the first
    answer stands for both.
    """

    if not TYPE_CHECKING:  # its type stays that of the one it stands for

        def __get__(self, instance: Any, owner: type | None = None) -> Any:
            """The answer; the descriptor itself where it is asked of the class."""
            if instance is None:
                return self
            return instance.__dict__.setdefault(self.attrname, self.func(instance))
