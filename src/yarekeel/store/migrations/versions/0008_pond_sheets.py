"""Pond sheets, what was entered on them, the phones that reach them, and tracks."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def _owner(table: str) -> sa.Column[int]:
    return sa.Column(f"{table}_id", sa.Integer(), sa.ForeignKey(f"{table}.id", ondelete="CASCADE"), nullable=False, index=True)


def upgrade() -> None:
    op.create_table(
        "sheet",
        sa.Column("id", sa.Integer(), primary_key=True),
        _owner("revision"),
        sa.Column("code", sa.String(), nullable=False, unique=True, index=True),
        sa.Column("place", sa.String(), nullable=False, server_default=""),
        sa.Column("document", sa.Text(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_table(
        "entry",
        sa.Column("id", sa.Integer(), primary_key=True),
        _owner("sheet"),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("document", sa.Text(), nullable=False),
        sa.Column("photo", sa.String(), nullable=True),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("sheet_id", "key"),
    )
    op.create_table(
        "phone",
        sa.Column("id", sa.Integer(), primary_key=True),
        _owner("sheet"),
        sa.Column("link", sa.String(), nullable=False, unique=True),
        sa.Column("session", sa.String(), nullable=True, unique=True),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("ended_at", sa.DateTime(timezone=True), nullable=True),
    )
    op.create_table(
        "track",
        sa.Column("name", sa.String(), primary_key=True),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
    )


def downgrade() -> None:
    for name in ("track", "phone", "entry", "sheet"):
        op.drop_table(name)
