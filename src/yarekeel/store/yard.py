"""The yard: boats, their revisions, snapshots and trials, as records."""

import dataclasses
import json
import threading
from dataclasses import dataclass
from hashlib import sha256

import numpy as np
from sqlalchemy import Engine, func
from sqlmodel import Session, col, select

from yarekeel.core.errors import Conflict, NotFound
from yarekeel.core.geometry.families import MeshFile
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.exchange import boat_file, mesh_in, mesh_out
from yarekeel.stages.design import Design
from yarekeel.stages.trials import FloatTest
from yarekeel.store.rows import BoatRow, MeshRow, RevisionRow, SnapshotRow, TrialRow, now

MOST_DESIGNS = 256
MOST_MESHES = 12
"""Meshes held in memory."""
LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


def letter_of(number: int) -> str:
    """0 is A, 25 is Z, 26 is AA."""
    return letter_of(number // 26 - 1) + LETTERS[number % 26] if number >= 26 else LETTERS[number]


@dataclass(frozen=True, slots=True)
class TrialRecord:
    """A trial: its own number, the revision it ran on, and the readings."""

    id: int
    letter: str
    test: FloatTest


@dataclass(frozen=True, slots=True)
class Revision:
    """A revision as it stands. ``snapshot`` is what an edit must name as the state it was made on."""

    boat_id: int
    number: int
    letter: str
    follows: str | None
    note: str
    units: str
    snapshot: int
    design: Design
    trials: tuple[TrialRecord, ...]
    undo_label: str | None
    redo_label: str | None

    @property
    def is_sealed(self) -> bool:
        """A revision with a trial on it can only be followed."""
        return bool(self.trials)


@dataclass(frozen=True, slots=True)
class Boat:
    """A boat in the yard with its revisions in order; the last is the one worked on."""

    id: int
    units: str
    revisions: tuple[Revision, ...]

    @property
    def latest(self) -> Revision:
        return self.revisions[-1]


class _Read:
    """Designs by their documents, so that none is read twice, nor one read that was just written."""

    def __init__(self) -> None:
        self._designs: dict[str, Design] = {}
        self._lock = threading.Lock()

    def of(self, document: str) -> Design:
        """The design of a document."""
        with self._lock:
            known = self._designs.get(document)
        return known or self.keep(document, boat_file.loads(document))

    def keep(self, document: str, design: Design) -> Design:
        """Remember a design; the oldest gives way."""
        with self._lock:
            self._designs[document] = design
            while len(self._designs) > MOST_DESIGNS:
                del self._designs[next(iter(self._designs))]
        return design


class Yard:
    """All reads and writes. Each call is one transaction; a call that returns has saved."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._meshes: dict[str, Mesh] = {}
        self._read = _Read()

    # Reading

    def boats(self) -> list[Boat]:
        """Every boat not deleted, newest first."""
        with Session(self._engine) as session:
            rows = session.exec(select(BoatRow).where(col(BoatRow.deleted_at).is_(None)).order_by(col(BoatRow.id).desc())).all()
            return [self._boat(session, row) for row in rows]

    def boat(self, boat_id: int) -> Boat:
        """One boat. Raises NotFound."""
        with Session(self._engine) as session:
            return self._boat(session, self._boat_row(session, boat_id))

    def revision(self, boat_id: int, letter: str) -> Revision:
        """One revision. Raises NotFound."""
        with Session(self._engine) as session:
            boat = self._boat_row(session, boat_id)
            return self._revision(session, boat, self._revision_row(session, boat_id, letter))

    def deleted_name(self, boat_id: int) -> str | None:
        """Name of a boat that was deleted and can be restored, else None."""
        with Session(self._engine) as session:
            row = session.get(BoatRow, boat_id)
            return self._boat(session, row).latest.design.name if row and row.deleted_at else None

    # Boats

    def create(self, design: Design, units: str) -> int:
        """A new boat at revision A; its number."""
        with Session(self._engine) as session:
            boat = BoatRow(units=units)
            session.add(boat)
            session.flush()
            assert boat.id is not None
            self._add_revision(session, boat.id, 0, None, "", design, "first state")
            session.commit()
            return boat.id

    def duplicate(self, boat_id: int) -> int:
        """A copy of the latest revision as a new boat; its number."""
        boat = self.boat(boat_id)
        design = boat.latest.design
        return self.create(dataclasses.replace(design, name=f"{design.name} copy"[:80]), boat.units)

    def delete(self, boat_id: int) -> None:
        """Take a boat out of the yard; restore() brings it back."""
        self._mark(boat_id, deleted=True)

    def restore(self, boat_id: int) -> None:
        """Bring a deleted boat back."""
        self._mark(boat_id, deleted=False)

    def set_units(self, boat_id: int, units: str) -> None:
        """The units a boat is shown in."""
        with Session(self._engine) as session:
            row = self._boat_row(session, boat_id)
            row.units = units
            session.add(row)
            session.commit()

    def clear(self) -> None:
        """Empty the yard for good (for restoring the demo)."""
        with Session(self._engine) as session:
            for row in session.exec(select(BoatRow)).all():
                session.delete(row)
            session.commit()

    def is_empty(self) -> bool:
        """Whether there never was a boat."""
        with Session(self._engine) as session:
            return session.exec(select(func.count(col(BoatRow.id)))).one() == 0

    # Revisions

    def save(self, boat_id: int, letter: str, design: Design, on: int, label: str) -> Revision:
        """Append a snapshot made on snapshot ``on``. Raises Conflict if the revision is sealed or has moved on."""
        with Session(self._engine, expire_on_commit=False) as session:  # what was written is what is handed back
            boat = self._boat_row(session, boat_id)
            revision = self._open_revision(session, boat_id, letter, on)
            self._append(session, revision, design, label)
            session.commit()
            return self._revision(session, boat, revision)

    def undo(self, boat_id: int, letter: str, on: int) -> Revision:
        """Step back to the state that snapshot ``on`` was made from."""
        return self._step(boat_id, letter, on, back=True)

    def redo(self, boat_id: int, letter: str, on: int) -> Revision:
        """Step forward to the newest state made from snapshot ``on``."""
        return self._step(boat_id, letter, on, back=False)

    def follow(self, boat_id: int, letter: str, design: Design, note: str) -> Revision:
        """The next revision of the boat, made from ``letter``."""
        with Session(self._engine) as session:
            boat = self._boat_row(session, boat_id)
            source = self._revision_row(session, boat_id, letter)
            last = session.exec(select(func.max(RevisionRow.number)).where(RevisionRow.boat_id == boat_id)).one()
            row = self._add_revision(session, boat_id, (last or 0) + 1, source.number, note, design, note or f"from {letter}")
            session.commit()
            return self._revision(session, boat, row)

    # Trials

    def log_trial(self, boat_id: int, letter: str, test: FloatTest) -> TrialRecord:
        """Keep a trial; the revision it ran on is sealed from here."""
        with Session(self._engine) as session:
            self._boat_row(session, boat_id)
            revision = self._revision_row(session, boat_id, letter)
            row = TrialRow(revision_id=revision.id or 0, document=json.dumps(dataclasses.asdict(test), ensure_ascii=False))
            session.add(row)
            session.commit()
            return TrialRecord(row.id or 0, letter, test)

    # Meshes

    def keep_mesh(self, mesh: Mesh) -> MeshFile:
        """Keep a mesh (metres, forward x, up z) and give the shape that names it; the same mesh is kept once."""
        data = mesh_out.write(mesh, "ply", per_metre=1.0)
        name = f"mesh-{sha256(data).hexdigest()[:16]}.ply"
        with Session(self._engine) as session:
            if session.get(MeshRow, name) is None:
                session.add(MeshRow(name=name, data=data))
                session.commit()
        return MeshFile(name, "m", mesh=self._mesh(name))

    def mesh_data(self, name: str) -> bytes:
        """The bytes of a kept mesh. Raises NotFound."""
        with Session(self._engine) as session:
            row = session.get(MeshRow, name)
            if row is None:
                raise NotFound(f"The mesh {name[:60]} is not in the yard.")
            return row.data

    def _mesh(self, name: str) -> Mesh:
        """A kept mesh, read once and then shared: two designs with one mesh are equal."""
        if name not in self._meshes:
            raw = mesh_in.read(self.mesh_data(name), name)
            self._meshes[name] = Mesh(raw.vertices.astype(np.float64), raw.faces)
            while len(self._meshes) > MOST_MESHES:
                self._meshes.pop(next(iter(self._meshes)))
        return self._meshes[name]

    # Inside

    def _mark(self, boat_id: int, *, deleted: bool) -> None:
        with Session(self._engine) as session:
            row = session.get(BoatRow, boat_id)
            if row is None or bool(row.deleted_at) == deleted:
                raise NotFound("There is no such boat in the yard.")
            row.deleted_at = now() if deleted else None
            session.add(row)
            session.commit()

    def _boat_row(self, session: Session, boat_id: int) -> BoatRow:
        row = session.get(BoatRow, boat_id)
        if row is None or row.deleted_at is not None:
            raise NotFound("There is no such boat in the yard.")
        return row

    def _revision_row(self, session: Session, boat_id: int, letter: str) -> RevisionRow:
        for row in session.exec(select(RevisionRow).where(RevisionRow.boat_id == boat_id)):
            if letter_of(row.number) == letter:
                return row
        raise NotFound(f"This boat has no revision {letter[:8]}.")

    def _open_revision(self, session: Session, boat_id: int, letter: str, on: int) -> RevisionRow:
        row = self._revision_row(session, boat_id, letter)
        if session.exec(select(TrialRow.id).where(TrialRow.revision_id == row.id)).first() is not None:
            raise Conflict(f"Revision {letter} has a trial on it and is sealed; start the next revision to change it.")
        if row.head_id != on:
            raise Conflict("This boat was changed in another window since this page was loaded; reload to see it. Nothing was overwritten.")
        return row

    def _add_revision(
        self, session: Session, boat_id: int, number: int, follows: int | None, note: str, design: Design, label: str
    ) -> RevisionRow:
        row = RevisionRow(boat_id=boat_id, number=number, follows=follows, note=note)
        session.add(row)
        session.flush()
        self._append(session, row, design, label)
        return row

    def _append(self, session: Session, revision: RevisionRow, design: Design, label: str) -> None:
        assert revision.id is not None
        document = boat_file.dumps(design)
        self._read.keep(document, design)
        snapshot = SnapshotRow(revision_id=revision.id, parent_id=revision.head_id, label=label, document=document)
        session.add(snapshot)
        session.flush()
        revision.head_id = snapshot.id
        session.add(revision)

    def _step(self, boat_id: int, letter: str, on: int, *, back: bool) -> Revision:
        with Session(self._engine) as session:
            boat = self._boat_row(session, boat_id)
            revision = self._open_revision(session, boat_id, letter, on)
            head = session.get(SnapshotRow, on)
            assert head is not None
            target = head.parent_id if back else self._next(session, on)
            if target is None:
                raise Conflict("There is nothing to undo." if back else "There is nothing to redo.")
            revision.head_id = target
            session.add(revision)
            session.commit()
            return self._revision(session, boat, revision)

    def _next(self, session: Session, snapshot_id: int) -> int | None:
        return session.exec(select(SnapshotRow.id).where(SnapshotRow.parent_id == snapshot_id).order_by(col(SnapshotRow.id).desc())).first()

    def _boat(self, session: Session, row: BoatRow) -> Boat:
        revisions = session.exec(select(RevisionRow).where(RevisionRow.boat_id == row.id).order_by(col(RevisionRow.number))).all()
        return Boat(row.id or 0, row.units, tuple(self._revision(session, row, r) for r in revisions))

    def _revision(self, session: Session, boat: BoatRow, row: RevisionRow) -> Revision:
        head = session.get(SnapshotRow, row.head_id)
        assert head is not None
        letter = letter_of(row.number)
        trials = session.exec(select(TrialRow).where(TrialRow.revision_id == row.id).order_by(col(TrialRow.id))).all()
        newest = select(SnapshotRow.label).where(SnapshotRow.parent_id == head.id).order_by(col(SnapshotRow.id).desc())
        ahead = session.exec(newest).first()
        return Revision(
            boat_id=boat.id or 0,
            number=row.number,
            letter=letter,
            follows=None if row.follows is None else letter_of(row.follows),
            note=row.note,
            units=boat.units,
            snapshot=head.id or 0,
            design=boat_file.with_meshes(self._read.of(head.document), lambda shape, _: self._mesh(shape.file)),
            trials=tuple(TrialRecord(t.id or 0, letter, _test(t.document)) for t in trials),
            undo_label=head.label if head.parent_id else None,
            redo_label=ahead,
        )


def _test(document: str) -> FloatTest:
    data = json.loads(document)
    return FloatTest(**{**data, "seen": tuple(data["seen"])})
