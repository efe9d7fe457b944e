"""Brief: the targets, each with the reason for its default."""

from dataclasses import dataclass

from yarekeel.stages.brief import brief
from yarekeel.stages.design.brief import LEFT_OPEN
from yarekeel.units import WordedFinding, fill
from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.shared.fields import Field
from yarekeel.web.stages.brief.size import MapView, ScalesView, ShelfView, SizeView, map_of, scales_of, shelves_of, size_of
from yarekeel.web.stages.page_request import PageRequest

PARTS = ("side", "live", "form")
TABS = (("brief", "What it must do"), ("size", "Size it"), ("map", "Size map"), ("scales", "Three scales"), ("shelf", "Off the shelf"))


@dataclass(frozen=True)
class BriefView:
    general: tuple[Field, ...]
    targets: tuple[Field, ...]
    density: str
    findings: tuple[WordedFinding, ...]
    now: AfloatNow
    also: tuple[Field, ...]
    tab: str
    tabs: tuple[tuple[str, str], ...]
    sealed: bool
    size: SizeView | None
    scales: ScalesView | None
    shelves: tuple[ShelfView, ...] | None
    map: MapView | None


def view(asked: PageRequest) -> BriefView:
    """Fields, reasons and verdicts."""
    kind = asked.design.brief.kind

    def reason(words: str) -> str:
        return fill(words, brief.IN_REASONS, asked.reader.system)

    result = brief.assess(asked.craft)
    tab = asked.ask.get("tab", "")
    tab = tab if tab in dict(TABS) else "brief"
    size = size_of(asked) if tab == "size" else None
    return BriefView(
        general=(
            asked.field("name"),
            asked.field("brief.kind", "Sets the defaults below; what you changed stays."),
            asked.field("water.kind"),
            asked.field("water.temperature_c"),
        ),
        targets=tuple(
            asked.field(f"brief.{name}", fill(reasons[kind], brief.IN_REASONS, asked.reader.system))
            for name, reasons in brief.REASONS.items()
        ),
        density=asked.reader.say(asked.craft.density, "density"),
        findings=(size.findings if size else ()) + asked.reader.findings(result.findings),
        now=afloat_now(asked.design, asked.reader),
        also=tuple(asked.field(f"brief.{name}") for name in LEFT_OPEN),
        tab=tab,
        tabs=TABS,
        sealed=asked.sealed,
        size=size,
        scales=scales_of(asked) if tab == "scales" else None,
        map=map_of(asked) if tab == "map" else None,
        shelves=shelves_of(asked) if tab == "shelf" else (),
    )
