"""the words by which a run is found"""

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None

STORED = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}


def upgrade() -> None:
    op.create_table(
        "found_by",
        sa.Column("run_id", sa.Integer(), sa.ForeignKey("run.id"), primary_key=True, autoincrement=False),
        sa.Column("words", sa.Text(), nullable=False),
        sa.Column("marks", sa.String(length=80), nullable=False),
        **STORED,
        if_not_exists=True,
    )
    # what lists say is made anew, and these words with it
    op.execute("UPDATE `summary` SET `program` = ''")


def downgrade() -> None:
    op.drop_table("found_by")
