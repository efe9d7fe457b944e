"""Diagnosis: causes ranked by what the readings, what was seen and this boat's own verdicts say for and against each."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from yarekeel.core.errors import NoRest, YareKeelError
from yarekeel.core.findings import Finding, Severity, Values
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Floats, Ratio
from yarekeel.core.sources import Source
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive import line, match
from yarekeel.stages.fixes.cause_rows import ROWS, Cause
from yarekeel.stages.fixes.evidence import AMOUNTS, Evidence, Weight
from yarekeel.stages.judging.report import report
from yarekeel.stages.trials.found import candidates
from yarekeel.stages.trials.readings import Readings
from yarekeel.stages.underway import flip, foils, planing, schools, steering, turning

State = Literal["supported", "possible", "against", "excluded"]
NOTHING: Ratio = 0.5
"""Beforehand, that nothing is wrong; the causes share the rest."""
SUPPORTED, POSSIBLE = 0.5, 0.02
"""Of belief after the readings."""
STRONG = math.log(20)
"""Of a Bayes factor: strong (Kass and Raftery 1995, p. 777, from memory)."""
SEEN, UNSEEN = math.log(4), math.log(1.3)
"""What a symptom says for a cause that shows it, and against one that does not (common practice)."""
VERDICT = math.log(3)
"""What a weak verdict of this boat says for a cause, and one that holds against it (common practice)."""
TOLD_APART = 1.5
"""Standard deviations from which a measurement tells two causes apart."""
WORTH_TELLING: Ratio = 0.1
"""Of belief, that the second cause has for it to be worth a measurement."""
MISREADS = np.array([-40.0, -20.0, -10.0, -6.0, 6.0, 10.0, 20.0, 40.0])
"""Standard deviations that a misread figure is off by."""
SOURCE = Source("Kass and Raftery, J. Am. Stat. Assoc. 90 (1995) 773", "from memory")
WORDS = {
    "mass": "mass",
    "draft": "draft",
    "degrees": "heel",
    "seconds": "seconds",
    "force": "force",
    "current": "current",
    "speed": "speed",
}


@dataclass(frozen=True, slots=True)
class Judged:
    """A cause judged: its state, how likely it is (0 to 1, of all that readings tell apart; None where no reading shows it), the logarithm
    of the Bayes factor, the amount that fits best (SI; None where none is known), and the sentences that say why, each with its values."""

    cause: Cause
    state: State
    belief: Ratio | None
    log: float
    amount: float | None
    reasons: tuple[tuple[str, Values], ...]

    @property
    def finding(self) -> Finding:
        """As a verdict: what supports it is a reason to act."""
        severity: dict[State, Severity] = {"supported": "fails", "possible": "near", "against": "note", "excluded": "note"}
        values: dict[str, float | str] = {} if self.amount is None else {"amount": self.amount}
        sentence = self.cause.sentence if self.amount is not None or "{amount" not in self.cause.sentence else ""
        return Finding(f"cause.{self.cause.code}", severity[self.state], self.cause.title, sentence, source=SOURCE, values=values)


@dataclass(frozen=True, slots=True)
class Telling:
    """A measurement that would tell the first two causes apart: what, what it needs, and by how many standard deviations."""

    words: str
    needs: str
    one: str
    other: str
    apart: float


@dataclass(frozen=True, slots=True)
class Diagnosis:
    """Causes in order, the most likely first; how likely it is that nothing is wrong; and what would tell the first two apart."""

    causes: tuple[Judged, ...]
    nothing: Ratio
    telling: Telling | None

    @property
    def is_clean(self) -> bool:
        """Whether no cause is supported."""
        return all(j.state != "supported" for j in self.causes)


@kept
def diagnose(craft: Craft, readings: Readings, seen: tuple[str, ...] = ()) -> Diagnosis:
    """Judge every cause. Raises NoRest for a boat that does not float."""
    _ = craft.settled
    evidence = Evidence(craft, readings)
    verdicts = _verdicts(craft, _cited(craft, seen))
    weighed: list[tuple[Cause, Weight, float]] = []
    others: list[Judged] = []
    for cause in ROWS:
        if not cause.needs(craft):
            if set(cause.symptoms) & set(seen):
                others.append(Judged(cause, "excluded", None, -math.inf, None, ((cause.without, {}),)))
        elif cause.effect is None:
            found = _by_sight(cause, seen, verdicts)
            if found is not None:
                others.append(found)
        else:
            weight = _weight(cause, evidence)
            extra = _by_symptoms(cause, seen) + _by_verdicts(cause, verdicts)
            weighed.append((cause, weight, weight.log + extra))
    misread, name = _misread(evidence)
    weighed.append((_MISREAD, Weight(misread, 0.0), misread - UNSEEN * bool(seen)))
    logs = np.array([log for *_, log in weighed])
    prior = math.log((1 - NOTHING) / len(weighed))
    none = math.log(NOTHING) - UNSEEN * bool(seen)
    top = max(float(logs.max()) + prior, none)
    shares = np.exp(logs + prior - top)
    whole = float(shares.sum()) + math.exp(none - top)
    judged = [
        _judged(cause, weight, log, float(share) / whole, evidence, name if cause is _MISREAD else "")
        for (cause, weight, log), share in zip(weighed, shares, strict=True)
    ]
    order = {"supported": 0, "possible": 1, "against": 2, "excluded": 3}
    causes = sorted((*judged, *others), key=lambda j: (order[j.state], j in others, -(j.belief or 0.0), -j.log))
    return Diagnosis(tuple(causes), math.exp(none - top) / whole, _telling(craft, readings, evidence, causes))


_MISREAD = Cause("misread", "A reading is wrong", "One reading stands against all others.")


def _amounts(cause: Cause) -> Floats:
    amounts = np.linspace(*cause.amounts, AMOUNTS)
    return np.concatenate([-amounts[::-1], amounts]) if cause.either_way else amounts


def _effects(cause: Cause, e: Evidence) -> tuple[Floats, Floats]:
    """Amounts (m,) and what each does to the readings (m, n). An effect is taken as straight in its amount, from the middle of its range:
    causes are told apart by which readings they move, and less by how much."""
    amounts = _amounts(cause)
    middle = sum(cause.amounts) / 2
    assert cause.effect is not None
    shape = cause.effect(e, middle) / middle
    return amounts, amounts[:, None] * shape


def _weight(cause: Cause, e: Evidence) -> Weight:
    amounts, effects = _effects(cause, e)
    return e.weigh(effects, amounts)


def _misread(e: Evidence) -> tuple[float, str]:
    """The Bayes factor of one reading, but the scale's, being wrong, whichever it is; and which."""
    logs, names = [], []
    for k, line_ in enumerate(e.lines):
        if line_.part == "mass":
            continue
        effects = np.zeros((len(MISREADS), len(e.lines)))
        effects[:, k] = MISREADS * e.sigma[k]
        logs.append(e.weigh(effects, MISREADS).log)
        names.append(line_.name)
    if not logs:
        return -math.inf, ""
    top = max(logs)
    return top + math.log(sum(math.exp(v - top) for v in logs) / len(logs)), names[int(np.argmax(logs))]


