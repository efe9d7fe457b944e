"""What motors pull at any throttle and speed: those that a pack turns are solved with it, others follow their own law."""

import math
from collections import defaultdict
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from yarekeel.core.constants import AIR_DENSITY, STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.propulsion.cells import run_time
from yarekeel.core.propulsion.drive import Battery, Drive, Motor, direction, pack_of, pack_resistance, worked_out
from yarekeel.core.propulsion.electric import CLOSE, Supply, Unit, Windings, solve
from yarekeel.core.propulsion.open_water import reversed_screw
from yarekeel.core.propulsion.propulsors import is_pushing, is_turned
from yarekeel.core.propulsion.push import Push
from yarekeel.core.quantities import (
    Amperes,
    Floats,
    Kilograms,
    KilogramsPerCubicMetre,
    Metres,
    Newtons,
    Ratio,
    Seconds,
    SquareMetresPerSecond,
    Volts,
)
from yarekeel.core.sources import COMMON_PRACTICE


def pushes_at(
    drive: Drive,
    throttle: Floats,
    speed: Floats,
    density: KilogramsPerCubicMetre,
    viscosity: SquareMetresPerSecond,
    close: Ratio = CLOSE,
) -> tuple[Push | None, ...]:
    """Each motor at throttles (0 to 1) and speeds (m/s), which broadcast to one shape; None for one that is known by its pull alone, whose
    typed current its pack gives all the same."""
    throttle, speed = (np.asarray(a, dtype=np.float64) for a in np.broadcast_arrays(throttle, speed))
    out: dict[int, Push] = {}
    by_pack: dict[int, list[int]] = defaultdict(list)
    own: dict[int, Battery] = {}
    for n, m in enumerate(drive.motors):
        part, pack = m.propulsor, pack_of(drive, m)
        if is_pushing(part):
            out[n] = part.push(throttle, speed, drive.tests, density)
        if pack is not None:
            key = n if m.battery is not None else -1
            by_pack[key].append(n)
            own[key] = pack
    for key, members in by_pack.items():
        units = {n: unit for n in members if (unit := _unit_of(drive.motors[n], own[key], density, viscosity)) is not None}
        if not units:
            continue
        inside = pack_resistance(own[key])
        beside = math.fsum(drive.motors[n].current_a for n in members if drive.motors[n].propulsor is None)
        beside += math.fsum(float(np.max(out[n].current)) for n in members if n in out)
        supply = Supply(max(own[key].voltage_v - inside * beside, 0.1), inside)
        for (n, unit), state in zip(units.items(), solve(tuple(units.values()), throttle, speed, supply, close), strict=True):
            out[n] = Push(state.thrust, state.pack_current, 2 * unit.curve.spread, state)
    if drive.pull_factor != 1.0:  # what a trial found
        out = {n: replace(push, thrust=drive.pull_factor * push.thrust) for n, push in out.items()}
    return tuple(out.get(n) for n in range(len(drive.motors)))


def _unit_of(motor: Motor, battery: Battery, density: KilogramsPerCubicMetre, viscosity: SquareMetresPerSecond) -> Unit | None:
    part, e = motor.propulsor, motor.electric
    if not is_turned(part):
        return None
    usual = 0.75 * e.kv * battery.voltage_v / 60 / e.gear  # a loaded motor turns some three quarters of what it would alone
    curve = part.curve(usual, viscosity)
    return Unit(
        windings=Windings(kv=e.kv, resistance=e.resistance_ohm, idle_current=e.idle_current_a, gear=e.gear),
        curve=reversed_screw(curve) if motor.astern else curve,
        density=AIR_DENSITY if part.in_air else density,
        control=e.control_ohm,
    )


@lru_cache(maxsize=128)
def pushes_at_rest(
    drive: Drive, density: KilogramsPerCubicMetre, viscosity: SquareMetresPerSecond, throttle: Ratio = 1.0
) -> tuple[Push | None, ...]:
    """``pushes_at`` standing still at one throttle, kept for as long as the drive is the same."""
    return pushes_at(drive, np.array(throttle), np.array(0.0), density, viscosity)


