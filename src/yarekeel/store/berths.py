"""The yard's list without reading a boat: names, letters, and what a card shows, kept with the state that it shows."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

import sqlalchemy
from sqlalchemy import Engine, func
from sqlmodel import Session, col, select

from yarekeel.core.errors import NotFound
from yarekeel.store.records import letter_of
from yarekeel.store.rows import BoatRow, CardRow, RevisionRow, SnapshotRow, TrialRow, now
from yarekeel.store.transactions import reading, writing

PAGE = 24
"""Boats on a page of the yard."""
ORDERS: dict[str, str] = {"newest": "newest first", "changed": "changed last", "name": "by name"}
DEMO = "demo"
"""Who made a boat that came with the program."""
DAYS_KEPT = 30
"""That a deleted boat can be brought back."""


@dataclass(frozen=True, slots=True)
class BerthRecord:
    """A boat in the list: the revision worked on and its state, its revisions' letters with whether a trial ran on each, and the kept
    card (JSON), if the program that made it is this one."""

    id: int
    name: str
    units: str
    letter: str
    state: int
    chain: tuple[tuple[str, bool], ...]
    card: str | None


@dataclass(frozen=True, slots=True)
class Gone:
    """A deleted boat, and for how many days it can still be brought back."""

    id: int
    name: str
    days: int


class Berths:
    """Reads of the list; writes of cards."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def page(self, made_by: str, search: str = "", order: str = "newest", number: int = 0) -> tuple[tuple[BerthRecord, ...], int]:
        """A page of the list, and how many boats there are that ``search`` finds in their names."""
        with reading(self._engine) as session:
            wanted = self._wanted(search)
            total = session.execute(sqlalchemy.select(func.count()).select_from(wanted.subquery())).scalar_one()
            by = {"changed": _STATE.created_at.desc(), "name": func.lower(_STATE.name)}.get(order, _BOAT.id.desc())
            rows = session.execute(wanted.order_by(by, _BOAT.id.desc()).limit(PAGE).offset(PAGE * number)).all()
            return self._records(session, rows, made_by), total

    def one(self, boat_id: int, made_by: str) -> BerthRecord:
        """A boat's place in the list. Raises NotFound."""
        with reading(self._engine) as session:
            records = self._records(session, session.execute(self._wanted("").where(_BOAT.id == boat_id)).all(), made_by)
        if not records:
            raise NotFound("There is no such boat in the yard.")
        return records[0]

    def units_of(self, boat_id: int) -> str | None:
        """The units that a boat is read in; None where there is no such boat."""
        with reading(self._engine) as session:
            return session.execute(sqlalchemy.select(_BOAT.units).where(_BOAT.id == boat_id)).scalar_one_or_none()

    def every(self) -> tuple[tuple[int, str, str], ...]:
        """Number, letter and name of every revision of every boat, newest boats first."""
        with reading(self._engine) as session:
            rows = session.execute(
                sqlalchemy.select(_REVISION.boat_id, _REVISION.number, _STATE.name)
                .join_from(RevisionRow, BoatRow, _BOAT.id == _REVISION.boat_id)
                .join(SnapshotRow, _STATE.id == _REVISION.head_id)
                .where(_BOAT.deleted_at.is_(None))
                .order_by(_BOAT.id.desc(), _REVISION.number)
            )
            return tuple((r.boat_id, letter_of(r.number), r.name) for r in rows)

    def example(self) -> tuple[int, str] | None:
        """Number and name of the newest boat that came with the program and has been through two revisions and more; None without."""
        revisions = sqlalchemy.select(func.count()).where(_REVISION.boat_id == _BOAT.id).correlate(BoatRow).scalar_subquery()
        wanted = self._wanted("").where(_BOAT.made_by == DEMO, revisions > 2).order_by(_BOAT.id.desc()).limit(1)
        with reading(self._engine) as session:
            found = session.execute(wanted).first()
            return (found.id, found.name) if found is not None else None

    def keep_card(self, state: int, units: str, made_by: str, document: str) -> None:
        """Keep what the yard shows of a state; a newer one takes its place. Of a state that was let go of meanwhile nothing is kept."""
        with writing(self._engine) as session:
            if session.get(SnapshotRow, state) is not None:
                session.merge(CardRow(snapshot_id=state, units=units, made_by=made_by, document=document))

    def deleted(self) -> tuple[Gone, ...]:
        """Boats that can still be brought back, the last deleted first."""
        with reading(self._engine) as session:
            rows = session.execute(self._latest().where(_BOAT.deleted_at.is_not(None)).order_by(_BOAT.deleted_at.desc())).all()
            return tuple(Gone(r.id, r.name, max(DAYS_KEPT - _days_since(r.deleted_at), 0)) for r in rows)

    def _latest(self) -> Any:
        """Every boat with its last revision's state."""
        last = sqlalchemy.select(func.max(_REVISION.number)).where(_REVISION.boat_id == _BOAT.id).correlate(BoatRow).scalar_subquery()
        return (
            sqlalchemy.select(_BOAT.id, _BOAT.units, _BOAT.deleted_at, _REVISION.number, _REVISION.head_id, _STATE.name)
            .join_from(BoatRow, RevisionRow, (_REVISION.boat_id == _BOAT.id) & (_REVISION.number == last))
            .join(SnapshotRow, _STATE.id == _REVISION.head_id)
        )

    def _wanted(self, search: str) -> Any:
        found = self._latest().where(_BOAT.deleted_at.is_(None))
        return found.where(_STATE.name.icontains(search, autoescape=True)) if search else found

    def _records(self, session: Session, rows: Any, made_by: str) -> tuple[BerthRecord, ...]:
        numbers = [r.id for r in rows]
        chains: dict[int, list[tuple[str, bool]]] = {n: [] for n in numbers}
        tried = sqlalchemy.exists().where(col(TrialRow.revision_id) == _REVISION.id)
        every = sqlalchemy.select(_REVISION.boat_id, _REVISION.number, tried.label("tried"))
        for r in session.execute(every.where(_REVISION.boat_id.in_(numbers)).order_by(_REVISION.number)):
            chains[r.boat_id].append((letter_of(r.number), bool(r.tried)))
        kept = select(CardRow).where(col(CardRow.snapshot_id).in_([r.head_id for r in rows]), col(CardRow.made_by) == made_by)
        cards = {(c.snapshot_id, c.units): c.document for c in session.exec(kept)}
        return tuple(
            BerthRecord(
                id=r.id,
                name=r.name,
                units=r.units,
                letter=letter_of(r.number),
                state=r.head_id,
                chain=tuple(chains[r.id]),
                card=cards.get((r.head_id, r.units)),
            )
            for r in rows
        )


def _days_since(moment: datetime) -> int:
    aware = moment if moment.tzinfo else moment.replace(tzinfo=now().tzinfo)
    return (now() - aware) // timedelta(days=1)


_BOAT = BoatRow.__table__.c  # type: ignore[attr-defined]
_REVISION = RevisionRow.__table__.c  # type: ignore[attr-defined]
_STATE = SnapshotRow.__table__.c  # type: ignore[attr-defined]
