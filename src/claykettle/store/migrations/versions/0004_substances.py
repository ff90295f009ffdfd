"""substances that an instructor adds to the register"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

TABLE = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}


def upgrade() -> None:
    op.create_table(
        "substance",
        sa.Column("id", sa.Integer(), autoincrement=True, nullable=False),
        sa.Column("uuid", sa.String(length=36), nullable=False),
        sa.Column("formula", sa.String(length=200), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("density", sa.String(length=60), nullable=False),
        sa.Column("hazards", sa.JSON(), nullable=False),
        sa.Column("dissolved", sa.String(length=40), nullable=False),
        sa.Column("solid", sa.String(length=40), nullable=False),
        sa.Column("remarks", sa.Text(), nullable=False),
        sa.Column("source", sa.Text(), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("by", sa.String(length=120), nullable=False),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("uuid"),
        **TABLE,
        if_not_exists=True,
    )
    op.create_index("substance_formula", "substance", ["formula"], if_not_exists=True)


def downgrade() -> None:
    op.drop_table("substance")
