"""Shape: the family, its parameters and the lines they give."""

from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.core.geometry.families.parameters import parameters_of
from yarekeel.drawing import lines
from yarekeel.stages import shape
from yarekeel.units import Said
from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.shared.fields import Field
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.asked import Asked

PARTS = ("live", "side", "form")


@dataclass(frozen=True)
class ShapeView:
    picture: Markup
    family: Field
    deck: Field
    parameters: tuple[Field, ...]
    marks: tuple[Field, ...]
    readouts: tuple[Readout, ...]
    findings: tuple[Said, ...]
    now: AfloatNow


def view(asked: Asked) -> ShapeView:
    """The lines, the fields and the hull's measures."""
    result = shape.assess(asked.craft)
    marks = asked.craft.marks
    return ShapeView(
        picture=Markup(lines.draw(asked.craft.hull, asked.reader.say)),
        family=asked.field("bodies.0.shape.kind", value=asked.design.bodies[0].shape.kind),
        deck=asked.field("bodies.0.deck"),
        parameters=tuple(asked.field(f"bodies.0.shape.{p.name}", p.meaning) for p in parameters_of(asked.design.bodies[0].shape)),
        marks=(
            asked.field("marks.stern_x_m", "where draft is read", value=marks.stern_x_m),
            asked.field("marks.bow_x_m", "where draft is read", value=marks.bow_x_m),
        ),
        readouts=(
            asked.reader.figure("Closed volume", result.volume, "volume", "all of it, to the deck"),
            asked.reader.figure("Surface", result.surface, "area", "skin and deck"),
        ),
        findings=asked.reader.findings(result.findings),
        now=afloat_now(asked.design, asked.reader),
    )
