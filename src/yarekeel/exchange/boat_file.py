"""The boat file: one revision as JSON. docs/boat-file.md describes it, docs/boat-file.schema.json is made from here.

Its field names are those of ``stages.design``. ``read`` forgives nothing silently: an unknown or missing field is named.
"""

import dataclasses
import json
from collections.abc import Callable, Mapping
from functools import cache, lru_cache
from pathlib import Path
from typing import Any, cast

from pydantic import TypeAdapter, ValidationError

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.envelope import outer_skin
from yarekeel.core.geometry.families import FAMILIES, MeshFile, Shape
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.propulsion.drive import Motor
from yarekeel.core.propulsion.propulsors import PROPULSORS
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.recipes import RECIPES
from yarekeel.exchange import mesh_in
from yarekeel.plain_text import plain_data
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import MOST_BODIES, Body, Design
from yarekeel.stages.design.listing import MOST_LINES

FORMAT = "yare-keel-boat"
VERSION = 8
LARGEST_FILE = 4_000_000
"""Bytes; thousands of weights fit."""
MOST_VALUES = 400_000
"""Values, lists and objects in a file: 5 000 weights have half as many."""
DEEPEST = 24
"""Lists and objects within one another."""


@cache
def _adapter(kind: Any) -> TypeAdapter[Any]:
    return TypeAdapter(kind)


def read(data: Any) -> Design:
    """A design from parsed JSON. Raises InvalidInput naming the field and what would be accepted."""
    if not isinstance(data, dict):
        raise InvalidInput("file", 'A boat file is a JSON object that starts with "format": "yare-keel-boat".')
    data = _of_this_version(data)
    rest = {k: v for k, v in data.items() if k not in ("format", "version")}
    if not isinstance(rest["bodies"], list):
        raise InvalidInput("bodies", "Field bodies must be a list of bodies.")
    if len(rest["bodies"]) > MOST_BODIES:
        raise InvalidInput("bodies", f"A boat has at most {MOST_BODIES} bodies.")
    bodies = tuple(_body(b, f"bodies.{n}") for n, b in enumerate(rest["bodies"]))
    rest["bodies"] = bodies
    if isinstance(rest["weights"], list) and len(rest["weights"]) > MOST_LINES:
        raise InvalidInput("weights", f"A list holds at most {MOST_LINES} weights; this has {len(rest['weights'])}.")
    if isinstance(rest["weights"], list):
        rest["weights"] = [_weight(w, f"weights.{n}") for n, w in enumerate(rest["weights"])]
    if isinstance(rest.get("drive"), dict) and isinstance(rest["drive"].get("motors"), list):
        rest["drive"] = {**rest["drive"], "motors": [_motor(m, f"drive.motors.{n}") for n, m in enumerate(rest["drive"]["motors"])]}
    design = _validated(_adapter(Design), rest, "")
    assert isinstance(design, Design)
    _refuse_unknown(data, write(design), "")
    return design


def _of_this_version(data: dict[str, Any]) -> dict[str, Any]:
    """The same file as this version writes it, its words rid of what cannot be seen. Raises InvalidInput."""
    if data.get("format") != FORMAT:
        raise InvalidInput("format", f'Field format must be "{FORMAT}".')
    if type(data.get("version")) is not int:
        raise InvalidInput("version", f"Field version must be {VERSION}, or 1 to 7 of before; this program reads no other.")
    data = plain_data(data)
    if data.get("version") == 1:
        data = _from_first(data)
    if data.get("version") in (
        2,
        3,
        4,
        5,
        6,
        7,
    ):  # they had fewer fields
        data = {**data, "version": VERSION}
    if data.get("version") != VERSION:
        raise InvalidInput("version", f"Field version must be {VERSION}, or 1 to 7 of before; this program reads no other.")
    for name in ("name", "water", "bodies", "weights"):
        if name not in data:
            raise InvalidInput(name, f"Field {name} is missing; a boat file needs name, water, bodies and weights.")
    return data


