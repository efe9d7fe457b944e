"""Which paths of the boat file can be edited on a page, what each is called and how it is typed."""

import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import FAMILIES, AnyShape, MeshFile, Offsets
from yarekeel.core.parameters import parameters_of
from yarekeel.core.weights.items import GROUPS
from yarekeel.core.weights.materials import KINDS, MATERIALS
from yarekeel.core.weights.recipes import AnyRecipe
from yarekeel.stages.design.design import Design, value_at
from yarekeel.units import System, field_text, parse

Choices = tuple[tuple[str, str], ...]

KNOWN: Choices = (("guessed", "guessed"), ("data", "from data"), ("weighed", "weighed"))
FAMILY_CHOICES: Choices = tuple((k, f.title) for k, f in FAMILIES.items() if f is not MeshFile)
ROLES: Choices = (
    ("hull", "Hull"),
    ("float", "Float"),
    ("foam", "Solid foam"),
    ("appendage", "Appendage"),
    ("fairing", "Fairing, dry"),
)


@dataclass(frozen=True, slots=True)
class Spec:
    """``kind`` is text, choice, flag, or a kind of the units. ``numbered``: the choices are numbers, and none of them is none.
    ``optional``: it may be left empty."""

    label: str
    kind: str
    choices: Choices = ()
    numbered: bool = False
    optional: bool = False