def _by_symptoms(cause: Cause, seen: tuple[str, ...]) -> float:
    return sum(SEEN if s in cause.symptoms else -UNSEEN for s in seen)


def _by_verdicts(cause: Cause, verdicts: dict[str, Finding]) -> float:
    mine = [verdicts[c].severity for c in cause.findings if c in verdicts]
    if any(s in ("fails", "near") for s in mine):
        return VERDICT
    return -VERDICT if "holds" in mine else 0.0


def _by_sight(cause: Cause, seen: tuple[str, ...], verdicts: dict[str, Finding]) -> Judged | None:
    """A cause that no reading shows: what was seen, and what this boat's own verdicts say to it; None where nothing was seen of it."""
    if not set(cause.symptoms) & set(seen):
        return None
    mine = [verdicts[c] for c in cause.findings if c in verdicts]
    weak = [f for f in mine if f.severity in ("fails", "near")]
    failing = any(f.severity == "fails" for f in weak)
    state: State = "supported" if failing else "possible" if weak else "against" if any(f.severity == "holds" for f in mine) else "possible"
    reasons = tuple((f"{f.title}.", dict(f.values)) for f in (weak or mine)[:2])
    log = {"supported": 2 * VERDICT, "possible": 0.0, "against": -VERDICT}[state]
    return Judged(cause, state, None, log, None, reasons or (("Nothing of this boat's figures speaks to it.", {}),))


def _judged(cause: Cause, weight: Weight, log: float, belief: Ratio, e: Evidence, misread: str) -> Judged:
    if belief >= SUPPORTED and log >= STRONG:
        state: State = "supported"
    else:
        state = "possible" if belief >= POSSIBLE else "against"
    amount = weight.amount * _size(cause, e)
    if misread:
        return Judged(cause, state, belief, log, None, ((f"{misread} stands against all others.", {}),))
    return Judged(cause, state, belief, log, amount, _reasons(cause, e))


