"""Weights: the list, its total and what it is worth."""

from dataclasses import dataclass

from yarekeel.stages import weights
from yarekeel.units import Said
from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.shared.fields import Field
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.asked import Asked

PARTS = ("live", "side", "form")


@dataclass(frozen=True)
class Row:
    """One weight: its fields in the order of the columns."""

    path: str
    name: str
    index: int
    fields: tuple[Field, ...]


@dataclass(frozen=True)
class Bar:
    name: str
    index: int
    mass: str
    share: float


@dataclass(frozen=True)
class WeightsView:
    rows: tuple[Row, ...]
    sealed: bool
    readouts: tuple[Readout, ...]
    bars: tuple[Bar, ...]
    findings: tuple[Said, ...]
    now: AfloatNow


def view(asked: Asked) -> WeightsView:
    """The list heaviest first, each line its fields."""
    result = weights.assess(asked.craft)
    say = asked.reader.say
    columns = ("name", "mass_kg", "at_m.0", "at_m.1", "at_m.2", "known", "structure")
    rows = tuple(Row(f"weights.{k}", item.name, k, tuple(asked.field(f"weights.{k}.{c}") for c in columns)) for k, item in result.heaviest)
    readouts: tuple[Readout, ...] = ()
    total = result.total
    if total:
        x, y, z = total.centre
        over = total.mass - asked.design.brief.target_mass_kg
        figure, tone = asked.reader.figure, "fails" if over > total.half_width else ("near" if over > 0 else "holds")
        readouts = (
            figure("Displacement", total.mass, "mass", f"±{say(total.half_width, 'mass')} from the unweighed parts", tone),
            figure("LCG, from aft", x, "length", "centre of gravity along the boat", "", "cg"),
            figure("TCG", abs(y), "length", "off the centreline, " + _side(y), "", "cg", extra=1),
            figure("VCG", z, "length", "up from the baseline", "", "cg"),
        )
    most = max((i.mass_kg for _, i in result.heaviest), default=1.0) or 1.0
    bars = tuple(Bar(i.name, k, say(i.mass_kg, "mass"), round(100 * i.mass_kg / most, 1)) for k, i in result.heaviest[:6] if i.mass_kg > 0)
    return WeightsView(rows, asked.sealed, readouts, bars, asked.reader.findings(result.findings), afloat_now(asked.design, asked.reader))


def _side(y: float) -> str:
    return "on it" if abs(y) < 5e-5 else ("to port" if y > 0 else "to starboard")
