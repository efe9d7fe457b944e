"""What a boat's own data can do to its sums, as a verdict on that boat: nothing of it may reach another."""

import logging

from yarekeel.core.errors import InvalidInput, NoRest, YareKeelError
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.sources import MECHANICS

_log = logging.getLogger("yarekeel")


def lost_trial(why: str) -> Finding:
    """A trial that is kept but cannot be read, with why."""
    return Finding("trial.unreadable", "fails", "A trial is kept but cannot be shown", "{why}", source=MECHANICS, values={"why": why})


def noted_fault(error: Exception) -> Finding:
    """The error as a finding; one that is the program's own is kept in its log, to be mended."""
    if not isinstance(error, YareKeelError):
        _log.exception("a page failed", exc_info=error)
    return fault_of(error)


def fault_of(error: Exception) -> Finding:
    """The error as a finding, with where to mend it; one of the program's own making says that it is."""
    if not isinstance(error, YareKeelError):
        words = "The program came upon something in what is kept of this boat that it cannot work with ({what}). Other pages still work."
        return Finding(
            "boat.fault", "fails", "The program is at fault here", words, source=MECHANICS, values={"what": type(error).__name__}
        )
    where = "weights" if isinstance(error, InvalidInput) and error.field.startswith("weights") else "shape"
    title = "It comes to no rest" if isinstance(error, NoRest) else "This boat cannot be worked out"
    way = (Remedy("Undo the last change, or mend it there", where),)
    return Finding("boat.fault", "fails", title, "{why}", source=MECHANICS, values={"why": str(error)}, remedies=way)
