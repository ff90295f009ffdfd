"""names that were withheld from the records"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None

STORED = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}


def upgrade() -> None:
    op.create_table(
        "withheld",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("uuid", sa.String(length=36), nullable=False, unique=True),
        sa.Column("pseudonym", sa.String(length=120), nullable=False),
        sa.Column("rows", sa.Integer(), nullable=False),
        sa.Column("signatures", sa.JSON(), nullable=False),
        sa.Column("seals", sa.JSON(), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("by", sa.String(length=120), nullable=False),
        **STORED,
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("withheld")
