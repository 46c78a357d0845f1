"""Reading tables of forces, and opening a building whose forces are of load cases."""

from __future__ import annotations

import csv

import numpy as np
import pytest

from benchmarks.building import building
from fexro.exchange.force_guess import guess_mapping
from fexro.exchange.force_table import read_force_table
from fexro.exchange.sheets import read_sheets
from fexro.exchange.spreadsheets import write_table
from fexro.project.actions import actions_of
from fexro.project.cases import Combination, Factors, LoadCase
from fexro.project.file import read_project, write_project
from fexro.project.forces import Forces

ROWS = {".csv": 100_000, ".xlsx": 20_000}  # a workbook takes long to write


def table_rows(count):
    """Rows of forces, top and bottom of lifts under ten cases; shears follow from the moments."""
    random = np.random.default_rng(1)
    numbers = np.round(random.normal(size=(count // 2, 6)) * 100, 3)
    rows = [["Level", "Column", "Case", "From foot", "N", "Va", "Vb", "T", "Ma", "Mb"]]
    for i, (axial, ma, mb, top_a, top_b, torsion) in enumerate(numbers.tolist()):
        lift, case = divmod(i, 10)
        name = [f"L{lift // 100 + 1}", f"C{lift % 100 + 1}", f"K{case + 1}"]
        shears = [round((top_b - mb) / 3.6, 3), round((top_a - ma) / 3.6, 3)]
        rows.append([*name, 0.0, axial, *shears, torsion, ma, mb])
        rows.append([*name, 3.6, axial, *shears, torsion, top_a, top_b])
    return rows


@pytest.mark.benchmark(group="tables of forces")
@pytest.mark.parametrize("suffix", [".csv", ".xlsx"])
def test_a_table_is_read_and_matched(benchmark, tmp_path, suffix):
    path = tmp_path / f"forces{suffix}"
    rows = table_rows(ROWS[suffix])
    if suffix == ".csv":
        with path.open("w", newline="") as file:
            csv.writer(file).writerows(rows)
    else:
        write_table(path, rows, "Forces")

    def read():
        sheets = read_sheets(path)
        return read_force_table(sheets, guess_mapping(sheets).mapping)

    table = benchmark.pedantic(read, rounds=3)
    assert table.count == ROWS[suffix]
    assert table.complaints == ()


@pytest.fixture(scope="module")
def of_cases():
    """1 002 lifts under 20 cases in 100 combinations."""
    project = building(167, 20)
    random = np.random.default_rng(2)
    names = [f"Q{i + 1}" for i in range(20)]
    forces = Forces(project.factored_forces.members, tuple(names), project.factored_forces.values)
    combinations = tuple(
        Combination(
            name=f"U{i + 1}",
            factors=Factors({name: float(random.uniform(0, 0.1)) for name in names}),
        )
        for i in range(100)
    )
    return project.changed(
        cases=tuple(LoadCase(name=name, nature="imposed") for name in names),
        combinations=combinations,
        case_forces=forces,
        factored_forces=Forces(),
    )


@pytest.mark.benchmark(group="forces of cases")
def test_a_building_of_cases_is_opened(benchmark, of_cases, tmp_path):
    path = tmp_path / "a.fexro"
    write_project(of_cases, path)
    assert benchmark.pedantic(read_project, (path,), rounds=3) == of_cases


@pytest.mark.benchmark(group="forces of cases")
def test_cases_are_combined(benchmark, of_cases):
    def combine():
        return [actions_of(of_cases, key) for key in of_cases.by_key]

    assert len(benchmark.pedantic(combine, rounds=3)) == 1002
