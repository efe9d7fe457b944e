"""Stability: the righting arm, the plain tests, floats and sails, criteria, rolling and inclining, and what each cure costs."""

from dataclasses import dataclass

from yarekeel.units import WordedFinding
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.stability import tabs
from yarekeel.web.stages.stability.heeled import Heeled, heeled
from yarekeel.web.stages.tab import Tab, tabs_of, titles

PARTS = ("live", "side", "more", "form")
TABS = tabs_of(tabs)


@dataclass(frozen=True)
class StabilityView:
    empty: bool
    tab: str
    tabs: tuple[tuple[str, str], ...]
    part: Tab
    cautions: tuple[WordedFinding, ...]
    sealed: bool
    heeled: Heeled | None = None


def view(asked: PageRequest) -> StabilityView:
    """The tab asked for."""
    shown = titles(TABS, asked)
    tab = asked.ask.get("tab", "")
    tab = tab if tab in dict(shown) else shown[0][0]
    if not any(w.mass_kg > 0 for w in asked.craft.items):
        return StabilityView(empty=True, tab=tab, tabs=(), part=Tab(), cautions=(), sealed=asked.sealed)
    boat = heeled(asked)
    cautions = tuple(f for f in asked.reader.findings(boat.result.findings) if f.code.startswith("caution."))
    return StabilityView(empty=False, tab=tab, tabs=shown, part=TABS[tab].view(asked), cautions=cautions, sealed=asked.sealed, heeled=boat)
