"""What the builder asks of the boat: each limit described once, with its label, its range and its unit; and the usual ones."""

import dataclasses
from dataclasses import dataclass
from typing import Literal

from yarekeel.core.parameters import check_parameters, choice, described
from yarekeel.core.quantities import Degrees, Kilograms, Metres, Ratio

Kind = Literal["model", "people"]


@dataclass(frozen=True, slots=True)
class Brief:
    """What the builder asks of the boat; every later verdict is against these.

    The limits that may be left open (None) are asked for by few: how deep it may sit, how much reserve it must have, what goes on
    the car, the printer's bed, the sheet it is cut from, how far it may lean with a weight on its rail or in any plain test, from
    how far over it must come back (180° asks that it rights itself), how hard it must push back at its best.
    """

    kind: Kind = choice("model", "Kind", "", (("model", "A model"), ("people", "Carries people")))
    target_mass_kg: Kilograms = described(3.0, "Target all-up mass", "mass", 1e-6, 1e7)
    least_freeboard_m: Metres = described(0.030, "Least freeboard", "length", 0, 1000, moves="stays")
    allowed_trim_deg: Degrees = described(1.0, "Allowed trim and heel", "degrees", 0.01, 45)
    least_gm_m: Metres = described(0.020, "Least GM", "length", 0, 1000, moves="stays")
    thrust_to_weight: Ratio = described(0.20, "Thrust to weight", "ratio", 0, 20)
    most_draft_m: Metres | None = described(None, "Greatest draft", "length", 1e-4, 1000, moves="stays")
    least_reserve: Ratio | None = described(None, "Least reserve buoyancy", "percent", 0, 1000)
    most_length_m: Metres | None = described(None, "Greatest length, to carry", "length", 1e-3, 1000, moves="stays")
    most_beam_m: Metres | None = described(None, "Greatest beam, to carry", "length", 1e-3, 1000, moves="stays")
    bed_length_m: Metres | None = described(None, "Printer's bed, length", "length", 1e-3, 100, moves="stays")
    bed_width_m: Metres | None = described(None, "Printer's bed, width", "length", 1e-3, 100, moves="stays")
    bed_height_m: Metres | None = described(None, "Printer's height", "length", 1e-3, 100, moves="stays")
    sheet_length_m: Metres | None = described(None, "Sheet length", "length", 1e-3, 100, moves="stays")
    rail_mass_kg: Kilograms | None = described(None, "Weight on the rail", "mass", 0, 1e5)
    rail_heel_deg: Degrees | None = described(None, "Lean with it, at most", "degrees", 0.01, 60)
    most_lean_deg: Degrees | None = described(None, "Lean in any test, at most", "degrees", 0.01, 90)
    least_range_deg: Degrees | None = described(None, "Comes back from, at least", "degrees", 1, 180)
    least_peak_m: Metres | None = described(None, "Greatest righting arm, at least", "length", 0, 1000, moves="stays")

    def __post_init__(self) -> None:
        check_parameters(self)


LEFT_OPEN = tuple(f.name for f in dataclasses.fields(Brief) if f.default is None)

DEFAULTS: dict[Kind, Brief] = {
    "model": Brief(),
    "people": Brief(
        kind="people",
        target_mass_kg=220.0,
        least_freeboard_m=0.20,
        allowed_trim_deg=2.0,
        least_gm_m=0.35,
        thrust_to_weight=0.02,
    ),
}
