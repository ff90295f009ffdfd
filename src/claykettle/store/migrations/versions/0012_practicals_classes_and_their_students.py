"""practicals, kept version by version; classes that are planned; students, and the benches at which they stand"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

STORED = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}


def _key() -> sa.Column[int]:
    return sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True)


def upgrade() -> None:
    op.create_table(
        "practical",
        _key(),
        sa.Column("section_id", sa.Integer(), sa.ForeignKey("section.id"), nullable=False),
        sa.Column("is_shared", sa.Boolean(), nullable=False),
        sa.Column("is_retired", sa.Boolean(), nullable=False),
        **STORED,
        if_not_exists=True,
    )
    op.create_table(
        "practical_version",
        _key(),
        sa.Column("practical_id", sa.Integer(), sa.ForeignKey("practical.id"), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("method", sa.String(length=60), nullable=False),
        sa.Column("body", sa.JSON(), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("by", sa.String(length=120), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.UniqueConstraint("practical_id", "number"),
        **STORED,
        if_not_exists=True,
    )
    op.create_table(
        "student",
        _key(),
        sa.Column("section_id", sa.Integer(), sa.ForeignKey("section.id"), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("has_left", sa.Boolean(), nullable=False),
        sa.UniqueConstraint("section_id", "name"),
        **STORED,
        if_not_exists=True,
    )
    op.create_table(
        "place",
        _key(),
        sa.Column("day_id", sa.Integer(), sa.ForeignKey("day.id"), nullable=False),
        sa.Column("bench_id", sa.Integer(), sa.ForeignKey("bench.id"), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("run_id", sa.Integer(), sa.ForeignKey("run.id"), nullable=True),
        sa.Column("is_out", sa.Boolean(), nullable=False),
        sa.UniqueConstraint("day_id", "bench_id"),
        **STORED,
        if_not_exists=True,
    )
    op.create_table(
        "seat",
        _key(),
        sa.Column("place_id", sa.Integer(), sa.ForeignKey("place.id"), nullable=False),
        sa.Column("student_id", sa.Integer(), sa.ForeignKey("student.id"), nullable=False),
        sa.UniqueConstraint("place_id", "student_id"),
        **STORED,
        if_not_exists=True,
    )
    for column in (
        sa.Column("starts", sa.String(length=5), nullable=False, server_default=""),
        sa.Column("plan", sa.JSON(), nullable=True),
        sa.Column("practical_version_id", sa.Integer(), nullable=True),
    ):
        op.add_column("day", column, if_not_exists=True)
    op.execute(
        "ALTER TABLE day ADD CONSTRAINT day_practical_version FOREIGN KEY IF NOT EXISTS day_practical_version "
        "(practical_version_id) REFERENCES practical_version (id)"
    )


def downgrade() -> None:
    op.drop_constraint("day_practical_version", "day", type_="foreignkey")
    for name in ("practical_version_id", "plan", "starts"):
        op.drop_column("day", name)
    for name in ("seat", "place", "student", "practical_version", "practical"):
        op.drop_table(name)
