"""The demo with its results, and what stands on every page of its documents."""

from __future__ import annotations

import pytest

from fexro.demo.tarnholm import tarnholm_archive
from fexro.documents.content import Document, Sheet
from fexro.project.checking import check_project


@pytest.fixture(scope="session")
def demo():
    return tarnholm_archive()


@pytest.fixture(scope="session")
def results(demo):
    return check_project(demo)


@pytest.fixture(scope="session")
def sheet(demo):
    code = demo.basis.design_code.name
    return Sheet(demo.name, "2041-07", "A. Ertl", "B. Moss", "2041-03-02", "B", code)


@pytest.fixture(scope="session")
def document(sheet):
    return lambda *blocks: Document("Calculation", sheet, blocks)
