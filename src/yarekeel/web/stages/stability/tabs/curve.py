"""The righting arm: the boat leaning, the curve both ways, other loads and revisions beside it."""

import math
from dataclasses import dataclass

from markupsafe import Markup

from yarekeel.core.errors import InvalidInput, Unsolved
from yarekeel.core.stability.righting import Righted, RightingCurve
from yarekeel.drawing import righting, tank
from yarekeel.drawing.righting import Curve, Happening
from yarekeel.stages.stability.events import Event
from yarekeel.stages.stability.stability import StabilityAssessment, end_of
from yarekeel.web.shared.page import Readout, craft_of
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.stability.heeled import Heeled, assessed, heeled
from yarekeel.web.stages.tab import Question, Tab

TITLE, RANK = "Righting arm", 0
NOTE = "GZ with sinkage and trim free, on this hull's mesh. Official stability tests of the small-craft standards are not replaced by it."

FIRST_LEAN = 20
BESIDE = (("", "nothing else"), ("loads", "every load"), ("revisions", "every revision"))
MOST_BESIDE = 6
LOOKS = ("warm", "soft2", "faint")
WORDS = {
    "rim": "{name} under",
    "deck": "deck edge under",
    "opening": "{name} under",
    "touches": "{name} touches",
    "under": "{name} under",
    "flies": "{name} flies",
    "propeller": "{name} out",
}


@dataclass(frozen=True)
class CurveMore:
    lean: int
    leaning: Markup
    chart: Markup
    picks: tuple[tuple[str, str, tuple[tuple[str, str], ...], str], ...]
    litres: Question
    note: str


def view(asked: PageRequest) -> Tab:
    """The curve, and the boat held at the lean asked for."""
    h = heeled(asked)
    r = h.result
    findings = asked.reader.findings(r.findings)
    if r.afloat is None or r.boat is None or r.starboard is None or r.port is None or r.worse is None:
        return Tab(findings=findings, title="How tippy", note=NOTE)
    lean = _lean(asked.ask.get("lean", ""))
    more = CurveMore(
        lean=lean,
        leaning=_leaning(asked, h, r.boat, lean),
        chart=_chart(asked, h, r.starboard, r.port),
        picks=(
            ("load", "Load", h.loads, h.load),
            ("into", "Water in", h.places, h.into),
            ("beside", "Beside it", BESIDE, asked.ask.get("beside", "")),
        ),
        litres=h.litres,
        note=h.words,
    )
    return Tab(readouts=_readouts(asked, r, r.worse), findings=findings, title="How tippy", more=more, note=NOTE)


def _lean(text: str) -> int:
    try:
        return max(-180, min(180, int(text)))
    except ValueError:
        return FIRST_LEAN


def _leaning(asked: PageRequest, h: Heeled, boat: Righted, lean: int) -> Markup:
    curve = h.result.starboard if lean >= 0 else h.result.port
    assert curve is not None
    heel = math.radians(lean)
    near = min(curve.points, key=lambda p: abs(p.heel - heel))
    try:
        held = boat.held(heel, near.trim, -near.attitude.height_of(boat.kernel.centre))
    except Unsolved:
        held = boat.held(near.heel, near.trim, -near.attitude.height_of(boat.kernel.centre))
    gravity, buoyancy = boat.centres(held)
    return Markup(
        tank.leaning(
            hull=h.craft.hull,
            attitude=held.attitude,
            gravity=gravity,
            buoyancy=buoyancy,
            arm=held.righting_arm * boat.share,
            say=asked.reader.say,
        )
    )


def _chart(asked: PageRequest, h: Heeled, starboard: RightingCurve, port: RightingCurve) -> Markup:
    r, say, system = h.result, asked.reader.say, asked.reader.system
    if r.symmetric:
        curves = [Curve(h.load if h.load not in ("-", "") else "this boat", starboard, "", ("starboard", "port"))]
    else:
        both = ((starboard, "starboard"), (port, "port"))
        first, second = both if r.worse is starboard else both[::-1]  # the verdicts speak of the worse
        curves = [Curve(f"to {first[1]}", first[0], "", (first[1],)), Curve(f"to {second[1]}", second[0], "soft", (second[1],))]
    worse = r.worse
    assert worse is not None
    events = [e for e in r.events_of(worse.side) if abs(e.heel) <= abs(worse.points[-1].heel)]
    others = _beside(asked, h)
    if others:
        events = [e for e in events if e.code in ("rim", "opening", "touches", "flies")]
    wet = r.water_in(worse.side)
    return Markup(
        righting.draw(
            [*curves, *others],
            tuple(_happening(e, say) for e in _first_of_each(events)),
            abs(wet.heel) if wet else None,
            say,
            system.length.label,
            system.length.si,
        )
    )


