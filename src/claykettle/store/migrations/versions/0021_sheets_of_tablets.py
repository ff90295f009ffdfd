"""whose tablet handed a sheet in, which version of a sheet counts, and which tablet took another's place"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None

STORED = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}


def upgrade() -> None:
    # each part by itself: the database does not take a definition back when a migration is killed half-way
    for table, column in (("sign_in", "tablet"), ("sheet", "tablet")):
        if column not in {row["name"] for row in sa.inspect(op.get_bind()).get_columns(table)}:
            op.add_column(table, sa.Column(column, sa.Integer(), nullable=True))
    op.create_table(
        "sheet_choice",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("uuid", sa.String(length=36), nullable=False, unique=True),
        sa.Column("sheet_id", sa.Integer(), sa.ForeignKey("sheet.id"), nullable=False),
        sa.Column("choice", sa.String(length=10), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("by", sa.String(length=120), nullable=False),
        **STORED,
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("sheet_choice")
    op.drop_column("sheet", "tablet")
    op.drop_column("sign_in", "tablet")
