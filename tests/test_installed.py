"""A package installed as compiled files alone."""

from __future__ import annotations

import compileall
import os
import shutil
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
SHOW = """
from fexro.core.codes.aci318_19 import strength
from fexro.core.provisions import Derivation
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.text import plain_text
record = Derivation()
strength.block_depth.into(record, 0.8, 250.0)
print(strength.__file__)
print(plain_text(record, UnitSystem.SI))
"""


def test_derivations_are_printed_without_sources(tmp_path):
    package = tmp_path / "fexro"
    shutil.copytree(
        ROOT / "src" / "fexro", package, ignore=shutil.ignore_patterns("__pycache__", "desktop")
    )
    store = [sys.executable, ROOT / "tools" / "store_sources.py", tmp_path]
    subprocess.run(store, check=True)
    assert compileall.compile_dir(package, quiet=1, legacy=True)
    for source in package.rglob("*.py"):
        source.unlink()
    environment = {**os.environ, "PYTHONPATH": str(tmp_path)}
    shown = subprocess.run(
        [sys.executable, "-c", SHOW], env=environment, capture_output=True, text=True, check=True
    )
    file, line = shown.stdout.splitlines()
    assert file.endswith("strength.pyc")
    assert line == "a = β_1 · c = 0.8 · 250 = 200 mm   [22.2.2.4.1]"
