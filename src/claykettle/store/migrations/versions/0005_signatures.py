"""signatures below a run's record"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

TABLE = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}


def upgrade() -> None:
    op.create_table(
        "signature",
        sa.Column("id", sa.Integer(), autoincrement=True, nullable=False),
        sa.Column("uuid", sa.String(length=36), nullable=False),
        sa.Column("run_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("covers", sa.JSON(), nullable=False),
        sa.Column("results", sa.JSON(), nullable=False),
        sa.Column("record", sa.String(length=64), nullable=False),
        sa.Column("seal", sa.String(length=64), nullable=False),
        sa.ForeignKeyConstraint(["run_id"], ["run.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("uuid"),
        **TABLE,
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("signature")