def _first_of_each(events: list[Event]) -> list[Event]:
    """The first touch and the first float under are enough on one chart."""
    out: list[Event] = []
    for e in events:
        if e.code in ("touches", "under", "propeller") and any(o.code == e.code for o in out):
            continue
        out.append(e)
    return out


def _happening(event: Event, say: righting.Say) -> Happening:
    look = "rim-line warn" if event.code in ("rim", "opening") else "rim-line"
    return Happening(f"{WORDS[event.code].format(name=event.name)} {say(abs(event.heel), 'angle0')}", abs(event.heel), look)


def _beside(asked: PageRequest, h: Heeled) -> list[Curve]:
    """The worse side of every other load or revision."""
    what = asked.ask.get("beside", "")
    found: list[tuple[str, StabilityAssessment]] = []
    if what == "loads":
        for name, _ in h.loads[1:]:
            if name != h.craft.design.case:
                found.append((name or "as listed", assessed(craft_of(h.craft.design).in_case(name).design)))
    elif what == "revisions":
        for revision in asked.boat.revisions:
            if revision.letter != asked.revision.letter:
                try:
                    found.append((f"revision {revision.letter}", assessed(revision.design)))
                except InvalidInput:
                    continue
    curves = [(name, r.worse) for name, r in found[:MOST_BESIDE] if r.worse is not None]
    return [Curve(name, c, LOOKS[k % len(LOOKS)]) for k, (name, c) in enumerate(curves) if c is not None]


def _readouts(asked: PageRequest, r: StabilityAssessment, curve: RightingCurve) -> tuple[Readout, ...]:
    reader, say, brief, a = asked.reader, asked.reader.say, asked.design.brief, r.afloat
    assert a is not None
    gm = a.judged_gm
    tone = {f.code: f.severity for f in r.findings}
    safe, wet = r.safe_range, r.water_in(curve.side)
    asked_gm = f"asked {say(brief.least_gm_m, 'length')}"
    peak = f"at {say(abs(curve.peak.heel), 'angle0')}" + (f"; asked {say(brief.least_peak_m, 'length')}" if brief.least_peak_m else "")
    which = "" if r.symmetric else " to starboard" if curve.side > 0 else " to port"
    out = [
        reader.figure(
            label="GM, upright" if a.is_unsteady else "GM", value=gm, kind="length", note=asked_gm, tone=tone.get("stability.gm", "fails")
        ),
        reader.figure(
            label="Hardest push back" + which,
            value=curve.righting_arm(curve.peak),
            kind="length",
            note=peak,
            tone=tone.get("stability.peak_asked", ""),
        ),
    ]
    range_tone = next((tone[f"stability.{c}"] for c in ("range_asked", "range_wet", "range") if f"stability.{c}" in tone), "")
    if curve.rights:
        floods = wet is not None and safe < abs(end_of(curve))
        more = "and more" if not floods and curve.vanishing is None and safe < math.radians(179) else ""
        note = "water comes in there" if floods else "comes back from any lean up to there"
        note += f"; asked {brief.least_range_deg:g}°" if brief.least_range_deg else ""
        out.append(Readout(label="Range" + which, number=say(safe, "angle0"), unit=more, note=note, tone=range_tone))
    else:
        out.append(Readout(label="Range", number="none", unit="", note="comes back from no lean", tone="fails"))
    name = f"{wet.name} at the surface" if wet else "nothing that lets it in goes under"
    early = tone.get("stability.downflooding", "")
    out.append(Readout(label="Water comes in", number=say(abs(wet.heel), "angle0") if wet else "–", unit="", note=name, tone=early))
    return tuple(out)
