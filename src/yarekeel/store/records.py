"""What the yard gives: boats, their revisions and trials, and what cannot be read."""

from dataclasses import dataclass

from yarekeel.core.errors import NotFound
from yarekeel.stages.design.design import Design
from yarekeel.stages.trials.trials import FloatTest

LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


def letter_of(number: int) -> str:
    """0 is A, 25 is Z, 26 is AA."""
    return letter_of(number // 26 - 1) + LETTERS[number % 26] if number >= 26 else LETTERS[number]


@dataclass(frozen=True, slots=True)
class TrialRecord:
    """A trial: its own number, the revision it ran on, and the readings."""

    id: int
    letter: str
    test: FloatTest


@dataclass(frozen=True, slots=True)
class Revision:
    """A revision as it stands. ``snapshot`` is what an edit must name as the state it was made on."""

    id: int
    boat_id: int
    number: int
    letter: str
    follows: str | None
    note: str
    units: str
    snapshot: int
    design: Design
    trials: tuple[TrialRecord, ...]
    undo_label: str | None
    redo_label: str | None
    is_sealed: bool = False
    """A revision with a trial on it can only be followed."""
    lost_trials: tuple[str, ...] = ()
    """Why each trial that cannot be read cannot."""


@dataclass(frozen=True, slots=True)
class Unreadable:
    """A revision whose state this program cannot use (a limit it breaks, a mesh that is gone): why, and its file as it was kept."""

    boat_id: int
    letter: str
    name: str
    why: str
    document: str


@dataclass(frozen=True, slots=True)
class Boat:
    """A boat in the yard with its revisions in order; the last is the one worked on. There may be none that can be read."""

    id: int
    units: str
    revisions: tuple[Revision, ...]
    unreadable: tuple[Unreadable, ...] = ()

    @property
    def latest(self) -> Revision:
        """The last revision that can be read. Raises NotFound where none can."""
        if not self.revisions:
            raise NotFound(self._sentence(self.unreadable[-1]))
        return self.revisions[-1]

    @property
    def next_number(self) -> int:
        """What the next revision is counted as."""
        return len(self.revisions) + len(self.unreadable)

    def revision(self, letter: str) -> Revision:
        """The revision of a letter. Raises NotFound where there is none, or it cannot be read."""
        for revision in self.revisions:
            if revision.letter == letter:
                return revision
        for lost in self.unreadable:
            if lost.letter == letter:
                raise NotFound(self._sentence(lost))
        raise NotFound(f"This boat has no revision {letter[:8]}.")

    @staticmethod
    def _sentence(lost: Unreadable) -> str:
        return f"Revision {lost.letter} of {lost.name} cannot be read: {lost.why} Save it as a file from the yard."
