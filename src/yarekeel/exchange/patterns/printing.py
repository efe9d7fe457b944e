"""The pieces of a hull for a printer as they are asked for, and as files: each an STL or 3MF that stands on the bed, with a pin."""

from collections.abc import Iterator
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.patterns.pieces import Bed, Pieces, pieces_of
from yarekeel.core.quantities import Metres
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.core.weights.recipes.printed import Printed
from yarekeel.exchange import mesh_out
from yarekeel.exchange.patterns.order import Length, sides
from yarekeel.stages.design.craft import Craft

BED = "220 mm x 220 mm x 250 mm"
"""Of many small printers (common practice)."""
OFF: Metres = 0.02
"""To either side of an opening or a motor that is not cut through."""
PLASTIC = MATERIALS["pla"]
"""What pieces are weighed in; others weigh from a sixth less to a little more."""
LARGEST: Metres = 5.0
FORMATS = ("stl", "3mf")


@dataclass(frozen=True, slots=True)
class PieceOrder:
    """As typed: the bed, the wall's thickness (empty: as the estimate has it, else solid; 0: solid), stations to cut at with ; between
    (empty: solved), the pin's diameter, its depth in each face, the clearance round it, and stretches "from .. to" that stay whole beside
    openings and motors, with ; between."""

    bed: str = BED
    wall: str = ""
    cuts: str = ""
    pin: str = ""
    deep: str = ""
    clearance: str = ""
    whole: str = ""


def pieces_asked(craft: Craft, number: int, order: PieceOrder, length: Length) -> Pieces:
    """The pieces of a body. Raises InvalidInput with the field that is wrong."""

    def of(text: str, name: str, usual: Metres) -> Metres:
        value = length(text, name) if text.strip() else usual
        if not 0 <= value <= LARGEST:
            raise InvalidInput(name, "It lies between {low:length} and {high:length}.", low=0.0, high=LARGEST)
        return value

    long, wide, high = sides(order.bed or BED, "bed", lambda text, name: of(text, name, 0.0), "length x width x height", BED)
    bed = Bed(
        long,
        wide,
        high,
        pin=of(order.pin, "pin", 0.004),
        deep=of(order.deep, "deep", 0.008),
        clearance=of(order.clearance, "clearance", 0.0002),
    )
    if bed.pin and bed.deep <= 0:
        raise InvalidInput("deep", "A pin goes some way into each face.")
    cuts = tuple(length(one, "cuts") for one in order.cuts.split(";") if one.strip())
    body = craft.design.bodies[number]
    clear = (*clear_of(craft), *(_stretch(one, length) for one in order.whole.split(";") if one.strip()))
    wall, open_top = of(order.wall, "wall", wall_of(craft, number)), body.deck == "open"
    return pieces_of(craft.piece(number), bed, wall=wall, open_top=open_top, stations=cuts, clear=clear)


def wall_of(craft: Craft, number: int) -> Metres:
    """The wall that the estimate of a printed body has; 0, solid, where there is none."""
    name = craft.design.bodies[number].name
    recipes = (w.recipe for w in craft.design.weights)
    return next((r.walls * r.line_m for r in recipes if isinstance(r, Printed) and r.body == name), 0.0)


def _stretch(text: str, length: Length) -> tuple[Metres, Metres]:
    first, mark, second = text.partition("..")
    if not mark:
        raise InvalidInput("whole", "Write a stretch as from .. to, such as 300 mm .. 420 mm.")
    low, high = length(first, "whole"), length(second, "whole")
    if low >= high:
        raise InvalidInput("whole", "A stretch begins aft of where it ends.")
    return low, high


def clear_of(craft: Craft) -> tuple[tuple[Metres, Metres], ...]:
    """Stretches of the boat's length that are not cut through: about its openings and motors."""
    places = [at[0] for _, at in craft.openings] + [m.at_m[0] for m in craft.design.drive.motors]
    return tuple((x - OFF, x + OFF) for x in places)


def files_of(found: Pieces, kind: str) -> Iterator[tuple[str, bytes]]:
    """Every piece as it stands, and the pin, by file name. Raises InvalidInput for a kind that is none of ``FORMATS``."""
    if kind not in FORMATS:
        raise InvalidInput("kind", f"Pieces are written as {' or '.join(FORMATS)}.")
    for p in found.pieces:
        yield f"{p.name}.{kind}", mesh_out.write(p.standing, kind)
    if found.pin is not None:
        yield f"pin.{kind}", mesh_out.write(found.pin, kind)
