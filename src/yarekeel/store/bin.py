"""The yard's bin of parts: the builder's own, beside the generic ones that ship with the program."""

import json

from sqlalchemy import Engine
from sqlmodel import Session, col, select

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.core.propulsion.parts import STARTERS, Part
from yarekeel.exchange import part_file
from yarekeel.plain_text import whole
from yarekeel.stages.design.fittings import Keyed
from yarekeel.store.rows import PartRow, now
from yarekeel.store.transactions import reading, writing

MOST_PARTS = 2000


class Bin:
    """All reads and writes of parts. Each call is one transaction; a call that returns has saved."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def own(self) -> tuple[Keyed, ...]:
        """The builder's own parts, oldest first."""
        with reading(self._engine) as session:
            rows = session.exec(select(PartRow).where(col(PartRow.deleted_at).is_(None)).order_by(col(PartRow.id))).all()
            return tuple(Keyed(str(r.id), part_file.part_of(json.loads(r.document))) for r in rows)

    def all(self) -> tuple[Keyed, ...]:
        """The builder's own and the generic ones."""
        return (*self.own(), *(Keyed(key, part) for key, part in STARTERS.items()))

    def part(self, key: str) -> Keyed:
        """A part by its key. Raises NotFound."""
        found = next((k for k in self.all() if k.key == key), None)
        if found is None:
            raise NotFound("There is no such part in the bin.")
        return found

    def add(self, parts: tuple[Part, ...]) -> tuple[str, ...]:
        """New parts; their keys. Raises InvalidInput where the bin would hold too many."""
        with writing(self._engine) as session:
            if len(session.exec(select(PartRow.id)).all()) + len(parts) > MOST_PARTS:
                raise InvalidInput("parts", f"The bin holds at most {MOST_PARTS} parts.")
            rows = [PartRow(document=_text(p)) for p in parts]
            session.add_all(rows)
            session.flush()
            return tuple(str(r.id) for r in rows)

    def change(self, key: str, part: Part) -> None:
        """A part as it is now. Raises NotFound for one that is not the builder's own."""
        with writing(self._engine) as session:
            row = _own(session, key)
            row.document = _text(part)

    def remove(self, key: str) -> None:
        """Take a part out of the bin; restore() brings it back. What it gave to boats stays theirs. Raises NotFound."""
        with writing(self._engine) as session:
            row = _own(session, key)
            row.deleted_at = now()

    def removed_name(self, key: str) -> str:
        """Name of a part that was removed and can be restored, else empty."""
        with reading(self._engine) as session:
            row = _row(session, key)
            return "" if row is None or row.deleted_at is None else part_file.part_of(json.loads(row.document)).name

    def restore(self, key: str) -> None:
        """Bring a removed part back. Raises NotFound."""
        with writing(self._engine) as session:
            row = _row(session, key)
            if row is None:
                raise NotFound("There is no such part in the bin.")
            row.deleted_at = None


def _row(session: Session, key: str) -> PartRow | None:
    return session.get(PartRow, number) if (number := whole(key)) is not None else None


def _own(session: Session, key: str) -> PartRow:
    row = _row(session, key)
    if row is None or row.deleted_at is not None:
        raise NotFound("There is no such part of your own in the bin; copy a generic one to change it.")
    return row


def _text(part: Part) -> str:
    return json.dumps(part_file.data_of(part), ensure_ascii=False, allow_nan=False)
