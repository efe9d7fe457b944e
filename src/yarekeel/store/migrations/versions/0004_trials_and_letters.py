"""A letter stands once in a boat; trials have a kind, a version and the key of the form they were sent with."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    _part_letters()
    op.create_index("ix_revision_boat_number", "revision", ["boat_id", "number"], unique=True)
    with op.batch_alter_table("trial") as trial:
        trial.add_column(sa.Column("kind", sa.String(), nullable=False, server_default="float"))
        trial.add_column(sa.Column("version", sa.Integer(), nullable=False, server_default="1"))
        trial.add_column(sa.Column("key", sa.String(), nullable=True))
    op.create_index("ix_trial_key", "trial", ["key"], unique=True)


def _part_letters() -> None:
    """Revisions that got one letter get letters of their own, the older keeps its."""
    bind = op.get_bind()
    taken: dict[int, set[int]] = {}
    for number, boat, letter in bind.execute(sa.text("SELECT id, boat_id, number FROM revision ORDER BY id")).all():
        mine = taken.setdefault(boat, set())
        if letter in mine:
            letter = max(mine) + 1
            bind.execute(sa.text("UPDATE revision SET number = :letter WHERE id = :id"), {"letter": letter, "id": number})
        mine.add(letter)


def downgrade() -> None:
    op.drop_index("ix_trial_key", "trial")
    with op.batch_alter_table("trial") as trial:
        for name in ("key", "version", "kind"):
            trial.drop_column(name)
    op.drop_index("ix_revision_boat_number", "revision")
