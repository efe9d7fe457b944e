"""What a builder does with compartments: add one, divide a body by bulkheads, remove one."""

import dataclasses
import itertools
from collections.abc import Sequence

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Metres
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Compartment, Design


def with_one(craft: Craft, body: str) -> Design:
    """One more compartment in a body. Raises InvalidInput where there is no room."""
    return dataclasses.replace(craft.design, compartments=(*craft.design.compartments, _new(craft, body)))


def without(design: Design, number: int) -> Design:
    """The boat without a compartment. Raises InvalidInput where there is none."""
    if not 0 <= number < len(design.compartments):
        raise InvalidInput("compartments", "There is no such compartment.")
    return dataclasses.replace(design, compartments=design.compartments[:number] + design.compartments[number + 1 :])


def _hollow(craft: Craft, name: str) -> int:
    bodies = craft.design.bodies
    fit = [n for n, b in enumerate(bodies) if b.role in ("hull", "float")]
    if not fit:
        raise InvalidInput("compartments", "Only a hull or a float has room inside; this boat has neither.")
    return next((n for n in fit if bodies[n].name == name), fit[0])


def free_name(design: Design, start: str) -> str:
    """A name for a new compartment that none has yet."""
    taken = {c.name for c in design.compartments}
    return next(n for n in (start, *(f"{start} {k}" for k in range(2, 1000))) if n not in taken)


def _new(craft: Craft, body: str) -> Compartment:
    """The largest stretch of the body that no compartment takes yet, along its length."""
    number = _hollow(craft, body)
    name = craft.design.bodies[number].name
    low, high = (float(v[0]) for v in craft.piece(number).bounds)
    taken = sorted(
        (low if c.aft_m is None else c.aft_m, high if c.fore_m is None else c.fore_m) for c in craft.design.compartments if c.body == name
    )
    gaps, at = [], low
    for a, b in taken:
        gaps.append((at, a))
        at = max(at, b)
    gaps.append((at, high))
    pair = craft.design.bodies[number].mirrored and craft.design.bodies[number].at_m[1] != 0
    start, end = max(gaps, key=lambda g: g[1] - g[0])
    if end - start < 1e-6 * (high - low):
        raise InvalidInput("compartments", f"{name} is divided from end to end already; move a bulkhead first.")
    # The forward half of a free body, so that something is left; the whole of a gap between others.
    aft = (start + end) / 2 if not taken else start
    return Compartment(
        free_name(craft.design, "fore peak" if not taken else "compartment"),
        name,
        aft_m=round(aft, 4) if aft > low else None,
        fore_m=None if end >= high - 1e-9 else round(end, 4),
        starboard_m=0.0 if pair else None,  # the two of a pair are not one room
    )


def divided(craft: Craft, body: str, places: Sequence[Metres]) -> Design:
    """The body cut by bulkheads across at places from aft, its old compartments replaced. Raises InvalidInput."""
    number = _hollow(craft, body)
    name = craft.design.bodies[number].name
    low, high = (float(v[0]) for v in craft.piece(number).bounds)
    pair = craft.design.bodies[number].mirrored and craft.design.bodies[number].at_m[1] != 0
    cuts = sorted(set(places))
    if not cuts or not all(low < c < high for c in cuts):
        raise InvalidInput("bulkheads", "Bulkheads stand between {low:length} and {high:length} from aft.", low=low, high=high)
    ends = [None, *cuts, None]
    kept = tuple(c for c in craft.design.compartments if c.body != name)
    design = dataclasses.replace(craft.design, compartments=kept)
    for k, (a, b) in enumerate(itertools.pairwise(ends)):
        title = "after part" if k == 0 else "fore part" if k == len(cuts) else "middle part"
        sides = (("", None, None),) if not pair else ((", port", 0.0, None), (", starboard", None, 0.0))
        for word, starboard, port in sides:
            one = Compartment(name=free_name(design, title + word), body=name, aft_m=a, fore_m=b, starboard_m=starboard, port_m=port)
            design = dataclasses.replace(design, compartments=(*design.compartments, one))
    return design
