"""The journal of edits not yet saved, from which a project is recovered after a crash.

A journal is a file of JSON lines: what it belongs to, and each edit as the difference it made. The
project as it was is a container beside it. Its writer holds a lock on it for as long as it lives; a
journal that nobody holds is what was open when a process ended. A last line that is torn is left
out.
"""

from __future__ import annotations

import fcntl
import json
import os
import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, BinaryIO

from platformdirs import user_state_path

from fexro.core.arrays import FloatArray
from fexro.core.errors import FexroError
from fexro.project.column import Mark
from fexro.project.container import Contents, unpack
from fexro.project.file import project_bytes, project_of
from fexro.project.forces_data import forces_rows
from fexro.project.project import FORCES, Project
from fexro.project.storage import FileState

__all__ = ["Journal", "LostProject", "journal_folder", "lost_projects"]

FORMAT, VERSION, SUFFIX, SNAPSHOT = "fexro journal", 2, ".journal", ".snapshot"


def journal_folder() -> Path:
    """Return where journals are kept: the user's folder for the state of programs."""
    return user_state_path("fexro") / "journals"


class Journal:
    """The journal of one open project; there is a file once there is an edit.

    Args:
        folder: where journals are kept.
    """

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._file: BinaryIO | None = None
        self._path: Path | None = None

    def record(
        self,
        before: Project,
        after: Project,
        label: str,
        path: Path | None,
        state: FileState | None,
    ) -> None:
        """Write an edit; the first writes the project as it was before it too.

        Args:
            before, after: the project.
            label: what was done.
            path: the project's file, if it has one.
            state: that file when it was read or written last.

        Raises:
            OSError: if it cannot be written.
        """
        if self._file is None:
            self._begin(before, path, state)
        self._write({"at": _now(), "label": label, "change": _difference(before, after)})

    def remove(self) -> None:
        """Remove the file: what it holds is saved, or not wanted."""
        if self._file is not None and self._path is not None:
            _remove(self._path)
            self._file.close()
        self._file = self._path = None

    def _begin(self, project: Project, path: Path | None, state: FileState | None) -> None:
        self._folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        self._path = self._folder / f"{uuid.uuid4().hex}{SUFFIX}"
        self._file = self._path.open("xb")
        fcntl.flock(self._file, fcntl.LOCK_EX)
        head = {
            "format": FORMAT,
            "version": VERSION,
            "project": project.name,
            "path": None if path is None else str(path.absolute()),
            "file": None if state is None else [list(state.mark), state.digest.hex()],
            "at": _now(),
        }
        with self._path.with_suffix(SNAPSHOT).open("xb") as snapshot:
            snapshot.write(project_bytes(project))
            snapshot.flush()
            os.fsync(snapshot.fileno())
        self._write(head)

    def _write(self, *entries: dict[str, Any]) -> None:
        assert self._file is not None
        lines = "".join(json.dumps(entry, ensure_ascii=False) + "\n" for entry in entries)
        self._file.write(lines.encode())
        self._file.flush()
        os.fsync(self._file.fileno())


@dataclass(frozen=True)
class LostProject:
    """A project that was open with unsaved edits when its process ended.

    Attributes:
        journal: the journal's file.
        name: of the project.
        path: its file, if it had one.
        state: that file when it was read or written last.
        changed: when its last edit was made.
        edits: how many there are.
    """

    journal: Path
    name: str
    path: Path | None
    state: FileState | None
    changed: datetime
    edits: int

    def recover(self) -> Project:
        """Return the project with its edits.

        Raises:
            FexroError: if the journal is damaged.
        """
        name = f"journal of {self.name}"
        try:
            contents = unpack(self.journal.with_suffix(SNAPSHOT).read_bytes(), name)
        except OSError as error:
            raise FexroError(f"{name} cannot be read: {error.strerror or error}.") from error
        document, arrays = dict(contents.document), dict(contents.arrays)
        for entry in _entries(self.journal):
            if "change" in entry:
                _apply(document, arrays, entry["change"])
        return project_of(Contents(document, arrays), name)

    def forget(self) -> None:
        """Remove the journal."""
        _remove(self.journal)


def lost_projects(folder: Path) -> list[LostProject]:
    """Return the projects of journals that no process holds, the one changed last first.

    A journal that holds no edit is removed.
    """
    found = []
    for path in folder.glob(f"*{SUFFIX}") if folder.is_dir() else ():
        try:
            with path.open("rb") as file:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                lost = _lost(path)
                if lost is None:
                    _remove(path)
                else:
                    found.append(lost)
        except (OSError, FexroError):
            continue  # held by a process that lives, or cannot be read
    return sorted(found, key=lambda lost: lost.changed, reverse=True)


def _lost(path: Path) -> LostProject | None:
    entries = list(_entries(path))
    edits = [entry for entry in entries if "change" in entry]
    if not edits or entries[0].get("format") != FORMAT or entries[0].get("version") != VERSION:
        return None
    head = entries[0]
    file = None if head["path"] is None else Path(head["path"])
    state = None
    if head["file"] is not None:
        mark, digest = head["file"]
        state = FileState(tuple(mark), bytes.fromhex(digest))
    changed = datetime.fromisoformat(edits[-1]["at"])
    return LostProject(path, head["project"], file, state, changed, len(edits))


def _entries(path: Path) -> Iterator[dict[str, Any]]:
    """Yield the entries of a journal up to a line that is torn."""
    try:
        with path.open("rb") as file:
            for line in file:
                if not line.endswith(b"\n"):
                    return
                yield json.loads(line)
    except (OSError, ValueError) as error:
        raise FexroError(f"{path} cannot be read: {error}.") from error


def _remove(journal: Path) -> None:
    """Remove a journal and, after it, the project it begins with."""
    journal.unlink(missing_ok=True)
    journal.with_suffix(SNAPSHOT).unlink(missing_ok=True)


def _difference(before: Project, after: Project) -> dict[str, Any]:
    """Return what an edit changed: whole fields, or the lifts of marks that are what they were."""
    change: dict[str, Any] = {}
    for name in type(before).model_fields:
        old, new = getattr(before, name), getattr(after, name)
        if name == "marks" or old is new or old == new:
            continue
        if name in FORCES:
            change[name] = forces_rows(new)
        else:
            change[name] = after.model_dump(mode="json", include={name})[name]
    if before.marks is not after.marks:
        if _shape(before) == _shape(after):
            change["lifts"] = [
                [i, j, lift.model_dump(mode="json")]
                for i, mark in enumerate(after.marks)
                for j, lift in enumerate(mark.lifts)
                if lift is not before.marks[i].lifts[j] and lift != before.marks[i].lifts[j]
            ]
        else:
            change["marks"] = after.model_dump(mode="json", include={"marks"})["marks"]
    return change


def _shape(project: Project) -> list[tuple[Mark, int]]:
    """The marks without their lifts, and how many they have."""
    return [(mark.model_copy(update={"lifts": ()}), len(mark.lifts)) for mark in project.marks]


def _apply(data: dict[str, Any], arrays: dict[str, FloatArray], change: dict[str, Any]) -> None:
    for i, j, lift in change.pop("lifts", ()):
        data["marks"][i]["lifts"][j] = lift
    for name in change.keys() & arrays.keys():
        del arrays[name]  # the change holds its rows
    data.update(change)


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="milliseconds")
