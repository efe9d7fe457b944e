"""Heavy reading in a process of its own, with limits of memory and time in proportion to what was sent.

A file that lies about itself takes down its own process, not the program, and other pages are answered meanwhile. Limits of memory hold
where the system knows them (Linux); those of time hold everywhere.
"""

import contextlib
import multiprocessing
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, TypeVar

from yarekeel.core.errors import InvalidInput, YareKeelError
from yarekeel.core.quantities import Seconds
from yarekeel.core.stopping import Stopped, checkpoint, told

T = TypeVar("T")
AT_ONCE = 2
"""Processes that read at the same time; more wait for their turn."""
STEP: Seconds = 0.05
WARM_UP: Seconds = 60.0
"""That loading the libraries may take on a busy machine."""
PRELOADED = ["__main__", "yarekeel.exchange.warm"]
"""Loaded once by the process that the others are copied from; the program itself, so that no copy loads it again."""


@dataclass(frozen=True, slots=True)
class Budget:
    """What reading may take: megabytes of memory over what an idle process has, and seconds."""

    megabytes: int
    seconds: Seconds

    @staticmethod
    def for_bytes(count: int) -> "Budget":
        """In proportion to what was sent: a small file may take little."""
        megabytes = count / 1e6
        return Budget(int(220 + 30 * megabytes), 2.5 + 1.2 * megabytes)


def _context() -> Any:
    methods = multiprocessing.get_all_start_methods()
    context: Any = multiprocessing.get_context("forkserver" if "forkserver" in methods else "spawn")
    if "forkserver" in methods:
        context.set_forkserver_preload(PRELOADED)
    return context


_CONTEXT = _context()
_RUNNING: set[Any] = set()
_TURNS = threading.BoundedSemaphore(AT_ONCE)


def apart(of: Callable[..., T], *args: Any, budget: Budget) -> T:
    """What ``of(*args)`` gives, worked out in a process of its own; ``of`` is a function of a module. Raises what it raises where that is
    an error of this program's, InvalidInput where it goes beyond its budget, and Stopped."""
    told("waits for its turn")
    while not _TURNS.acquire(timeout=STEP):
        checkpoint()
    try:
        return _run(of, args, budget)
    finally:
        _TURNS.release()


def warm_up() -> None:
    """Start the process that the reading ones are copied from, so that the first file does not wait until it has loaded its libraries."""
    with contextlib.suppress(InvalidInput):  # a file that comes meanwhile waits as long as it would have
        apart(_nothing, budget=Budget(220, WARM_UP))


def _nothing() -> None:
    """What is asked of a process to see that it works."""


def end_all() -> None:
    """Kill what still reads: the program ends."""
    for process in tuple(_RUNNING):
        with contextlib.suppress(ValueError, OSError):
            process.kill()


def _run(of: Callable[..., T], args: tuple[Any, ...], budget: Budget) -> T:
    ours, theirs = _CONTEXT.Pipe(duplex=True)
    process = _CONTEXT.Process(target=_work, args=(theirs, budget.megabytes), daemon=True)
    process.start()
    _RUNNING.add(process)
    theirs.close()
    try:
        return _answer(process, ours, of, args, budget)
    finally:
        ours.close()
        if process.is_alive():
            process.kill()
        process.join()
        _RUNNING.discard(process)


def _answer(process: Any, ours: Connection, of: Callable[..., T], args: tuple[Any, ...], budget: Budget) -> T:
    with contextlib.suppress(OSError):  # it may have ended already
        ours.send((of, args))
    ends = time.monotonic() + budget.seconds
    begun = time.monotonic()
    while not ours.poll(STEP):
        told(f"reads the file, for which {budget.seconds:.0f} s are allowed", min((time.monotonic() - begun) / budget.seconds, 1.0))
        if time.monotonic() > ends:
            raise InvalidInput("file", f"Reading this takes longer than {budget.seconds:.0f} s, more than a file of its size should.")
        if not process.is_alive() and not ours.poll(0):
            raise InvalidInput("file", _too_much(budget))
    try:
        kind, value = ours.recv()
    except (EOFError, OSError):
        raise InvalidInput("file", _too_much(budget)) from None
    if kind == "error":
        raise value
    if kind == "memory":
        raise InvalidInput("file", _too_much(budget))
    if kind == "fault":
        raise InvalidInput("file", "This file cannot be read; export it again.")
    result: T = value
    return result


def _too_much(budget: Budget) -> str:
    return f"Reading this takes more than {budget.megabytes} MB of memory, more than a file of its size should."


def _work(pipe: Connection, megabytes: int) -> None:
    """The process: one call, its answer, and the end."""
    try:
        of, args = pipe.recv()
        _limit(megabytes)
        try:
            answer = ("value", of(*args))
        except YareKeelError as error:
            answer = ("error", error)
        except MemoryError:
            answer = ("memory", None)
        except Exception:  # readers raise many kinds on broken files; to the builder they are one
            answer = ("fault", None)
        pipe.send(answer)
    except (OSError, MemoryError, Stopped, KeyboardInterrupt):
        return  # whoever asked is gone, or nothing can be said any more


def _limit(megabytes: int) -> None:
    """Hold this process to so much memory over what it has now."""
    try:
        import resource

        has = next(int(line.split()[1]) for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmData"))
        most = has * 1024 + megabytes * 1_000_000
        resource.setrlimit(resource.RLIMIT_DATA, (most, most))
    except (ImportError, OSError, StopIteration, ValueError):
        return  # a system that has no such limit
