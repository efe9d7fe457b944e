"""``yare-keel binder``: a boat of the yard, or a boat file, bound into one PDF."""

from datetime import date
from pathlib import Path

from yarekeel.cli.words import working
from yarekeel.core.errors import InvalidInput, YareKeelError
from yarekeel.exchange import bundle
from yarekeel.exchange.binder import pdf
from yarekeel.exchange.binder.content import Told, bound
from yarekeel.store.binders import photo_of, told_of
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS


def boat_named(yard: Yard, boat: str) -> int:
    """The number of a boat that is named by it or by its name. Raises YareKeelError for none, or more than one."""
    named = [b.id for b in yard.boats() if str(b.id) == boat or (b.revisions and b.latest.design.name == boat)]
    if not named:
        raise YareKeelError(f"There is no boat {boat[:60]} in the yard.")
    if len(named) > 1:
        raise YareKeelError(f"{len(named)} boats are called {boat[:60]}; name one by its number: {', '.join(map(str, named))}.")
    return named[0]


def bind(boat: str, file: Path, revision: str, paper: str, data: Path) -> None:
    """Write the PDF. Raises YareKeelError in one sentence."""
    if paper not in pdf.PAPERS:
        raise InvalidInput("paper", f"Paper is one of: {', '.join(pdf.PAPERS)}.")
    day = f"{date.today():%Y-%m-%d}"
    if boat.endswith((".json", ".zip")) and Path(boat).is_file():
        design = bundle.load(Path(boat)).design
        system = SYSTEMS["mm_kg" if design.brief.kind == "people" else "mm_g"]
        b, sections = bound((Told("A", "", design),), "A", system, day)
        file.write_bytes(pdf.write(b, sections, lambda name: None, paper))
        return
    if not data.is_file():
        raise YareKeelError(f"There is no yard at {data}.")
    yard = Yard(open_database(data))
    try:
        found = yard.boat(boat_named(yard, boat))
        chosen = found.revision(revision) if revision else found.latest
        with working("binder"):
            b, sections = bound(told_of(yard, found), chosen.letter, SYSTEMS[found.units], day)
        file.write_bytes(pdf.write(b, sections, lambda name: photo_of(yard, name), paper))
    finally:
        yard.close()
