"""Kills a process that edits and saves, again and again, and looks at what it left.

After each kill the project's file must be one that can be read, nothing else may lie beside it but
its former version, and what is recovered must hold every edit that was committed more than a
second before. Usage: tools/kill_test.py [KILLS] [SEED]
"""

from __future__ import annotations

import os
import random
import signal
import struct
import sys
import tempfile
import time
from pathlib import Path

from fexro.demo.tarnholm import tarnholm_archive
from fexro.project.column import LiftKey
from fexro.project.file import read_project, write_project
from fexro.project.journal import lost_projects
from fexro.project.project import Project

KEY = LiftKey("C2", "L3")
STEP = 0.001  # mm of cover that one edit adds
OLD = 1.0  # seconds after which an edit must not be lost
ENTRY = struct.Struct("dq")


def edit_for_ever(folder: Path, log: int, seed: int) -> None:
    """Edit and save without end; each committed edit is noted with its time."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from PyQt6.QtTest import QTest

    from fexro.desktop.application import make_application
    from fexro.desktop.document import Document

    application = make_application()
    chance = random.Random(seed)
    document = Document(folder / "journals")
    document.open_file(folder / "a.fexro.json")
    document.cancel()
    number = 0
    while application is not None:
        number += 1
        lift = tarnholm_archive().by_key[KEY]
        section = lift.section.model_copy(update={"cover": lift.section.cover + STEP * number})
        document.replace_lift(KEY, lift.model_copy(update={"section": section}), "Cover")
        os.write(log, ENTRY.pack(time.monotonic(), number))
        QTest.qWait(chance.randrange(1, 60))
        if chance.random() < 0.15:
            document.save(folder / "a.fexro.json")


def number_of(project: Project) -> int:
    """Return which edit a project holds."""
    first = tarnholm_archive().by_key[KEY].section.cover
    return round((project.by_key[KEY].section.cover - first) / STEP)


def kill_once(folder: Path, seed: int) -> tuple[int, bool]:
    """Start, kill, look; return how many edits were committed, and whether one was recovered.

    Raises:
        AssertionError: if something was lost.
    """
    path = folder / "a.fexro.json"
    write_project(tarnholm_archive(), path)
    reading, writing = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(reading)
        edit_for_ever(folder, writing, seed)
        os._exit(1)
    os.close(writing)
    noted = os.read(reading, ENTRY.size)
    time.sleep(random.Random(seed).uniform(0.0, 2.5))
    os.kill(child, signal.SIGKILL)
    killed = time.monotonic()
    os.waitpid(child, 0)
    while part := os.read(reading, 1 << 16):
        noted += part
    os.close(reading)
    edits = list(ENTRY.iter_unpack(noted[: len(noted) // ENTRY.size * ENTRY.size]))
    saved = read_project(path)
    beside = {name.name for name in folder.iterdir()} - {"a.fexro.json", "a.fexro.json~"}
    assert beside <= {"journals"}, beside
    lost = lost_projects(folder / "journals")
    assert len(lost) <= 1
    kept = number_of(lost[0].recover() if lost else saved)
    due = max((number for at, number in edits if at < killed - OLD), default=0)
    assert kept >= due, f"edit {kept} of {due} due is left"
    assert kept <= edits[-1][1] + 1
    return edits[-1][1], bool(lost)


def main() -> None:
    """Kill as often as asked and tell the counts."""
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 0
    edits = recovered = 0
    for seed in range(first, first + kills):
        with tempfile.TemporaryDirectory() as folder:
            committed, lost = kill_once(Path(folder), seed)
        edits, recovered = edits + committed, recovered + lost
    sys.stdout.write(
        f"{kills} kills over {edits} edits: no file damaged, nothing left beside, no edit older"
        f" than {OLD:g} s lost; {recovered} projects recovered.\n"
    )


if __name__ == "__main__":
    main()