def _reasons(cause: Cause, e: Evidence) -> tuple[tuple[str, Values], ...]:
    """The two readings that speak most for it, or against it, with what was predicted and read."""
    if not len(e.lines) or cause.effect is None:
        return ()
    _, effects = _effects(cause, e)
    middle = effects[len(effects) // 2]
    unit = np.abs(middle) / e.doubt
    out: list[tuple[str, Values]] = []
    for k in np.argsort(-unit)[:2]:
        line_ = e.lines[int(k)]
        if unit[k] < 0.5:
            continue
        kind = WORDS[line_.kind]
        values: dict[str, float | str] = {"name": line_.name, "read": float(line_.measured), "shown": float(e.expected[k])}
        if line_.kind == "degrees":
            values |= {"read": math.radians(line_.measured), "shown": math.radians(float(e.expected[k]))}
        out.append((f"{{name}}: {{read:{kind}}}, where the list gives {{shown:{kind}}}.", values))
    return tuple(out) or (("Nothing that was read tells it.", {}),)


def _telling(craft: Craft, readings: Readings, e: Evidence, causes: list[Judged]) -> Telling | None:
    """The measurement that would tell the two most likely causes apart best, where the second is likely enough to ask."""
    likely = [j for j in causes if j.cause.effect is not None and (j.belief or 0.0) >= WORTH_TELLING]
    if len(likely) < 2:
        return None
    best: Telling | None = None
    for one in candidates(craft, readings):
        more = Evidence(craft, one.with_it)
        gain = math.sqrt(max(_apart(more, likely) ** 2 - _apart(e, likely) ** 2, 0.0))
        if gain > max(TOLD_APART, best.apart if best else 0.0):
            best = Telling(one.words, one.needs, likely[0].cause.title, likely[1].cause.title, gain)
    return best


def _apart(e: Evidence, likely: list[Judged]) -> float:
    """By how many standard deviations some readings tell the first two of these apart, at the amounts that fit best."""
    one, other = (j.cause.effect(e, (j.amount or 0.0) / _size(j.cause, e)) for j in likely[:2] if j.cause.effect is not None)
    return e.apart(one, other)


def _size(cause: Cause, e: Evidence) -> float:
    """What a cause's amounts are shares of, in SI; 1 for a share of nothing."""
    at = {"length": 1, "breadth": 2, "depth": 3}.get(cause.of)
    return float(e.model.size[at]) if at else 1.0


BESIDE: tuple[tuple[Callable[[Craft], Any], frozenset[str]], ...] = (
    (match.assess, frozenset({"drive.hump", "drive.top_speed", "drive.range"})),
    (line.assess, frozenset({"drive.tips", "drive.couple", "drive.yaw", "drive.torque", "drive.line_held"})),
    (flip.assess, frozenset({"underway.flip", "underway.flip_rough"})),
    (foils.assess, frozenset({"underway.lift_together", "underway.lift_off", "underway.flight", "underway.foil_shallow"})),
    (planing.assess, frozenset({"underway.planes", "underway.no_trim", "underway.porpoising", "underway.hump"})),
    (schools.assess, frozenset({"underway.schools", "underway.high_line", "underway.school_by_speed"})),
    (steering.assess, frozenset({"underway.margin", "underway.fins_out"})),
    (turning.assess, frozenset({"underway.no_rudder", "underway.circle", "underway.wanders", "underway.rudder_stream"})),
)
"""What takes a while to work out, with the verdicts that it says: asked only where a cause cites one of them."""


def _cited(craft: Craft, seen: tuple[str, ...]) -> frozenset[str]:
    """Codes of the verdicts that count here: of causes that readings show, and of those of which something was seen."""
    return frozenset(
        code for row in ROWS if (row.effect is not None or set(row.symptoms) & set(seen)) and row.needs(craft) for code in row.findings
    )


@kept
def _verdicts(craft: Craft, cited: frozenset[str]) -> dict[str, Finding]:
    """This boat's verdicts by their codes, the gravest of each; those of a stage that cannot be worked out are left out."""
    told = [f for stage in report(craft) for f in stage.findings]
    for of, says in BESIDE:
        if not says & cited:
            continue
        try:
            found = of(craft)
        except (YareKeelError, NoRest):
            continue
        told += getattr(found, "findings", ()) if found is not None else ()
    grave = {"fails": 3, "near": 2, "holds": 1, "note": 0}
    out: dict[str, Finding] = {}
    for f in told:
        if f.code in cited and (f.code not in out or grave[f.severity] > grave[out[f.code].severity]):
            out[f.code] = f
    return out
