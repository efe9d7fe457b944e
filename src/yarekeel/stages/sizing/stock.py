"""Off the shelf: what is sold in steps, each step tried, and the one that does it with what margin."""

from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families.foam_block import FoamBlock
from yarekeel.core.geometry.families.pipe_raft import CHOICES, OUTSIDE, PipeRaft
from yarekeel.core.quantities import Metres, Ratio
from yarekeel.core.weights.recipes.plywood import Plywood
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design, value_at, with_value
from yarekeel.stages.design.limits import Limit
from yarekeel.stages.judging.judge import Judged, try_judge
from yarekeel.stages.sizing.sizing import size_limits

SHEETS: tuple[Metres, ...] = (0.003, 0.004, 0.005, 0.006, 0.009, 0.012, 0.015, 0.018)
"""Plywood as sold in metric sheets (common practice)."""
FOAMS: tuple[Metres, ...] = (0.02, 0.025, 0.03, 0.04, 0.05, 0.06, 0.08, 0.10, 0.12)
"""Foam board as sold (common practice)."""


@dataclass(frozen=True, slots=True)
class Step:
    """One size as sold: ``value`` as the boat file has it, the boat with it, None where it cannot be built."""

    title: str
    value: str | float
    now: bool
    judged: Judged | None

    @property
    def margin(self) -> Ratio | None:
        """The least margin, a share; None where it cannot be built."""
        return self.judged.least[0] if self.judged else None


@dataclass(frozen=True, slots=True)
class Shelf:
    """Something sold in steps: ``path`` of its field, all its steps, the number of the one to take, None where none does it."""

    path: str
    title: str
    steps: tuple[Step, ...]
    pick: int | None
    limits: tuple[Limit, ...]
    smallest: bool


def shelves(craft: Craft) -> tuple[Shelf, ...]:
    """Every part of the boat that is sold in steps. Of floats the smallest size that keeps the brief is taken, of sheets the
    thickest that is still light enough: thinner ones are weaker."""
    limits, out = size_limits(craft), []
    for n, body in enumerate(craft.design.bodies):
        if isinstance(body.shape, PipeRaft):
            names = [code for code, _ in sorted(CHOICES, key=lambda c: OUTSIDE[c[0]])]
            out.append(
                _shelf(craft, f"bodies.{n}.shape.pipe", f"Pipes of {body.name}", [(dict(CHOICES)[c], c) for c in names], limits, True)
            )
        elif isinstance(body.shape, FoamBlock):
            sizes: list[tuple[str, str | float]] = [(f"{1000 * t:g} mm", t) for t in FOAMS]
            out.append(_shelf(craft, f"bodies.{n}.shape.depth_m", f"Foam of {body.name}", sizes, limits, True))
    for n, item in enumerate(craft.design.weights):
        if isinstance(item.recipe, Skin | Plywood):
            sizes = [(f"{1000 * t:g} mm", t) for t in SHEETS]
            out.append(_shelf(craft, f"weights.{n}.recipe.thickness_m", f"Sheet of {item.name}", sizes, limits, False))
    return tuple(out)


def _shelf(craft: Craft, path: str, title: str, sizes: list[tuple[str, str | float]], limits: tuple[Limit, ...], smallest: bool) -> Shelf:
    now = value_at(craft.design, path)
    steps = tuple(_step(craft, path, words, value, now, limits) for words, value in sizes)
    kept = [k for k, s in enumerate(steps) if s.margin is not None and s.margin >= 0]
    return Shelf(path, title, steps, (min(kept) if smallest else max(kept)) if kept else None, limits, smallest)


def _step(craft: Craft, path: str, title: str, value: str | float, now: object, limits: tuple[Limit, ...]) -> Step:
    same = value == now or (isinstance(value, float) and isinstance(now, float) and abs(value - now) < 1e-9)
    try:
        design = with_value(craft.design, path, value)
    except InvalidInput:
        return Step(title, value, same, None)
    return Step(title, value, same, try_judge(Craft(design), limits))


def taken(craft: Craft, path: str, text: str) -> Design:
    """The boat with a size off the shelf. Raises InvalidInput for what no shelf has."""
    shelf = next((s for s in shelves(craft) if s.path == path), None)
    step = next((s for s in shelf.steps if str(s.value) == text), None) if shelf else None
    if step is None:
        raise InvalidInput(path, "No such size is sold; choose one from the table.")
    changed = with_value(craft.design, path, step.value)
    Craft(changed).hull  # noqa: B018 refused here
    return changed
