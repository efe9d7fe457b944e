"""Which paths of the boat file can be edited on a page, what each is called and how it is typed."""

import re
from dataclasses import dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import FAMILIES, MeshFile
from yarekeel.core.geometry.families.parameters import parameters_of
from yarekeel.stages.design import Design, value_at
from yarekeel.units import System, field_text, parse

Choices = tuple[tuple[str, str], ...]

KNOWN: Choices = (("guessed", "guessed"), ("data", "from data"), ("weighed", "weighed"))
_FAMILY_CHOICES: Choices = tuple((k, f.title) for k, f in FAMILIES.items() if f is not MeshFile)


@dataclass(frozen=True, slots=True)
class Spec:
    """``kind`` is text, choice, flag, or a kind of the units."""

    label: str
    kind: str
    choices: Choices = ()
    optional: bool = False


_SPECS: tuple[tuple[str, Spec], ...] = (
    (r"name", Spec("Name", "text")),
    (r"brief\.kind", Spec("Kind", "choice", (("model", "A model"), ("people", "Carries people")))),
    (r"brief\.target_mass_kg", Spec("Target all-up mass", "mass")),
    (r"brief\.least_freeboard_m", Spec("Least freeboard", "length")),
    (r"brief\.allowed_trim_deg", Spec("Allowed trim and heel", "degrees")),
    (r"brief\.least_gm_m", Spec("Least GM", "length")),
    (r"brief\.thrust_to_weight", Spec("Thrust to weight", "ratio")),
    (r"water\.kind", Spec("Water", "choice", (("fresh", "Fresh"), ("sea", "Sea")))),
    (r"water\.temperature_c", Spec("Temperature", "temperature")),
    (r"bodies\.0\.shape\.kind", Spec("Family", "choice", _FAMILY_CHOICES)),
    (r"bodies\.0\.deck", Spec("Deck", "choice", (("decked", "Decked"), ("open", "Open: water comes in over the sheer")))),
    (r"marks\.stern_x_m", Spec("Stern mark", "length")),
    (r"marks\.bow_x_m", Spec("Bow mark", "length")),
    (r"weights\.\d+\.name", Spec("Name", "text")),
    (r"weights\.\d+\.mass_kg", Spec("Mass", "mass")),
    (r"weights\.\d+\.at_m\.0", Spec("From aft", "length")),
    (r"weights\.\d+\.at_m\.1", Spec("To port", "length")),
    (r"weights\.\d+\.at_m\.2", Spec("Up", "length")),
    (r"weights\.\d+\.known", Spec("Known by", "choice", KNOWN)),
    (r"weights\.\d+\.structure", Spec("Part of the hull", "flag")),
    (r"drive\.motors\.\d+\.name", Spec("Motor", "text")),
    (r"drive\.motors\.\d+\.thrust_n", Spec("Thrust from rest", "force")),
    (r"drive\.motors\.\d+\.current_a", Spec("Current at full throttle", "current")),
    (r"drive\.motors\.\d+\.known", Spec("Known by", "choice", (("rated", "rated"), ("measured", "measured")))),
    (r"drive\.motors\.\d+\.at_m\.0", Spec("From aft", "length")),
    (r"drive\.motors\.\d+\.at_m\.1", Spec("To port", "length")),
    (r"drive\.motors\.\d+\.at_m\.2", Spec("Up", "length")),
    (r"drive\.battery\.voltage_v", Spec("Voltage", "voltage")),
    (r"drive\.battery\.capacity_ah", Spec("Capacity", "capacity")),
    (r"drive\.battery\.c_rating", Spec("C rating", "ratio")),
    (r"drive\.battery\.resistance_ohm", Spec("Inner resistance", "resistance")),
)
LONGEST_TEXT = 80


def spec_of(design: Design, path: str) -> Spec:
    """How a path is edited. Raises InvalidInput for one that no page edits."""
    for pattern, spec in _SPECS:
        if re.fullmatch(pattern, path):
            return spec
    shape = re.fullmatch(r"bodies\.0\.shape\.(\w+)", path)
    if shape:
        for p in parameters_of(design.bodies[0].shape):
            if p.name == shape[1]:
                return Spec(p.label, p.kind)
    raise InvalidInput(path, "No page edits this field.")


def parsed(design: Design, path: str, text: str, system: System) -> Any:
    """The value that was typed for a path. Raises InvalidInput with what would be accepted."""
    spec = spec_of(design, path)
    if spec.kind == "text":
        typed = text.strip()
        if not typed or len(typed) > LONGEST_TEXT:
            raise InvalidInput(path, f"{spec.label} needs 1 to {LONGEST_TEXT} characters.")
        return typed
    if spec.kind == "choice":
        if text not in dict(spec.choices):
            raise InvalidInput(path, f"{spec.label} must be one of: {', '.join(title for _, title in spec.choices)}.")
        return text
    if spec.kind == "flag":
        return text == "on"
    return parse(text, spec.kind, system, path)


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
    now = value_at(design, path) if value is None else value
    if spec.kind in ("text", "choice"):
        text = str(now)
    elif spec.kind == "flag":
        text = "on" if now else ""
    else:
        text = field_text(now, spec.kind, system)
    return Field(path, "f-" + path.replace(".", "-"), spec.label, spec.kind, text, spec.choices, hint, disabled)
