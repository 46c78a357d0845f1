"""What stands on every page of the demo's documents."""

from __future__ import annotations

import pytest

from fexro.documents.content import Document, Sheet


@pytest.fixture(scope="session")
def sheet(demo):
    code = demo.basis.design_code.name
    return Sheet(demo.name, "2041-07", "A. Ertl", "B. Moss", "2041-03-02", "B", code)


@pytest.fixture(scope="session")
def document(sheet):
    return lambda *blocks: Document("Calculation", sheet, blocks)
