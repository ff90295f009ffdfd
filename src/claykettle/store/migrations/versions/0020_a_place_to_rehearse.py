"""a place to rehearse: its clock, the simulated benches in it, and what was done there"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None

STORED = {"mariadb_charset": "utf8mb4", "mariadb_collate": "utf8mb4_nopad_bin", "mariadb_engine": "InnoDB"}


def upgrade() -> None:
    # each part by itself: the database does not take a definition back when a migration is killed half-way
    known = {column["name"] for column in sa.inspect(op.get_bind()).get_columns("section")}
    if "rehearsal_of" not in known:
        op.add_column("section", sa.Column("rehearsal_of", sa.Integer(), nullable=True))
    if not sa.inspect(op.get_bind()).get_foreign_keys("section"):
        op.create_unique_constraint("rehearsal_of", "section", ["rehearsal_of"])
        op.create_foreign_key("section_rehearsal_of", "section", "account", ["rehearsal_of"], ["id"])
    if "is_simulated" not in {column["name"] for column in sa.inspect(op.get_bind()).get_columns("bench")}:
        op.add_column("bench", sa.Column("is_simulated", sa.Boolean(), nullable=False, server_default="0"))
    # a bench in the room may have the name of one that stands nowhere
    unique = {key["name"] for key in sa.inspect(op.get_bind()).get_unique_constraints("bench")}
    if "bench_name" not in unique:
        op.create_unique_constraint("bench_name", "bench", ["name", "is_simulated"])
    if "name" in unique:
        op.drop_constraint("name", "bench", type_="unique")
    op.create_table(
        "rehearsal",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("section_id", sa.Integer(), sa.ForeignKey("section.id"), nullable=False, unique=True),
        sa.Column("clock", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("as_of", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("pace", sa.Double(), nullable=False),
        sa.Column("until", mysql.DATETIME(fsp=6), nullable=False),
        **STORED,
        if_not_exists=True,
    )
    op.create_table(
        "practice",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("uuid", sa.String(length=36), nullable=False, unique=True),
        sa.Column("section_id", sa.Integer(), sa.ForeignKey("section.id"), nullable=False),
        sa.Column("run_id", sa.Integer(), sa.ForeignKey("run.id"), nullable=False, unique=True),
        sa.Column("method", sa.String(length=60), nullable=False),
        sa.Column("seed", sa.BigInteger(), nullable=False),
        sa.Column("level", sa.Integer(), nullable=False),
        sa.Column("began_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("answer", sa.JSON(), nullable=True),
        sa.Column("points", sa.Integer(), nullable=True),
        **STORED,
        if_not_exists=True,
    )
    op.create_table(
        "practice_act",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("uuid", sa.String(length=36), nullable=False, unique=True),
        sa.Column("practice_id", sa.Integer(), sa.ForeignKey("practice.id"), nullable=False),
        sa.Column("trial", sa.String(length=120), nullable=False),
        sa.Column("seconds", sa.Double(), nullable=False),
        sa.Column("act", sa.String(length=40), nullable=False),
        sa.Column("value", sa.String(length=40), nullable=False),
        **STORED,
        if_not_exists=True,
    )
    op.create_table(
        "practice_class",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("uuid", sa.String(length=36), nullable=False, unique=True),
        sa.Column("section_id", sa.Integer(), sa.ForeignKey("section.id"), nullable=False),
        sa.Column("day_id", sa.Integer(), sa.ForeignKey("day.id"), nullable=False, unique=True),
        sa.Column("seed", sa.BigInteger(), nullable=False),
        sa.Column("balances", sa.Integer(), nullable=False),
        sa.Column("began_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("played", sa.JSON(), nullable=False),
        sa.Column("ended", sa.Boolean(), nullable=False),
        **STORED,
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("practice_class")
    op.drop_table("practice_act")
    op.drop_table("practice")
    op.drop_table("rehearsal")
    op.drop_constraint("section_rehearsal_of", "section", type_="foreignkey")
    op.drop_constraint("rehearsal_of", "section", type_="unique")
    op.drop_column("section", "rehearsal_of")
    op.create_unique_constraint("name", "bench", ["name"])
    op.drop_constraint("bench_name", "bench", type_="unique")
    op.drop_column("bench", "is_simulated")
