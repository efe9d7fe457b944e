"""What only some systems have is done without elsewhere: limits of memory, processes copied from a warm one, memory handed back."""

import ctypes
import math
import multiprocessing
import sys
import threading
import time

import pytest

from yarekeel import apart
from yarekeel.core.errors import InvalidInput
from yarekeel.exchange import reading
from yarekeel.web import memory


def test_the_first_file_after_it_was_warmed_is_read_at_once():
    apart.warm_up()
    begun = time.monotonic()
    assert apart.apart(math.sqrt, 9.0, budget=apart.Budget(220, 20.0)) == 3.0
    assert time.monotonic() - begun < 5  # what loading takes on a busy machine; here it is copied


def test_without_limits_of_memory_reading_goes_on(monkeypatch):
    monkeypatch.setitem(sys.modules, "resource", None)
    apart._limit(1)  # nothing is limited, nothing is raised


def test_without_a_process_to_copy_from_a_new_one_is_begun(monkeypatch):
    monkeypatch.setattr(multiprocessing, "get_all_start_methods", lambda: ["spawn"])
    context = apart._context()
    assert context.get_start_method() == "spawn"
    monkeypatch.setattr(apart, "_CONTEXT", context)
    with pytest.raises(InvalidInput):
        apart.apart(reading.mesh, b"no mesh", "x.stl", budget=apart.Budget(500, 60.0))


@pytest.mark.parametrize("platform", ["win32", "darwin"])
def test_without_glibc_memory_is_left_to_the_system(monkeypatch, platform):
    monkeypatch.setattr(memory.sys, "platform", platform)
    monkeypatch.setattr(ctypes, "CDLL", lambda _: pytest.fail("a library that is not there"))
    memory.large_blocks_by_themselves()
    (ended := threading.Event()).set()
    memory.handed_back(ended)
