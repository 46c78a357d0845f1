"""Fexro in a user's desktop: what is written, by Debian's validators, and taken away."""

from __future__ import annotations

import shutil
import subprocess
from pathlib import Path

import pytest

from fexro.installation import user
from tests.test_cli import command

ENTRY = "applications/org.fexro.Fexro.desktop"


@pytest.fixture
def folder(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    return tmp_path


def validated(*arguments):
    assert shutil.which(arguments[0]), f"{arguments[0]} is not installed"
    done = subprocess.run(arguments, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr


def test_what_is_installed_is_valid_and_goes_again(folder):
    done = command("desktop", "install")
    written = [Path(line) for line in done.stdout.split()]
    assert done.returncode == 0
    assert all(path.is_file() and folder in path.parents for path in written)
    validated("desktop-file-validate", str(folder / ENTRY))
    metainfo = str(folder / "metainfo/org.fexro.Fexro.metainfo.xml")
    validated("appstreamcli", "validate", "--no-net", metainfo)
    # The desktop knows both kinds of files, and the JSON by its longer ending.
    globs = (folder / "mime/globs2").read_text().split("\n")
    assert "60:application/vnd.fexro.project:*.fexro" in globs
    assert "80:application/vnd.fexro.project+json:*.fexro.json" in globs
    assert command("desktop", "remove").returncode == 0
    assert not any(path.exists() for path in written)
    assert "fexro" not in (folder / "mime/globs2").read_text()
    assert command("desktop", "remove").stdout == ""


def test_a_program_in_a_folder_with_spaces_is_quoted(folder):
    user.install(Path("/opt/my tools/100%/fexro"))
    (line,) = [x for x in (folder / ENTRY).read_text().split("\n") if x.startswith("Exec=")]
    assert line == 'Exec="/opt/my tools/100%%/fexro" open %f'
    validated("desktop-file-validate", str(folder / ENTRY))


def test_a_folder_that_cannot_be_written_is_told(folder):
    (folder / "applications").write_text("")
    done = command("desktop", "install")
    assert done.returncode == 2
    assert "applications" in done.stderr
