"""The weigh-in on the page: the way of weighing in hand, its drawing and fields, what was found, the corrections offered."""

import math
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Kilograms
from yarekeel.drawing import weigh_in as drawing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.weights import weigh_in
from yarekeel.units import System, WordedFinding, said
from yarekeel.web.shared.fields import Field
from yarekeel.web.shared.page import float_of
from yarekeel.web.stages.page_request import PageRequest


@dataclass(frozen=True)
class Way:
    """A way of weighing: what it finds, and the readings it takes."""

    code: str
    title: str
    finds: str
    readings: tuple[str, ...]


WAYS = (
    Way("scale", "On one scale", "all-up mass", ("mass_kg",)),
    Way("two", "On two scales", "LCG", ("aft_kg", "fore_kg", "aft_x_m", "fore_x_m")),
    Way("edge", "On an edge", "LCG", ("edge_x_m",)),
    Way("side", "Side scales", "TCG", ("port_kg", "starboard_kg", "port_y_m", "starboard_y_m")),
    Way("tip", "Tipped", "VCG", ("tip_deg", "tip_y_m", "tip_z_m")),
    Way("raise", "One end raised", "VCG", ("raised_kg", "rise_m", "support_z_m", "aft_x_m", "fore_x_m")),
    Way("hang", "Hung", "VCG", ("hang_deg", "hang_x_m", "hang_z_m")),
)
PRECISION = ("scale_kg", "place_m", "angle_deg")
_PUT = {"scale": ("boat",), "two": ("aft", "fore"), "side": ("port", "starboard"), "raise": ()}
_PUT_WORDS = {
    "boat": "the whole boat",
    "aft": "the boat's aft support",
    "fore": "the boat's fore support",
    "port": "the boat's port support",
    "starboard": "the boat's starboard support",
}


@dataclass(frozen=True)
class WeighedLine:
    """A figure listed and measured."""

    title: str
    listed: str
    listed_band: str
    measured: str
    measured_band: str
    verdict: str
    tone: str


@dataclass(frozen=True)
class Correction:
    """A correction offered, with what it would change; ``code`` empty where it cannot be done."""

    code: str
    said: WordedFinding
    changes: tuple[tuple[str, str, str], ...]


@dataclass(frozen=True)
class Weighing:
    """All of the weigh-in."""

    way: Way
    ways: tuple[Way, ...]
    picture: Markup
    how: str
    fields: tuple[Field, ...]
    precision: tuple[Field, ...]
    takes: tuple[tuple[str, str], ...]
    puts: tuple[tuple[str, str], ...]
    lines: tuple[WeighedLine, ...]
    findings: tuple[WordedFinding, ...]
    corrections: tuple[Correction, ...]
    practice: bool
    practised: bool
    scale_unit: tuple[str, float, int]
    """Of the bench scale's display: its label, how many kilograms it is, and the decimals that a gram takes in it."""


GRAM: Kilograms = 0.001


def scale_unit_of(system: System) -> tuple[str, float, int]:
    """How the bench scale's display is read in a system."""
    unit = system.mass
    return unit.label, unit.si, max(0, math.ceil(-math.log10(GRAM / unit.si) - 1e-9))


def weighing_of(asked: PageRequest) -> Weighing:
    """The weigh-in with the way that is asked for in hand."""
    craft, reader, say = asked.craft, asked.reader, asked.reader.say
    way = next((w for w in WAYS if w.code == asked.ask.get("way")), WAYS[0])
    result = weigh_in.assess(craft)
    centre = craft.total.centre if any(i.mass_kg > 0 for i in craft.items) else (0.0, 0.0, 0.0)
    picture = drawing.draw(way.code, craft.hull, asked.design.weigh_in, centre, say)
    fields = tuple(asked.field(f"weigh_in.{name}") for name in way.readings)
    heaviest = sorted((k for k, i in enumerate(craft.items) if i.mass_kg > 0), key=lambda k: -craft.items[k].mass_kg)[:12]
    puts = [("nothing", "nothing"), *((p, _PUT_WORDS[p]) for p in _PUT.get(way.code, ("boat",)))]
    puts += [(str(k), craft.items[k].name) for k in heaviest]
    lines = []
    for line in result.lines:
        listed, band = say(line.listed.value, line.kind), f"±{say(line.listed.half_width, line.kind)}"
        if line.measured is None:
            lines.append(
                WeighedLine(
                    title=line.title, listed=listed, listed_band=band, measured="not measured", measured_band="", verdict="", tone="note"
                )
            )
            continue
        measured, close = say(line.measured.value, line.kind), f"±{say(line.measured.half_width, line.kind)}"
        verdict, tone = ("agrees", "holds") if line.agrees else ("differs", "near")
        lines.append(
            WeighedLine(
                title=line.title, listed=listed, listed_band=band, measured=measured, measured_band=close, verdict=verdict, tone=tone
            )
        )
    return Weighing(
        way=way,
        ways=WAYS,
        picture=Markup(picture),
        how=drawing.words(way.code),
        fields=fields,
        precision=tuple(asked.field(f"weigh_in.{name}") for name in PRECISION),
        takes=tuple((f.path, f.label) for f in fields if f.path.endswith("_kg")),
        puts=tuple(puts),
        lines=tuple(lines),
        findings=reader.findings(result.findings),
        practice=asked.design.practice,
        practised=bool(asked.design.weigh_in.practice),
        corrections=tuple(
            Correction("" if design is None else code, said(finding, reader.system), _changes(asked, design))
            for code, finding, design in result.corrections
        ),
        scale_unit=scale_unit_of(reader.system),
    )


def _changes(asked: PageRequest, design: Design | None) -> tuple[tuple[str, str, str], ...]:
    """What a correction would change: mass, centre, and how it floats."""
    if design is None:
        return ()
    say, now, then = asked.reader.say, asked.craft.total, Craft(design).total
    rows = [("All up", say(now.mass, "mass"), say(then.mass, "mass"))]
    rows += [(n, say(now.centre[k], "draft"), say(then.centre[k], "draft")) for k, n in ((0, "LCG"), (2, "VCG"))]
    try:
        before, after = float_of(asked.design), float_of(design)
    except InvalidInput:
        return tuple(rows)
    if before and after and before.afloat and after.afloat:
        rows.append(("Trim", say(before.afloat.attitude.trim, "trim"), say(after.afloat.attitude.trim, "trim")))
        rows.append(("Freeboard", say(before.afloat.freeboard, "length"), say(after.afloat.freeboard, "length")))
    return tuple(rows)