def _from_first(data: dict[str, Any]) -> dict[str, Any]:
    """A file of version 1: it had a flag for what is built with the hull, in place of groups."""
    weights = data.get("weights")
    if not isinstance(weights, list):
        return {**data, "version": 2}
    lines = []
    for n, old in enumerate(weights):
        line = dict(old) if isinstance(old, dict) else old
        if isinstance(line, dict) and "structure" in line:
            flag = line.pop("structure")
            if not isinstance(flag, bool):
                raise InvalidInput(f"weights.{n}.structure", f"Field weights.{n}.structure must be true or false.")
            line["group"] = "structure" if flag else "payload"
        lines.append(line)
    return {**data, "version": 2, "weights": lines}


def _weight(data: Any, at: str) -> Any:
    """A line of the list, with its recipe built where it has one."""
    return _with_kind(data, at, "recipe", RECIPES, WeightItem)


def _motor(data: Any, at: str) -> Any:
    """A motor, with what it turns built where that is said."""
    return _with_kind(data, at, "propulsor", PROPULSORS, Motor)


def _with_kind(data: Any, at: str, name: str, kinds: Mapping[str, Any], whole: Any) -> Any:
    """A ``whole`` whose field ``name`` is one of several kinds, built by the kind that it names."""
    if not isinstance(data, dict) or not isinstance(data.get(name), dict):
        return data
    part = data[name]
    family = kinds.get(part["kind"]) if isinstance(part.get("kind"), str) else None
    if family is None:
        raise InvalidInput(f"{at}.{name}.kind", f"Field {at}.{name}.kind must be one of {', '.join(kinds)}.")
    built = _validated(_adapter(family), {k: v for k, v in part.items() if k != "kind"}, f"{at}.{name}")
    return _validated(_adapter(whole), {**data, name: built}, at)


def _refuse_unknown(given: Any, known: Any, at: str) -> None:
    """Every field of a design is written out, so a field that was given and is not written is one nobody reads."""
    if isinstance(given, dict) and isinstance(known, dict):
        for name, value in given.items():
            path = f"{at}.{name}" if at else name
            if name not in known:
                raise InvalidInput(path, f"Field {path} is not known; docs/boat-file.md lists the fields.")
            _refuse_unknown(value, known[name], path)
    elif isinstance(given, list) and isinstance(known, list | tuple):
        for n, (one, other) in enumerate(zip(given, known, strict=False)):
            _refuse_unknown(one, other, f"{at}.{n}")


def _body(data: Any, at: str) -> Body:
    if not isinstance(data, dict):
        raise InvalidInput(at, f"Field {at} must be an object with name and shape.")
    shape = data.get("shape")
    if not isinstance(shape, dict) or "kind" not in shape:
        raise InvalidInput(f"{at}.shape", f"Field {at}.shape must be an object with a kind: {', '.join(FAMILIES)}.")
    family = FAMILIES.get(shape["kind"]) if isinstance(shape["kind"], str) else None
    if family is None:
        raise InvalidInput(f"{at}.shape.kind", f"Field {at}.shape.kind must be one of {', '.join(FAMILIES)}.")
    needed = {"box": ("length_m", "beam_m", "depth_m"), "mesh": ("file", "unit")}.get(family.kind, ())
    for name in needed:
        if name not in shape:
            raise InvalidInput(f"{at}.shape.{name}", f"Field {at}.shape.{name} is missing.")
    adapter = _adapter(family)
    built = _validated(adapter, {k: v for k, v in shape.items() if k != "kind"}, f"{at}.shape")
    body = _validated(_adapter(Body), {**data, "shape": built}, at)
    assert isinstance(body, Body)
    return body


def _validated(adapter: TypeAdapter[Any], data: Any, at: str) -> Any:
    try:
        return adapter.validate_python(data)
    except ValidationError as error:
        raise _first(error, at) from None