def at_rest(
    drive: Drive, density: KilogramsPerCubicMetre, viscosity: SquareMetresPerSecond, throttle: Ratio = 1.0
) -> tuple[tuple[Newtons, Amperes], ...]:
    """Pull along its own line and the pack's current of each motor standing still; of one that is known by its pull alone, in step with
    the throttle."""
    return tuple(
        (drive.pull_factor * m.thrust_n * throttle, m.current_a * throttle) if p is None else (float(p.thrust), float(p.current))
        for m, p in zip(drive.motors, pushes_at_rest(drive, density, viscosity, throttle), strict=True)
    )


def thrust_spreads(drive: Drive, density: KilogramsPerCubicMetre, viscosity: SquareMetresPerSecond) -> tuple[Ratio, ...]:
    """Half width of the 95 % band of each motor's pull from rest as a share of it, as far as the law of what it turns is in doubt."""
    return tuple(p.spread if p is not None else 0.0 for p in pushes_at_rest(drive, density, viscosity))


@dataclass(frozen=True, slots=True)
class PackSums:
    """A pack at full throttle standing still: whose it is (empty: the boat's own), what it gives, its limit by the label, its voltage under
    load (None where its resistance is not known), how long it lasts."""

    motor: str
    battery: Battery
    current: Amperes
    limit: Amperes
    load_voltage: Volts | None
    time: Seconds | None

    @property
    def share(self) -> Ratio:
        """Of its limit."""
        return self.current / self.limit


@dataclass(frozen=True, slots=True)
class DriveSums:
    """Thrust (ahead) and endurance at full throttle. ``line_height`` is the thrust line's height in boat axes (z); ``thrust_spread`` is
    the half width of the thrust's 95 % band, as far as the propulsors' own laws are in doubt. ``packs`` stand with the boat's own first;
    what is said of one pack is of the one nearest its limit."""

    thrust: Newtons
    thrust_to_weight: Ratio
    line_height: Metres | None
    current: Amperes
    packs: tuple[PackSums, ...]
    run_time: Seconds | None
    thrust_spread: Newtons

    @property
    def hardest(self) -> PackSums | None:
        """The pack that is nearest its limit; None where no pack gives a current."""
        return max((p for p in self.packs if p.current > 0), key=lambda p: p.share, default=None)


def packs_of(drive: Drive, currents: tuple[Amperes, ...]) -> tuple[PackSums, ...]:
    """Every pack, with the currents that its motors draw."""
    out = []
    shared = [i for m, i in zip(drive.motors, currents, strict=True) if m.battery is None]
    rows = [("", drive.battery, math.fsum(shared), [m for m in drive.motors if m.battery is None])] if drive.battery else []
    rows += [(m.name, m.battery, i, [m]) for m, i in zip(drive.motors, currents, strict=True) if m.battery is not None]
    for name, b, current, motors in rows:
        assert b is not None
        solved = b.resistance_ohm > 0 or any(worked_out(drive, m) for m in motors)
        out.append(
            PackSums(
                motor=name,
                battery=b,
                current=current,
                limit=b.c_rating * b.capacity_ah,
                load_voltage=b.voltage_v - current * pack_resistance(b) if solved else None,
                time=run_time(b.kind, b.capacity_ah, current) if current > 0 else None,
            )
        )
    return tuple(out)


@formula("T / (m g); I_max = C Q; U = U_0 - I R; t = 0.8 Q / I", COMMON_PRACTICE, "full throttle, standing still")
def drive_sums(drive: Drive, mass: Kilograms, density: KilogramsPerCubicMetre, viscosity: SquareMetresPerSecond) -> DriveSums:
    """Sums at full throttle in water of a density and viscosity: limit current = C rating x capacity; voltage = open - I R; run time on
    80 % of capacity, of the pack that is empty first."""
    each = at_rest(drive, density, viscosity)
    ahead = [t * direction(m)[0] for (t, _), m in zip(each, drive.motors, strict=True)]
    thrust = math.fsum(ahead)
    line = math.fsum(t * m.at_m[2] for t, m in zip(ahead, drive.motors, strict=True)) / thrust if thrust > 0 else None
    packs = packs_of(drive, tuple(i for _, i in each))
    spreads = thrust_spreads(drive, density, viscosity)
    return DriveSums(
        thrust=thrust,
        thrust_to_weight=thrust / (mass * STANDARD_GRAVITY),
        line_height=line,
        current=math.fsum(i for _, i in each),
        packs=packs,
        run_time=min((p.time for p in packs if p.time is not None), default=None),
        thrust_spread=math.fsum(share * abs(t) for share, t in zip(spreads, ahead, strict=True)),
    )