_SPECS: tuple[tuple[str, Spec], ...] = (
    (r"name", Spec("Name", "text")),
    (r"brief\.kind", Spec("Kind", "choice", (("model", "A model"), ("people", "Carries people")))),
    (r"brief\.target_mass_kg", Spec("Target all-up mass", "mass")),
    (r"brief\.least_freeboard_m", Spec("Least freeboard", "length")),
    (r"brief\.allowed_trim_deg", Spec("Allowed trim and heel", "degrees")),
    (r"brief\.least_gm_m", Spec("Least GM", "length")),
    (r"brief\.thrust_to_weight", Spec("Thrust to weight", "ratio")),
    (r"brief\.most_draft_m", Spec("Greatest draft", "length", optional=True)),
    (r"brief\.least_reserve", Spec("Least reserve buoyancy", "percent", optional=True)),
    (r"brief\.most_length_m", Spec("Greatest length, to carry", "length", optional=True)),
    (r"brief\.most_beam_m", Spec("Greatest beam, to carry", "length", optional=True)),
    (r"brief\.bed_length_m", Spec("Printer's bed, length", "length", optional=True)),
    (r"brief\.bed_width_m", Spec("Printer's bed, width", "length", optional=True)),
    (r"brief\.bed_height_m", Spec("Printer's height", "length", optional=True)),
    (r"brief\.sheet_length_m", Spec("Sheet length", "length", optional=True)),
    (r"brief\.rail_mass_kg", Spec("Weight on the rail", "mass", optional=True)),
    (r"brief\.rail_heel_deg", Spec("Lean with it, at most", "degrees", optional=True)),
    (r"brief\.most_lean_deg", Spec("Lean in any test, at most", "degrees", optional=True)),
    (r"brief\.least_range_deg", Spec("Comes back from, at least", "degrees", optional=True)),
    (r"brief\.least_peak_m", Spec("Greatest righting arm, at least", "length", optional=True)),
    (r"tipping\.lean_m", Spec("Each leans by", "length", optional=True)),
    (r"tipping\.stand_m", Spec("Standing up raises by", "length", optional=True)),
    (r"tipping\.inboard_m", Spec("Movers sit inside the rail by", "length", optional=True)),
    (r"tipping\.catch_kg", Spec("Catch lifted", "mass", optional=True)),
    (r"tipping\.catch_out_m", Spec("Catch, out from the rail", "length", optional=True)),
    (r"tipping\.catch_up_m", Spec("Catch hangs from, over the rail", "length", optional=True)),
    (r"tipping\.wind_ms", Spec("Wind abeam", "speed", optional=True)),
    (r"tipping\.gust", Spec("Gust, times the wind", "ratio", optional=True)),
    (r"tipping\.turn_ms", Spec("Speed in the turn", "speed", optional=True)),
    (r"tipping\.turn_m", Spec("Radius of the turn", "length", optional=True)),
    (r"tipping\.tow_n", Spec("Sideways pull of a tow", "force", optional=True)),
    (r"tipping\.tow_up_m", Spec("Tow point, up", "length", optional=True)),
    (r"tipping\.wake_deg", Spec("Roll in a wake", "degrees", optional=True)),
    (r"sails\.\d+\.name", Spec("Sail", "text")),
    (r"sails\.\d+\.area_m2", Spec("Area", "area")),
    (r"sails\.\d+\.at_m\.0", Spec("Centre of effort, from aft", "length")),
    (r"sails\.\d+\.at_m\.2", Spec("Centre of effort, up", "length")),
    (r"sails\.\d+\.coefficient", Spec("Force coefficient", "ratio")),
    (r"incline\.weight_kg", Spec("Weight moved", "mass", optional=True)),
    (r"incline\.angle_deg", Spec("Angle read to within", "degrees")),
    (r"incline\.place_m", Spec("Ruler read to within", "length")),
    (r"incline\.rolls", Spec("Full rolls counted", "count")),
    (r"incline\.time_s", Spec("Time they took", "seconds", optional=True)),
    (r"incline\.time_limit_s", Spec("Watch stopped to within", "seconds")),
    (r"incline\.shifts\.\d+\.moved_m", Spec("Moved to starboard", "length")),
    (r"incline\.shifts\.\d+\.heel_deg", Spec("Heel read, starboard down", "degrees")),
    (r"weights\.\d+\.hung_m", Spec("Hangs free from, above it", "length")),
    (r"water\.kind", Spec("Water", "choice", (("fresh", "Fresh"), ("sea", "Sea")))),
    (r"water\.temperature_c", Spec("Temperature", "temperature")),
    (r"bodies\.\d+\.name", Spec("Name", "text")),
    (r"bodies\.\d+\.role", Spec("Part", "choice", ROLES)),
    (r"bodies\.\d+\.deck", Spec("Deck", "choice", (("decked", "Decked"), ("open", "Open: water comes in over the sheer")))),
    (r"bodies\.\d+\.mirrored", Spec("A pair, mirrored", "flag")),
    (r"bodies\.\d+\.hidden", Spec("Hide", "flag")),
    (r"bodies\.\d+\.at_m\.0", Spec("From aft", "length")),
    (r"bodies\.\d+\.at_m\.1", Spec("To port", "length")),
    (r"bodies\.\d+\.at_m\.2", Spec("Up", "length")),
    (r"bodies\.\d+\.turn_deg\.0", Spec("Roll, port side up", "degrees")),
    (r"bodies\.\d+\.turn_deg\.1", Spec("Pitch, bow down", "degrees")),
    (r"bodies\.\d+\.turn_deg\.2", Spec("Yaw, bow to port", "degrees")),
    (r"bodies\.\d+\.scale\.0", Spec("Longer, times", "ratio")),
    (r"bodies\.\d+\.scale\.1", Spec("Wider, times", "ratio")),
    (r"bodies\.\d+\.scale\.2", Spec("Deeper, times", "ratio")),
    (r"bodies\.\d+\.openings\.\d+\.name", Spec("Opening", "text")),
    (r"bodies\.\d+\.openings\.\d+\.at_m\.0", Spec("From aft", "length")),
    (r"bodies\.\d+\.openings\.\d+\.at_m\.1", Spec("To port", "length")),
    (r"bodies\.\d+\.openings\.\d+\.at_m\.2", Spec("Up", "length")),
    (r"bodies\.\d+\.shape\.stations\.\d+\.x_m", Spec("From aft", "length")),
    (r"bodies\.\d+\.shape\.stations\.\d+\.half_breadths_m\.\d+", Spec("Half-breadth", "length")),
    (r"bodies\.\d+\.shape\.stations\.\d+\.heights_m\.\d+", Spec("Height", "length")),
    (r"bodies\.\d+\.shape\.changes\.\d+\.part", Spec("By", "percent")),
    (r"bodies\.\d+\.shape\.changes\.\d+\.on", Spec("On", "flag")),
    (r"marks\.stern_x_m", Spec("Stern mark", "length")),
    (r"marks\.bow_x_m", Spec("Bow mark", "length")),
    (r"weights\.\d+\.name", Spec("Name", "text")),
    (r"weights\.\d+\.mass_kg", Spec("Mass", "mass")),
    (r"weights\.\d+\.at_m\.0", Spec("From aft", "length")),
    (r"weights\.\d+\.at_m\.1", Spec("To port", "length")),
    (r"weights\.\d+\.at_m\.2", Spec("Up", "length")),
    (r"weights\.\d+\.known", Spec("Known by", "choice", KNOWN)),
    (r"weights\.\d+\.group", Spec("Group", "choice", tuple((g, g) for g in GROUPS))),
    (r"weights\.\d+\.quantity", Spec("How many", "ratio")),
    (r"weights\.\d+\.on", Spec("Aboard", "flag")),
    (r"weights\.\d+\.pair", Spec("One on each side", "flag")),
    (r"weights\.\d+\.spread", Spec("Spread, 19 times in 20", "percent", optional=True)),
    (r"weights\.\d+\.moves_with", Spec("Moves with", "words")),
    (r"weights\.\d+\.together", Spec("Off together with", "words")),
    (r"weights\.\d+\.note", Spec("Note", "words")),
    (r"compartments\.\d+\.name", Spec("Compartment", "text")),
    (r"compartments\.\d+\.aft_m", Spec("Aft bulkhead, from aft", "length", optional=True)),
    (r"compartments\.\d+\.fore_m", Spec("Fore bulkhead, from aft", "length", optional=True)),
    (r"compartments\.\d+\.starboard_m", Spec("Starboard side, to port", "length", optional=True)),
    (r"compartments\.\d+\.port_m", Spec("Port side, to port", "length", optional=True)),
    (r"compartments\.\d+\.low_m", Spec("Bottom, up", "length", optional=True)),
    (r"compartments\.\d+\.high_m", Spec("Top, up", "length", optional=True)),
    (r"compartments\.\d+\.use", Spec("Use", "choice", (("dry", "dry space"), ("tank", "ballast tank")))),
    (r"compartments\.\d+\.sealed", Spec("Keeps its air when swamped", "flag")),
    (r"compartments\.\d+\.vented", Spec("Breathes through an opening", "flag")),
    (r"compartments\.\d+\.filled", Spec("Filled", "percent")),
    (r"compartments\.\d+\.room", Spec("Room for liquid", "percent")),
    (r"materials\.\d+\.title", Spec("Material", "text")),
    (r"materials\.\d+\.kind", Spec("Kind", "choice", tuple((k, k) for k in KINDS))),
    (r"materials\.\d+\.density", Spec("Density", "density")),
    (r"materials\.\d+\.low", Spec("At least", "density")),
    (r"materials\.\d+\.high", Spec("At most", "density")),
    (r"weigh_in\.mass_kg", Spec("All up", "mass", optional=True)),
    (r"weigh_in\.scale_kg", Spec("Scales read to ±", "mass")),
    (r"weigh_in\.place_m", Spec("Ruler reads to ±", "length")),
    (r"weigh_in\.angle_deg", Spec("Angle reads to ±", "degrees")),
    (r"weigh_in\.aft_kg", Spec("Aft scale", "mass", optional=True)),
    (r"weigh_in\.fore_kg", Spec("Fore scale", "mass", optional=True)),
    (r"weigh_in\.aft_x_m", Spec("Aft support, from aft", "length", optional=True)),
    (r"weigh_in\.fore_x_m", Spec("Fore support, from aft", "length", optional=True)),
    (r"weigh_in\.edge_x_m", Spec("Edge, from aft", "length", optional=True)),
    (r"weigh_in\.port_kg", Spec("Port scale", "mass", optional=True)),
    (r"weigh_in\.starboard_kg", Spec("Starboard scale", "mass", optional=True)),
    (r"weigh_in\.port_y_m", Spec("Port support, to port", "length", optional=True)),
    (r"weigh_in\.starboard_y_m", Spec("Starboard support, to port", "length", optional=True)),
    (r"weigh_in\.tip_deg", Spec("Balances at", "degrees", optional=True)),
    (r"weigh_in\.tip_y_m", Spec("Edge, to port", "length", optional=True)),
    (r"weigh_in\.tip_z_m", Spec("Edge, up", "length", optional=True)),
    (r"weigh_in\.raised_kg", Spec("Fore scale, raised", "mass", optional=True)),
    (r"weigh_in\.rise_m", Spec("Raised by", "length", optional=True)),
    (r"weigh_in\.support_z_m", Spec("Supports, up", "length", optional=True)),
    (r"weigh_in\.hang_deg", Spec("Hangs at", "degrees", optional=True)),
    (r"weigh_in\.hang_x_m", Spec("Hung from, from aft", "length", optional=True)),
    (r"weigh_in\.hang_z_m", Spec("Hung from, up", "length", optional=True)),
    (r"cases\.\d+\.name", Spec("Load case", "text")),
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
    plain = _plain_spec(path)
    if plain:
        return plain
    shape = re.fullmatch(r"bodies\.(\d{1,3})\.shape\.(.+)", path)
    if shape and int(shape[1]) < len(design.bodies):
        return _shape_spec(design.bodies[int(shape[1])].shape, shape[2], path)
    line = re.fullmatch(r"weights\.(\d{1,4})\.recipe\.(\w+)", path)
    if line and int(line[1]) < len(design.weights) and design.weights[int(line[1])].recipe is not None:
        return _recipe_spec(design, design.weights[int(line[1])].recipe, line[2], path)
    if re.fullmatch(r"weights\.\d{1,4}\.material", path):
        return Spec("Made of", "choice", (("", "not said"), *_materials(design)))
    if re.fullmatch(r"compartments\.\d{1,2}\.liquid", path):
        return Spec("Liquid", "choice", (("", "the water it floats in"), *_materials(design, "liquid")))
    if re.fullmatch(r"compartments\.\d{1,2}\.body", path):
        return Spec("In", "choice", tuple((b.name, b.name) for b in design.bodies if b.role in ("hull", "float")))
    if path == "case":
        return Spec("Load case", "choice", (("", "as listed"), *((c.name, c.name) for c in design.cases)))
    raise InvalidInput(path, "No page edits this field.")


def _recipe_spec(design: Design, recipe: AnyRecipe | None, name: str, path: str) -> Spec:
    for p in parameters_of(recipe):
        if p.name != name:
            continue
        if p.kind == "body":
            return Spec(p.label, "choice", (("", "whole hull"), *((b.name, b.name) for b in design.bodies)))
        if p.kind == "material":
            return Spec(p.label, "choice", _materials(design))
        return Spec(p.label, p.kind, p.choices)
    raise InvalidInput(path, "No page edits this field.")


def _materials(design: Design, kind: str = "") -> Choices:
    every = sorted((*design.materials, *MATERIALS.values()), key=lambda m: (KINDS.index(m.kind), m.title))
    return tuple((m.code, m.title) for m in every if not kind or m.kind == kind)


@lru_cache(maxsize=4096)
def _plain_spec(path: str) -> Spec | None:
    return next((spec for pattern, spec in _SPECS if re.fullmatch(pattern, path)), None)


def _shape_spec(shape: AnyShape, name: str, path: str) -> Spec:
    if name == "kind":
        own: Choices = (("mesh", MeshFile.title),) if isinstance(shape, MeshFile) else ()
        return Spec("Family", "choice", (*FAMILY_CHOICES, *own))
    for p in parameters_of(shape):
        if p.name == name:
            return Spec(p.label, p.kind, p.choices)
    change = re.fullmatch(r"changes\.\d+\.(station|fade_to|above)", name)
    if change and isinstance(shape, Offsets):
        stations: Choices = tuple((str(k), f"station {k}") for k in range(len(shape.stations)))
        return {
            "station": Spec("Where", "choice", (("", "everywhere"), *stations), numbered=True),
            "fade_to": Spec("Fades to", "choice", (("", "nowhere"), *stations), numbered=True),
            "above": Spec("Above", "choice", tuple((str(k), n) for k, n in enumerate(shape.lines[:-1])), numbered=True),
        }[change[1]]
    raise InvalidInput(path, "No page edits this field.")


def parsed(design: Design, path: str, text: str, system: System) -> Any:
    """The value that was typed for a path. Raises InvalidInput with what would be accepted."""
    spec = spec_of(design, path)
    if spec.kind == "text":
        typed = text.strip()
        if not typed or len(typed) > LONGEST_TEXT:
            raise InvalidInput(path, f"{spec.label} needs 1 to {LONGEST_TEXT} characters.")
        return typed
    if spec.kind == "words":
        return text.strip()
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
    now = value_at(design, path) if value is None else value
    if spec.kind in ("text", "words", "choice"):
        text = "" if now is None else str(now)
    elif spec.kind == "flag":
        text = "on" if now else ""
    else:
        text = field_text(now, spec.kind, system)
    return Field(path, "f-" + path.replace(".", "-"), spec.label, spec.kind, text, spec.choices, hint, disabled)
