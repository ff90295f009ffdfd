"""steps belong to a trial: those of older runs to their first, the only one that the bench showed"""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("step_event", sa.Column("trial", sa.String(length=120), nullable=True), if_not_exists=True)
    op.execute(
        "UPDATE step_event JOIN trial ON trial.run_id = step_event.run_id AND trial.position = 1 "
        "SET step_event.trial = trial.label WHERE step_event.trial IS NULL"
    )
    op.alter_column("step_event", "trial", existing_type=sa.String(length=120), nullable=False)


def downgrade() -> None:
    op.drop_column("step_event", "trial")
