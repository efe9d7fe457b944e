"""Boats, revisions, snapshots and trials."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "boat",
        sa.Column("id", sa.Integer(), primary_key=True, nullable=False),
        sa.Column("units", sa.String(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("deleted_at", sa.DateTime(timezone=True), nullable=True),
    )
    op.create_table(
        "revision",
        sa.Column("id", sa.Integer(), primary_key=True, nullable=False),
        sa.Column("boat_id", sa.Integer(), sa.ForeignKey("boat.id", ondelete="CASCADE"), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("follows", sa.Integer(), nullable=True),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("head_id", sa.Integer(), nullable=True),
    )
    op.create_index("ix_revision_boat_id", "revision", ["boat_id"])
    op.create_table(
        "snapshot",
        sa.Column("id", sa.Integer(), primary_key=True, nullable=False),
        sa.Column("revision_id", sa.Integer(), sa.ForeignKey("revision.id", ondelete="CASCADE"), nullable=False),
        sa.Column("parent_id", sa.Integer(), nullable=True),
        sa.Column("label", sa.String(), nullable=False),
        sa.Column("document", sa.Text(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_index("ix_snapshot_revision_id", "snapshot", ["revision_id"])
    op.create_table(
        "trial",
        sa.Column("id", sa.Integer(), primary_key=True, nullable=False),
        sa.Column("revision_id", sa.Integer(), sa.ForeignKey("revision.id", ondelete="CASCADE"), nullable=False),
        sa.Column("document", sa.Text(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_index("ix_trial_revision_id", "trial", ["revision_id"])


def downgrade() -> None:
    for table in ("trial", "snapshot", "revision", "boat"):
        op.drop_table(table)
