"""The instruments of one application: each boat has its own, made when it is first asked for."""

import threading
from collections.abc import Callable
from typing import Any

from cachetools import LRUCache

from yarekeel.instruments.bench import Bench
from yarekeel.instruments.scale import ScaleBench
from yarekeel.instruments.thrust_stand import StandBench
from yarekeel.instruments.tilt import TiltBench

KINDS: dict[str, Callable[[], Bench[Any]]] = {"scale": ScaleBench, "tilt": TiltBench, "stand": StandBench}
"""A new kind of instrument is a row here."""
MOST_BOATS = 64
"""Boats whose instruments are kept; those not used for longest are put away."""


class Shelf:
    """Instruments by kind and boat; thread-safe. Pages listen while it ``is_open``: a program that is told to end must not wait."""

    def __init__(self) -> None:
        self._all: LRUCache[tuple[str, int], Bench[Any]] = LRUCache(MOST_BOATS * len(KINDS))
        self._lock = threading.Lock()
        self.is_open = True

    def of(self, kind: str, boat: int) -> Bench[Any]:
        """A boat's instrument of a kind."""
        with self._lock:
            if (kind, boat) not in self._all:
                self._all[kind, boat] = KINDS[kind]()
            return self._all[kind, boat]

    def scale(self, boat: int) -> ScaleBench:
        """A boat's scale."""
        found = self.of("scale", boat)
        assert isinstance(found, ScaleBench)
        return found

    def tilt(self, boat: int) -> TiltBench:
        """A boat's tilt sensor."""
        found = self.of("tilt", boat)
        assert isinstance(found, TiltBench)
        return found

    def stand(self, boat: int) -> StandBench:
        """A boat's thrust stand."""
        found = self.of("stand", boat)
        assert isinstance(found, StandBench)
        return found

    def close(self) -> None:
        """Let go of every page that listens."""
        self.is_open = False
