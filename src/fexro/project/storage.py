"""Files written all or not at all, and what was there before kept.

The new content is complete on the disk before it takes the old one's name; a process that is
killed meanwhile leaves the old file as it was and nothing beside it. The former version stays as
`NAME~`. Links are followed; owner and mode stay those of the file.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import shutil
import stat
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from fexro.core.errors import FexroError, InputError

__all__ = ["ChangedOutsideError", "FileState", "backup_of", "read_file", "replace_file"]

LARGEST_FILE = 256 * 1024**2


class ChangedOutsideError(FexroError):
    """The file is not the one that was read or written last.

    Args:
        path: the file.
    """

    def __init__(self, path: Path) -> None:
        super().__init__(f"{path} was changed by another program since it was opened or saved.")


@dataclass(frozen=True)
class FileState:
    """What a file was when it was read or written: its place, time and content."""

    mark: tuple[int, ...]
    digest: bytes

    @classmethod
    def of(cls, content: bytes, status: os.stat_result) -> FileState:
        """Return the state of a file with a content."""
        return cls(_mark(status), hashlib.sha256(content).digest())

    def holds(self, path: Path) -> bool:
        """Tell whether a file still has the same content; a file that is gone has."""
        try:
            if _mark(path.stat()) == self.mark:
                return True
            content, _ = read_file(path)
        except FileNotFoundError:
            return True
        except (OSError, FexroError):
            return False
        return hashlib.sha256(content).digest() == self.digest


def backup_of(path: Path) -> Path:
    """Return where the former version of a file is kept."""
    target = path.resolve()
    return target.with_name(f"{target.name}~")


def read_file(path: Path) -> tuple[bytes, FileState]:
    """Return the content of a file, or of a pipe, and its state.

    Raises:
        OSError: if it cannot be read.
        InputError: if it is larger than a project may be.
    """
    with path.open("rb") as file:
        status = os.fstat(file.fileno())
        content = file.read(LARGEST_FILE + 1)
    if len(content) > LARGEST_FILE:
        found = f"more than {LARGEST_FILE // 1024**2} MB"
        raise InputError(path.name, found, f"at most {LARGEST_FILE // 1024**2} MB")
    return content, FileState.of(content, status)


def replace_file(path: Path, content: bytes, known: FileState | None = None) -> FileState:
    """Write a file whole, and keep its former version beside it.

    Args:
        path: the file; a link is followed.
        content: what it is to hold.
        known: its state when last read or written; without one it is overwritten whatever it is.

    Returns:
        Its new state.

    Raises:
        ChangedOutsideError: if it is no longer what is known; nothing is written.
        FexroError: if it cannot be written; the old one stays.
    """
    try:
        target = path.resolve()
        old = _old_status(target)
        if known is not None and not known.holds(target):
            raise ChangedOutsideError(target)
        with _complete(target, content, old) as (temporary, keeps_owner):
            if old is not None:
                _keep_former(target, linked=keeps_owner)
            if keeps_owner:
                os.replace(temporary, target)
            else:
                # The owner can only be kept by writing into the file itself.
                _write_into(target, content)
        _sync_folder(target.parent)
        return FileState.of(content, target.stat())
    except OSError as error:
        raise FexroError(f"{path} could not be written: {error.strerror or error}.") from error
    except RuntimeError as error:
        raise FexroError(f"{path} could not be written: it is a link to itself.") from error


def _old_status(target: Path) -> os.stat_result | None:
    try:
        status = target.stat()
    except FileNotFoundError:
        return None
    if not stat.S_ISREG(status.st_mode):
        raise FexroError(f"{target} could not be written: it is not a regular file.")
    if not status.st_mode & 0o222 or not os.access(target, os.W_OK):
        raise FexroError(f"{target} is read-only. Save under another name, or allow writing.")
    return status


@contextmanager
def _complete(
    target: Path, content: bytes, old: os.stat_result | None
) -> Iterator[tuple[Path, bool]]:
    """Yield a complete file beside the target, and whether it has the old one's owner."""
    temporary = target.with_name(f".{target.name}.saving")
    temporary.unlink(missing_ok=True)
    unnamed = True
    try:
        # A file without a name is gone with its process.
        descriptor = os.open(target.parent, os.O_TMPFILE | os.O_WRONLY, 0o666)
    except (OSError, AttributeError):
        unnamed = False
        descriptor = os.open(temporary, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o666)
    try:
        with os.fdopen(descriptor, "wb") as file:
            file.write(content)
            file.flush()
            keeps_owner = old is None or _take_over(file.fileno(), old)
            os.fsync(file.fileno())
            if unnamed:
                _name(file.fileno(), temporary)
        yield temporary, keeps_owner
    finally:
        temporary.unlink(missing_ok=True)


def _name(descriptor: int, path: Path) -> None:
    """Give a file without a name one."""
    folder = os.open(path.parent, os.O_RDONLY | os.O_DIRECTORY)
    try:
        # With a folder named, the link of /proc is followed instead of being linked itself.
        os.link(f"/proc/self/fd/{descriptor}", path, src_dir_fd=folder, follow_symlinks=True)
    finally:
        os.close(folder)


def _take_over(descriptor: int, old: os.stat_result) -> bool:
    """Give a file the owner and mode of another; tell whether that was allowed."""
    new = os.fstat(descriptor)
    try:
        if (new.st_uid, new.st_gid) != (old.st_uid, old.st_gid):
            os.fchown(descriptor, old.st_uid, old.st_gid)
    except PermissionError:
        return False
    os.fchmod(descriptor, stat.S_IMODE(old.st_mode))
    return True


def _keep_former(target: Path, *, linked: bool) -> None:
    backup = backup_of(target)
    if linked:
        with contextlib.suppress(OSError):
            backup.unlink(missing_ok=True)
            os.link(target, backup)
            return
    shutil.copy2(target, backup)


def _write_into(target: Path, content: bytes) -> None:
    with target.open("r+b") as file:
        file.write(content)
        file.truncate()
        file.flush()
        os.fsync(file.fileno())


def _sync_folder(folder: Path) -> None:
    descriptor = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


def _mark(status: os.stat_result) -> tuple[int, ...]:
    return (status.st_dev, status.st_ino, status.st_size, status.st_mtime_ns)
