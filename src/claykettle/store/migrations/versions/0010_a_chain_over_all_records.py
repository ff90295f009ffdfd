"""the links of one chain over everything that is recorded"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "link",
        sa.Column("number", sa.Integer(), primary_key=True, autoincrement=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("upto", sa.JSON(), nullable=False),
        sa.Column("rows", sa.JSON(), nullable=False),
        sa.Column("digests", sa.JSON(), nullable=False),
        sa.Column("seal", sa.String(length=64), nullable=False),
        mariadb_charset="utf8mb4",
        mariadb_collate="utf8mb4_nopad_bin",
        mariadb_engine="InnoDB",
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("link")
