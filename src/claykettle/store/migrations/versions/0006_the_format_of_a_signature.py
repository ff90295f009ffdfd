"""a signature keeps the number of the format in which its record was hashed; all so far have the first"""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column(
        "signature", sa.Column("format", sa.Integer(), nullable=False, server_default="1"), if_not_exists=True
    )


def downgrade() -> None:
    op.drop_column("signature", "format")
