"""what the board says of a run, what it asks, who was called and went; messages; time added"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None

STORED = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}
MOMENT = mysql.DATETIME(fsp=6)


def _key() -> sa.Column[int]:
    return sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True)


def upgrade() -> None:
    for column in (
        sa.Column("card", mysql.MEDIUMTEXT(), nullable=False, server_default=""),
        sa.Column("asks", sa.Text(), nullable=False, server_default=""),
        sa.Column("asked_at", MOMENT, nullable=True),
        sa.Column("asked", sa.Integer(), nullable=False, server_default="0"),
    ):
        op.add_column("summary", column, if_not_exists=True)
    more = sa.Column("more_min", sa.Integer(), nullable=False, server_default="0")
    op.add_column("day", more, if_not_exists=True)
    op.create_table(
        "call_answer",
        _key(),
        sa.Column("uuid", sa.String(length=36), nullable=False, unique=True),
        sa.Column("day_id", sa.Integer(), sa.ForeignKey("day.id"), nullable=False),
        sa.Column("run_id", sa.Integer(), sa.ForeignKey("run.id"), nullable=False),
        sa.Column("code", sa.String(length=20), nullable=False),
        sa.Column("call_key", sa.String(length=400), nullable=False),
        sa.Column("kind", sa.String(length=10), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("until", MOMENT, nullable=True),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("by", sa.String(length=120), nullable=False),
        **STORED,
        if_not_exists=True,
    )
    op.create_table(
        "message",
        _key(),
        sa.Column("uuid", sa.String(length=36), nullable=False, unique=True),
        sa.Column("day_id", sa.Integer(), sa.ForeignKey("day.id"), nullable=False),
        sa.Column("bench_id", sa.Integer(), sa.ForeignKey("bench.id"), nullable=True),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("by", sa.String(length=120), nullable=False),
        **STORED,
        if_not_exists=True,
    )
    for name in ("call_answer", "message"):
        op.create_index(f"{name}_day", name, ["day_id", "id"], if_not_exists=True)


def downgrade() -> None:
    for name in ("message", "call_answer"):
        op.drop_table(name)
    op.drop_column("day", "more_min")
    for name in ("asked", "asked_at", "asks", "card"):
        op.drop_column("summary", name)
