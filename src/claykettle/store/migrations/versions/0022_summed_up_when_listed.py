"""whether what lists say of a run is of its present version: it is made by whoever lists it, not at each reading"""

import sqlalchemy as sa
from alembic import op

revision = "0022"
down_revision = "0021"
branch_labels = None
depends_on = None


def upgrade() -> None:
    # each part by itself: the database does not take a definition back when a migration is killed half-way
    there = sa.inspect(op.get_bind())
    if "is_summed_up" not in {row["name"] for row in there.get_columns("run")}:
        op.add_column("run", sa.Column("is_summed_up", sa.Boolean(), nullable=False, server_default="0"))
    op.create_index("run_to_sum_up", "run", ["is_summed_up"], if_not_exists=True)
    op.execute(
        "UPDATE `run` r JOIN `summary` s ON s.`run_id` = r.`id` AND s.`version` = r.`version` SET r.`is_summed_up` = 1"
    )


def downgrade() -> None:
    op.drop_index("run_to_sum_up", "run")
    op.drop_column("run", "is_summed_up")
