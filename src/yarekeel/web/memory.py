"""Memory that was freed goes back to the system: a large mesh's at once, the rest once the program is quiet. What threads leave between
their answers, and what only the collector finds, adds up to a fifth of all."""

import ctypes
import gc
import sys
import threading
import time

from yarekeel.core.quantities import Ratio, Seconds

EVERY: Seconds = 1.0
QUIET: Ratio = 0.05
"""Share of a processor that is used at most while nobody waits for an answer."""
WORKED: Seconds = 0.2
"""Of the processor since the last time, from which there is something to hand back."""


LARGE_BLOCK = 4 << 20
"""Bytes from which a block is taken from the system by itself, and given back as soon as it is freed."""
M_MMAP_THRESHOLD = -3
"""Of ``mallopt`` (malloc.h); set once, it does not grow by itself."""


def large_blocks_by_themselves() -> None:
    """Keep a large mesh's blocks out of the heap, which small ones beside them would keep from shrinking; where the C library can."""
    if sys.platform == "linux" and (mallopt := getattr(ctypes.CDLL(None), "mallopt", None)) is not None:
        mallopt(M_MMAP_THRESHOLD, LARGE_BLOCK)


def handed_back(end: threading.Event) -> None:
    """Hand it back whenever it is quiet after work, until ``end``; takes some 30 ms. To the system only where the C library can (glibc)."""
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None) if sys.platform == "linux" else None
    handed = before = 0.0
    while not end.wait(EVERY):
        now = time.process_time()
        if now - before < QUIET * EVERY and now - handed > WORKED:
            gc.collect()
            if trim is not None:
                trim(0)
            now = handed = time.process_time()
        before = now
