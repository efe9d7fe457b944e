"""What another number of cells would do on this boat, how long a mix of throttle lasts, and what the wires take."""

import dataclasses
from dataclasses import dataclass

from yarekeel.core.constants import USABLE_CAPACITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.cells import LITHIUM, gauge_area, honest_limit, mixed_current, open_voltage, run_time, wire_resistance
from yarekeel.core.propulsion.drive import Battery, cell_volts, cells_in, pack_resistance, worked_out
from yarekeel.core.quantities import Amperes, Metres, Newtons, Ohms, Ratio, Seconds, SquareMetres, Volts
from yarekeel.core.sources import COMMON_PRACTICE, IEC_60028, OHM
from yarekeel.stages.design.design import Design, with_value
from yarekeel.stages.design.fitted import at_rest_of

MOST_CELLS = 24
CELLS = (2, 3, 4, 5, 6)
KEPT: Ratio = 1 - USABLE_CAPACITY
GAUGES = (8, 10, 12, 14, 16, 18, 20, 22, 24)
MOST_DROP: Ratio = 0.03
"""Of the pack's voltage that wires may take (common practice)."""
MOST_DENSITY = 10e6
"""A/m² that silicone-covered wire carries without getting hot (common practice: 10 A/mm²)."""


@dataclass(frozen=True, slots=True)
class PackRow:
    """A pack of some cells, fully charged, at full throttle from rest; ``late`` is the pull with a fifth of the charge left."""

    cells: int
    in_use: bool
    open_volts: Volts
    thrust: Newtons
    late: Newtons
    current: Amperes
    load_volts: Volts
    sag: Ratio
    limit: Amperes
    time: Seconds
    over: tuple[str, ...]
    """The motors that draw more than they stand."""

    @property
    def share(self) -> Ratio:
        """Current over what the pack gives for long."""
        return self.current / self.limit


@dataclass(frozen=True, slots=True)
class WireRow:
    """A wire of a gauge, there and back, at the full current."""

    gauge: int
    area: SquareMetres
    resistance: Ohms
    drop: Volts
    share: Ratio
    heat: float
    fits: bool


def lasting_current(battery: Battery) -> Amperes:
    """The current that a pack gives without fading."""
    return honest_limit(battery.capacity_ah, battery.c_rating, tested=battery.c_tested)


def resistance(battery: Battery) -> Ohms:
    """The pack's inner resistance, as typed or as such packs have."""
    return pack_resistance(battery)


def with_cells(design: Design, cells: int) -> Design:
    """The boat with a pack of so many of the same cells, named by 3.7 V each; its resistance goes with them where it was typed."""
    if not 1 <= cells <= MOST_CELLS:
        raise InvalidInput("drive.battery", f"A pack has 1 to {MOST_CELLS} cells in a row.")
    battery = design.drive.battery or Battery()
    each = battery.resistance_ohm / cells_in(battery)
    volts = round(cell_volts(battery) * cells, 2)
    return with_value(design, "drive.battery", dataclasses.replace(battery, voltage_v=volts, resistance_ohm=each * cells))


@kept
def side_by_side(design: Design) -> tuple[PackRow, ...]:
    """Packs of 2 to 6 cells and the one in use; empty where no motor is worked out from its parts."""
    drive = design.drive
    if drive.battery is None or not any(worked_out(drive, m) for m in drive.motors):
        return ()
    now = cells_in(drive.battery)
    return tuple(_row(design, cells, cells == now) for cells in sorted({*CELLS, now}))


def _row(design: Design, cells: int, in_use: bool) -> PackRow:
    full = _charged(design, cells, 1.0)
    battery = full.drive.battery
    assert battery is not None
    each = _states(full)
    thrust, current = sum(t for t, _ in each), sum(i for _, i in each)
    volts = battery.voltage_v - current * pack_resistance(battery)
    over = tuple(
        m.name
        for m, (_, i) in zip(full.drive.motors, each, strict=True)
        if m.propulsor is not None and 0 < m.electric.most_current_a < i  # at full throttle the motor's current is the pack's
    )
    return PackRow(
        cells=cells,
        in_use=in_use,
        open_volts=battery.voltage_v,
        thrust=thrust,
        late=sum(t for t, _ in _states(_charged(design, cells, KEPT))),
        current=current,
        load_volts=volts,
        sag=1 - volts / battery.voltage_v,
        limit=lasting_current(battery),
        time=run_time(battery.kind, battery.capacity_ah, current),
        over=over,
    )


def _charged(design: Design, cells: int, left: Ratio) -> Design:
    fitted = with_cells(design, cells)
    return with_value(
        fitted, "drive.battery.voltage_v", open_voltage(fitted.drive.battery.kind if fitted.drive.battery else LITHIUM, left, cells)
    )


def _states(design: Design) -> tuple[tuple[Newtons, Amperes], ...]:
    return at_rest_of(design)


def full_current(design: Design) -> Amperes:
    """The pack's current at full throttle from rest."""
    return sum(i for _, i in _states(design))


def mixed_time(design: Design, hard: Ratio, gentle: Ratio) -> tuple[Amperes, Seconds] | None:
    """Mean current and run time with a fifth kept, at full throttle for a share ``hard`` of the time and at throttle ``gentle`` for the
    rest, standing still (which draws most); None without a battery or a current."""
    battery = design.drive.battery
    if battery is None:
        return None
    full, part = (sum(i for _, i in at_rest_of(design, d)) for d in (1.0, gentle))
    current = mixed_current(((hard, full), (1 - hard, part)))
    return (current, run_time(battery.kind, battery.capacity_ah, current)) if current > 0 else None


def wires(volts: Volts, current: Amperes, one_way: Metres) -> tuple[WireRow, ...]:
    """Every gauge, there and back, thickest first."""
    out = []
    for gauge in GAUGES:
        area = gauge_area(gauge)
        resistance = wire_resistance(2 * one_way, area)
        drop = current * resistance
        fits = drop <= MOST_DROP * volts and current <= MOST_DENSITY * area
        out.append(WireRow(gauge=gauge, area=area, resistance=resistance, drop=drop, share=drop / volts, heat=current * drop, fits=fits))
    return tuple(out)


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
    most = row.current if row is not None else full_current(design)
    if battery is not None and most > 0:
        limit = lasting_current(battery)
        out.append(
            Finding(
                "drive.honest",
                "near" if most > limit else "holds",
                "More than such a pack gives for long" if most > limit else "Within what such a pack gives for long",
                "{current:current} at full throttle; half its label's C, {limit:current}, is what packs give without fading.",
                source=COMMON_PRACTICE,
                values={"current": most, "limit": limit},
            )
        )
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
