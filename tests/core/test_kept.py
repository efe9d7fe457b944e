"""The store of what was worked out: its key, its limit in bytes, its lock."""

import dataclasses
import threading
import time
import tracemalloc
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
import pytest
import trimesh

from yarekeel.core.geometry.hull import Hull
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.hydrostatics.afloat import float_boat
from yarekeel.core.kept import ENTRY, KEEP, Keep, kept, size_of
from yarekeel.core.once import cached_property
from yarekeel.core.stability.righting import righting_curve
from yarekeel.core.stopping import Stopped, Work, begin


def test_asked_again_is_not_worked_out_again_and_another_question_is():
    asked = []

    @kept
    def twice(value: float, plus: float = 0.0) -> float | None:
        asked.append((value, plus))
        return None if value < 0 else 2 * value + plus

    assert [twice(1.0), twice(1.0), twice(1.0, plus=1.0), twice(-1.0), twice(-1.0)] == [2.0, 2.0, 3.0, None, None]
    assert [twice(value=1.0), twice(1.0, 0.0), twice(1.0, plus=0.0), twice(plus=1.0, value=1.0)] == [2.0, 2.0, 2.0, 3.0]
    assert asked == [(1.0, 0.0), (1.0, 1.0), (-1.0, 0.0)]
    with pytest.raises(TypeError):
        twice()


def test_two_functions_of_the_same_arguments_are_apart():
    @kept
    def one(value: float) -> str:
        return f"one {value}"

    @kept
    def two(value: float) -> str:
        return f"two {value}"

    assert (one(1.0), two(1.0)) == ("one 1.0", "two 1.0")


def test_an_error_is_not_kept():
    answers = iter((ValueError("no"), 7))

    @kept
    def moody(_: int) -> int:
        answer = next(answers)
        if isinstance(answer, Exception):
            raise answer
        return answer

    with pytest.raises(ValueError, match="no"):
        moody(1)
    assert moody(1) == 7


def test_the_least_used_gives_way_once_the_bytes_are_full():
    keep = Keep(room=5 * ENTRY + 3_000_000, large_room=50_000_000)
    for name in "abc":
        keep.put(name, np.zeros(125_000))  # a million bytes each
    assert keep.get("a") is not None
    keep.put("d", np.zeros(125_000))
    assert [keep.get(n) is not None for n in "abcd"] == [True, False, True, True]
    keep.put("all", np.zeros(10_000_000))  # larger than the store
    assert keep.get("all") is None
    assert keep.size <= 5 * ENTRY + 3_000_000


def test_what_grows_after_it_was_kept_is_weighed_again():
    @dataclass
    class Grows:
        @cached_property
        def table(self) -> np.ndarray:
            return np.zeros(1000)

    keep, value = Keep(), Grows()
    keep.put("it", value)
    before = keep.size
    assert value.table.nbytes == 8000
    keep.put("another", 1)  # what is there is weighed again in turn
    assert keep.size == before + ENTRY + 8000
    keep.put("it", 1)
    assert keep.size == 2 * ENTRY


def test_what_several_answers_hold_is_counted_once_and_as_long_as_one_does():
    keep, shared = Keep(), np.zeros(50_000)
    for name in "abc":
        keep.put(name, (shared, name))
    once = shared.nbytes + 3 * ENTRY
    assert keep.size == once
    keep.put("a", 1)
    assert keep.size == once
    keep.put("b", 1)
    keep.put("c", 1)
    assert keep.size == 3 * ENTRY


def test_what_is_asked_is_weighed_too_unless_it_says_what_it_is_kept_as():
    @dataclass(frozen=True)
    class Asked:
        name: str

        @cached_property
        def table(self) -> np.ndarray:
            return np.zeros(100_000)

    class ByName(Asked):
        @property
        def kept_as(self) -> str:
            return self.name

    @kept
    def name_of(asked: Asked) -> int:
        return len(asked.table)

    before = KEEP.size
    assert name_of(ByName("a")) == 100_000
    between = KEEP.size
    assert between - before < 2 * ENTRY
    assert name_of.known(ByName("a")) == 100_000
    assert name_of(Asked("a")) == 100_000
    assert KEEP.size - between > 800_000


