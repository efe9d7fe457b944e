"""Weights: the list and its sum, the line in hand and its estimate, load cases, the boat's own materials."""

from dataclasses import dataclass

from yarekeel.core.weights.items import GROUPS
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.stages.changes import lightening
from yarekeel.stages.judging import cases
from yarekeel.stages.weights import weights
from yarekeel.units import WordedFinding, plain, said
from yarekeel.web.shared.afloat_now import AfloatNow, afloat_now
from yarekeel.web.shared.fields import Field
from yarekeel.web.shared.page import Readout
from yarekeel.web.stages.page_request import PageRequest
from yarekeel.web.stages.weights.line import WeightForm, line_of
from yarekeel.web.stages.weights.weighing import Weighing, weighing_of

PARTS = ("live", "side", "form")
TABS = (("list", "List"), ("cases", "Load cases"), ("weigh", "Weigh-in"), ("materials", "Materials"))
SORTS = (
    ("listed", "as listed"),
    ("mass", "heaviest first"),
    ("name", "by name"),
    ("group", "by group"),
    ("x", "from aft"),
    ("unsure", "least sure first"),
)
A_PAGE = 40
"""Lines on a page of the list: more would slow every edit and be read by nobody."""


@dataclass(frozen=True)
class Row:
    """One weight: its fields in the order of the columns."""

    path: str
    name: str
    index: int
    fields: tuple[Field, ...]
    total: str
    chosen: bool
    estimated: bool
    ashore: bool


@dataclass(frozen=True)
class Bar:
    name: str
    index: int
    mass: str
    share: float


@dataclass(frozen=True)
class Way:
    """A way to the target."""

    said: WordedFinding
    path: str


@dataclass(frozen=True)
class TankRow:
    """A ballast tank in a load case: how full it is listed, the field of its share, what it then holds."""

    name: str
    listed: str
    field: Field
    holds: str


@dataclass(frozen=True)
class CaseRow:
    """A load case: its number (None for the list as it stands), its figures, which of them are the worst of all."""

    number: int | None
    title: str
    name: str
    in_force: bool
    cells: tuple[tuple[str, bool], ...]
    verdict: str
    tone: str


@dataclass(frozen=True)
class WeightsView:
    tab: str
    tabs: tuple[tuple[str, str], ...]
    rows: tuple[Row, ...]
    matching: int
    listed: int
    page: int
    pages: int
    find: str
    group: str
    groups: tuple[str, ...]
    sort: str
    sorts: tuple[tuple[str, str], ...]
    line: WeightForm | None
    case: Field
    case_number: int | None
    case_rows: tuple[CaseRow, ...]
    case_name: Field | None
    case_findings: tuple[WordedFinding, ...]
    materials: tuple[tuple[Field, ...], ...]
    table: tuple[tuple[str, str, str, str, str], ...]
    weighing: Weighing | None
    tanks: tuple[TankRow, ...]
    people: bool
    sealed: bool
    readouts: tuple[Readout, ...]
    bars: tuple[Bar, ...]
    ways: tuple[Way, ...]
    findings: tuple[WordedFinding, ...]
    now: AfloatNow