def _first(error: ValidationError, at: str) -> InvalidInput:
    details = error.errors(include_url=False)[0]
    path = ".".join(str(p) for p in details["loc"])
    inner = details.get("ctx", {}).get("error")
    if isinstance(inner, InvalidInput):
        path = ".".join(p for p in (path, inner.field) if p)
        sentence = inner.sentence
    else:
        sentence = None
    field = ".".join(p for p in (at, path) if p) or "file"
    if sentence is None:
        what = {
            "missing": "is missing",
            "float_parsing": "must be a number",
            "float_type": "must be a number",
            "finite_number": "must be a finite number",
            "string_type": "must be text",
            "tuple_type": "must be a list",
            "literal_error": f"must be {details.get('ctx', {}).get('expected', 'one of the known words')}",
        }.get(details["type"], "cannot be used: " + details["msg"][:1].lower() + details["msg"][1:])
        sentence = f"Field {field} {what}."
    else:
        sentence = f"Field {field}: {sentence}"
    return InvalidInput(field, sentence)


def write(design: Design) -> dict[str, Any]:
    """The design as JSON-ready data; ``read`` gives the same design back."""
    bare = with_meshes(design, lambda shape, field: cast(Any, None))
    data = {"format": FORMAT, "version": VERSION, **dataclasses.asdict(bare)}
    for body, out in zip(design.bodies, data["bodies"], strict=True):
        out["shape"] = {"kind": body.shape.kind, **out["shape"]}
        if isinstance(body.shape, MeshFile):
            del out["shape"]["mesh"], out["shape"]["walls"]
    for motor, line in zip(design.drive.motors, data["drive"]["motors"], strict=True):
        if motor.propulsor is not None:
            line["propulsor"] = {"kind": motor.propulsor.kind, **line["propulsor"]}
    for item, line in zip(design.weights, data["weights"], strict=True):
        if item.recipe is not None:
            line["recipe"] = {"kind": item.recipe.kind, **line["recipe"]}
    return data


def dumps(design: Design) -> str:
    """Canonical text: the same design always gives the same bytes. A weight is a line, and a line that was written before is
    not written again: lists have thousands."""
    text = json.dumps(write(dataclasses.replace(design, weights=())), ensure_ascii=False, indent=1, allow_nan=False) + "\n"
    if not design.weights:
        return text
    lines = ",\n  ".join(_line(w) for w in design.weights)
    return text.replace('\n "weights": []', f'\n "weights": [\n  {lines}\n ]', 1)


@lru_cache(maxsize=16_384)
def _line(item: WeightItem) -> str:
    data = dataclasses.asdict(item)
    if item.recipe is not None:
        data["recipe"] = {"kind": item.recipe.kind, **data["recipe"]}
    return json.dumps(data, ensure_ascii=False, allow_nan=False)


def loads(text: str) -> Design:
    """A design from text. Raises InvalidInput."""
    if len(text) > LARGEST_FILE:
        raise InvalidInput("file", f"A boat file is at most {LARGEST_FILE // 1_000_000} MB.")
    if max(text.count(",") + text.count(":"), text.count("[") + text.count("{")) > MOST_VALUES:
        raise InvalidInput("file", f"A boat file holds at most {MOST_VALUES} values.")
    try:
        data = json.loads(text, parse_constant=_no_constant, object_pairs_hook=_each_once)
    except InvalidInput:
        raise
    except (ValueError, RecursionError) as error:
        where = f" (line {error.lineno})" if isinstance(error, json.JSONDecodeError) else ""
        raise InvalidInput("file", f"This is not a boat file: it is not valid JSON{where}.") from None
    if _depth(data) > DEEPEST:
        raise InvalidInput("file", "This is not a boat file: its lists lie too deep in one another.")
    return read(data)


def _each_once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """An object; one that names a field twice means two things at once."""
    made = dict(pairs)
    if len(made) < len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise InvalidInput("file", f"Field {twice[:40]} stands twice in one place of this file; keep one.")
    return made


