"""Load and level: what it carries, what levels it, ballast, a wanted waterline, equal loads."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.plain_text import whole
from yarekeel.stages.changes import loading
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.tab import Answer, Question, Tab, question

TITLE, RANK = "Load and level", 4
ONLY_AFLOAT = True

BALLAST = ("lead", "lead_shot", "steel", "fresh_water")


@dataclass(frozen=True)
class Solver:
    """One question of the page: its choices and fields, and the answer to them."""

    title: str
    selects: tuple[tuple[str, str, tuple[tuple[str, str], ...], str], ...]
    fields: tuple[Question, ...]
    answer: Answer


@dataclass(frozen=True)
class LoadMore:
    solvers: tuple[Solver, ...]


def view(asked: PageRequest) -> Tab:
    """Six solvers, each with its answer as it stands."""
    say, craft = asked.reader.say, asked.craft
    solvers = (_two(asked), _heaviest(asked), _ballast(asked), _stiff(asked), _waterline(asked), _equal(asked))
    capacity = loading.capacity(craft)
    placed = (("Placed well", capacity.central), ("At the rail", capacity.side), ("At the worse end", capacity.end))
    figure = asked.reader.figure
    readouts = tuple(
        figure(title, load.mass, "mass", f"then {load.limit}; {say(load.at[0], 'length')} from aft, {say(load.at[2], 'length')} up")
        for title, load in placed
    )
    return Tab(readouts=readouts, title="It takes, until water comes in", more=LoadMore(solvers), figures_beside=True)


def _said(ask: Callable[[], Answer], title: str) -> Answer:
    try:
        return ask()
    except (NoAnswer, InvalidInput) as error:
        return Answer(title, str(error))


def _movable(asked: PageRequest) -> list[int]:
    items = asked.craft.items
    fit = [k for k, w in enumerate(items) if w.mass_kg > 0 and not w.fixed and not w.structure]
    return sorted(fit, key=lambda k: -items[k].mass_kg)[:60]


def _two(asked: PageRequest) -> Solver:
    say, items = asked.reader.say, asked.craft.items
    fit = _movable(asked)
    choices = (("", "none"), *((str(k), items[k].name) for k in fit))
    picked = [asked.ask.get(name, "") for name in ("move1", "move2")]
    if not any(picked) and fit:
        picked = [str(fit[0]), str(fit[1]) if len(fit) > 1 else ""]
    rooms = [
        question(asked=asked, name=f"room{n}{end}", label=label, kind="length", placeholder="")
        for n in (1, 2)
        for end, label in (("a", "from"), ("b", "to"))
    ]
    pairs = ((rooms[0][1], rooms[1][1]), (rooms[2][1], rooms[3][1]))
    room = [(a, b) if a is not None and b is not None else None for a, b in pairs]

    def answer() -> Answer:
        chosen = [(n, r) for p, r in zip(picked, room, strict=True) if (n := whole(p)) is not None and n < len(items)]
        moves = loading.level_by(asked.craft, [k for k, _ in chosen], [r for _, r in chosen])
        if all(max(abs(m.forward), abs(m.to_port)) < 5e-4 for m in moves):
            return Answer("level", "It is level as it is.")
        words = "; ".join(f"{m.name} {_steps(asked, m)}" for m in moves)
        args = {"moves": [{"line": m.index, "place": m.place} for m in moves]}
        return Answer(title="level", words=f"{words}.", do="answer.move", args=args, button="Move them" if len(moves) > 1 else "Move it")

    selects = (("move1", "Move", choices[1:], picked[0]), ("move2", "and", choices, picked[1]))
    labels = ("first, from", "to", "second, from", "to")
    fields = tuple(
        Question(
            name=q.name, label=label, text=q.text, placeholder=say(float(asked.craft.hull.mesh.bounds[n % 2][0]), "length"), error=q.error
        )
        for n, ((q, _), label) in enumerate(zip(rooms, labels, strict=True))
    )
    return Solver("Level it by moving", selects, fields, _said(answer, "level"))


def _steps(asked: PageRequest, m: loading.Move) -> str:
    say = asked.reader.say
    steps = [say(v, k) for v, k, least in ((m.forward, "fore_aft", 5e-4), (m.to_port, "athwart", 5e-5)) if abs(v) >= least]
    return " and ".join(steps) or "stays"


def _place(
    asked: PageRequest, names: tuple[str, str, str], default: tuple[float, float, float]
) -> tuple[tuple[Question, ...], tuple[float, float, float]]:
    say = asked.reader.say
    found = [
        question(asked=asked, name=name, label=label, kind="length", placeholder=say(d, "length"), default=d)
        for name, label, d in zip(names, ("from aft", "to port", "up"), default, strict=True)
    ]
    x, y, z = (v if v is not None else d for (_, v), d in zip(found, default, strict=True))
    return tuple(q for q, _ in found), (x, y, z)


def _heaviest(asked: PageRequest) -> Solver:
    total, say = asked.craft.total, asked.reader.say
    fields, at = _place(asked, ("hx", "hy", "hz"), (total.centre[0], 0.0, total.centre[2]))

    def answer() -> Answer:
        load = loading.heaviest(asked.craft, at)
        words = f"{say(load.mass, 'mass')} there; more would miss on {load.limit}."
        return Answer("heaviest", words, "answer.load", _args("Load", "payload", "", load))

    return Solver("Heaviest load the brief allows", (), fields, _said(answer, "heaviest"))


def _args(name: str, group: str, material: str, load: loading.Load) -> dict[str, Any]:
    """What puts a load aboard."""
    return {"name": name, "group": group, "material": material, "mass": load.mass, "place": load.at}


def _materials(asked: PageRequest) -> tuple[tuple[str, str], ...]:
    return tuple((code, MATERIALS[code].title) for code in BALLAST)


def _material(asked: PageRequest) -> str:
    code = asked.ask.get("ballast_of", "lead")
    return code if code in BALLAST else "lead"


def _ballast(asked: PageRequest) -> Solver:
    say, craft = asked.reader.say, asked.craft
    low, high = craft.hull.mesh.bounds
    down = (craft.rest().attitude.trim if not _sinks(asked) else 0.0) < 0
    far = float(low[0] + (0.1 if down else 0.9) * (high[0] - low[0]))
    ask, x = question(asked=asked, name="ballast_x", label="from aft", kind="length", placeholder=say(far, "length"), default=far)

    def answer() -> Answer:
        load = loading.ballast_at(craft, x if x is not None else far, _material(asked))
        if load.mass < 1e-4 * craft.total.mass:
            return Answer("ballast", "It is level as it is.")
        words = f"{say(load.mass, 'mass')} there ({say(load.volume, 'volume')}) levels it."
        return Answer("ballast", words, "answer.load", _args("Ballast", "ballast", _material(asked), load))

    return Solver("Level it by ballast", (("ballast_of", "Of", _materials(asked), _material(asked)),), (ask,), _said(answer, "ballast"))


def _sinks(asked: PageRequest) -> bool:
    return asked.craft.total.mass >= asked.craft.kernel.total_volume * asked.craft.density * (1 - 1e-6)


def _stiff(asked: PageRequest) -> Solver:
    say, craft = asked.reader.say, asked.craft
    default = craft.design.brief.least_gm_m
    ask, gm = question(asked=asked, name="gm_wanted", label="GM wanted", kind="length", placeholder=say(default, "length"), default=default)

    def answer() -> Answer:
        load = loading.ballast_for_gm(craft, gm if gm is not None else default, _material(asked))
        where = f"{say(load.at[0], 'length')} from aft on the bottom"
        words = f"{say(load.mass, 'mass')}, {where} ({say(load.volume, 'volume')})."
        return Answer("stiff", words, "answer.load", _args("Ballast, low", "ballast", _material(asked), load))

    return Solver("Stiffen it by ballast", (), (ask,), _said(answer, "stiff"))


def _waterline(asked: PageRequest) -> Solver:
    say = asked.reader.say
    asks = [
        question(asked=asked, name=name, label=label, kind="length", placeholder="")
        for name, label in (("draft_bow", "draft, bow mark"), ("draft_stern", "stern mark"))
    ]
    (_, bow), (_, stern) = asks

    def answer() -> Answer:
        if bow is None or stern is None:
            return Answer("waterline", "Type the drafts you want at the two marks.")
        load = loading.waterline(asked.craft, bow, stern)
        if load.mass <= 0:
            return Answer("waterline", "It floats there as it is.")
        aside = say(load.at[1], "athwart") if abs(load.at[1]) > 5e-5 else "on the centreline"
        words = f"{say(load.mass, 'mass')} at {say(load.at[0], 'length')} from aft, {aside}."
        return Answer("waterline", words, "answer.load", _args("Load for the waterline", "ballast", "", load))

    return Solver("Hold a waterline", (), tuple(q for q, _ in asks), _said(answer, "waterline"))


def _equal(asked: PageRequest) -> Solver:
    say = asked.reader.say
    default = float(f"{max(asked.craft.total.mass * 0.02, 1e-4):.1g}")
    ask, each = question(
        asked=asked,
        name="each",
        label="each",
        kind="mass",
        placeholder=say(default, "mass"),
        default=default,
        hint="a coin, a stone, a bag",
    )

    def answer() -> Answer:
        even = loading.equal_loads(asked.craft, each if each is not None else default, "even")
        side = loading.equal_loads(asked.craft, each if each is not None else default, "side")
        words = f"{even.last} evenly placed, then {even.why}; {side.last} along one side, then {side.why}."
        return Answer("equal", words)

    return Solver("Count equal loads", (), (ask,), _said(answer, "equal"))
