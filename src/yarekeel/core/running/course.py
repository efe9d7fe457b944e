"""What keeps a boat on its course."""

from yarekeel.core.formulas import formula
from yarekeel.core.quantities import Metres, SquareMetres
from yarekeel.core.sources import STATICS


@formula("a = A (m_w - m) / (l - m_w)", STATICS, "lateral areas alone, each at its own centre; lift slopes taken alike")
def fin_for(area: SquareMetres, margin: Metres, wanted: Metres, arm: Metres) -> SquareMetres | None:
    """Area of a fin ``arm`` aft of G that moves the centre of an area from ``margin`` to ``wanted`` aft of G; None where it cannot."""
    return area * (wanted - margin) / (arm - wanted) if arm > wanted else None
