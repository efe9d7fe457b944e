"""Which paths of the boat file can be edited on a page, what each is called and how it is typed."""

from dataclasses import dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import FAMILIES, MeshFile, Offsets
from yarekeel.core.parameters import NAMES, NUMBERED, Parameter
from yarekeel.core.propulsion.propulsors import PROPULSORS
from yarekeel.core.weights.materials import KINDS, MATERIALS
from yarekeel.plain_text import plain, whole
from yarekeel.stages.design import listing
from yarekeel.stages.design.design import Design, parameter_at, value_at
from yarekeel.units import System, field_text, parse

Choices = tuple[tuple[str, str], ...]

FAMILY_CHOICES: Choices = tuple((k, f.title) for k, f in FAMILIES.items() if f is not MeshFile)
LONGEST_TEXT = 80


@dataclass(frozen=True, slots=True)
class Spec:
    """How a field is edited: its label, ``kind`` (text, words, choice, flag, or a kind of the units) and choices. ``numbered``: the
    choices are numbers, and none of them is none. ``optional``: it may be left empty."""

    label: str
    kind: str
    choices: Choices = ()
    numbered: bool = False
    optional: bool = False
    longest: int = LONGEST_TEXT


def spec_of(design: Design, path: str) -> Spec:
    """How a path is edited, as its own class describes it; what the boat knows (its bodies, materials, stations) makes the choices.
    Raises InvalidInput for one that no page edits."""
    if path == "case":
        return Spec("Load case", "choice", (("", "as listed"), *((c.name, c.name) for c in design.cases)))
    if _count_of(path):
        return Spec("In this load", "ratio", optional=True)
    whole, _, last = path.rpartition(".")
    if last == "kind" and whole.endswith(".shape"):
        own: Choices = (("mesh", MeshFile.title),) if isinstance(value_at(design, whole), MeshFile) else ()
        return Spec("Family", "choice", (*FAMILY_CHOICES, *own))
    if last == "kind" and whole.endswith(".propulsor"):
        return Spec("Known by", "choice", (("", "its rated pull"), *((k, f.title) for k, f in PROPULSORS.items())))
    p = parameter_at(design, path)
    if p.kind in NAMES or p.kind in NUMBERED:
        return Spec(p.label, "choice", _choices(design, path, p), numbered=p.kind in NUMBERED)
    kind = "text" if last == "name" else p.kind
    return Spec(p.label, kind, p.choices, optional=p.optional, longest=p.longest)


def _count_of(path: str) -> tuple[int, int] | None:
    """The numbers of load case and line, of a path that says how many of a weight are aboard in a load."""
    steps = path.split(".")
    if len(steps) == 4 and steps[0] == "cases" and steps[2] == "counts" and whole(steps[1]) is not None and whole(steps[3]) is not None:
        return int(steps[1]), int(steps[3])
    return None


def _value_of(design: Design, path: str) -> Any:
    count = _count_of(path)
    return listing.count_in_case(design, *count) if count else value_at(design, path)


def _choices(design: Design, path: str, p: Parameter) -> Choices:
    """The choices of a field that names something of the boat's."""
    if p.kind == "body":
        spaces = path.startswith("compartments.")
        whole: Choices = () if spaces else (("", "whole hull"),)
        return (*whole, *((b.name, b.name) for b in design.bodies if not spaces or b.role in ("hull", "float")))
    if p.kind == "test":
        return (("", "choose one"), *((t.name, t.name) for t in design.drive.tests))
    if p.kind == "liquid":
        return (("", "the water it floats in"), *_materials(design, "liquid"))
    if p.kind == "material":
        none: Choices = (("", "not said"),) if path.endswith(".material") and ".recipe." not in path else ()
        return (*none, *_materials(design))
    table = value_at(design, path.partition(".changes.")[0])
    assert isinstance(table, Offsets)
    if p.kind == "line":
        return tuple((str(k), n) for k, n in enumerate(table.lines[:-1]))
    return (("", p.meaning), *((str(k), f"station {k}") for k in range(len(table.stations))))


def _materials(design: Design, kind: str = "") -> Choices:
    every = sorted((*design.materials, *MATERIALS.values()), key=lambda m: (KINDS.index(m.kind), m.title))
    return tuple((m.code, m.title) for m in every if not kind or m.kind == kind)


def parsed(design: Design, path: str, text: str, system: System) -> Any:
    """The value that was typed for a path. Raises InvalidInput with what would be accepted."""
    spec = spec_of(design, path)
    if spec.kind == "text":
        typed = plain(text).strip()
        if not typed or len(typed) > spec.longest:
            raise InvalidInput(path, f"{spec.label} needs 1 to {spec.longest} characters.")
        return typed
    if spec.kind == "words":
        return plain(text, lines=True).strip()
    if spec.optional and not text.strip():
        return None
    if spec.kind == "choice":
        if text not in dict(spec.choices):
            raise InvalidInput(path, f"{spec.label} must be one of: {', '.join(title for _, title in spec.choices)}.")
        return (int(text) if text else None) if spec.numbered else text
    if spec.kind == "flag":
        return text == "on"
    value = parse(text, spec.kind, system, path)
    return int(value) if spec.kind == "count" and value == int(value) else value


@dataclass(frozen=True, slots=True)
class Field:
    """A field as a template shows it."""

    path: str
    id: str
    label: str
    kind: str
    text: str
    choices: Choices
    hint: str
    disabled: bool


def field(design: Design, path: str, system: System, *, hint: str = "", disabled: bool = False, value: Any = None) -> Field:
    """The field for a path with the value it has now (or the one given, where the design leaves it open)."""
    spec = spec_of(design, path)
    now = _value_of(design, path) if value is None else value
    if spec.kind in ("text", "words", "choice"):
        text = "" if now is None else str(now)
    elif spec.kind == "flag":
        text = "on" if now else ""
    else:
        text = field_text(now, spec.kind, system)
    return Field(
        path=path,
        id="f-" + path.replace(".", "-"),
        label=spec.label,
        kind=spec.kind,
        text=text,
        choices=spec.choices,
        hint=hint,
        disabled=disabled,
    )
