"""Brief: the targets, each with the reason for its default."""

from dataclasses import dataclass

from yarekeel.stages import brief
from yarekeel.units import Said
from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.shared.fields import Field
from yarekeel.web.stages.asked import Asked

PARTS = ("side", "form")


@dataclass(frozen=True)
class BriefView:
    general: tuple[Field, ...]
    targets: tuple[Field, ...]
    density: str
    findings: tuple[Said, ...]
    now: AfloatNow


def view(asked: Asked) -> BriefView:
    """Fields, reasons and verdicts."""
    kind = asked.design.brief.kind
    result = brief.assess(asked.craft)
    return BriefView(
        general=(
            asked.field("name"),
            asked.field("brief.kind", "Sets the defaults below; what you changed stays."),
            asked.field("water.kind"),
            asked.field("water.temperature_c"),
        ),
        targets=tuple(asked.field(f"brief.{name}", reasons[kind]) for name, reasons in brief.REASONS.items()),
        density=asked.reader.say(asked.craft.density, "density"),
        findings=asked.reader.findings(result.findings),
        now=afloat_now(asked.design, asked.reader),
    )
