"""Setting up: what is installed is said first, and another program's lock is waited for."""

from __future__ import annotations

import os
import subprocess
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
LOCKED = "E: Could not get lock /var/lib/dpkg/lock-frontend. It is held by process 1 (apt)"


@pytest.fixture
def run(tmp_path):
    """Run install_packages with stand-ins for the programs it calls."""

    def program(name, text):
        path = tmp_path / name
        path.write_text(f"#!/bin/sh\n{text}\n")
        path.chmod(0o755)

    def call(apt, uid=0, patience=600):
        program("dpkg-query", "exit 1")
        program("apt-get", apt)
        program("sleep", "exit 0")
        program("id", f"echo {uid}")
        environment = {
            "PATH": f"{tmp_path}:{os.environ['PATH']}",
            "FEXRO_APT_PATIENCE": str(patience),
        }
        code = ". ./setup.sh; install_packages libexample"
        return subprocess.run(
            ["bash", "-c", code], cwd=ROOT, env=environment, capture_output=True, text=True
        )

    return call


def test_as_root_what_is_installed_is_said_before(run, tmp_path):
    done = run(f'echo "apt-get $*" >> {tmp_path}/calls')
    assert done.returncode == 0
    assert "apt-get update && apt-get install -y libexample" in done.stderr
    assert (tmp_path / "calls").read_text().splitlines()[-1].endswith("install -y libexample")


def test_without_root_the_line_to_run_is_printed(run):
    done = run("exit 1", uid=1000)
    assert done.returncode == 1
    assert "sudo apt-get install -y libexample" in done.stderr


def test_a_lock_is_waited_for(run, tmp_path):
    busy = f"""n=$(cat {tmp_path}/n 2>/dev/null || echo 0); echo $((n + 1)) > {tmp_path}/n
if [ "$n" -lt 3 ]; then echo '{LOCKED}' >&2; exit 100; fi"""
    done = run(busy)
    assert done.returncode == 0
    assert done.stderr.count("waiting for it") == 1


def test_waiting_has_an_end(run):
    done = run(f"echo '{LOCKED}' >&2; exit 100", patience=9)
    assert done.returncode == 1
    assert "Start again later" in done.stderr


def test_another_failure_is_shown(run):
    done = run("echo 'E: Unable to locate package libexample' >&2; exit 100")
    assert done.returncode == 1
    assert "Unable to locate" in done.stderr
    assert "waiting" not in done.stderr
