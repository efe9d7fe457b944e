"""The tables. A change here needs a new file in migrations/versions (a test holds the two together)."""

from datetime import UTC, datetime

from sqlalchemy import Column, DateTime, ForeignKey, Index, Integer, LargeBinary, String, Text, UniqueConstraint
from sqlmodel import Field, SQLModel


def now() -> datetime:
    """The time, aware."""
    return datetime.now(UTC)


def _moment(nullable: bool = False) -> Column[datetime]:
    return Column(DateTime(timezone=True), nullable=nullable)


def _owner(table: str) -> Column[int]:
    return Column(Integer, ForeignKey(f"{table}.id", ondelete="CASCADE"), nullable=False, index=True)


class BoatRow(SQLModel, table=True):
    """A boat in the yard. ``deleted_at`` keeps it for a while; ``made_by`` says "demo" of one that came with the program."""

    __tablename__ = "boat"
    id: int | None = Field(default=None, primary_key=True)
    units: str
    made_by: str = Field(default="", sa_column=Column(String, nullable=False, server_default=""))
    created_at: datetime = Field(default_factory=now, sa_column=_moment())
    deleted_at: datetime | None = Field(default=None, sa_column=_moment(nullable=True))


class RevisionRow(SQLModel, table=True):
    """A revision. ``number`` counts from 0 (A) and stands once in a boat; ``head_id`` is the snapshot now in force."""

    __tablename__ = "revision"
    __table_args__ = (Index("ix_revision_boat_number", "boat_id", "number", unique=True),)
    id: int | None = Field(default=None, primary_key=True)
    boat_id: int = Field(sa_column=_owner("boat"))
    number: int
    follows: int | None = None
    note: str = ""
    head_id: int | None = None


class SnapshotRow(SQLModel, table=True):
    """One saved state of a revision: the boat file's text, packed (``store.documents``) whole or on the state ``base_id``, the ``chain``-th
    so in a row, and the boat's name in it. ``parent_id`` is the state it was made from."""

    __tablename__ = "snapshot"
    id: int | None = Field(default=None, primary_key=True)
    revision_id: int = Field(sa_column=_owner("revision"))
    parent_id: int | None = None
    label: str
    name: str = Field(default="", sa_column=Column(String, nullable=False, server_default=""))
    base_id: int | None = None
    chain: int = Field(default=0, sa_column=Column(Integer, nullable=False, server_default="0"))
    content: bytes = Field(sa_column=Column(LargeBinary, nullable=False, server_default=""))
    created_at: datetime = Field(default_factory=now, sa_column=_moment())


class CardRow(SQLModel, table=True):
    """What the yard shows of a state in some units, as JSON, and the program that made it: another one makes it anew."""

    __tablename__ = "card"
    snapshot_id: int = Field(sa_column=Column(Integer, ForeignKey("snapshot.id", ondelete="CASCADE"), primary_key=True))
    units: str = Field(primary_key=True)
    made_by: str
    document: str = Field(sa_column=Column(Text, nullable=False))


class TrialRow(SQLModel, table=True):
    """A trial run on a revision: the readings as JSON text, of a ``kind`` and in a ``version`` of its form. ``key`` names the form
    they were sent with, so that one sent twice is kept once."""

    __tablename__ = "trial"
    id: int | None = Field(default=None, primary_key=True)
    revision_id: int = Field(sa_column=_owner("revision"))
    kind: str = "float"
    version: int = 1
    key: str | None = Field(default=None, index=True, unique=True)
    document: str = Field(sa_column=Column(Text, nullable=False))
    created_at: datetime = Field(default_factory=now, sa_column=_moment())


class PredictionRow(SQLModel, table=True):
    """What was predicted of a revision before a trial, of a ``kind``, as JSON text."""

    __tablename__ = "prediction"
    id: int | None = Field(default=None, primary_key=True)
    revision_id: int = Field(sa_column=_owner("revision"))
    kind: str
    document: str = Field(sa_column=Column(Text, nullable=False))
    created_at: datetime = Field(default_factory=now, sa_column=_moment())


class SheetRow(SQLModel, table=True):
    """A pond sheet of a revision: the code in its address, where it is for, and what it shows beside its fields, as JSON text."""

    __tablename__ = "sheet"
    id: int | None = Field(default=None, primary_key=True)
    revision_id: int = Field(sa_column=_owner("revision"))
    code: str = Field(index=True, unique=True)
    place: str = Field(default="", sa_column=Column(String, nullable=False, server_default=""))
    document: str = Field(sa_column=Column(Text, nullable=False))
    created_at: datetime = Field(default_factory=now, sa_column=_moment())


class EntryRow(SQLModel, table=True):
    """Something noted on a sheet, as JSON text; its ``key`` was made where it was noted, so that one sent twice is kept once."""

    __tablename__ = "entry"
    __table_args__ = (UniqueConstraint("sheet_id", "key"),)
    id: int | None = Field(default=None, primary_key=True)
    sheet_id: int = Field(sa_column=_owner("sheet"))
    key: str
    document: str = Field(sa_column=Column(Text, nullable=False))
    photo: str | None = None
    created_at: datetime = Field(default_factory=now, sa_column=_moment())


class PhoneRow(SQLModel, table=True):
    """A way for a phone to reach one sheet: digests of its one-time link and of the session that the link was changed for."""

    __tablename__ = "phone"
    id: int | None = Field(default=None, primary_key=True)
    sheet_id: int = Field(sa_column=_owner("sheet"))
    link: str = Field(unique=True)
    session: str | None = Field(default=None, unique=True)
    created_at: datetime = Field(default_factory=now, sa_column=_moment())
    ended_at: datetime | None = Field(default=None, sa_column=_moment(nullable=True))


class MeshRow(SQLModel, table=True):
    """A mesh that bodies name: a PLY file's bytes, in metres. Its name holds its digest, so it never changes."""

    __tablename__ = "mesh"
    name: str = Field(primary_key=True)
    data: bytes = Field(sa_column=Column(LargeBinary, nullable=False))
    created_at: datetime = Field(default_factory=now, sa_column=_moment())


class PhotoRow(SQLModel, table=True):
    """A photo that weights name: a JPEG. Its name holds its digest, so it never changes."""

    __tablename__ = "photo"
    name: str = Field(primary_key=True)
    data: bytes = Field(sa_column=Column(LargeBinary, nullable=False))
    created_at: datetime = Field(default_factory=now, sa_column=_moment())


class TrackRow(SQLModel, table=True):
    """A track of a day, as it was brought, packed. Its name holds its digest, so it never changes."""

    __tablename__ = "track"
    name: str = Field(primary_key=True)
    data: bytes = Field(sa_column=Column(LargeBinary, nullable=False))
    created_at: datetime = Field(default_factory=now, sa_column=_moment())


class PartRow(SQLModel, table=True):
    """A part of the yard's bin, as JSON text. ``deleted_at`` keeps it for undo."""

    __tablename__ = "part"
    id: int | None = Field(default=None, primary_key=True)
    document: str = Field(sa_column=Column(Text, nullable=False))
    created_at: datetime = Field(default_factory=now, sa_column=_moment())
    deleted_at: datetime | None = Field(default=None, sa_column=_moment(nullable=True))
