"""What every instrument on the bench has: a port that sends lines, readings numbered and kept for pages that lost their line.

A stand-in behaves as the real thing would (seeded, so that a run can be had again) and answers at the same port.
"""

import math
import threading
import time
from abc import ABC, abstractmethod
from collections import deque
from collections.abc import Callable
from typing import Generic, Protocol, TypeVar

from yarekeel.core.quantities import Seconds


class Port(Protocol):
    """Where lines come from. ``line`` gives the one of a moment, None while nothing answers."""

    def line(self, now: Seconds) -> str | None: ...


class StandInPort(Port, Protocol):
    """A stand-in's port, whose plug can be pulled."""

    plugged: bool


class Numbered(Protocol):
    """A reading with its number."""

    @property
    def number(self) -> int: ...


R = TypeVar("R", bound=Numbered)


class Bench(ABC, Generic[R]):
    """Reads one port for every page that looks on; thread-safe. The port is asked ``every`` so often, and for what came within
    ``behind`` while nobody looked."""

    every: Seconds = 0.1
    behind: Seconds = 0.1
    kept = 200

    def __init__(self, port: StandInPort, clock: Callable[[], Seconds] = time.monotonic) -> None:
        self.port = self.stand_in = port
        self.clock = clock
        self._kept: deque[R] = deque(maxlen=self.kept)
        self._last: Seconds = -math.inf
        self._number = 0
        self._lock = threading.RLock()

    def after(self, number: int) -> list[R]:
        """The readings since ``number``, oldest first."""
        with self._lock:
            now = self.clock()
            self._last = max(self._last, now - self.behind)
            while self._last + self.every <= now + 1e-9:
                self._last += self.every
                self._number += 1
                self._kept.append(self.read(self._number, self._last, self.port.line(self._last)))
            return [r for r in self._kept if r.number > number]

    def plug(self, plugged: bool) -> None:
        """The stand-in's plug in or out."""
        with self._lock:
            self.stand_in.plugged = plugged

    @property
    def newest(self) -> int:
        """The number of the newest reading: a page that begins wants none from before."""
        return max((r.number for r in self.after(0)), default=1) - 1

    @abstractmethod
    def read(self, number: int, at: Seconds, line: str | None) -> R:
        """A line as a reading; noise on the line is no reading."""
