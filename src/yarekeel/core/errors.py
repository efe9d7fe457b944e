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


class YareKeelError(Exception):
    """Base of all errors a user may cause. ``str(error)`` is one sentence fit to be shown."""


class InvalidInput(YareKeelError, ValueError):
    """A value that cannot be used. ``field`` is its name in the boat file, for example ``weights.2.mass_kg``."""

    def __init__(self, field: str, sentence: str) -> None:
        super().__init__(sentence)
        self.field = field
        self.sentence = sentence

    def __reduce__(self) -> tuple[type["InvalidInput"], tuple[str, str]]:
        """It may have been found in another process."""
        return type(self), (self.field, self.sentence)


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
