"""What another number of cells would do on this boat, how long a mix of throttle lasts, and what the wires take."""

import dataclasses
import math
from dataclasses import dataclass

from yarekeel.core.constants import USABLE_CAPACITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.found import Found
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.cells import (
    LITHIUM,
    gauge_area,
    honest_limit,
    measured_resistance,
    mixed_current,
    open_voltage,
    run_time,
    wire_resistance,
)
from yarekeel.core.propulsion.drive import Battery, cell_volts, cells_in, pack_resistance
from yarekeel.core.propulsion.propulsors import is_turned
from yarekeel.core.quantities import Amperes, Metres, Newtons, Ohms, Ratio, Seconds, SquareMetres, Volts
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


METER_VOLTS, METER_SHARE = 0.02, 0.01
"""What a hand meter reads to: volts, and a share of amperes (common practice)."""


def by_two_loads(first: Amperes, first_volts: Volts, second: Amperes, second_volts: Volts) -> Found:
    """A pack's inner resistance by two loads, one soon after the other, with what a hand meter leaves in doubt. Raises InvalidInput where
    the second does not draw clearly more, or the pack does not sag under it."""
    if not second > 1.2 * first >= 0 or second - first < 0.5:
        raise InvalidInput("load", "The second load must draw clearly more than the first: half an ampere, and a fifth, at least.")
    if second_volts >= first_volts:
        raise InvalidInput("load", "Under the larger load the pack must sag; the volts look swapped.")
    value = measured_resistance((first, first_volts), (second, second_volts))
    sag, apart = first_volts - second_volts, second - first
    doubt = math.hypot(math.sqrt(2) * METER_VOLTS / sag, METER_SHARE * math.hypot(first, second) / apart)
    return Found(value, value * doubt)


def with_resistance(design: Design, resistance: Ohms) -> Design:
    """The boat's pack with a measured inner resistance. Raises InvalidInput without a pack."""
    if design.drive.battery is None:
        raise InvalidInput("drive.battery", "Add a battery on Drive first.")
    return with_value(design, "drive.battery.resistance_ohm", resistance)


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
    """Packs of 2 to 6 cells and the one in use; empty where no pack turns a motor whose parts are known."""
    drive = design.drive
    if drive.battery is None or not any(is_turned(m.propulsor) for m in drive.motors):
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
