"""Start from a need: what it must carry, how deep it may sit, how steady it must be; three starting boats that do it."""

import dataclasses
import math
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding
from yarekeel.core.geometry.families import AnyShape, FlatBottom, RoundBilge, TwinHull
from yarekeel.core.quantities import Kilograms, Metres
from yarekeel.core.sources import COMMON_PRACTICE
from yarekeel.core.water import Water
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.stages.design.aboard import refreshed
from yarekeel.stages.design.brief import DEFAULTS, Brief, Kind
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.design.resizing import scaled
from yarekeel.stages.sizing.sizing import SCALE, Sized, solve

FILLED = 0.35
"""Share of a first hull that its load takes: a start for the solver."""
ROOM = 1.1
"""Target mass over what it comes to: parts come out heavier than listed (common practice)."""
LOAD_UP = 0.45
"""Of the depth: where a load's centre lies in a model that is decked; people sit higher (common practice)."""
SEATED_UP = 0.9


@dataclass(frozen=True, slots=True)
class Need:
    """``load`` is what goes aboard; ``draft`` the deepest it may sit, ``rail`` and ``lean_deg`` a weight on its rail and the lean
    that it may give, each None for not asked."""

    kind: Kind
    load: Kilograms
    draft: Metres | None = None
    rail: Kilograms | None = None
    lean_deg: float | None = None

    def __post_init__(self) -> None:
        if not (math.isfinite(self.load) and 0.005 <= self.load <= 2000):
            raise InvalidInput("load", "Say what it must carry, between 5 g and 2000 kg.")


@dataclass(frozen=True, slots=True)
class Start:
    """A starting boat: its family and why; ``design`` is None where this family cannot do it, and the finding says why."""

    title: str
    why: str
    design: Design | None
    sized: Sized
    finding: Finding


FAMILIES: tuple[tuple[str, str, AnyShape, AnyShape], ...] = (
    (
        "Flat bottom",
        "Simplest to cut and join; steady at first, wet in a chop.",
        FlatBottom(0.90, 0.36, 0.15, 0.04, 0.05, 0.02, 0.02, 0.8, 0.3, 0.4, 0.05),
        FlatBottom(),
    ),
    (
        "Twin hull",
        "Steadiest for its weight, wide to carry; two hulls to build.",
        TwinHull(),
        TwinHull(3.0, 0.42, 0.48, 1.25, 0.12, 0.12, 0.05, 0.85, 0.5, 0.2, 1.4, 0.05),
    ),
    (
        "Round bilge",
        "Easiest driven; leans more before it stiffens, most work to plank or print.",
        RoundBilge(),
        RoundBilge(2.8, 1.05, 0.42, 0.2, 0.12, 0.05, 0.06),
    ),
)


def starts(need: Need) -> tuple[Start, ...]:
    """Three boats of different families, each with the least hull, to scale, that meets the need and the usual brief."""
    return tuple(_start(need, title, why, model if need.kind == "model" else large) for title, why, model, large in FAMILIES)


def brief_of(need: Need) -> Brief:
    """The usual brief of the kind with what was asked on top. Raises InvalidInput for a limit that no brief holds."""
    usual = DEFAULTS[need.kind]
    asked = need.rail is not None and need.lean_deg is not None
    return dataclasses.replace(
        usual,
        target_mass_kg=1e6,
        most_draft_m=need.draft,
        rail_mass_kg=need.rail if asked else None,
        rail_heel_deg=need.lean_deg if asked else None,
    )


def _start(need: Need, title: str, why: str, shape: AnyShape) -> Start:
    people = need.kind == "people"
    mesh = shape.build()
    low, high = mesh.bounds
    middle, depth = float(mesh.centroid[0]), float(high[2] - low[2])
    up = float(low[2]) + (SEATED_UP if people else LOAD_UP) * depth
    skin = Skin("", "hull" if people else "all", 0.006 if people else 0.002, layers_outside=1 if people else 0, coats=0)
    design = Design(
        name=title,
        water=Water("fresh", 15.0),
        brief=brief_of(need),
        bodies=(Body("hull", shape, deck="open" if people else "decked"),),
        weights=(
            WeightItem("Hull, plywood", 0.0, (0.0, 0.0, 0.0), "guessed", group="structure", recipe=skin),
            WeightItem("Load", need.load, (middle, 0.0, up), "guessed", group="crew" if people else "payload"),
        ),
    )
    first = scaled(design, (need.load / (FILLED * 1000 * mesh.volume)) ** (1 / 3))
    sized = solve(Craft(first), SCALE)
    if sized.answer is None:
        return Start(title=title, why=why, design=None, sized=sized, finding=sized.findings[0])
    done = sized.answer.design
    target = float(f"{ROOM * sized.answer.judged.mass:.3g}")
    done = dataclasses.replace(done, brief=dataclasses.replace(done.brief, target_mass_kg=target))
    length = Craft(done).hull.mesh.length
    values: dict[str, float | str] = {"length": length, "mass": sized.answer.judged.mass, "limit": _binding(sized)}
    text = f"{why} It comes to {{mass:mass}}; any smaller would miss the {{limit}}."
    finding = Finding("need.start", "holds", f"{title}, {{length:length}}", text, source=COMMON_PRACTICE, values=values)
    return Start(title=title, why=why, design=refreshed(done, Craft(done).aboard), sized=sized, finding=finding)


def _binding(sized: Sized) -> str:
    return next(w.word for w in sized.limits if w.code == sized.binding)
