"""What the frame of every boat page shows: the band, the chain of revisions and the ladder; and cached assessments."""

import math
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, YareKeelError
from yarekeel.core.findings import Finding
from yarekeel.core.geometry.wetted import waterline_length
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Kilograms, Radians
from yarekeel.core.resistance.friction import hull_speed
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.fitted import sums_of
from yarekeel.store.records import Boat, Revision, letter_of
from yarekeel.units import SYSTEMS, System, WordedFinding, band, number_within, said, say, unit_for


@kept
def craft_of(design: Design) -> Craft:
    """The craft of a design, kept so that its hull and sums are shared by the ladder and the page."""
    return Craft(design)


@kept
def float_of(design: Design) -> afloat.FloatAssessment | None:
    """The float assessment, None while nothing aboard has a mass."""
    try:
        return afloat.assess(craft_of(design))
    except InvalidInput:
        if any(w.mass_kg > 0 for w in craft_of(design).items):
            raise
        return None


@dataclass(frozen=True, slots=True)
class Stage:
    """A stage of the work: its place on the ladder, its word in addresses, its title, its folder."""

    number: int
    slug: str
    title: str
    folder: str


STAGES = tuple(
    Stage(n + 1, slug, title, folder)
    for n, (slug, title, folder) in enumerate(
        (
            ("brief", "Brief", "brief"),
            ("shape", "Shape", "shape"),
            ("weights", "Weights", "weights"),
            ("float", "Float", "afloat"),
            ("stability", "Stability", "stability"),
            ("drive", "Drive", "drive"),
            ("underway", "Under way", "underway"),
            ("trials", "Trials", "trials"),
            ("fixes", "Fixes", "fixes"),
        )
    )
)
BY_SLUG = {s.slug: s for s in STAGES}


@dataclass(frozen=True, slots=True)
class Readout:
    """A large figure: the number apart from its unit, a small line on what it means, and how it stands."""

    label: str
    number: str
    unit: str
    note: str
    tone: str = ""
    touch: str = ""


@dataclass(frozen=True, slots=True)
class Reader:
    """Says values and findings in the reader's units."""

    system: System

    def say(self, value: float, kind: str) -> str:
        return say(value, kind, self.system)

    def findings(self, findings: tuple[Finding, ...]) -> tuple[WordedFinding, ...]:
        return tuple(said(f, self.system) for f in findings)

    def band(self, value: float, half: float | None, kind: str) -> str:
        """What to either side of a value its band holds; that it is not known where there is none."""
        return "spread not known" if half is None else band(value, half, kind, self.system)

    def both(self, value: float, half: float, kind: str, *, extra: int = 0) -> str:
        """A value and its band, neither finer than the band's two first figures."""
        return f"{number_within(value, half, kind, self.system, extra)} {band(value, half, kind, self.system, extra)}"

    def figure(
        self,
        label: str,
        value: float,
        kind: str,
        note: str,
        tone: str = "",
        touch: str = "",
        *,
        extra: int = 0,
        half: float | None = None,
    ) -> Readout:
        """A readout of a value in the shown unit, with ``extra`` decimals, no finer than its band (``half`` to either side)."""
        return Readout(
            label=label,
            number=number_within(value, half or 0.0, kind, self.system, extra),
            unit=unit_for(value, kind, self.system).label,
            note=note,
            tone=tone,
            touch=touch,
        )

    def turn(self, label: str, angle: Radians, kind: str, note: str, tone: str = "") -> Readout:
        """A readout of a trim or heel: the size large, the direction beside it in words."""
        words = self.say(angle, kind).removeprefix("leans ")
        size = f"{abs(math.degrees(angle)):.1f}°"
        return Readout(label=label, number=size, unit=words.replace(size, "").replace("stands", "").strip(), note=note, tone=tone)


@dataclass(frozen=True, slots=True)
class Rung:
    """A stage on the ladder with its line of live state."""

    number: int
    title: str
    href: str
    state: str
    current: bool
    under: bool


@dataclass(frozen=True, slots=True)
class Link:
    """A revision on the chain; ``trial`` puts a pennant on the link after it."""

    letter: str
    href: str
    current: bool
    trial: bool


@dataclass(frozen=True, slots=True)
class Frame:
    """The whole frame of a boat page."""

    boat_id: int
    name: str
    letter: str
    snapshot: int
    sealed: bool
    note: str
    base: str
    stage: Stage
    chain: tuple[Link, ...]
    rungs: tuple[Rung, ...]
    undo_label: str
    redo_label: str
    water: str
    case: str
    aboard: str
    units: tuple[tuple[str, str, bool], ...]
    next_letter: str


