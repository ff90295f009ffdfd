"""accounts, their sections, who is signed in or joined to a bench, wrong tries, and the audit of the doors"""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

TABLE = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}


def _key() -> sa.Column[Any]:
    return sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True)


def _of(table: str, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(f"{table}_id", sa.Integer(), sa.ForeignKey(f"{table}.id"), nullable=nullable)


def _time(name: str, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, mysql.DATETIME(fsp=6), nullable=nullable)


def _flag(name: str) -> sa.Column[Any]:
    return sa.Column(name, sa.Boolean(), nullable=False, server_default="0")


def _text(name: str, length: int) -> sa.Column[Any]:
    return sa.Column(name, sa.String(length=length), nullable=False)


def upgrade() -> None:
    op.create_table(
        "account",
        _key(),
        _text("login", 60),
        _text("name", 120),
        _text("password", 255),
        _flag("is_admin"),
        _flag("is_disabled"),
        _time("created_at"),
        sa.UniqueConstraint("login"),
        **TABLE,
        if_not_exists=True,
    )
    op.create_table(
        "membership",
        _key(),
        _of("account"),
        _of("section"),
        _flag("is_owner"),
        sa.UniqueConstraint("account_id", "section_id"),
        **TABLE,
        if_not_exists=True,
    )
    op.create_table(
        "sign_in",
        _key(),
        _text("token", 64),
        _text("kind", 10),
        _of("account", nullable=True),
        _of("section", nullable=True),
        _of("day", nullable=True),
        _of("bench", nullable=True),
        _flag("shows_answers"),
        _text("address", 60),
        _time("began_at"),
        _time("until"),
        _flag("ended"),
        sa.UniqueConstraint("token"),
        **TABLE,
        if_not_exists=True,
    )
    op.create_table(
        "try",
        _key(),
        _text("key", 64),
        _time("at"),
        **TABLE,
        if_not_exists=True,
    )
    op.execute("CREATE INDEX IF NOT EXISTS try_key ON `try` (`key`, `at`)")
    op.create_table(
        "audit",
        _key(),
        _time("at"),
        _text("who", 120),
        _text("address", 60),
        _text("what", 40),
        _text("about", 200),
        **TABLE,
        if_not_exists=True,
    )
    op.add_column("bench", _flag("retired"), if_not_exists=True)
    op.add_column("day", sa.Column("code", sa.String(length=12), nullable=True), if_not_exists=True)
    op.add_column("day", _time("code_until", nullable=True), if_not_exists=True)
    op.add_column("day", _flag("is_closed"), if_not_exists=True)
    op.execute("CREATE UNIQUE INDEX IF NOT EXISTS code ON day (code)")


def downgrade() -> None:
    op.drop_index("code", "day")
    for name in ("is_closed", "code_until", "code"):
        op.drop_column("day", name)
    op.drop_column("bench", "retired")
    for name in ("audit", "try", "sign_in", "membership", "account"):
        op.drop_table(name)
