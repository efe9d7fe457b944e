"""Saved states of revisions: written packed, read once, and found again by their number, since none ever changes."""

import threading
from typing import Any

import sqlalchemy
from cachetools import LRUCache
from sqlalchemy import CursorResult, bindparam
from sqlalchemy.orm import aliased
from sqlmodel import Session, col

from yarekeel.core.errors import Conflict, InvalidInput
from yarekeel.exchange import boat_file
from yarekeel.stages.design.design import Design
from yarekeel.store import documents
from yarekeel.store.rows import RevisionRow, SnapshotRow

TEXTS = 12_000_000
"""Characters of states held as text."""
DESIGNS = 4_000_000
"""Characters of states held as designs, which take some ten times as much."""
LONGEST_NAME = 80


class States:
    """All reads and writes of states, within a transaction of the caller's."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._texts: LRUCache[int, str] = LRUCache(TEXTS, getsizeof=len)
        self._designs: LRUCache[int, tuple[Design, int]] = LRUCache(DESIGNS, getsizeof=lambda held: held[1])

    def text(self, session: Session, number: int) -> str:
        """The boat file of a state. Raises InvalidInput where what was kept is damaged."""
        with self._lock:
            known = self._texts.get(number)
        if known is not None:
            return known
        rows = {row.id: row for row in session.execute(_CHAIN, {"state": number})}
        try:
            text = self._followed(rows, number)
        except (documents.Damaged, KeyError):
            raise InvalidInput("file", "What was kept of it is damaged; bring a backup back: `yare-keel restore`.") from None
        self._keep(number, text)
        return text

    def _followed(self, rows: dict[int, Any], number: int) -> str:
        row = rows[number]
        line = [row]
        while row.base_id is not None:
            row = rows[row.base_id]
            line.append(row)
        text = documents.unpacked(line.pop().content)
        while line:
            text = documents.unpacked_on(line.pop().content, text)
        return text

    def _keep(self, number: int, text: str) -> None:
        with self._lock:
            if len(text) <= TEXTS:
                self._texts[number] = text

    def design(self, session: Session, number: int) -> Design:
        """The design of a state, its meshes not fetched yet. Raises InvalidInput for one that this program cannot use."""
        with self._lock:
            known = self._designs.get(number)
        if known is not None:
            return known[0]
        text = self.text(session, number)
        design = boat_file.loads(text)
        self._hold(number, design, len(text))
        return design

    def _hold(self, number: int, design: Design, size: int) -> None:
        with self._lock:
            if size <= DESIGNS:
                self._designs[number] = (design, size)

    def add(self, session: Session, revision_id: int, parent: int | None, design: Design, label: str) -> int:
        """A new state at the revision's head, in place of ``parent``; its number. Raises Conflict."""
        text = boat_file.dumps(design)
        if (kept := self._kept_already(session, revision_id, parent, text)) is not None:
            return kept
        chain, base = documents.LONGEST_CHAIN, ""
        if parent is not None:
            chain = session.execute(_CHAIN_OF, {"state": parent}).scalar_one()
            base = self.text(session, parent) if chain < documents.LONGEST_CHAIN else ""
        alone = chain >= documents.LONGEST_CHAIN
        row = SnapshotRow(
            revision_id=revision_id,
            parent_id=parent,
            label=label,
            name=design.name[:LONGEST_NAME],
            base_id=None if alone else parent,
            chain=0 if alone else chain + 1,
            content=documents.packed(text) if alone else documents.packed_on(text, base),
        )
        session.add(row)
        session.flush()
        assert row.id is not None
        move_head(session, revision_id, parent, row.id)
        self._keep(row.id, text)
        self._hold(row.id, design, len(text))
        return row.id

    def _kept_already(self, session: Session, revision_id: int, parent: int | None, text: str) -> int | None:
        """The head's number where it is this very state made on ``parent``: an edit sent again because its answer was lost."""
        if parent is None:
            return None
        head = session.execute(_HEAD_OF, {"revision": revision_id}).first()
        return head.id if head is not None and head.parent_id == parent and self.text(session, head.id) == text else None


def move_head(session: Session, revision_id: int, on: int | None, to: int) -> None:
    """Put the head from ``on`` to ``to`` in one statement, so that of two windows only one succeeds. Raises Conflict."""
    moved: CursorResult[Any] = session.execute(_MOVE_HEAD, {"revision": revision_id, "on_head": on, "to_head": to})  # type: ignore[assignment]
    if moved.rowcount != 1:
        raise Conflict("This boat was changed in another window since this page was loaded; reload to see it. Nothing was overwritten.")


_STATE = SnapshotRow.__table__.c  # type: ignore[attr-defined]
_REVISION = RevisionRow.__table__.c  # type: ignore[attr-defined]
_FIRST = sqlalchemy.select(_STATE.id, _STATE.base_id, _STATE.content).where(_STATE.id == bindparam("state")).cte("line", recursive=True)
_BEFORE = aliased(SnapshotRow)
_LINE = _FIRST.union_all(
    sqlalchemy.select(col(_BEFORE.id), col(_BEFORE.base_id), col(_BEFORE.content)).join(_FIRST, _FIRST.c.base_id == col(_BEFORE.id))
)
_CHAIN = sqlalchemy.select(_LINE)
"""A state and those that it is packed on, down to one that is whole."""
_CHAIN_OF = sqlalchemy.select(_STATE.chain).where(_STATE.id == bindparam("state"))
_HEAD_OF = (
    sqlalchemy.select(_STATE.id, _STATE.parent_id)
    .join_from(RevisionRow, SnapshotRow, _STATE.id == _REVISION.head_id)
    .where(_REVISION.id == bindparam("revision"))
)
_MOVE_HEAD = (
    sqlalchemy.update(RevisionRow.__table__)  # type: ignore[attr-defined]
    .where(_REVISION.id == bindparam("revision"), _REVISION.head_id.is_not_distinct_from(bindparam("on_head")))
    .values(head_id=bindparam("to_head"))
)
