"""What a stage's view is asked with."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.once import cached_property
from yarekeel.plain_text import whole
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.fittings import Keyed
from yarekeel.store.predictions import Prediction
from yarekeel.store.records import Boat, Revision
from yarekeel.store.sheets import Sheet
from yarekeel.units import parse
from yarekeel.web.shared.fields import Field, field
from yarekeel.web.shared.page import Reader, craft_of


@dataclass(frozen=True)
class PageRequest:
    """One look at a stage: the state to show (saved or tried), and the questions on the page (``ask``) as typed."""

    boat: Boat
    revision: Revision
    design: Design
    reader: Reader
    ask: Mapping[str, str]
    parts: Callable[[], tuple[Keyed, ...]] = tuple
    """The yard's bin of parts."""
    predictions: Callable[[int], tuple[Prediction, ...]] = lambda revision: ()
    """What was predicted of a revision by its number."""
    sheets: Callable[[int], tuple[Sheet, ...]] = lambda revision: ()
    """The pond sheets of a revision by its number."""

    @cached_property
    def craft(self) -> Craft:
        return craft_of(self.design)

    @property
    def sealed(self) -> bool:
        return self.revision.is_sealed

    def field(self, path: str, hint: str = "", value: object = None) -> Field:
        """The field for a path, shut when the revision is sealed."""
        return field(self.design, path, self.reader.system, hint=hint, disabled=self.sealed, value=value)

    def index(self, name: str, count: int) -> int | None:
        """A whole number asked for by name, if it is one of ``count``."""
        text = self.ask.get(name, "")
        return number if (number := whole(text)) is not None and number < count else None

    def length(self, name: str) -> tuple[float | None, str]:
        """A length asked for by name, and the sentence that refuses it."""
        text = self.ask.get(name, "").strip()
        if not text:
            return None, ""
        try:
            return parse(text, "length", self.reader.system, name), ""
        except InvalidInput as error:
            return None, error.sentence
