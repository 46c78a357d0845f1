"""Files written all or not at all: links, owners, modes, former versions, changes from outside."""

from __future__ import annotations

import os
import stat
import subprocess
import sys

import pytest

from fexro.core.errors import FexroError
from fexro.project.storage import ChangedOutsideError, backup_of, read_file, replace_file


@pytest.fixture
def path(tmp_path):
    path = tmp_path / "file.json"
    path.write_bytes(b"old")
    return path


def test_the_former_version_stays_beside_the_new_one(path):
    replace_file(path, b"new")
    assert path.read_bytes() == b"new"
    assert backup_of(path).read_bytes() == b"old"
    replace_file(path, b"newer")
    assert backup_of(path).read_bytes() == b"new"
    assert sorted(os.listdir(path.parent)) == ["file.json", "file.json~"]


def test_a_new_file_has_the_mode_that_the_system_gives(tmp_path):
    mask = os.umask(0o027)
    try:
        replace_file(tmp_path / "new.json", b"new")
    finally:
        os.umask(mask)
    assert stat.S_IMODE((tmp_path / "new.json").stat().st_mode) == 0o640


def test_mode_and_owner_stay(path):
    path.chmod(0o604)
    if os.getuid() == 0:
        os.chown(path, 12345, 54321)
    before = path.stat()
    replace_file(path, b"new")
    after = path.stat()
    assert (after.st_mode, after.st_uid, after.st_gid) == (
        before.st_mode,
        before.st_uid,
        before.st_gid,
    )


def test_an_owner_that_cannot_be_given_stays_too(path, monkeypatch):
    def refuse(*_):
        raise PermissionError

    status = path.stat()
    monkeypatch.setattr(os, "fchown", refuse)
    foreign = os.stat_result((*status[:4], status.st_uid + 1, *status[5:]))
    monkeypatch.setattr("fexro.project.storage._old_status", lambda _: foreign)
    replace_file(path, b"a longer text than the old")
    assert path.stat().st_ino == status.st_ino
    assert path.read_bytes() == b"a longer text than the old"
    assert backup_of(path).read_bytes() == b"old"


def test_a_link_is_followed(path, tmp_path):
    folder = tmp_path / "elsewhere"
    folder.mkdir()
    link = folder / "link.json"
    link.symlink_to(path)
    replace_file(link, b"new")
    assert link.is_symlink()
    assert path.read_bytes() == b"new"
    assert os.listdir(folder) == ["link.json"]


def test_what_cannot_be_written_is_refused_with_a_sentence(path, tmp_path):
    path.chmod(0o444)
    with pytest.raises(FexroError, match="read-only"):
        replace_file(path, b"new")
    assert path.read_bytes() == b"old"
    loop = tmp_path / "loop"
    loop.symlink_to(loop)
    with pytest.raises(FexroError, match="could not be written"):
        replace_file(loop, b"new")
    with pytest.raises(FexroError, match="not a regular file"):
        replace_file(tmp_path, b"new")


def test_a_change_from_outside_is_noticed_before_it_is_overwritten(path):
    _, known = read_file(path)
    known = replace_file(path, b"mine", known)
    path.write_bytes(b"theirs")
    with pytest.raises(ChangedOutsideError, match="changed by another program"):
        replace_file(path, b"mine again", known)
    assert path.read_bytes() == b"theirs"
    replace_file(path, b"mine again")
    assert backup_of(path).read_bytes() == b"theirs"


def test_a_copy_of_the_same_content_is_no_change(path):
    content, known = read_file(path)
    path.unlink()
    assert known.holds(path)
    path.write_bytes(content)
    assert known.holds(path)
    replace_file(path, b"new", known)


def test_where_files_need_names_a_stray_one_is_replaced(path, monkeypatch):
    opened = os.open

    def no_unnamed(place, flags, *more, **named):
        if flags & os.O_TMPFILE == os.O_TMPFILE:
            raise OSError(95, "Operation not supported")
        return opened(place, flags, *more, **named)

    monkeypatch.setattr(os, "open", no_unnamed)
    (path.parent / ".file.json.saving").write_text("left by a process that was killed")
    replace_file(path, b"new")
    assert sorted(os.listdir(path.parent)) == ["file.json", "file.json~"]


def test_a_process_killed_while_it_writes_leaves_nothing(path):
    code = (
        "import os, signal, sys; from pathlib import Path; from fexro.project import storage;"
        "os.fsync = lambda _: os.kill(os.getpid(), signal.SIGKILL);"
        "storage.replace_file(Path(sys.argv[1]), b'new' * 100000)"
    )
    done = subprocess.run([sys.executable, "-c", code, str(path)], check=False)
    assert done.returncode == -9
    assert path.read_bytes() == b"old"
    assert os.listdir(path.parent) == ["file.json"]
