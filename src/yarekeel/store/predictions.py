"""What was predicted of a revision before its trial, as it was then."""

import json
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Engine
from sqlmodel import Session, col, select

from yarekeel.core.errors import InvalidInput, NotFound
from yarekeel.store.rows import PredictionRow
from yarekeel.store.transactions import must_be_there, reading, writing

MOST = 50
"""Of one revision."""


@dataclass(frozen=True, slots=True)
class Prediction:
    """A prediction: its number, of what ``kind``, when it was written down (ISO date), and its figures in SI units."""

    id: int
    kind: str
    date: str
    figures: dict[str, Any]


class Predictions:
    """All reads and writes of predictions. Each call is one transaction; a call that returns has saved."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def of(self, revision: int) -> tuple[Prediction, ...]:
        """Those of a revision, oldest first."""
        with reading(self._engine) as session:
            rows = session.exec(select(PredictionRow).where(PredictionRow.revision_id == revision).order_by(col(PredictionRow.id))).all()
            return tuple(Prediction(r.id or 0, r.kind, r.created_at.date().isoformat(), json.loads(r.document)) for r in rows)

    def keep(self, revision: int, kind: str, figures: dict[str, Any]) -> int:
        """Write one down and give its number; the same twice is kept once. Raises InvalidInput where a revision would have too many."""
        with writing(self._engine) as session:
            must_be_there(session, revision)
            return add_prediction(session, revision, kind, figures)

    def strike(self, revision: int, number: int) -> None:
        """Strike one out. Raises NotFound."""
        with writing(self._engine) as session:
            row = session.get(PredictionRow, number)
            if row is None or row.revision_id != revision:
                raise NotFound("There is no such prediction on this revision.")
            session.delete(row)


def add_prediction(session: Session, revision: int, kind: str, figures: dict[str, Any]) -> int:
    """The same within a write of the caller's."""
    document = json.dumps(figures, allow_nan=False, sort_keys=True)
    rows = session.exec(select(PredictionRow).where(PredictionRow.revision_id == revision)).all()
    same = next((r for r in rows if r.kind == kind and r.document == document), None)
    if same is not None:
        return same.id or 0
    if len(rows) >= MOST:
        raise InvalidInput("prediction", f"A revision keeps at most {MOST} predictions; strike one out first.")
    row = PredictionRow(revision_id=revision, kind=kind, document=document)
    session.add(row)
    session.flush()
    return row.id or 0
