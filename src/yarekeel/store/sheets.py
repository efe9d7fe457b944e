"""Pond sheets: what they show, what was entered on them, and which phones may reach one."""

import json
import secrets
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from hashlib import sha256
from typing import Any

from sqlalchemy import Engine, func
from sqlmodel import Session, col, select

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.stages.trials.sheet import MOST_ENTRIES, MOST_PHOTOS, Entry
from yarekeel.store.rows import BoatRow, EntryRow, PhoneRow, RevisionRow, SheetRow, now
from yarekeel.store.transactions import must_be_there, reading, writing

MOST_SHEETS = 50
"""Of one revision."""
LINK_LIVES = timedelta(minutes=15)
"""That a one-time link waits for its phone."""


@dataclass(frozen=True, slots=True)
class Sheet:
    """A sheet: its own number, whose it is, the code in its address, where it is for, the day it was opened (ISO), what it shows, and
    how many entries it has."""

    id: int
    boat_id: int
    revision: int
    number: int
    code: str
    place: str
    date: str
    shows: dict[str, Any]
    entries: int


def _digest(secret: str) -> str:
    return sha256(secret.encode()).hexdigest()


class Sheets:
    """All reads and writes of pond sheets. Each call is one transaction; a call that returns has saved."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def open(self, revision: int, place: str, shows: Mapping[str, Any]) -> str:
        """A new sheet; gives its code. Raises InvalidInput where a revision would have too many."""
        with writing(self._engine) as session:
            must_be_there(session, revision)
            if len(session.exec(select(SheetRow.id).where(SheetRow.revision_id == revision)).all()) >= MOST_SHEETS:
                raise InvalidInput("sheet", f"A revision keeps at most {MOST_SHEETS} pond sheets.")
            code = secrets.token_urlsafe(9)
            session.add(SheetRow(revision_id=revision, code=code, place=place[:80], document=json.dumps(dict(shows), allow_nan=False)))
            return code

    def of(self, revision: int) -> tuple[Sheet, ...]:
        """Those of a revision, oldest first."""
        with reading(self._engine) as session:
            rows = session.exec(_sheets().where(SheetRow.revision_id == revision).order_by(col(SheetRow.id))).all()
        return tuple(_sheet(*row) for row in rows)

    def sheet(self, code: str) -> Sheet:
        """The sheet of a code. Raises NotFound for none, or one whose boat was deleted."""
        with reading(self._engine) as session:
            found = session.exec(_sheets().where(SheetRow.code == code)).first()
        if found is None:
            raise NotFound("There is no such pond sheet.")
        return _sheet(*found)

    # Entries

    def entries(self, sheet: Sheet) -> tuple[Entry, ...]:
        """What was entered, in the order it came in."""
        with reading(self._engine) as session:
            rows = session.exec(select(EntryRow).where(EntryRow.sheet_id == sheet.id).order_by(col(EntryRow.id))).all()
        return tuple(_entry(row) for row in rows)

    def has(self, sheet: Sheet, key: str) -> bool:
        """Whether an entry of this key is kept."""
        with reading(self._engine) as session:
            return session.exec(select(EntryRow.id).where(EntryRow.sheet_id == sheet.id, EntryRow.key == key)).first() is not None

    def add(self, sheet: Sheet, entry: Entry) -> bool:
        """Keep an entry; False where its key is kept already, whatever comes with it. Raises InvalidInput where there would be too
        many."""
        document = json.dumps({"code": entry.code, "at": entry.at, "typed": dict(entry.typed)}, ensure_ascii=False)
        with writing(self._engine) as session:
            must_be_there(session, sheet.revision)
            if session.exec(select(EntryRow.id).where(EntryRow.sheet_id == sheet.id, EntryRow.key == entry.key)).first() is not None:
                return False
            mine = select(func.count(col(EntryRow.id))).where(EntryRow.sheet_id == sheet.id)
            if session.exec(mine).one() >= MOST_ENTRIES:
                raise InvalidInput("sheet", f"A pond sheet keeps at most {MOST_ENTRIES} entries; open another one.")
            if entry.photo and session.exec(mine.where(col(EntryRow.photo).is_not(None))).one() >= MOST_PHOTOS:
                raise InvalidInput("photo", f"A pond sheet keeps at most {MOST_PHOTOS} photos; open another one.")
            session.add(EntryRow(sheet_id=sheet.id, key=entry.key, document=document, photo=entry.photo))
            return True

    # Phones

    def link(self, sheet: Sheet) -> str:
        """A secret for one phone, good once and for a quarter of an hour; only its digest is kept."""
        secret = secrets.token_urlsafe(24)
        with writing(self._engine) as session:
            must_be_there(session, sheet.revision)
            session.add(PhoneRow(sheet_id=sheet.id, link=_digest(secret)))
        return secret

    def is_waiting(self, secret: str) -> bool:
        """Whether a link is still good."""
        with reading(self._engine) as session:
            return self._waiting(session, secret) is not None

    def enter(self, secret: str) -> tuple[str, str]:
        """The session that a link is changed for, and its sheet's code. Raises NotFound for a link that was used, is old or ended."""
        with writing(self._engine) as session:
            phone = self._waiting(session, secret)
            if phone is None:
                raise NotFound("This link was used already, has ended, or is too old; ask for a new one at the bench.")
            pass_ = secrets.token_urlsafe(24)
            phone.session = _digest(pass_)
            sheet = session.get(SheetRow, phone.sheet_id)
            assert sheet is not None
            return pass_, sheet.code

    def code_for(self, session_secret: str) -> str | None:
        """The code of the sheet that a session may reach; None where it may not, or was ended."""
        with reading(self._engine) as session:
            return session.exec(
                select(SheetRow.code)
                .join(PhoneRow, col(PhoneRow.sheet_id) == SheetRow.id)
                .where(PhoneRow.session == _digest(session_secret), col(PhoneRow.ended_at).is_(None))
            ).first()

    def phones(self, sheet: Sheet) -> int:
        """Sessions that reach a sheet now."""
        with reading(self._engine) as session:
            rows = select(PhoneRow.id).where(
                PhoneRow.sheet_id == sheet.id, col(PhoneRow.ended_at).is_(None), col(PhoneRow.session).is_not(None)
            )
            return len(session.exec(rows).all())

    def end(self, sheet: Sheet) -> None:
        """End every session and every link of a sheet."""
        with writing(self._engine) as session:
            for phone in session.exec(select(PhoneRow).where(PhoneRow.sheet_id == sheet.id, col(PhoneRow.ended_at).is_(None))).all():
                phone.ended_at = now()

    @staticmethod
    def _waiting(session: Session, secret: str) -> PhoneRow | None:
        phone = session.exec(select(PhoneRow).where(PhoneRow.link == _digest(secret), col(PhoneRow.session).is_(None))).first()
        if phone is None or phone.ended_at is not None:
            return None
        made = phone.created_at if phone.created_at.tzinfo else phone.created_at.replace(tzinfo=UTC)
        return phone if datetime.now(UTC) - made < LINK_LIVES else None


def _entry(row: EntryRow) -> Entry:
    data = json.loads(row.document)
    return Entry(row.key, data["code"], data["at"], data["typed"], row.photo)


def _sheets() -> Any:
    """Every sheet of a boat that was not deleted, with its revision and how many entries it has."""
    return (
        select(SheetRow, RevisionRow, func.count(col(EntryRow.id)))
        .join(RevisionRow, col(RevisionRow.id) == SheetRow.revision_id)
        .join(BoatRow, col(BoatRow.id) == RevisionRow.boat_id)
        .outerjoin(EntryRow, col(EntryRow.sheet_id) == SheetRow.id)
        .where(col(BoatRow.deleted_at).is_(None))
        .group_by(col(SheetRow.id))
    )


def _sheet(row: SheetRow, revision: RevisionRow, entries: int) -> Sheet:
    return Sheet(
        id=row.id or 0,
        boat_id=revision.boat_id,
        revision=row.revision_id,
        number=revision.number,
        code=row.code,
        place=row.place,
        date=row.created_at.date().isoformat(),
        shows=json.loads(row.document),
        entries=entries,
    )
