"""further sessions of a class, on other days"""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

STORED = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}


def upgrade() -> None:
    op.create_table(
        "class_session",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("day_id", sa.Integer(), sa.ForeignKey("day.id"), nullable=False),
        sa.Column("date", sa.Date(), nullable=False),
        sa.Column("starts", sa.String(length=5), nullable=False),
        sa.Column("length_min", sa.Integer(), nullable=False),
        sa.UniqueConstraint("day_id", "date", name="day_id"),
        **STORED,
        if_not_exists=True,
    )
    op.create_index("class_session_date", "class_session", ["date"], if_not_exists=True)


def downgrade() -> None:
    op.drop_table("class_session")
