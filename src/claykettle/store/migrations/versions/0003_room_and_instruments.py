"""the room's readings of a day, what an instrument can carry, and the instrument of a single reading"""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None

TABLE = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}
TEXTS = (
    ("section", "elevation", 60),
    ("instrument", "resolution", 60),
    ("instrument", "capacity", 60),
    ("instrument", "direction", 20),
    ("reading", "half_width", 60),
)


def upgrade() -> None:
    for table, name, length in TEXTS:
        _add(table, name, sa.String(length=length), "''")
    _add("instrument", "retired", sa.Boolean(), "0")
    _add("day", "instruments", sa.JSON(), "'{}'")
    op.create_table(
        "room_reading",
        sa.Column("id", sa.Integer(), autoincrement=True, nullable=False),
        sa.Column("uuid", sa.String(length=36), nullable=False),
        sa.Column("day_id", sa.Integer(), nullable=False),
        sa.Column("slot", sa.String(length=60), nullable=False),
        sa.Column("supersedes_id", sa.Integer(), nullable=True),
        sa.Column("text", sa.String(length=80), nullable=False),
        sa.Column("unit", sa.String(length=20), nullable=False),
        sa.Column("instrument", sa.String(length=60), nullable=False),
        sa.Column("half_width", sa.String(length=60), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("by", sa.String(length=120), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("doubt", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["day_id"], ["day.id"]),
        sa.ForeignKeyConstraint(["supersedes_id"], ["room_reading.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("supersedes_id"),
        sa.UniqueConstraint("uuid"),
        **TABLE,
        if_not_exists=True,
    )
    op.create_index("room_day", "room_reading", ["day_id", "slot"], if_not_exists=True)


def _add(table: str, name: str, kind: sa.types.TypeEngine[Any], value: str) -> None:
    """A column that older rows hold with this value; in two steps, so that a migration cut short can run again."""
    op.add_column(table, sa.Column(name, kind, nullable=True), if_not_exists=True)
    op.execute(f"UPDATE `{table}` SET `{name}` = {value} WHERE `{name}` IS NULL")
    op.alter_column(table, name, existing_type=kind, nullable=False)


def downgrade() -> None:
    op.drop_table("room_reading")
    op.drop_column("day", "instruments")
    op.drop_column("instrument", "retired")
    for table, name, _ in TEXTS:
        op.drop_column(table, name)
