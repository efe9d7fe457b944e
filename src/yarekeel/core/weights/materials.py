"""Materials with the range their density comes in. A boat's own materials stand beside these."""

import re
from dataclasses import MISSING, dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.parameters import check_parameters, choice, described, text
from yarekeel.core.quantities import KilogramsPerCubicMetre, Ratio
from yarekeel.core.sources import COMMON_PRACTICE, Source

LIGHTEST, DENSEST = 1.0, 25_000.0
"""kg/m3: aerogel and osmium lie within."""
KINDS = ("wood", "plastic", "foam", "fibre and resin", "metal", "liquid")
MAKERS = Source("Makers' data sheets, as generally printed; from memory", "from memory")
WOOD = Source("US Forest Products Laboratory, Wood Handbook, table of specific gravities; from memory, at 12 % moisture", "from memory")
LAMINATE = Source("Rule of mixtures, half resin by mass when laid up by hand (common practice)", "common practice")
METALS = Source("Engineering tables of densities at 20 °C; from memory", "from memory")


@dataclass(frozen=True, slots=True)
class Material:
    """What something is made of: ``low`` and ``high`` are the ends of the range that its density usually lies in, kg/m3."""

    code: str
    title: str = text(MISSING, "Material", 60)
    kind: str = choice(MISSING, "Kind", "", tuple((k, k) for k in KINDS))
    density: KilogramsPerCubicMetre = described(MISSING, "Density", "density", LIGHTEST, DENSEST)
    low: KilogramsPerCubicMetre = described(MISSING, "At least", "density", LIGHTEST, DENSEST)
    high: KilogramsPerCubicMetre = described(MISSING, "At most", "density", LIGHTEST, DENSEST)
    source: str = "your own"

    def __post_init__(self) -> None:
        if not re.fullmatch(r"[a-z0-9_]{1,40}", self.code):
            raise InvalidInput("code", "A material's code is 1 to 40 small letters, digits and underscores.")
        check_parameters(self)
        if not self.low <= self.density <= self.high:
            raise InvalidInput("low", "The range must hold the density: low, density, high in rising order.")

    @property
    def spread(self) -> Ratio:
        """Half the range as a share of the density."""
        return (self.high - self.low) / 2 / self.density


def _table() -> tuple[Material, ...]:
    rows: tuple[tuple[str, str, str, float, float, float, Source], ...] = (
        ("ply_okoume", "Plywood, okoume", "wood", 500, 430, 560, MAKERS),
        ("ply_birch", "Plywood, birch", "wood", 680, 620, 720, MAKERS),
        ("ply_meranti", "Plywood, meranti", "wood", 580, 480, 680, MAKERS),
        ("spruce", "Spruce", "wood", 430, 380, 480, WOOD),
        ("pine", "Pine", "wood", 510, 450, 560, WOOD),
        ("cedar", "Cedar, western red", "wood", 370, 330, 400, WOOD),
        ("oak", "Oak", "wood", 720, 650, 800, WOOD),
        ("balsa", "Balsa", "wood", 160, 100, 220, WOOD),
        ("pla", "PLA", "plastic", 1240, 1210, 1260, MAKERS),
        ("petg", "PETG", "plastic", 1270, 1230, 1290, MAKERS),
        ("abs", "ABS", "plastic", 1040, 1020, 1060, MAKERS),
        ("asa", "ASA", "plastic", 1070, 1050, 1080, MAKERS),
        ("tpu", "TPU", "plastic", 1210, 1180, 1230, MAKERS),
        ("nylon", "Nylon", "plastic", 1130, 1080, 1150, MAKERS),
        ("pvc", "PVC, rigid", "plastic", 1400, 1350, 1450, MAKERS),
        ("hdpe", "Polyethylene, HDPE", "plastic", 955, 940, 970, MAKERS),
        ("acrylic", "Acrylic sheet", "plastic", 1190, 1170, 1200, MAKERS),
        ("xps", "Extruded polystyrene", "foam", 33, 28, 45, MAKERS),
        ("eps", "Expanded polystyrene", "foam", 20, 12, 30, MAKERS),
        ("pu_foam", "Polyurethane, poured", "foam", 32, 28, 40, MAKERS),
        ("pvc_foam", "PVC foam core", "foam", 80, 60, 100, MAKERS),
        ("pe_foam", "Polyethylene foam", "foam", 30, 22, 40, MAKERS),
        ("glass_fibre", "Glass fibre", "fibre and resin", 2560, 2540, 2600, MAKERS),
        ("carbon_fibre", "Carbon fibre", "fibre and resin", 1790, 1750, 1820, MAKERS),
        ("epoxy", "Epoxy, cured", "fibre and resin", 1150, 1100, 1200, MAKERS),
        ("polyester", "Polyester, cured", "fibre and resin", 1200, 1150, 1250, MAKERS),
        ("glass_laminate", "Glass laminate, by hand", "fibre and resin", 1590, 1400, 1800, LAMINATE),
        ("carbon_laminate", "Carbon laminate, by hand", "fibre and resin", 1400, 1330, 1550, LAMINATE),
        ("paint", "Paint, dry film", "fibre and resin", 1350, 1100, 1600, MAKERS),
        ("aluminium", "Aluminium", "metal", 2700, 2640, 2800, METALS),
        ("steel", "Steel", "metal", 7850, 7750, 7900, METALS),
        ("stainless", "Stainless steel", "metal", 7950, 7900, 8030, METALS),
        ("brass", "Brass", "metal", 8500, 8400, 8730, METALS),
        ("copper", "Copper", "metal", 8960, 8900, 8960, METALS),
        ("lead", "Lead", "metal", 11340, 11300, 11350, METALS),
        ("lead_shot", "Lead shot, loose", "metal", 6800, 6300, 7200, COMMON_PRACTICE),
        ("fresh_water", "Fresh water", "liquid", 999, 995, 1000, METALS),
        ("sea_water", "Sea water", "liquid", 1025, 1018, 1030, METALS),
        ("petrol", "Petrol", "liquid", 745, 720, 775, MAKERS),
    )
    return tuple(Material(code, title, kind, d, low, high, source.citation) for code, title, kind, d, low, high, source in rows)


MATERIALS: dict[str, Material] = {m.code: m for m in _table()}
