"""a reading may be declared not taken or withdrawn from its line, a run changed, and a tap taken back"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

TABLE = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}


def upgrade() -> None:
    state = sa.Column("state", sa.String(length=12), nullable=False, server_default="taken")
    op.add_column("reading", state, if_not_exists=True)
    op.create_table(
        "run_change",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("uuid", sa.String(length=36), nullable=False),
        sa.Column("run_id", sa.Integer(), sa.ForeignKey("run.id"), nullable=False),
        sa.Column("what", sa.String(length=200), nullable=False),
        sa.Column("before", sa.JSON(), nullable=False),
        sa.Column("after", sa.JSON(), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("by", sa.String(length=120), nullable=False),
        sa.UniqueConstraint("uuid"),
        **TABLE,
        if_not_exists=True,
    )
    op.create_table(
        "withdrawal",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("uuid", sa.String(length=36), nullable=False),
        sa.Column("run_id", sa.Integer(), sa.ForeignKey("run.id"), nullable=False),
        sa.Column("row_uuid", sa.String(length=36), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("by", sa.String(length=120), nullable=False),
        sa.UniqueConstraint("uuid"),
        sa.UniqueConstraint("run_id", "row_uuid"),
        **TABLE,
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("withdrawal")
    op.drop_table("run_change")
    op.drop_column("reading", "state")
