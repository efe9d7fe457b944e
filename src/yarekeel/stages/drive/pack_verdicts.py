"""What packs, plugs, the receiver's supply and wires say of themselves on this boat."""

from dataclasses import replace

from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.propulsion.drive import Wiring, pack_resistance, supply_need
from yarekeel.core.propulsion.pulls import PackSums, packs_of
from yarekeel.core.quantities import Celsius, Metres, Ratio
from yarekeel.core.sources import COMMON_PRACTICE, IEC_60028, OHM
from yarekeel.stages.design.design import Design, with_value
from yarekeel.stages.design.fitted import at_rest_of
from yarekeel.stages.drive.packs import MOST_DROP, full_current, lasting_current, side_by_side, wires

WARM_CELLS: Celsius = 15.0
"""From there on cells are not called cold."""
UNEVEN: Ratio = 0.1
"""Of the longer run time, by which packs may differ without a word."""
PLUG_SHARE: Ratio = 0.8
"""Of a plug's rating that it carries without getting warm (common practice)."""


def findings(design: Design, one_way: Metres) -> tuple[Finding, ...]:
    """What the pack in use and the wires say."""
    out: list[Finding] = []
    battery = design.drive.battery
    row = next((r for r in side_by_side(design) if r.in_use), None)
    if row is not None and row.thrust > 0:
        out.append(
            Finding(
                "drive.fades",
                "note",
                "The pull falls by {share:percent} over a run",
                "{first:force} fully charged, {late:force} with a fifth left. At full throttle the pack sags by {sag:percent}.",
                source=OHM,
                values={"first": row.thrust, "late": row.late, "share": 1 - row.late / row.thrust, "sag": row.sag},
            )
        )
    sums = packs_of(design.drive, tuple(i for _, i in at_rest_of(design)))
    out += pack_findings(sums) + _cold(design) + wired(design)
    current = full_current(design)
    if battery is not None and current > 0:
        fit = [w for w in wires(battery.voltage_v, current, one_way) if w.fits]
        if fit:
            thin = fit[-1]
            out.append(
                Finding(
                    "drive.wire",
                    "note",
                    "Gauge {gauge:count} or thicker, there and back {length:length} each way",
                    "It takes {drop:voltage} ({share:percent}) at {current:current}; at most {most:percent} and 10 A/mm² were allowed.",
                    source=IEC_60028,
                    values={
                        "gauge": thin.gauge,
                        "length": one_way,
                        "drop": thin.drop,
                        "share": thin.share,
                        "current": current,
                        "most": MOST_DROP,
                    },
                )
            )
        else:
            out.append(
                Finding(
                    "drive.wire_none",
                    "fails",
                    "No wire listed carries this so far",
                    "{current:current} over {length:length} each way: shorten it, or run two in parallel.",
                    source=IEC_60028,
                    values={"current": current, "length": one_way},
                )
            )
    return tuple(out)


def wired(design: Design) -> list[Finding]:
    """What plugs, the receiver's supply and several packs say of themselves."""
    sums = packs_of(design.drive, tuple(i for _, i in at_rest_of(design)))
    return _uneven(sums) + _plug(design, sums) + _supply(design.drive.wiring)


def pack_findings(packs: tuple[PackSums, ...]) -> list[Finding]:
    """What every pack's limit says of its current at full throttle; a label's counts half."""
    return [_pack_finding(p, several=len(packs) > 1) for p in packs if p.current > 0]


def _pack_finding(pack: PackSums, *, several: bool) -> Finding:
    b = pack.battery
    lasting = lasting_current(b)
    whose = ("The pack of " + pack.motor if pack.motor else "The boat's pack") if several else "The pack"
    values: dict[str, float | str] = {"whose": whose, "current": pack.current, "limit": pack.limit, "lasting": lasting}
    values["share"] = pack.current / lasting
    by = "its C as tested" if b.c_tested else "half its label's C, for labels are optimistic"
    if pack.current > pack.limit:
        text = (
            "It was tested to {limit:current}" if b.c_tested else "Its label allows {limit:current}"
        ) + ": throttle fades, the pack heats."
        remedies = (Remedy("A larger or higher-C pack, or less pitch", "drive"),)
        return Finding("drive.over_current", "fails", "{whose} cannot give {current:current}", text, COMMON_PRACTICE, values, remedies)
    if pack.current > lasting:
        text = f"For long it gives {{lasting:current}}: {by}. Beyond, expect sag and heat."
        title = "{whose} gives {current:current} only for a while"
        return Finding("drive.high_current", "near", title, text, COMMON_PRACTICE, values, (Remedy("A higher-C pack", "drive"),))
    text = f"{{share:percent}} of the {{lasting:current}} that it gives for long: {by}."
    return Finding("drive.current", "holds", "{whose} gives {current:current} easily", text, COMMON_PRACTICE, values)


