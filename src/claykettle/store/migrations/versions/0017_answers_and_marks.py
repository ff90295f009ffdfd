"""answers to questions, marks that a person gave in place of those reckoned, sheets given back"""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None

STORED = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}
MOMENT = mysql.DATETIME(fsp=6)


def _uuid() -> sa.Column[Any]:
    return sa.Column("uuid", sa.String(length=36), nullable=False, unique=True)


def _key() -> sa.Column[Any]:
    return sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True)


def _to(table: str) -> sa.Column[Any]:
    return sa.Column(f"{table}_id", sa.Integer(), sa.ForeignKey(f"{table}.id"), nullable=False)


def _said() -> list[sa.Column[Any]]:
    return [
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("by", sa.String(length=120), nullable=False),
    ]


def upgrade() -> None:
    op.create_table(
        "answer",
        _key(),
        _uuid(),
        _to("day"),
        _to("run"),
        sa.Column("trial", sa.String(length=120), nullable=False),
        sa.Column("student", sa.String(length=120), nullable=False),
        sa.Column("place", sa.String(length=6), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("ask", sa.Text(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        *_said(),
        **STORED,
        if_not_exists=True,
    )
    op.create_index("answer_day", "answer", ["day_id", "id"], if_not_exists=True)
    op.create_table(
        "mark",
        _key(),
        _uuid(),
        _to("sheet"),
        sa.Column("line", sa.String(length=60), nullable=False),
        sa.Column("marks", sa.Integer(), nullable=True),
        sa.Column("note", sa.Text(), nullable=False),
        *_said(),
        **STORED,
        if_not_exists=True,
    )
    op.create_table("given_back", _key(), _uuid(), _to("sheet"), *_said(), **STORED, if_not_exists=True)


def downgrade() -> None:
    op.drop_table("given_back")
    op.drop_table("mark")
    op.drop_table("answer")
