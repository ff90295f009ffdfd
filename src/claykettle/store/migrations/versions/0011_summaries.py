"""what lists say of each run, made whenever it is kept"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

INDEXES = {
    "list": ["section_id", "changed_at", "run_id"],
    "bench": ["day_id", "bench_id", "changed_at"],
    "waits": ["section_id", "waits", "changed_at"],
    "calibrates": ["section_id", "method", "calibrates", "changed_at"],
}


def upgrade() -> None:
    op.create_table(
        "summary",
        sa.Column("run_id", sa.Integer(), sa.ForeignKey("run.id"), primary_key=True, autoincrement=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("program", sa.String(length=16), nullable=False),
        sa.Column("section_id", sa.Integer(), sa.ForeignKey("section.id"), nullable=False),
        sa.Column("day_id", sa.Integer(), sa.ForeignKey("day.id"), nullable=False),
        sa.Column("bench_id", sa.Integer(), sa.ForeignKey("bench.id"), nullable=False),
        sa.Column("method", sa.String(length=60), nullable=False),
        sa.Column("changed_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("waits", sa.Boolean(), nullable=False),
        sa.Column("calibrates", sa.Boolean(), nullable=False),
        sa.Column("listed", mysql.MEDIUMTEXT(), nullable=False),
        sa.Column("drying", mysql.MEDIUMTEXT(), nullable=False),
        sa.Column("remains", mysql.MEDIUMTEXT(), nullable=False),
        sa.Column("calibration", mysql.MEDIUMTEXT(), nullable=False),
        mariadb_charset="utf8mb4",
        mariadb_collate="utf8mb4_nopad_bin",
        mariadb_engine="InnoDB",
        if_not_exists=True,
    )
    for name, columns in INDEXES.items():
        op.create_index(f"summary_{name}", "summary", columns, if_not_exists=True)


def downgrade() -> None:
    op.drop_table("summary")
