"""States packed, whole or as what differs; the boat's name beside them; what a card of the yard shows; who laid a boat down."""

import json

import sqlalchemy as sa
from alembic import op

from yarekeel.store.documents import LONGEST_CHAIN, packed, packed_on, unpacked, unpacked_on

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("snapshot", sa.Column("name", sa.String(), nullable=False, server_default=""))
    op.add_column("snapshot", sa.Column("base_id", sa.Integer(), nullable=True))
    op.add_column("snapshot", sa.Column("chain", sa.Integer(), nullable=False, server_default="0"))
    op.add_column("snapshot", sa.Column("content", sa.LargeBinary(), nullable=False, server_default=""))
    op.add_column("boat", sa.Column("made_by", sa.String(), nullable=False, server_default=""))
    _pack()
    op.drop_column("snapshot", "document")
    op.create_table(
        "card",
        sa.Column("snapshot_id", sa.Integer(), sa.ForeignKey("snapshot.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("units", sa.String(), primary_key=True),
        sa.Column("made_by", sa.String(), nullable=False),
        sa.Column("document", sa.Text(), nullable=False),
    )


def _pack() -> None:
    bind = op.get_bind()
    texts: dict[int, tuple[str, int]] = {}
    for (number,) in bind.execute(sa.text("SELECT id FROM revision ORDER BY id")).all():
        texts.clear()
        ids = bind.execute(sa.text("SELECT id FROM snapshot WHERE revision_id = :r ORDER BY id"), {"r": number}).scalars().all()
        for one in ids:
            row = bind.execute(sa.text("SELECT id, parent_id, document FROM snapshot WHERE id = :id"), {"id": one}).one()
            while len(texts) > 2 * LONGEST_CHAIN:
                texts.pop(next(iter(texts)))
            base, chain = texts.get(row.parent_id, ("", LONGEST_CHAIN))
            alone = chain >= LONGEST_CHAIN
            content = packed(row.document) if alone else packed_on(row.document, base)
            texts[row.id] = (row.document, 0 if alone else chain + 1)
            try:
                name = str(json.loads(row.document)["name"])[:80]
            except (ValueError, TypeError, KeyError):
                name = "A boat"
            values = {"id": row.id, "base": None if alone else row.parent_id, "chain": texts[row.id][1], "content": content, "name": name}
            bind.execute(sa.text("UPDATE snapshot SET base_id = :base, chain = :chain, content = :content, name = :name WHERE id = :id"), values)


def downgrade() -> None:
    op.drop_table("card")
    op.add_column("snapshot", sa.Column("document", sa.Text(), nullable=False, server_default=""))
    bind = op.get_bind()
    texts: dict[int, str] = {}
    for row in bind.execute(sa.text("SELECT id, base_id, content FROM snapshot ORDER BY id")):
        texts[row.id] = unpacked(row.content) if row.base_id is None else unpacked_on(row.content, texts[row.base_id])
        bind.execute(sa.text("UPDATE snapshot SET document = :text WHERE id = :id"), {"id": row.id, "text": texts[row.id]})
    op.drop_column("boat", "made_by")
    for name in ("content", "chain", "base_id", "name"):
        op.drop_column("snapshot", name)
