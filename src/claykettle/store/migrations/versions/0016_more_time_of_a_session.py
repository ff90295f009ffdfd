"""minutes added to a further session of a class"""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    more = sa.Column("more_min", sa.Integer(), nullable=False, server_default="0")
    op.add_column("class_session", more, if_not_exists=True)


def downgrade() -> None:
    op.drop_column("class_session", "more_min")