def view(asked: PageRequest) -> WeightsView:
    """What the tab in hand needs, and the sum that every tab shows."""
    craft, design, reader = asked.craft, asked.design, asked.reader
    result = weights.assess(craft)
    tab = asked.ask.get("tab", "")
    tab = tab if tab in dict(TABS) else "list"
    order = _order(asked)
    page = _page(asked, len(order))
    chosen = asked.index("item", len(design.weights))
    number = next((k for k, c in enumerate(design.cases) if c.name == design.case), None)
    compared = cases.assess(craft) if tab == "cases" else None
    return WeightsView(
        tab=tab,
        tabs=TABS,
        rows=_rows(asked, order),
        matching=len(order),
        listed=len(design.weights),
        page=page,
        pages=max(1, -(-len(order) // A_PAGE)),
        find=asked.ask.get("find", "")[:60],
        group=asked.ask.get("group", ""),
        groups=GROUPS,
        sort=asked.ask.get("sort", "listed"),
        sorts=SORTS,
        line=None if tab != "list" or chosen is None else line_of(asked, chosen),
        case=asked.field("case"),
        case_number=number,
        case_rows=_cases(asked, compared) if compared else (),
        case_name=None if number is None else asked.field(f"cases.{number}.name"),
        case_findings=reader.findings(compared.findings) if compared else (),
        materials=tuple(
            tuple(asked.field(f"materials.{k}.{f}") for f in ("title", "kind", "density", "low", "high"))
            for k in range(len(design.materials))
        ),
        table=_table() if tab == "materials" else (),
        weighing=weighing_of(asked) if tab == "weigh" else None,
        tanks=() if tab != "cases" or number is None else _tanks(asked, number),
        people=design.brief.kind == "people",
        sealed=asked.sealed,
        readouts=_readouts(asked, result),
        bars=_bars(asked, result),
        ways=tuple(Way(said(w.finding, reader.system), w.path) for w in lightening.lightenings(craft)),
        findings=reader.findings(result.findings),
        now=afloat_now(design, reader),
    )


def said_again(shown: WeightsView) -> tuple[dict[str, str], dict[str, str]]:
    """The fields of the lines shown, and what stands beside them: one edit can move or change other lines."""
    fields = {f.path: f.text for row in shown.rows for f in row.fields}
    says = {f"weights.{row.index}": row.total for row in shown.rows}
    return fields, says | {f"name.{row.index}": row.name for row in shown.rows}


def _page(asked: PageRequest, count: int) -> int:
    return min(asked.index("page", 1000) or 0, max(0, (count - 1) // A_PAGE))


def _rows(asked: PageRequest, order: list[int]) -> tuple[Row, ...]:
    if asked.ask.get("tab", "list") not in ("", "list", "cases"):
        return ()
    page, chosen = _page(asked, len(order)), asked.index("item", len(asked.design.weights))
    number = next((k for k, c in enumerate(asked.design.cases) if c.name == asked.design.case), None)
    return tuple(_row(asked, k, k == chosen, number) for k in order[page * A_PAGE : (page + 1) * A_PAGE])


def _order(asked: PageRequest) -> list[int]:
    """Numbers of the lines that the filter lets through, sorted."""
    items, acting = asked.design.weights, asked.craft.items
    find, group = asked.ask.get("find", "").strip().lower(), asked.ask.get("group", "")
    lines = [
        k
        for k, i in enumerate(items)
        if (not find or find in i.name.lower() or find in i.note.lower()) and (group not in GROUPS or i.group == group)
    ]
    sort = asked.ask.get("sort", "listed")
    keys = {
        "mass": lambda k: (-acting[k].mass_kg, k),
        "name": lambda k: (items[k].name.lower(), k),
        "group": lambda k: (GROUPS.index(items[k].group), -acting[k].mass_kg, k),
        "x": lambda k: (acting[k].at_m[0], k),
        "unsure": lambda k: (-acting[k].half_width, k),
    }
    return sorted(lines, key=keys[sort]) if sort in keys else lines


def _row(asked: PageRequest, k: int, chosen: bool, case: int | None) -> Row:
    item, acting, made = asked.design.weights[k], asked.craft.items[k], asked.craft.aboard.made[k]
    estimated = item.recipe is not None
    names = ("name", "mass_kg", "quantity", "at_m.0", "at_m.1", "at_m.2", "known", "group")
    values = {} if made is None else {"mass_kg": made.mass * item.factor}
    if item.fixed:
        values |= {f"at_m.{n}": acting.at_m[n] for n in range(3)}
    fields = []
    for name in names:
        one = asked.field(f"weights.{k}.{name}", value=values.get(name))
        if item.fixed and name.startswith("at_m"):
            one = Field(
                path=one.path, id=one.id, label=one.label, kind=one.kind, text=one.text, choices=one.choices, hint=one.hint, disabled=True
            )
        fields.append(one)
    if case is not None:
        fields.append(asked.field(f"cases.{case}.counts.{k}"))
    return Row(
        f"weights.{k}", item.name, k, tuple(fields), asked.reader.say(acting.mass_kg, "mass"), chosen, estimated, acting.mass_kg <= 0
    )


def _readouts(asked: PageRequest, result: weights.WeightsAssessment) -> tuple[Readout, ...]:
    total = result.total
    if total is None:
        return ()
    figure = asked.reader.figure
    x, y, z = total.centre
    against = said(next(f for f in result.findings if f.code in ("weights.over", "weights.within")), asked.reader.system)
    wx, wy, wz = total.centre_half_width
    bx, by, bz = (asked.reader.band(v, w, "length") for v, w in zip(total.centre, total.centre_half_width, strict=True))
    return (
        figure(
            label="Displacement",
            value=total.mass,
            kind="mass",
            note=f"{asked.reader.band(total.mass, total.half_width, 'mass')}; {against.title}",
            tone=against.severity,
            half=total.half_width,
        ),
        figure(label="LCG, from aft", value=x, kind="length", note=f"{bx}; centre of gravity along the boat", tone="", touch="cg", half=wx),
        figure(label="TCG", value=abs(y), kind="length", note=f"{by}; off the centreline, {_side(y)}", touch="cg", extra=1, half=wy),
        figure(label="VCG", value=z, kind="length", note=f"{bz}; up from the baseline", tone="", touch="cg", half=wz),
    )


def _side(y: float) -> str:
    return "on it" if abs(y) < 5e-5 else ("to port" if y > 0 else "to starboard")


def _tanks(asked: PageRequest, case: int) -> tuple[TankRow, ...]:
    """The ballast tanks, for the share of each that is full in a load case."""
    first, say = len(asked.design.weights), asked.reader.say
    return tuple(
        TankRow(
            name=c.name,
            listed=say(c.filled, "percent"),
            field=asked.field(f"cases.{case}.counts.{first + k}"),
            holds=say(space.capacity * space.compartment.filled, "volume"),
        )
        for k, (c, space) in enumerate(zip(asked.design.compartments, asked.craft.spaces, strict=True))
        if c.use == "tank"
    )


def _bars(asked: PageRequest, result: weights.WeightsAssessment) -> tuple[Bar, ...]:
    most = max((i.mass_kg for _, i in result.heaviest), default=1.0) or 1.0
    return tuple(
        Bar(i.name, k, asked.reader.say(i.mass_kg, "mass"), round(100 * i.mass_kg / most, 1))
        for k, i in result.heaviest[:10]
        if i.mass_kg > 0
    )


def _cases(asked: PageRequest, compared: cases.CasesAssessment) -> tuple[CaseRow, ...]:
    say = asked.reader.say
    rows = []
    for n, line in enumerate(compared.lines):
        number = n - 1 if n else None
        in_force = line.name == asked.design.case
        at = line.float.afloat if line.float else None
        if line.float is None or at is None:
            words, tone = ("nothing aboard", "note") if line.float is None else ("it sinks", "fails")
            rows.append(
                CaseRow(
                    number=number, title=line.title, name=line.name, in_force=in_force, cells=(("–", False),) * 6, verdict=words, tone=tone
                )
            )
            continue
        half = line.float.spread
        texts = (
            ("mass", say(at.mass, "mass")),
            ("draft", "–" if line.draft is None else say(line.draft, "draft")),
            ("trim", say(at.attitude.trim, "trim")),
            ("heel", say(at.attitude.heel, "heel").replace("stands ", "").replace("leans ", "")),
            ("freeboard", say(at.freeboard, "length") + (f" ±{say(half.freeboard, 'length')}" if half else "")),
            ("gm", say(at.judged_gm, "length")),
        )
        verdict = f"misses {', '.join(line.misses)}" if line.misses else "meets the brief"
        verdict += f", near on {', '.join(line.nearly)}" if line.nearly else ""
        cells = tuple((text, compared.worst.get(name) == n) for name, text in texts)
        rows.append(
            CaseRow(
                number=number,
                title=line.title,
                name=line.name,
                in_force=in_force,
                cells=cells,
                verdict=verdict,
                tone="fails" if line.misses else "near" if line.nearly else "holds",
            )
        )
    return tuple(rows)


def _table() -> tuple[tuple[str, str, str, str, str], ...]:
    return tuple(
        (m.title, m.kind, f"{plain(m.density, 0)} kg/m³", f"{plain(m.low, 0)} to {plain(m.high, 0)}", m.source) for m in MATERIALS.values()
    )
