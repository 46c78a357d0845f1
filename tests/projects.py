"""Projects that several tests use, made from the demo."""

from __future__ import annotations

import json

from fexro.demo.tarnholm import tarnholm_archive
from fexro.project.file import project_text


def demo_data():
    """The demo as the data of its JSON file."""
    return json.loads(project_text(tarnholm_archive()))


def rows_of(project, key):
    """The factored forces of a lift by combination, (2, 6) each: N, Vx, Vy, T, Mx, My."""
    forces = project.factored_forces
    found = {name: forces.row(key, name) for name in forces.columns}
    return {name: row for name, row in found.items() if row is not None}


def with_rows(project, key, rows):
    """The project with other factored forces on a lift."""
    return project.changed(factored_forces=project.factored_forces.with_rows({key: rows}))
