"""Battery and wiring: cells side by side, a mix of throttle, and the wires."""

from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.stages.drive import pack_verdicts, packs
from yarekeel.web.shared.fields import Field
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Question, Tab, question, refused

TITLE, RANK = "Battery and wiring", 4
USUAL_SHARE, USUAL_THROTTLE, USUAL_LENGTH = 0.3, 0.5, 0.3


@dataclass(frozen=True)
class Pack:
    """A column's words: a pack, and whether a button can fit it."""

    cells: int
    in_use: bool
    cells_words: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class BatteryMore:
    labels: tuple[str, ...]
    packs: tuple[Pack, ...]
    mix: tuple[Question, ...]
    wire: Question
    wires: tuple[tuple[tuple[str, ...], bool], ...]
    why_no_packs: str
    loads: tuple[Question, ...]
    measured: str
    measured_error: str
    resistance: float | None
    wiring: tuple[Field, ...]


WIRING = (
    ("plug_a", "on the plug; 0 if not known"),
    ("supply_a", "for long; 0 if not known"),
    ("receiver_a", ""),
    ("servos", ""),
    ("stall_a", "each, held fast"),
)
LABELS = (
    "Open, charged",
    "Pull from rest",
    "with a fifth left",
    "Current",
    "of what it gives for long",
    "Under load",
    "Sags by",
    "Full throttle lasts",
)


def view(asked: PageRequest) -> Tab:
    """The table of packs, the run time of a mix, the wires."""
    reader, say, design = asked.reader, asked.reader.say, asked.design
    hard_ask, hard = question(asked, "mix_hard", "Full throttle", "percent", say(USUAL_SHARE, "percent"), USUAL_SHARE, "share of the time")
    gentle_ask, gentle = question(
        asked, "mix_gentle", "Else at throttle", "percent", say(USUAL_THROTTLE, "percent"), USUAL_THROTTLE, "for the rest"
    )
    wire_ask, length = question(asked, "wire", "Wire, one way", "length", say(USUAL_LENGTH, "length"), USUAL_LENGTH, "pack to control")
    hard, hard_ask = _within(hard, USUAL_SHARE, hard_ask)
    gentle, gentle_ask = _within(gentle, USUAL_THROTTLE, gentle_ask)
    one_way = length if length is not None and 0 < length <= 50 else USUAL_LENGTH
    if length is not None and not 0 < length <= 50:
        wire_ask = refused(wire_ask, f"A length above nothing, up to {say(50.0, 'length')}.")
    mixed = packs.mixed_time(design, hard, gentle)
    readouts: tuple[Readout, ...] = ()
    if mixed is not None:
        minutes = say(mixed[1], "minutes").split("\N{NO-BREAK SPACE}")
        note = f"{say(hard, 'percent')} of it at full throttle, the rest at {say(gentle, 'percent')}; 80 % of the pack"
        readouts = (
            Readout("Run time of the mix", minutes[0], minutes[-1], note),
            reader.figure("Mean current", mixed[0], "current", "standing still, which draws most"),
        )
    battery = design.drive.battery
    if battery is not None:
        known = "as typed" if battery.resistance_ohm > 0 else "as such packs have; measure it with two loads"
        readouts += (
            reader.figure("Gives for long", packs.lasting_current(battery), "current", "half its label's C: labels are optimistic"),
            reader.figure("Inner resistance", packs.resistance(battery), "resistance", known),
        )
    current = packs.full_current(design)
    lines = packs.wires(battery.voltage_v, current, one_way) if battery and current else ()
    rows = packs.side_by_side(design)
    loads, measured, loads_error, resistance = _two_loads(asked)
    why = "" if rows else "Say on Drive what a motor turns, and give the boat a battery: packs of 2 to 6 cells then stand here."
    return Tab(
        readouts=readouts,
        findings=reader.findings(pack_verdicts.findings(design, one_way)),
        title="What the pack says",
        more=BatteryMore(
            labels=LABELS,
            packs=tuple(_pack(asked, r) for r in rows),
            mix=(hard_ask, gentle_ask),
            wire=wire_ask,
            wires=tuple(_wire(w) for w in lines),
            why_no_packs=why,
            loads=loads,
            measured=measured,
            measured_error=loads_error,
            resistance=resistance,
            wiring=tuple(asked.field(f"drive.wiring.{name}", hint) for name, hint in WIRING),
        ),
    )


def _two_loads(asked: PageRequest) -> tuple[tuple[Question, ...], str, str, float | None]:
    """The four fields of two loads, what they say, why they say nothing, and the resistance to take over."""
    names = (
        ("load_i1", "First load", "current", "2 A"),
        ("load_u1", "at", "voltage", "12.3 V"),
        ("load_i2", "Second load", "current", "20 A"),
        ("load_u2", "at", "voltage", "11.7 V"),
    )
    pairs = [question(asked, name, label, kind, placeholder) for name, label, kind, placeholder in names]
    values = [v for _, v in pairs]
    fields = tuple(q for q, _ in pairs)
    if any(v is None for v in values):
        return fields, "", "", None
    try:
        found = packs.by_two_loads(*(v for v in values if v is not None))
    except InvalidInput as error:
        return fields, "", error.sentence, None
    say = asked.reader.say
    words = f"{say(found.value, 'resistance')}, ±{say(found.half_width, 'resistance')} with a meter that reads to 0.02 V and 1 %."
    return fields, words, "", round(found.value, 5)


def _within(value: float | None, usual: float, ask: Question) -> tuple[float, Question]:
    if value is None or 0 <= value <= 1:
        return (usual if value is None else value), ask
    return usual, refused(ask, "From 0 to 100 %.")


def _pack(asked: PageRequest, row: packs.PackRow) -> Pack:
    say = asked.reader.say
    cells = (
        (say(row.open_volts, "voltage"), ""),
        (say(row.thrust, "force"), ""),
        (say(row.late, "force"), ""),
        (say(row.current, "current"), "fails" if row.over else ""),
        (say(row.share, "percent"), "near" if row.share > 1 else ""),
        (say(row.load_volts, "voltage"), ""),
        (say(row.sag, "percent"), ""),
        (say(row.time, "minutes"), ""),
    )
    return Pack(row.cells, row.in_use, cells)


def _wire(row: packs.WireRow) -> tuple[tuple[str, ...], bool]:
    words = (
        str(row.gauge),
        f"{row.area * 1e6:.2f} mm²",
        f"{row.resistance * 1000:.1f} mΩ",
        f"{row.drop:.2f} V",
        f"{row.share * 100:.1f} %",
        f"{row.heat:.1f} W",
        "carries it" if row.fits else "too thin",
    )
    return words, row.fits
