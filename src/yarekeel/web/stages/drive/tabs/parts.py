"""Parts bin: what of the yard's bin is on this boat, and what can be fitted."""

from dataclasses import dataclass

from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.propulsion.parts import KINDS
from yarekeel.core.sources import COMMON_PRACTICE
from yarekeel.stages.design.fittings import Keyed, is_listed
from yarekeel.web.shared.part_words import figures
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Tab

TITLE, RANK = "Parts bin", 6


@dataclass(frozen=True)
class FittedRow:
    number: int
    kind: str
    name: str
    motor: str
    mass: str
    note: str
    key: str
    changed: bool


@dataclass(frozen=True)
class BinRow:
    key: str
    kind: str
    name: str
    mass: str
    figures: str
    known: str
    of_motor: bool


@dataclass(frozen=True)
class PartsMore:
    fitted: tuple[FittedRow, ...]
    rows: tuple[BinRow, ...]
    kinds: tuple[tuple[str, str], ...]
    shown: str
    motors: tuple[tuple[str, str], ...]
    motor: str


def view(asked: PageRequest) -> Tab:
    """Both lists, and what of the fitted ones wants a look."""
    names = tuple(m.name for m in asked.design.drive.motors)
    shown = asked.ask.get("part_kind", "")
    motor = asked.ask.get("part_motor", "")
    keyed = asked.parts()
    known = {k.key: k for k in keyed}
    rows = tuple(_fitted(asked, n, known) for n in range(len(asked.design.drive.fitted)))
    return Tab(
        findings=asked.reader.findings(_findings(rows)),
        title="What the parts say",
        more=PartsMore(
            fitted=rows,
            rows=tuple(_row(asked, k) for k in keyed if not shown or k.part.kind == shown),
            kinds=(("", "all kinds"), *((k.code, k.title) for k in KINDS.values())),
            shown=shown,
            motors=tuple((n, n) for n in names),
            motor=motor if motor in names else (names[0] if names else ""),
        ),
    )


def _fitted(asked: PageRequest, number: int, known: dict[str, Keyed]) -> FittedRow:
    design = asked.design
    row = design.drive.fitted[number]
    line = next((w for w in design.weights if w.name == row.line), None)
    now = known.get(row.part)
    changed = now is not None and now.part.stamp != row.stamp
    note = "in Weights" if is_listed(design, row) else "its line was taken out of Weights"
    if changed:
        note += "; the bin's has changed since"
    if now is None:
        note += "; no longer in the bin"
    mass = asked.reader.say(line.mass_kg, "mass") if line is not None else ""
    return FittedRow(number, KINDS[row.kind].title, row.name, row.motor or "the boat", mass, note, row.part, changed)


def _row(asked: PageRequest, keyed: Keyed) -> BinRow:
    p = keyed.part
    known = "my own" if p.known == "own" else p.known
    mass = asked.reader.say(p.mass_kg, "mass")
    return BinRow(keyed.key, KINDS[p.kind].title, p.name, mass, figures(p, asked.reader.system), known, KINDS[p.kind].of_motor)


def _findings(rows: tuple[FittedRow, ...]) -> tuple[Finding, ...]:
    if not rows:
        text = "Fit a part and its mass stands in Weights at its place, once; take a line that you had for it out there."
        return (Finding("parts.none", "note", "No part of the bin is fitted", text, source=COMMON_PRACTICE),)
    values: dict[str, float | str] = {"count": len(rows)}
    text = "Each has a line in Weights that moves with its motor. Lines that you typed for the same things before count twice: look there."
    remedies = (Remedy("See Weights", "weights"),)
    out = [Finding("parts.fitted", "note", "{count:count} of the bin on this boat", text, COMMON_PRACTICE, values, remedies)]
    old = [r.name for r in rows if r.changed]
    if old:
        text = "What is fitted stays as it was until you take the change over."
        out.append(Finding("parts.changed", "near", "{name} was changed in the bin since", text, COMMON_PRACTICE, {"name": old[0]}))
    return tuple(out)
