"""What a boat's own data can do to its sums, as a verdict on that boat: nothing of it may reach another."""

from yarekeel.core.errors import InvalidInput, NoRest, YareKeelError
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.sources import MECHANICS


def fault_of(error: YareKeelError) -> Finding:
    """The error as a finding, with where to mend it."""
    where = "weights" if isinstance(error, InvalidInput) and error.field.startswith("weights") else "shape"
    title = "It comes to no rest" if isinstance(error, NoRest) else "This boat cannot be worked out"
    way = (Remedy("Undo the last change, or mend it there", where),)
    return Finding("boat.fault", "fails", title, "{why}", source=MECHANICS, values={"why": str(error)}, remedies=way)
