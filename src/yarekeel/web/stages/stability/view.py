"""Stability: the righting arm, the plain tests, floats and sails, criteria, rolling and inclining, and what each cure costs."""

from dataclasses import dataclass
from importlib import import_module

from yarekeel.stages.design.outers import outers_of
from yarekeel.units import Said
from yarekeel.web.stages.asked import Asked
from yarekeel.web.stages.stability.heeled import Heeled, heeled
from yarekeel.web.stages.tab import Tab

PARTS = ("live", "side", "more", "form")
TABS = (
    ("curve", "Righting arm"),
    ("tests", "Plain tests"),
    ("floats", "Floats and hulls"),
    ("sail", "Sail"),
    ("criteria", "Criteria"),
    ("roll", "Roll and incline"),
    ("cures", "Cures"),
)
_VIEWS = {code: import_module(f"yarekeel.web.stages.stability.tabs.{code}") for code, _ in TABS}


@dataclass(frozen=True)
class StabilityView:
    empty: bool
    tab: str
    tabs: tuple[tuple[str, str], ...]
    part: Tab
    cautions: tuple[Said, ...]
    sealed: bool
    heeled: Heeled | None = None


def view(asked: Asked) -> StabilityView:
    """The tab asked for."""
    tabs = tuple((code, title) for code, title in TABS if code != "floats" or outers_of(asked.craft))
    tab = asked.ask.get("tab", "")
    tab = tab if tab in dict(tabs) else "curve"
    if not any(w.mass_kg > 0 for w in asked.craft.items):
        return StabilityView(True, tab, (), Tab(), (), asked.sealed)
    boat = heeled(asked)
    cautions = tuple(f for f in asked.reader.findings(boat.result.findings) if f.code.startswith("caution."))
    return StabilityView(False, tab, tabs, _VIEWS[tab].view(asked), cautions, asked.sealed, boat)
