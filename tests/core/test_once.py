"""A property worked out once: no sum on one object waits for another's."""

import threading
from dataclasses import dataclass, field

from yarekeel.core.once import cached_property


@dataclass
class Boat:
    """Its length asks another's beam, and its beam another's length, as a fleet's sums may."""

    other: "Boat | None" = None
    began: threading.Barrier = field(default_factory=lambda: threading.Barrier(2))
    asked: int = 0

    def beyond(self, what: str) -> float:
        """One more than the other boat's, once another thread is under way too; a half without another boat."""
        if self.other is None:
            return 0.5
        self.began.wait(5)
        return 1.0 + getattr(self.other, what)

    @cached_property
    def length(self) -> float:
        """Asks the other's beam."""
        return self.beyond("beam")

    @cached_property
    def beam(self) -> float:
        """Asks the other's length."""
        return self.beyond("length")

    @cached_property
    def name(self) -> str:
        """Counted."""
        self.asked += 1
        return f"boat {self.asked}"


def test_two_sums_that_ask_for_each_others_answers_on_other_objects_do_not_wait_for_ever():
    both = threading.Barrier(2)
    one, two = Boat(Boat(), both), Boat(Boat(), both)
    threads = [threading.Thread(target=lambda: one.length, daemon=True), threading.Thread(target=lambda: two.beam, daemon=True)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(10)
    assert not any(thread.is_alive() for thread in threads)
    assert (one.length, two.beam) == (1.5, 1.5)


def test_it_is_worked_out_once_and_the_first_answer_stands():
    boat = Boat()
    assert (boat.name, boat.name, boat.asked) == ("boat 1", "boat 1", 1)
    assert Boat.name.__doc__ == "Counted."
