"""What a builder tips a boat with: people who step, lean and stand, a catch, wind, a turn, a tow, a wake."""

import dataclasses
from dataclasses import dataclass

from yarekeel.core.parameters import check_parameters, described
from yarekeel.core.quantities import Degrees, Kilograms, Metres, MetresPerSecond, Newtons, Ratio


@dataclass(frozen=True, slots=True)
class Tipping:
    """The plain tests a boat is put to; None for the usual of its kind, 0 for left out.

    ``lean_m`` is how far each person leans to one side, ``stand_m`` how far a person's centre rises standing up, ``inboard_m``
    how far from the rail those sit who move to one side; ``catch_kg`` hangs ``catch_out_m`` beyond the rail from ``catch_up_m``
    over it; wind abeam, a gust so many times as fast; a turn at a speed of a radius; a tow line that pulls to the side at a
    height over the baseline; the roll that a passing wake gives.
    """

    lean_m: Metres | None = described(None, "Each leans by", "length", 0.0, 5.0, moves="stays")
    stand_m: Metres | None = described(None, "Standing up raises by", "length", 0.0, 3.0, moves="stays")
    inboard_m: Metres | None = described(None, "Movers sit inside the rail by", "length", 0.0, 5.0, moves="stays")
    catch_kg: Kilograms | None = described(None, "Catch lifted", "mass", 0.0, 1e5)
    catch_out_m: Metres | None = described(None, "Catch, out from the rail", "length", -5.0, 20.0, moves="stays")
    catch_up_m: Metres | None = described(None, "Catch hangs from, over the rail", "length", -5.0, 50.0, moves="stays")
    wind_ms: MetresPerSecond | None = described(None, "Wind abeam", "speed", 0.0, 60.0)
    gust: Ratio | None = described(None, "Gust, times the wind", "ratio", 1.0, 3.0)
    turn_ms: MetresPerSecond | None = described(None, "Speed in the turn", "speed", 0.0, 60.0)
    turn_m: Metres | None = described(None, "Radius of the turn", "length", 0.01, 1e4, moves="stays")
    tow_n: Newtons | None = described(None, "Sideways pull of a tow", "force", 0.0, 1e6)
    tow_up_m: Metres | None = described(None, "Tow point, up", "length", -100.0, 1000.0, moves="z")
    wake_deg: Degrees | None = described(None, "Roll in a wake", "degrees", 0.0, 90.0)

    def __post_init__(self) -> None:
        check_parameters(self)

    def filled(self, usual: "Tipping") -> "Tipping":
        """The same with the usual where nothing was said."""
        given = {f.name: getattr(self, f.name) for f in dataclasses.fields(self) if getattr(self, f.name) is not None}
        return dataclasses.replace(usual, **given)
