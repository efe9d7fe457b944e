"""The sums of 33 CFR 183, clause by clause."""

from dataclasses import dataclass

from yarekeel.core.rules.cfr_183 import POUND
from yarekeel.stages.afloat import rules
from yarekeel.web.stages.asked import Asked
from yarekeel.web.stages.tab import Tab

POWERS = (("outboard", "outboard over 2 hp"), ("manual", "oars, paddle, up to 2 hp"))
STEERING = (("no", "no"), ("yes", "yes, and a 20 in transom"))
BOTTOM = (("no", "no"), ("yes", "yes"))


@dataclass(frozen=True)
class RulesMore:
    selects: tuple[tuple[str, str, tuple[tuple[str, str], ...], str], ...]
    clauses: tuple[tuple[str, str, str, str], ...]


def view(asked: Asked) -> Tab:
    """The clauses for the kind of power and bottom chosen."""
    power = asked.ask.get("power", "outboard")
    power = power if power in dict(POWERS) else "outboard"
    steering, bottom = (asked.ask.get(n, "no") == "yes" for n in ("steering", "bottom"))
    result = rules.assess(asked.craft, "manual" if power == "manual" else "outboard", steering, bottom)
    selects = (
        ("power", "Power", POWERS, power),
        ("steering", "Remote steering", STEERING, "yes" if steering else "no"),
        ("bottom", "Flat bottom, hard chine", BOTTOM, "yes" if bottom else "no"),
    )
    clauses = tuple((c.clause, c.title, _said(asked, c), c.how) for c in result.clauses)
    return Tab(findings=asked.reader.findings(result.findings), title="33 CFR 183", more=RulesMore(selects, clauses))


def _said(asked: Asked, c: rules.Clause) -> str:
    if c.kind == "mass":
        return f"{asked.reader.say(c.value, 'mass')} ({c.value / POUND:.0f} lb)"
    return f"{c.value:g} hp" if c.title == "Horsepower" else f"{c.value:g}"