def test_a_hull_is_counted_as_what_it_takes():
    """Against the memory that Python and NumPy say they took."""
    ball = trimesh.creation.icosphere(subdivisions=5)
    vertices, faces = np.array(ball.vertices) * (1.0, 0.3, 0.2), np.array(ball.faces)
    tracemalloc.start()
    hull = Hull(Mesh(vertices, faces))
    rest = float_boat(hull, hull.mesh.volume * 300, (0.0, 0.0, -0.02), 1000.0)
    righting_curve(hull, rest.volume, rest.gravity, [0.0, 0.5, 1.0])
    _ = hull.parts, hull.rim, hull.mesh.normals, hull.mesh.centres
    taken = tracemalloc.get_traced_memory()[0]
    tracemalloc.stop()
    assert taken == pytest.approx(size_of(hull) - ENTRY, rel=0.2)
    assert size_of(hull.mesh) < size_of(hull.kernel) < size_of(hull)
    assert size_of((hull, dataclasses.replace(hull))) > size_of((hull, hull)) == size_of(hull)


def test_many_threads_find_one_store():
    keep = Keep(room=20 * ENTRY)
    failures = []

    def work(seed: int) -> None:
        try:
            for n in range(500):
                keep.put((n * seed) % 37, n)
                keep.get((n + seed) % 37)
        except Exception as error:
            failures.append(error)

    threads = [threading.Thread(target=work, args=(seed,)) for seed in range(1, 9)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert not failures
    assert len(keep) <= 20
    assert KEEP is not keep


def test_a_large_answer_finds_room_and_drives_no_small_one_out():
    keep = Keep(room=40 * ENTRY, large_room=100_000_000)
    for k in range(20):
        keep.put(k, "x")
    keep.put("hull", np.zeros(10_000_000 // 2))  # 40 MB
    keep.put("other", np.zeros(10_000_000 // 2))
    assert all(keep.get(k) == "x" for k in range(20))
    assert keep.get("hull") is not None
    keep.put("third", np.zeros(10_000_000 // 2))
    assert keep.get("other") is None  # hull was asked for since
    keep.put("hull", "small now")
    assert keep.get("hull") == "small now"
    assert len(keep) == 22
    keep.clear()
    assert (len(keep), keep.size) == (0, 0)


class Slow:
    """An answer that takes until it is let go, by whoever asks."""

    def __init__(self, ends: Callable[[int], str] = lambda times: f"answer {times}") -> None:
        self.times, self.begun, self.let_go = 0, threading.Event(), threading.Event()

        @kept
        def ask(_: int) -> str:
            self.times += 1
            mine = self.times
            self.begun.set()
            assert self.let_go.wait(10)
            return ends(mine)

        self.ask = ask

    def asked_in(self, pool: ThreadPoolExecutor, work: Work | None = None) -> "Future[str]":
        def run() -> str:
            with begin(work or Work()):
                try:
                    return self.ask(1)
                except Stopped:
                    return "stopped"

        return pool.submit(run)


def test_threads_that_ask_at_once_have_it_worked_out_once():
    slow = Slow()
    with ThreadPoolExecutor(4) as pool:
        asked = [slow.asked_in(pool) for _ in range(4)]
        assert slow.begun.wait(10)
        time.sleep(0.2)  # all of them ask
        slow.let_go.set()
        assert [a.result(10) for a in asked] == ["answer 1"] * 4
    assert slow.times == 1


@pytest.mark.parametrize("ending", [Stopped, ValueError])
def test_one_that_waits_for_another_works_it_out_where_that_ends_without_an_answer(ending):
    def ends(times: int) -> str:
        if times == 1:
            raise ending
        return f"answer {times}"

    slow = Slow(ends)
    with ThreadPoolExecutor(2) as pool:
        first = slow.asked_in(pool)
        assert slow.begun.wait(10)
        second = slow.asked_in(pool)
        time.sleep(0.2)
        slow.let_go.set()
        assert first.result(10) == "stopped" if ending is Stopped else isinstance(first.exception(10), ValueError)
        assert second.result(10) == "answer 2"
    assert slow.ask(1) == "answer 2"


def test_one_that_waits_for_another_can_be_stopped():
    slow, work = Slow(), Work()
    with ThreadPoolExecutor(2) as pool:
        first = slow.asked_in(pool)
        assert slow.begun.wait(10)
        second = slow.asked_in(pool, work)
        work.stop()
        assert second.result(1) == "stopped"
        slow.let_go.set()
        assert first.result(10) == "answer 1"


def test_an_answer_that_asks_for_itself_is_an_error_and_no_wait_for_ever():
    @kept
    def circle(value: int) -> int:
        return circle(value)

    with ThreadPoolExecutor(1) as pool:
        assert isinstance(pool.submit(circle, 1).exception(20), RecursionError)
