"""A boat of the yard as the binder tells of it."""

from yarekeel.core.errors import NotFound
from yarekeel.exchange.binder.content import Told
from yarekeel.store.faults import StoreFault
from yarekeel.store.records import Boat
from yarekeel.store.yard import Yard


def told_of(yard: Yard, boat: Boat) -> tuple[Told, ...]:
    """Each revision with its trials and what was expected of it."""
    out = []
    for r in boat.revisions:
        expected = [p.figures for p in yard.predictions.of(r.id) if p.kind == "expected"]
        out.append(Told(r.letter, r.note, r.design, tuple(t.test for t in r.trials), expected[-1] if expected else None))
    return tuple(out)


def photo_of(yard: Yard, name: str) -> bytes | None:
    """A photo's bytes; None for one that is gone."""
    try:
        return yard.photo_data(name)
    except (NotFound, StoreFault):  # the rest is bound
        return None