def _cold(design: Design) -> list[Finding]:
    """What cold cells cost in pull; nothing where they are warm, or no pack turns a motor."""
    battery = design.drive.battery
    if battery is None or battery.temperature_c >= WARM_CELLS or not side_by_side(design):
        return []
    usual_warmth = replace(battery, temperature_c=20.0)
    warm = with_value(design, "drive.battery", usual_warmth)
    cold, usual = (sum(t for t, _ in at_rest_of(d)) for d in (design, warm))
    values: dict[str, float | str] = {"cold": battery.temperature_c, "share": 1 - cold / usual if usual else 0.0}
    values["more"] = pack_resistance(battery) / pack_resistance(usual_warmth) - 1
    text = "Their resistance is {more:percent} up, and the pull {share:percent} down. Warm the pack before it goes in."
    return [Finding("drive.cold", "near", "Cells at {cold:temperature}", text, COMMON_PRACTICE, values)]


def _uneven(packs: tuple[PackSums, ...]) -> list[Finding]:
    """Packs that are not empty together: the boat turns when the first stops."""
    known = [(p.time, p.motor or "the boat's pack") for p in packs if p.time is not None]
    if len(known) < 2 or min(known)[0] >= (1 - UNEVEN) * max(known)[0]:
        return []
    (short, first), (long, _) = min(known), max(known)
    values: dict[str, float | str] = {"first": first, "short": short, "long": long}
    text = "After {short:minutes}, the last after {long:minutes}: the boat then turns. Equal packs, or one that feeds both."
    return [Finding("drive.uneven_packs", "near", "The pack of {first} is empty first", text, COMMON_PRACTICE, values)]


def _plug(design: Design, packs: tuple[PackSums, ...]) -> list[Finding]:
    """What the plugs are rated at against the largest current."""
    rated, current = design.drive.wiring.plug_a, max((p.current for p in packs), default=0.0)
    if not rated or not current:
        return []
    word: Severity = "fails" if current > rated else "near" if current > PLUG_SHARE * rated else "holds"
    title = {"fails": "The plugs are too small", "near": "The plugs run warm"}.get(word, "The plugs are large enough")
    remedies = () if word == "holds" else (Remedy("Larger plugs, or soldered", "drive"),)
    values: dict[str, float | str] = {"rated": rated, "current": current}
    return [
        Finding("drive.plug", word, title, "{current:current} through plugs rated at {rated:current}.", COMMON_PRACTICE, values, remedies)
    ]


def _supply(wiring: Wiring) -> list[Finding]:
    """Whether the receiver's supply holds when every servo is held fast at once."""
    if not wiring.servos:
        return []
    need = supply_need(wiring)
    values: dict[str, float | str] = {"need": need, "servos": wiring.servos, "gives": wiring.supply_a}
    if not wiring.supply_a:
        text = "{servos:count} servos held fast and the receiver draw {need:current}: say what its supply gives."
        return [Finding("drive.supply", "note", "The receiver's supply is not known", text, COMMON_PRACTICE, values)]
    word: Severity = "fails" if need > wiring.supply_a else "holds"
    title = "The receiver may go dead" if word == "fails" else "The receiver's supply is enough"
    remedies = (Remedy("A supply of its own for the servos", "drive"),) if word == "fails" else ()
    text = "All {servos:count} servos held fast and the receiver draw {need:current}; its supply gives {gives:current}."
    return [Finding("drive.supply", word, title, text, COMMON_PRACTICE, values, remedies)]
