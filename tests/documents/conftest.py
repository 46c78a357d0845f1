"""What stands on every page of the demo's documents."""

from __future__ import annotations

import pytest

from fexro.demo.tarnholm import tarnholm_archive
from fexro.documents.content import Document, Sheet
from fexro.project.checking import check_project


@pytest.fixture(scope="session")
def sheet(demo):
    code = demo.basis.design_code.name
    return Sheet(demo.name, "2041-07", "A. Ertl", "B. Moss", "2041-03-02", "B", code)


@pytest.fixture(scope="session")
def document(sheet):
    return lambda *blocks: Document("Calculation", sheet, blocks)


@pytest.fixture(scope="session")
def archive():
    """The demo with its walls."""
    return tarnholm_archive()


@pytest.fixture(scope="session")
def archive_results(archive):
    return check_project(archive)
