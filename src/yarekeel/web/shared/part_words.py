"""A part's figures in a line of words."""

from yarekeel.core.parameters import parameters_of
from yarekeel.core.propulsion.parts import Part
from yarekeel.units import System, field_text

MOST = 4
"""Figures that a line holds."""


def figures(part: Part, system: System) -> str:
    """The first figures of a part, each with its label."""
    out = []
    for p in parameters_of(part.spec)[:MOST]:
        value = getattr(part.spec, p.name)
        if p.kind == "choice":
            out.append(dict(p.choices).get(value, str(value)))
        elif value:
            out.append(f"{p.label.lower()} {field_text(value, p.kind, system)}")
    return ", ".join(out)
