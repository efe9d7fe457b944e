"""One tree of errors. Each carries the field it speaks of and one sentence that says what would be accepted.

YareKeelError
+-- InvalidInput       a value that cannot be used; names its field
|   +-- InvalidMesh    a surface that is not one closed outside
+-- NoRest             the boat comes to no rest in the water
|   +-- BoatSinks      heavier than all the water the hull can push aside
|   +-- Unsolved       no balance was found within the tries allowed
+-- NoAnswer           a solver's target cannot be met; says what would be needed
+-- Conflict           the thing was changed or sealed by somebody else meanwhile
+-- NotFound           no such boat, revision or trial
"""

from collections.abc import Callable
from contextvars import ContextVar
from typing import Any


class YareKeelError(Exception):
    """Base of all errors a user may cause. ``str(error)`` is one sentence fit to be shown."""


class InvalidInput(YareKeelError, ValueError):
    """A value that cannot be used. ``field`` is its name in the boat file, for example ``weights.2.mass_kg``. Amounts stand in the
    ``template`` as places such as ``{most:length}`` with their ``values`` in SI, and are said in the reader's units (``SPEAKER``); a
    template without values is the sentence itself."""

    def __init__(self, field: str, template: str, **values: float) -> None:
        super().__init__(field, template)
        self.field, self.template, self.values = field, template, values

    @property
    def sentence(self) -> str:
        """What is wrong and what would be accepted, in one sentence."""
        return self.template.format(**{k: _Amount(v) for k, v in self.values.items()}) if self.values else self.template

    def __str__(self) -> str:
        return self.sentence

    @property
    def within(self) -> str:
        """The template to be put into a longer one, which is filled with ``values``."""
        return self.template if self.values else braced(self.template)

    def at(self, field: str) -> "InvalidInput":
        """The same of a field by another name."""
        return type(self)(field, self.template, **self.values)

    def __reduce__(self) -> tuple[Any, ...]:
        """It may have been found in another process."""
        return _again, (type(self), self.field, self.template, self.values)


def braced(words: str) -> str:
    """Words as they stand within a template."""
    return words.replace("{", "{{").replace("}", "}}")


def _again(kind: type[InvalidInput], field: str, template: str, values: dict[str, float]) -> InvalidInput:
    return kind(field, template, **values)


SI_UNITS = {
    "length": " m", "mass": " kg", "areal": " kg/m²", "force": " N", "speed": " m/s", "area": " m²", "volume": " m³", "density": " kg/m³",
    "temperature": " °C",
}  # fmt: skip


def _in_si(value: float, kind: str) -> str:
    shown = f"{value:.4g}" if abs(value) < 1e4 else f"{value:,.15g}".replace(",", " ")
    return f"{shown}{SI_UNITS[kind]}"


SPEAKER: ContextVar[Callable[[float, str], str]] = ContextVar("SPEAKER", default=_in_si)
"""Says an amount of a kind in the units of who reads what is refused; in SI for who reads in no others."""


class _Amount(float):
    def __format__(self, kind: str) -> str:
        return SPEAKER.get()(float(self), kind)


class InvalidMesh(InvalidInput):
    """A triangle mesh that does not bound a volume."""


class NoRest(YareKeelError):
    """The boat comes to no rest in the water."""


class Unsolved(NoRest):
    """No balance was found within the tries allowed."""


class BoatSinks(NoRest):
    """The boat weighs more than the water its whole closed volume displaces."""

    def __init__(self, mass_kg: float, capacity_kg: float) -> None:
        super().__init__(f"It weighs {mass_kg:.4g} kg and the whole hull displaces only {capacity_kg:.4g} kg of water: it sinks.")
        self.mass_kg = mass_kg
        self.capacity_kg = capacity_kg


class NoAnswer(YareKeelError):
    """A solver found no value that meets its target; the sentence says what would be needed."""


class Conflict(YareKeelError):
    """The revision was changed elsewhere, or is sealed by a trial."""


class NotFound(YareKeelError):
    """No such boat, revision or trial."""