def frame_of(boat: Boat, revision: Revision, stage: Stage, design: Design) -> Frame:
    """The frame around one stage of one revision; ``design`` may be a state not saved yet."""
    system = SYSTEMS[revision.units]
    base = f"/boats/{boat.id}/{revision.letter}"
    craft = craft_of(design)
    try:
        mass = _all_up(craft)
    except YareKeelError:
        mass = 0.0
    return Frame(
        boat_id=boat.id,
        name=design.name,
        letter=revision.letter,
        snapshot=revision.snapshot,
        sealed=revision.is_sealed,
        note=_note(boat, revision),
        base=base,
        stage=stage,
        chain=tuple(
            Link(r.letter, f"/boats/{boat.id}/{r.letter}/{stage.slug}", r.letter == revision.letter, bool(r.trials)) for r in boat.revisions
        ),
        rungs=tuple(
            Rung(number=s.number, title=s.title, href=f"{base}/{s.slug}", state=state, current=s is stage, under=s.number > stage.number)
            for s, state in zip(STAGES, _ladder(boat, revision, design, system), strict=True)
        ),
        undo_label=revision.undo_label or "",
        redo_label=revision.redo_label or "",
        water=f"{design.water.kind.title()}, {say(design.water.temperature_c, 'temperature', system).replace('.0', '')}",
        case=design.case,
        aboard=say(mass, "mass", system) if mass else "nothing yet",
        units=tuple((s.code, s.title, s.code == revision.units) for s in SYSTEMS.values()),
        next_letter=letter_of(boat.next_number),
    )


def _all_up(craft: Craft) -> Kilograms:
    """All that floats, liquids in tanks among it; 0 while nothing is aboard."""
    return craft.mass if any(w.mass_kg > 0 for w in craft.items) else 0.0


def _note(boat: Boat, revision: Revision) -> str:
    if revision.is_sealed:
        count = len(revision.trials)
        return f"sealed: {count} trial{'s' if count > 1 else ''} ran on {revision.letter}"
    if revision.follows:
        return f"draft, from {revision.follows}: {revision.note}" if revision.note else f"draft, from {revision.follows}"
    return "first draft"


def _ladder(boat: Boat, revision: Revision, design: Design, system: System) -> tuple[str, ...]:
    """The stages' lines of live state; of a boat that cannot be worked out each says so, and its pages say why."""
    try:
        return _states(boat, revision, design, system)
    except YareKeelError:
        return ("cannot be worked out",) * len(STAGES)


def _states(boat: Boat, revision: Revision, design: Design, system: System) -> tuple[str, ...]:
    craft = craft_of(design)
    listed, mass = sum(w.mass_kg for w in craft.items), _all_up(craft)
    weighed = sum(w.mass_kg for w in craft.items if w.known == "weighed")
    result = float_of(design)
    low, high = craft.hull.mesh.bounds
    at = result.afloat if result else None
    if result is None:
        rest, tips, runs = "add weights first", "add weights first", "add weights first"
    elif at is None:
        rest = tips = runs = result.why_not
    else:
        rest = (
            "rolls over" if at.is_capsized else (say(at.attitude.heel, "heel") if at.is_lolling else say(at.attitude.trim, "trim", system))
        )
        tips = "unstable upright" if at.is_unsteady else f"GM {say(at.gm_transverse, 'length', system)}"
        runs = f"hull speed {say(hull_speed(waterline_length(craft.hull.mesh, at.attitude)), 'speed', system)}"
    motors = design.drive.motors
    push = f"thrust/weight {say(sums_of(design, mass).thrust_to_weight, 'ratio', system)}" if motors and mass else "no motor yet"
    trials = sum(len(r.trials) for r in boat.revisions)
    return (
        f"up to {say(design.brief.target_mass_kg, 'mass', system)}",
        f"{design.bodies[0].shape.title}, {say(float(high[0] - low[0]), 'length', system)}",
        f"{say(mass, 'mass', system)}, {say(weighed / listed, 'percent', system)} weighed" if listed else "nothing yet",
        rest,
        tips,
        push,
        runs,
        f"{trials} logged" if trials else "none yet",
        "ready to price" if revision.trials else "after a trial",
    )
