"""What is let go of, by rules that the README tells: boats deleted long ago, and most undo steps of long ago."""

from datetime import timedelta

from sqlalchemy import Engine
from sqlmodel import col, select

from yarekeel.store import documents
from yarekeel.store.berths import DAYS_KEPT
from yarekeel.store.rows import BoatRow, RevisionRow, SnapshotRow, now
from yarekeel.store.states import States
from yarekeel.store.transactions import writing

STEPS_KEPT = 500
"""Newest undo steps of a revision, which are all kept."""
DAYS_WHOLE = 30
"""Age from which of the older ones only some are."""
EVERY = 10
"""One in so many."""


def tidy(engine: Engine) -> tuple[int, int]:
    """Let go of what the rules say: how many boats, and how many undo steps."""
    with writing(engine) as session:
        gone = session.exec(select(BoatRow).where(col(BoatRow.deleted_at) < now() - timedelta(days=DAYS_KEPT))).all()
        for boat in gone:
            session.delete(boat)
        numbers = session.exec(select(RevisionRow.id)).all()
    return len(gone), sum(_thinned(engine, number) for number in numbers if number is not None)


def _thinned(engine: Engine, revision: int) -> int:
    """Thin a revision's old undo steps; how many went. The state in force and the first one stay, and so does every state that a branch
    begins at."""
    with writing(engine) as session:
        rows = {r.id: r for r in session.exec(select(SnapshotRow).where(SnapshotRow.revision_id == revision).order_by(col(SnapshotRow.id)))}
        if len(rows) <= STEPS_KEPT:
            return 0
        before = (now() - timedelta(days=DAYS_WHOLE)).replace(tzinfo=None)
        owner = session.get(RevisionRow, revision)
        parents = [r.parent_id for r in rows.values()]
        stay = {n for n in rows if parents.count(n) > 1} | {owner.head_id if owner else None}
        old = [n for n in sorted(k for k in rows if k is not None)[:-STEPS_KEPT] if rows[n].created_at.replace(tzinfo=None) < before]
        go = {n for place, n in enumerate(old) if place % EVERY and n not in stay and rows[n].parent_id is not None}
        if not go:
            return 0
        states = States()
        for number, row in rows.items():
            if number in go or row.base_id is None:
                continue
            if row.base_id in go:
                text = states.text(session, number or 0)
                row.content, row.base_id, row.chain = documents.packed(text), None, 0
        session.flush()
        for row in rows.values():
            parent = row.parent_id
            while parent in go:
                parent = rows[parent].parent_id
            row.parent_id = parent
        session.flush()
        for number in sorted(go, reverse=True):
            session.delete(rows[number])
        return len(go)
