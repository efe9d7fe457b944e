"""Work that says how far it has come, and that ends when nobody waits for it any more.

Whoever starts a long piece of work makes a ``Work`` of it (``begin``); whatever is done within passes ``checkpoint`` often, and may say
what it is at. A page that is closed, or its stop button, ends it at the next checkpoint.
"""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from weakref import WeakSet

from yarekeel.core.quantities import Ratio


class Stopped(BaseException):
    """Raised at a checkpoint of work that was stopped. Not an ``Exception``: nothing that mends errors may take it for an answer."""


class Work:
    """A piece of work: what it is at, how much of it is done (None where that is not known), and whether it is to stop.

    ``may_stop`` is off while something is being saved: what was typed is kept even if its page is closed."""

    def __init__(self, *, may_stop: bool = True) -> None:
        self.words = ""
        self.share: Ratio | None = None
        self.may_stop = may_stop
        self._stop = threading.Event()
        _EVERY.add(self)

    def stop(self) -> None:
        """Ask it to end."""
        self._stop.set()

    @property
    def is_stopped(self) -> bool:
        """Whether it was asked to end, and may."""
        return self.may_stop and self._stop.is_set()


_EVERY: "WeakSet[Work]" = WeakSet()
"""Work under way in this process."""


def stop_everything() -> None:
    """Ask all work to end: the program does."""
    for work in tuple(_EVERY):
        work.stop()


_NOW: ContextVar[Work | None] = ContextVar("work", default=None)


@contextmanager
def begin(work: Work) -> Iterator[Work]:
    """Everything within, and in threads that take over its context, is part of this work."""
    token = _NOW.set(work)
    try:
        yield work
    finally:
        _NOW.reset(token)


def current() -> Work | None:
    """The work that this is part of."""
    return _NOW.get()


def checkpoint() -> None:
    """End here if this work was stopped. Raises Stopped."""
    work = _NOW.get()
    if work is not None and work.is_stopped:
        raise Stopped


def told(words: str, share: Ratio | None = None) -> None:
    """Say what the work is at and how much of it is done; a checkpoint too. Raises Stopped."""
    work = _NOW.get()
    if work is not None:
        work.words, work.share = words, share
        checkpoint()


def stoppable(*, yes: bool) -> None:
    """Whether the work may end early from here on."""
    work = _NOW.get()
    if work is not None:
        work.may_stop = yes
