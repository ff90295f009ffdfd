"""what was done about a step is told with who did it, how often and why it was skipped"""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    columns = (
        sa.Column("by", sa.String(length=120), nullable=False, server_default=""),
        sa.Column("count", sa.Integer(), nullable=False, server_default="0"),
        # a text has no default in every server: what is there already gets an empty one
        sa.Column("reason", sa.Text(), nullable=False, server_default=""),
    )
    for column in columns:
        op.add_column("step_event", column, if_not_exists=True)


def downgrade() -> None:
    for name in ("reason", "count", "by"):
        op.drop_column("step_event", name)
