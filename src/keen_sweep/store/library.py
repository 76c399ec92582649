"""The library: one folder that holds everything and can be moved as it is."""

from __future__ import annotations

import contextlib
import shutil
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from urllib.parse import quote

from filelock import BaseFileLock, FileLock, Timeout
from sqlalchemy import URL, Connection, event, inspect, text
from sqlalchemy.exc import DatabaseError, OperationalError
from sqlmodel import Session, create_engine

from keen_sweep.core.errors import Conflict, LibraryTrouble
from keen_sweep.core.photo.write import PARTIAL_PREFIX
from keen_sweep.core.sentences import sentence
from keen_sweep.store.files import Files
from keen_sweep.store.snapshot import copy_before_upgrade

# Revision of the schema that this program works with: the last of store/migrations.
NEWEST_REVISION = "0019"


class Library:
    """A library folder: library.db, files/ by content, views/ (pyramids, can be made again), incoming/."""

    def __init__(self, folder: Path, ready: bool = False) -> None:
        """Open a library, making or upgrading it as needed. Raises LibraryTrouble when that cannot be.

        ready: another process has it open, so that it is made and upgraded.
        """
        self.folder = folder.expanduser().absolute()
        self.files = Files(self.folder / "files")
        self.views = self.folder / "views"
        self.incoming = self.folder / "incoming"
        self.database = self.folder / "library.db"
        if not ready:
            self._make(folder)
        # Where there is no database none is made: a share that is away for a while must not look like an empty library.
        address = URL.create(
            "sqlite", database=f"file:{quote(str(self.database))}", query={"mode": "rw", "uri": "true"}
        )
        self.engine = create_engine(address, connect_args={"timeout": 30})
        event.listen(self.engine, "connect", _set_up_connection)
        self._lock: BaseFileLock | None = None
        self._revision: str | None = None
        # The session of a use case that several steps share, in the thread that carries it out.
        self._thread = threading.local()
        if ready:
            return
        try:
            self._migrate()
        except OperationalError as error:
            raise LibraryTrouble(
                sentence("The library {folder} cannot be used: {orig}.", folder=folder, orig=error.orig)
            ) from error
        except DatabaseError as error:
            raise LibraryTrouble(
                sentence("The database of the library {folder} is damaged: {orig}.", folder=folder, orig=error.orig)
            ) from error

    def _make(self, folder: Path) -> None:
        try:
            for each in (self.folder, self.files.folder, self.views, self.incoming):
                each.mkdir(parents=True, exist_ok=True)
            self.database.touch()
        except OSError as error:
            raise LibraryTrouble(
                sentence(
                    "The library {folder} cannot be used: {reason}.", folder=folder, reason=error.strerror or error
                )
            ) from error

    @contextmanager
    def session(self, write: bool = False) -> Iterator[Session]:
        """A database session in one transaction: committed at the end, rolled back on any error; part of a use case's,
        if there is one (together).

        write: nobody else may write from the start on, so that what is read is what is changed.
        """
        shared: Session | None = getattr(self._thread, "shared", None)
        if shared is not None:
            yield shared
            shared.flush()
            return
        with Session(self.engine, expire_on_commit=False) as session:
            try:
                if write:
                    session.connection().exec_driver_sql("BEGIN IMMEDIATE")
                before = self._changes(session)
                yield session
                self._tell_first_write(session, before)
                session.commit()
            except OperationalError as error:
                session.rollback()
                raise LibraryTrouble(sentence("The library cannot be written: {orig}.", orig=error.orig)) from error
            except BaseException:
                session.rollback()
                raise

    @contextmanager
    def at_first_write(self, tell: Callable[[Session], None]) -> Iterator[None]:
        """Call something once, within the first transaction of this thread that changes a row."""
        self._thread.tell = tell
        try:
            yield
        finally:
            self._thread.tell = None

    def _changes(self, session: Session) -> int:
        """How many rows the connection of a session has changed so far; only counted where somebody is to be told."""
        if getattr(self._thread, "tell", None) is None:
            return 0
        raw: Any = session.connection().connection.dbapi_connection
        return int(raw.total_changes)

    def _tell_first_write(self, session: Session, before: int) -> None:
        tell: Callable[[Session], None] | None = getattr(self._thread, "tell", None)
        if tell is None:
            return
        session.flush()
        if self._changes(session) > before:
            self._thread.tell = None
            tell(session)

    @contextmanager
    def together(self) -> Iterator[None]:
        """Everything that is done in here happens, or nothing: all sessions are one transaction."""
        if getattr(self._thread, "shared", None) is not None:
            yield
            return
        with self.session(write=True) as session:
            self._thread.shared = session
            try:
                yield
            finally:
                self._thread.shared = None

    @property
    def revision(self) -> str:
        """The revision of its database's schema."""
        if self._revision is None:
            with self.engine.connect() as connection:
                self._revision = _revision_of(connection)
        return self._revision or ""

    def claim(self) -> None:
        """Make this process the one that serves the library, until it ends. Raises Conflict when another is."""
        if self._lock is None:
            self._lock = _locked(self.folder)

    def clear_incoming(self) -> None:
        """Throw away what was being written when the program was killed."""
        for leftover in (*self.incoming.iterdir(), *self.files.folder.glob(f"*/{PARTIAL_PREFIX}*")):
            shutil.rmtree(leftover) if leftover.is_dir() else leftover.unlink()

    def close(self) -> None:
        self.engine.dispose()
        if self._lock is not None:
            self._lock.release()
            self._lock = None

    def _migrate(self) -> None:
        """Bring the database up to date: wholly, or it stays as it was."""
        with self.engine.connect() as connection:
            connection.exec_driver_sql("PRAGMA journal_mode=WAL")
        with self.engine.begin() as connection:
            connection.exec_driver_sql("BEGIN IMMEDIATE")
            before = _revision_of(connection)
            if before == NEWEST_REVISION:
                return
            # A tenth of what it takes to start a server, and nearly never needed.
            from keen_sweep.store import upgrading

            if before is not None and not upgrading.knows(before):
                made = sentence(
                    "The library {folder} was made by a newer version of Keen Sweep ({before})",
                    folder=self.folder,
                    before=before,
                )
                raise LibraryTrouble(sentence("{made}: open it with that.", made=made))
            if before is not None:
                copy_before_upgrade(self.database, before, NEWEST_REVISION)
            upgrading.upgrade(connection, self.files.add)
        if before is not None:
            self._shrink()

    def _shrink(self) -> None:
        """Give back the room that a migration made; where there is none to work in, it is kept for what comes."""
        with contextlib.suppress(OperationalError), self.engine.connect() as connection:
            connection.execution_options(isolation_level="AUTOCOMMIT")
            connection.exec_driver_sql("VACUUM")
            connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")


