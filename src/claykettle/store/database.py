"""Engine, sessions and migrations: one transaction a use case."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, text
from sqlalchemy.orm import Session, sessionmaker

MIGRATIONS = Path(__file__).parent / "migrations"


class Database:
    """A pool of connections to one database. `url` is SQLAlchemy's, `mariadb+pymysql://…?charset=utf8mb4`."""

    def __init__(self, url: str):
        self.url = url
        self.engine: Engine = create_engine(
            url,
            isolation_level="READ COMMITTED",  # a page that waits must see what others have committed
            pool_pre_ping=True,
            pool_recycle=3600,
            pool_size=10,
            max_overflow=20,
            connect_args={"connect_timeout": 3, "read_timeout": 20, "write_timeout": 20},
        )
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """A session that commits at the end and rolls back on any error."""
        with self._sessions() as session, session.begin():
            yield session

    def migrate(self) -> None:
        """Bring the schema up to this version; on an empty database it makes everything."""
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        config.attributes["engine"] = self.engine
        command.upgrade(config, "head")

    def ping(self) -> None:
        """Raises SQLAlchemyError where the database does not answer."""
        with self.engine.connect() as connection:
            connection.execute(text("SELECT 1"))

    def close(self) -> None:
        """Give all connections back."""
        self.engine.dispose()