def _depth(data: Any, so_far: int = 0) -> int:
    inner = data.values() if isinstance(data, dict) else data if isinstance(data, list) else ()
    if so_far > DEEPEST:
        return so_far
    return max((_depth(v, so_far + 1) for v in inner if isinstance(v, (dict, list))), default=so_far)


def _no_constant(name: str) -> float:
    raise ValueError(name)


def load(path: Path) -> Craft:
    """A craft from a boat file and the meshes beside it. Raises InvalidInput."""
    try:
        if path.stat().st_size > LARGEST_FILE:
            raise InvalidInput("file", f"{path.name} is larger than {LARGEST_FILE // 1_000_000} MB; that is not a boat file.")
        text = path.read_text(encoding="utf-8-sig")
    except UnicodeDecodeError:
        raise InvalidInput("file", f"{path.name} is not UTF-8 text, so it is not a boat file.") from None
    except OSError as error:
        raise InvalidInput("file", f"{path} cannot be read: {error.strerror or error}.") from None
    design = loads(text)
    read = with_meshes(design, lambda shape, field: mesh_in.load(_inside(path.parent, shape.file, field), shape, field))
    return Craft(with_outer_skins(read))


def with_meshes(design: Design, fetch: Callable[[MeshFile, str], Mesh]) -> Design:
    """The design with the mesh of every mesh file at hand; ``fetch`` gets the shape and the field to name in a refusal."""
    if not any(isinstance(b.shape, MeshFile) for b in design.bodies):
        return design
    bodies = [
        dataclasses.replace(b, shape=dataclasses.replace(b.shape, mesh=fetch(b.shape, f"bodies.{n}.shape.file")))
        if isinstance(b.shape, MeshFile)
        else b
        for n, b in enumerate(design.bodies)
    ]
    return dataclasses.replace(design, bodies=tuple(bodies))


def with_outer_skins(design: Design) -> Design:
    """The design with the outer skin of every hull whose mesh is walls round an inside: water does not get in there."""

    def skinned(body: Body) -> Body:
        if not isinstance(body.shape, MeshFile) or body.role != "hull" or body.shape.mesh is None:
            return body
        skin = outer_skin(body.shape.mesh)
        return body if skin is None else dataclasses.replace(body, shape=dataclasses.replace(body.shape, mesh=skin, walls=True))

    return dataclasses.replace(design, bodies=tuple(skinned(b) for b in design.bodies))


def _inside(folder: Path, name: str, field: str) -> Path:
    path = (folder / name).resolve()
    if path.parent != folder.resolve():  # a link that leads out counts as outside
        raise InvalidInput(field, f"Field {field} must name a file in the boat file's own folder.")
    return path


def schema() -> dict[str, Any]:
    """JSON Schema of the boat file, made from the design's own classes."""
    made = TypeAdapter(Design).json_schema()
    shapes = {}
    for kind, family in FAMILIES.items():
        one = TypeAdapter(family).json_schema()
        if family is MeshFile:
            del one["properties"]["mesh"], one["properties"]["walls"]
        one["properties"] = {"kind": {"const": kind}, **one["properties"]}
        one["required"] = ["kind", *one.get("required", [])]
        one["additionalProperties"] = False
        shapes[family.__name__] = one
    for kind, recipe in {**RECIPES, **PROPULSORS}.items():
        one = TypeAdapter(recipe).json_schema()
        one["properties"] = {"kind": {"const": kind}, **one["properties"]}
        one["required"] = ["kind", *one.get("required", [])]
        one["additionalProperties"] = False
        shapes[recipe.__name__] = one
    for name, one in shapes.items():
        made["$defs"][name] = one
    made["properties"] = {"format": {"const": FORMAT}, "version": {"const": VERSION}, **made["properties"]}
    made["required"] = ["format", "version", "name", "water", "bodies", "weights"]
    made["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    made["title"] = "Yare Keel boat file"
    return made


__all__ = ["FORMAT", "VERSION", "Shape", "dumps", "load", "loads", "read", "schema", "with_meshes", "write"]