def _locked(folder: Path) -> BaseFileLock:
    """Lock a library for this process, on Linux, macOS and Windows. Raises Conflict when another process has it,
    LibraryTrouble."""
    # Whichever thread closes the library gives the lock back.
    lock = FileLock(folder / "serving.lock", timeout=0, thread_local=False)
    try:
        lock.acquire()
    except Timeout as error:
        raise Conflict(
            sentence("The library {folder} is already open in another Keen Sweep.", folder=folder)
        ) from error
    except OSError as error:
        raise LibraryTrouble(
            sentence("The library {folder} cannot be written: {reason}.", folder=folder, reason=error.strerror or error)
        ) from error
    return lock


@contextmanager
def claimed(folder: Path) -> Iterator[None]:
    """A library that nobody serves meanwhile, without opening it. Raises Conflict, LibraryTrouble."""
    lock = _locked(folder)
    try:
        yield
    finally:
        lock.release()


def _revision_of(connection: Connection) -> str | None:
    """The revision of a database's schema, in Alembic's table; None before there is any."""
    if not inspect(connection).has_table("alembic_version"):
        return None
    found: str | None = connection.execute(text("SELECT version_num FROM alembic_version")).scalar()
    return found


def _set_up_connection(connection: Any, _record: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("PRAGMA foreign_keys=ON")
    cursor.execute("PRAGMA synchronous=NORMAL")
    cursor.execute("PRAGMA busy_timeout=30000")
    cursor.close()
