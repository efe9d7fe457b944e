"""A boat's card in the yard: as it floats, and its gravest verdict; worked out once for a state and kept with it."""

import dataclasses
import json
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel import __version__
from yarekeel.core.errors import YareKeelError
from yarekeel.stages.design.design import Design
from yarekeel.stages.judging.gravest import gravest
from yarekeel.store.berths import BerthRecord
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS, said
from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.shared.page import Reader, craft_of

MADE_BY = f"{__version__}, cards 1"
"""A card made by another program, or in another way, is made anew."""


@dataclass(frozen=True)
class Card:
    """What is shown of a state."""

    picture: str
    state: str
    verdict: str
    tone: str
    hull: str


@dataclass(frozen=True)
class Berth:
    """A boat in the list; ``card`` is None where it has yet to be worked out."""

    id: int
    name: str
    href: str
    letter: str
    chain: tuple[tuple[str, bool], ...]
    card: Card | None

    @property
    def picture(self) -> Markup:
        """The boat afloat."""
        return Markup(self.card.picture if self.card else "")


def berth_of(yard: Yard, record: BerthRecord, *, now: bool) -> Berth:
    """A boat's place in the list, its card as kept; worked out ``now`` where it is not."""
    card = Card(**json.loads(record.card)) if record.card else None
    if card is None and now:
        card = _worked_out(yard, record)
    href = f"/boats/{record.id}/{record.letter}/float"
    return Berth(record.id, record.name, "" if card and not card.hull else href, record.letter, record.chain, card)


def _worked_out(yard: Yard, record: BerthRecord) -> Card:
    """The card of a boat as it is; one that cannot be read or worked out says so, and harms no other."""
    boat = yard.boat(record.id)
    lost = next((u for u in boat.unreadable if u.letter == record.letter), None)
    if lost is not None:
        saved = " Save it as a file; nothing of it is lost." if lost.document else ""
        why = f"This program cannot read it: {lost.why}{saved}"
        return Card(picture="", state=why, verdict="It cannot be read", tone="fails", hull="")
    design = boat.revision(record.letter).design
    try:
        now = afloat_now(design, Reader(SYSTEMS[record.units]), 340.0, 150.0)
    except YareKeelError as error:
        hull = design.bodies[0].shape.title
        return Card(picture="", state=str(error), verdict="It cannot be worked out", tone="fails", hull=hull)
    verdict, tone = _gravest(record.units, design, now)
    card = Card(picture=str(now.picture), state=now.words, verdict=verdict, tone=tone, hull=design.bodies[0].shape.title)
    yard.berths.keep_card(record.state, record.units, MADE_BY, json.dumps(dataclasses.asdict(card), ensure_ascii=False))
    return card


def _gravest(units: str, design: Design, now: AfloatNow) -> tuple[str, str]:
    """The gravest verdict of all stages in the boat's units, with how many more stand as badly; and how it stands."""
    try:
        found = gravest(craft_of(design))
    except YareKeelError:
        found = None
    if found is None:
        return now.verdict, now.tone
    more = f"; {found.more} more {'fail' if found.more > 1 else 'fails'}" if found.more and found.finding.severity == "fails" else ""
    return said(found.finding, SYSTEMS[units]).title + more, found.finding.severity
