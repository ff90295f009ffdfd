"""when a class sees its answers, the figures that a bench hands in, and a code by which a tablet is handed over"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

STORED = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}
MOMENT = mysql.DATETIME(fsp=6)


def upgrade() -> None:
    reveal = sa.Column("reveal", sa.String(length=20), nullable=False, server_default="always")
    op.add_column("day", reveal, if_not_exists=True)
    op.execute(
        "UPDATE `day` SET `reveal` = JSON_VALUE(`plan`, '$.practical.reveal') COLLATE utf8mb4_nopad_bin "
        "WHERE JSON_VALUE(`plan`, '$.practical.reveal') IN ('after_own_figures', 'when_closed')"
    )
    for column in (
        sa.Column("hand_code", sa.String(length=64), nullable=True, unique=True),
        sa.Column("hand_until", MOMENT, nullable=True),
    ):
        op.add_column("sign_in", column, if_not_exists=True)
    op.create_table(
        "sheet",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("uuid", sa.String(length=36), nullable=False, unique=True),
        sa.Column("day_id", sa.Integer(), sa.ForeignKey("day.id"), nullable=False),
        sa.Column("run_id", sa.Integer(), sa.ForeignKey("run.id"), nullable=False),
        sa.Column("trial", sa.String(length=120), nullable=False),
        sa.Column("student", sa.String(length=120), nullable=False),
        sa.Column("claims", sa.JSON(), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("by", sa.String(length=120), nullable=False),
        **STORED,
        if_not_exists=True,
    )
    op.create_index("sheet_day", "sheet", ["day_id", "id"], if_not_exists=True)


def downgrade() -> None:
    op.drop_table("sheet")
    op.drop_column("sign_in", "hand_until")
    op.drop_column("sign_in", "hand_code")
    op.drop_column("day", "reveal")
