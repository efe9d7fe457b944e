"""Under way: how fast, at what trim, on the plane or not, over or not, and a run in time."""

from dataclasses import dataclass

from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab, tabs_of, titles
from yarekeel.web.stages.underway import tabs

PARTS = ("live", "side", "more", "form")
TABS = tabs_of(tabs)


@dataclass(frozen=True)
class UnderwayView:
    empty: bool
    now: AfloatNow
    sealed: bool = False
    tab: str = ""
    tabs: tuple[tuple[str, str], ...] = ()
    part: Tab | None = None


def said_again(shown: UnderwayView) -> tuple[dict[str, str], dict[str, str]]:
    """Words beside fields that an edit changes: what each foil does."""
    wings = getattr(shown.part.more, "wings", ()) if shown.part is not None else ()
    return {}, {f"foil-{w.body}": w.words for w in wings}


def view(asked: PageRequest) -> UnderwayView:
    """The chosen tab; empty while the boat weighs nothing."""
    now = afloat_now(asked.design, asked.reader)
    if not any(w.mass_kg > 0 for w in asked.craft.items):
        return UnderwayView(empty=True, now=now)
    shown = titles(TABS, asked)
    tab = asked.ask.get("tab", "")
    tab = tab if tab in TABS else next(iter(TABS))
    return UnderwayView(empty=False, now=now, sealed=asked.sealed, tab=tab, tabs=shown, part=TABS[tab].view(asked))
