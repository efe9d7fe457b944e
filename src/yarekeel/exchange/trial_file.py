"""What a trial is kept as: its readings as JSON, with the word for what kind of trial it is and the version of its form."""

import dataclasses
import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.stages.trials.readings import Inclining, Pull, ReadTo, Rolls, Run, Tilt
from yarekeel.stages.trials.trials import Conditions, FloatTest, Struck


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of trial: its class, the version its readings are written in, and how readings of any version up to it are read."""

    code: str
    of: type[FloatTest]
    version: int
    read: Callable[[dict[str, Any], int], FloatTest]


def _float_test(data: dict[str, Any], version: int) -> FloatTest:
    made: dict[str, Any] = {**data, "seen": tuple(data["seen"])}
    if version >= 2:
        rolls, inclining = data.get("rolls"), data.get("inclining")
        made["rolls"] = Rolls(**rolls) if rolls else None
        made["inclining"] = Inclining(inclining["weight_kg"], tuple(Tilt(**s) for s in inclining["shifts"])) if inclining else None
        made["pulls"] = tuple(Pull(**p) for p in data.get("pulls", ()))
        made["runs"] = tuple(Run(**r) for r in data.get("runs", ()))
    if version >= 3:
        made["conditions"] = Conditions(**data["conditions"]) if data.get("conditions") else None
        made["read_to"] = ReadTo(**data.get("read_to", {}))
        made["photos"] = tuple(data.get("photos", ()))
        made["struck"] = tuple(Struck(s["what"], tuple(s["typed"].items()), s["reason"]) for s in data.get("struck", ()))
    return FloatTest(**made)


KINDS: dict[str, Kind] = {k.code: k for k in (Kind("float", FloatTest, 3, _float_test),)}


def write(trial: FloatTest) -> tuple[str, int, str]:
    """Kind, version and text of a trial."""
    kind = next(k for k in KINDS.values() if type(trial) is k.of)
    data = dataclasses.asdict(trial)
    data["struck"] = [{**s, "typed": dict(s["typed"])} for s in data["struck"]]
    return kind.code, kind.version, json.dumps(data, ensure_ascii=False, allow_nan=False)


def read(code: str, version: int, text: str) -> FloatTest:
    """A trial from what it was kept as. Raises InvalidInput for a kind or version that this program does not know, or readings that
    it does not take."""
    kind = KINDS.get(code)
    if kind is None or not 1 <= version <= kind.version:
        raise InvalidInput("trial", f"This trial ({code[:20]}, version {version}) was kept by a newer program.")
    try:
        return kind.read(json.loads(text), version)
    except (ValueError, TypeError, KeyError, AttributeError, OverflowError) as error:
        raise InvalidInput("trial", f"This trial cannot be read any more: {error}") from None
