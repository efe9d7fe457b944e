"""The readings of a day at the water as JSON (docs/trial-file.md): every part is left out where it was not measured."""

import json
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter, ValidationError

from yarekeel.core.errors import InvalidInput
from yarekeel.plain_text import plain_data
from yarekeel.stages.trials.readings import Inclining, Pull, Readings, ReadTo, Rolls, Run, Tilt
from yarekeel.stages.trials.trials import SYMPTOMS

FORMAT, VERSION = "yare-keel-trial", 1
LARGEST_FILE = 2_000_000
NUMBERS = ("mass_kg", "heel_deg", "water_inside_kg", "wind_ms", "depth_m")
PARTS = (*NUMBERS, "drafts", "rolls", "inclining", "pulls", "runs", "read_to")
BESIDES = ("format", "version", "date", "place", "notes", "seen")
"""What a file may hold that the fit does not use."""


def read(data: Any) -> Readings:
    """Readings from parsed JSON. Raises InvalidInput naming the field."""
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise InvalidInput("format", f'A file of readings is a JSON object with "format": "{FORMAT}".')
    if type(data.get("version")) is not int or data["version"] != VERSION:
        raise InvalidInput("version", f"Field version must be {VERSION}; this program reads no other.")
    data = plain_data(data)
    unknown = [k for k in data if k not in (*PARTS, *BESIDES)]
    if unknown:
        raise InvalidInput(unknown[0][:60], f"Field {unknown[0][:60]} is not known; docs/trial-file.md lists the fields.")
    drafts = _part(data, "drafts", {"bow_m", "stern_m"})
    to = {k: v for k, v in _part(data, "read_to", set(ReadTo.__dataclass_fields__)).items() if v is not None}
    made = {
        **{name: data.get(name) for name in NUMBERS},
        "bow_m": drafts.get("bow_m"),
        "stern_m": drafts.get("stern_m"),
        "rolls": _one(data.get("rolls"), Rolls, "rolls"),
        "inclining": _inclining(data),
        "pulls": _each(data.get("pulls"), Pull, "pulls"),
        "runs": _each(data.get("runs"), Run, "runs"),
        "read_to": _one(to, ReadTo, "read_to") or ReadTo(),
    }
    for name in (*NUMBERS, "bow_m", "stern_m"):
        if made[name] is not None:
            made[name] = _number(made[name], name if name in NUMBERS else f"drafts.{name}")
    return Readings(**made)


def _part(data: dict[str, Any], name: str, known: set[str]) -> dict[str, Any]:
    part = data.get(name)
    if part is None:
        return {}
    if not isinstance(part, dict):
        raise InvalidInput(name, f"Field {name} must be an object.")
    for key in part:
        if key not in known:
            raise InvalidInput(f"{name}.{key[:60]}", f"Field {name}.{key[:60]} is not known; docs/trial-file.md lists the fields.")
    return part


def _inclining(data: dict[str, Any]) -> Inclining | None:
    part = _part(data, "inclining", {"weight_kg", "shifts"})
    if not part:
        return None
    return Inclining(_number(part.get("weight_kg"), "inclining.weight_kg"), _each(part.get("shifts"), Tilt, "inclining.shifts"))


def _number(value: Any, at: str) -> float:
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        raise InvalidInput(at, f"Field {at} must be a number.")
    return float(value)


def _one(value: Any, kind: Any, at: str) -> Any:
    if value is None or value == {}:
        return None
    if not isinstance(value, dict):
        raise InvalidInput(at, f"Field {at} must be an object.")
    for key in value:
        if key not in kind.__dataclass_fields__:
            raise InvalidInput(f"{at}.{key[:60]}", f"Field {at}.{key[:60]} is not known; docs/trial-file.md lists the fields.")
    try:
        return TypeAdapter(kind).validate_python(value, strict=False)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        field = ".".join([at, *(str(p) for p in first["loc"])])
        raise InvalidInput(field, f"Field {field} {'is missing' if first['type'] == 'missing' else 'must be a number'}.") from None


def _each(value: Any, kind: Any, at: str) -> tuple[Any, ...]:
    if value is None:
        return ()
    if not isinstance(value, list):
        raise InvalidInput(at, f"Field {at} must be a list.")
    return tuple(_one(v, kind, f"{at}.{k}") for k, v in enumerate(value[:10_000]) if v is not None)


def load(path: Path) -> Readings:
    """Readings from a file. Raises InvalidInput."""
    return read(_data(path))


def load_day(path: Path) -> tuple[Readings, tuple[str, ...]]:
    """The same with what was seen, by code. Raises InvalidInput."""
    data = _data(path)
    readings = read(data)
    seen = data.get("seen", [])
    if not isinstance(seen, list) or any(code not in SYMPTOMS for code in seen):
        raise InvalidInput("seen", f"Field seen is a list of what was seen, each one of: {', '.join(SYMPTOMS)}.")
    return readings, tuple(dict.fromkeys(seen))


def _data(path: Path) -> Any:
    try:
        if path.stat().st_size > LARGEST_FILE:
            raise InvalidInput("readings", f"{path.name} is larger than {LARGEST_FILE // 1_000_000} MB; that is no day's readings.")
        data = json.loads(path.read_text(encoding="utf-8-sig"))
    except OSError as error:
        raise InvalidInput("readings", f"{path} cannot be read: {error.strerror or error}.") from None
    except (ValueError, RecursionError):
        raise InvalidInput("readings", f"{path.name} is not valid JSON.") from None
    return data
