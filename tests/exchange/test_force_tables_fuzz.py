"""Tables that are damaged anyhow: read, or refused with a sentence; never anything else."""

from __future__ import annotations

import random
from pathlib import Path

import pytest

from fexro.core.errors import FexroError
from fexro.demo.tarnholm import tarnholm_columns
from fexro.exchange.force_guess import guess_mapping
from fexro.exchange.force_table import read_force_table
from fexro.exchange.force_taking import match_table, take_matched
from fexro.exchange.sheets import parse_sheet
from fexro.exchange.taking_report import taking_text
from fexro.project.mapping import ForcesMapping

ROOT = Path(__file__).parents[2]
TABLES = [
    ROOT / "docs" / "examples" / "tarnholm-forces-B.csv",
    *sorted((ROOT / "tests" / "acceptance" / "tables").glob("*.csv")),
]
WORDS = [
    "", "-", "nan", "1e999", "=A1", "x" * 300, "L1", "C1", "0", "−5", "1,5", "\t", '"',
    "Sum", "Max", "top", "#REF!", "(3)", "ü", "\u200b", "99999999999",
]  # fmt: skip


def damaged(chance):
    text = chance.choice(TABLES).read_text(encoding="utf-8-sig")
    lines = text.splitlines()[: chance.choice([3, 20, 80])]
    for _ in range(chance.randrange(12)):
        i = chance.randrange(len(lines))
        match chance.randrange(5):
            case 0:
                lines[i] = ""
            case 1:
                lines.insert(i, chance.choice(lines))
            case 2:
                delimiter = max("\t;,", key=lines[i].count)
                cells = lines[i].split(delimiter)
                cells[chance.randrange(len(cells))] = chance.choice(WORDS)
                lines[i] = delimiter.join(cells)
            case 3:
                lines[i] = lines[i][: chance.randrange(len(lines[i]) + 1)]
            case _:
                lines.insert(i, "")
    return "\n".join(lines)


def other(mapping, chance):
    data = mapping.model_dump()
    changed = chance.choice(list(data["columns"]))
    data["columns"][changed] = chance.randrange(1, 14)
    data["first_row"] = chance.randrange(1, 9)
    if chance.random() < 0.3:
        del data["columns"][changed]
    return ForcesMapping.model_validate(data)


@pytest.mark.parametrize("seed", range(120))
def test_a_damaged_table_is_read_or_refused(seed):
    chance, project = random.Random(seed), tarnholm_columns()
    try:
        sheets = [parse_sheet(damaged(chance))]
        guess = guess_mapping(sheets)
        mapping = guess.mapping if chance.random() < 0.5 else other(guess.mapping, chance)
        matched = match_table(project, read_force_table(sheets, mapping), mapping)
        assert taking_text(matched, mapping, guess.doubts, first_reading=True)
        taken = take_matched(project, matched, mapping, "table", "0" * 64)
    except FexroError as error:
        assert len(str(error)) > 10
    else:
        assert taken.takings[0].members == matched.members > 0
