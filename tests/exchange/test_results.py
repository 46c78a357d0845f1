"""Results written out: aligned, complete, and read back."""

from __future__ import annotations

import csv
import io
import json

import pytest

from fexro.core.findings import State
from fexro.core.members.audit import Opinion
from fexro.core.members.check import check_lift
from fexro.exchange.results import (
    audit_text,
    results_csv,
    results_json,
    results_text,
    worst_state,
)
from fexro.project.checking import check_project
from fexro.project.column import LiftKey
from fexro.project.resolve import resolve_lift
from tests.projects import factored_demo, rows_of, with_rows


@pytest.fixture(scope="module")
def project():
    return factored_demo()


@pytest.fixture(scope="module")
def results(project):
    return check_project(project)


def test_columns_of_the_text_are_aligned(project, results):
    lines = results_text(project, results).split("\n")
    head = lines[2]
    rows = lines[3:39]
    for name in ("mark", "level", "state", "governing", "clause"):
        start = head.index(name)
        assert all(row[start - 1] == " " and row[start] != " " for row in rows if start), name
    # Ratios end where their heading ends.
    end = head.index("utilisation") + len("utilisation")
    assert all(row[end - 5].isdigit() and row[end] == " " for row in rows)


def test_the_summary_counts_and_explains(project, results):
    text = results_text(project, results)
    assert "36 members: 1 exceeded, 1 attention, 34 satisfied." in text
    assert "C3 · L1: Clear spacing 41.2 mm" in text
    assert text.count("Torsion not yet checked.") == 1
    assert text.count("All lifts: Torsion not yet checked.") == 1
    assert text.endswith("\n")


def test_csv_and_json_say_the_same(project, results):
    rows = list(csv.DictReader(io.StringIO(results_csv(results))))
    document = json.loads(results_json(project, results))
    assert len(rows) == len(document["lifts"]) == 36
    for row, lift in zip(rows, document["lifts"], strict=True):
        assert (row["mark"], row["level"]) == (lift["mark"], lift["level"])
        assert row["state"] == lift["state"]
        assert float(row["utilisation"]) == pytest.approx(lift["utilisation"], abs=1e-6)
        assert row["combination"] == (lift["combination"] or "")


def test_forces_are_written_in_kilonewtons(project, results):
    document = json.loads(results_json(project, results))
    N, *_, Mx, My = project.factored_forces.row(LiftKey("C2", "L1"), "U2")[1]
    lift = next(x for x in document["lifts"] if (x["mark"], x["level"]) == ("C2", "L1"))
    row = next(
        r for r in lift["combinations"] if (r["combination"], r["place"]) == ("U2", "bottom")
    )
    assert (row["N"], row["Mx"], row["My"]) == pytest.approx((N, Mx, My))
    assert document["units"] == {"force": "kN", "moment": "kN·m"}


def test_a_demand_beyond_the_axial_limits_has_no_ratio_at_constant_axial(project):
    key = LiftKey("C5", "L1")
    rows = {name: row.copy() for name, row in rows_of(project, key).items()}
    rows["U2"][0, 0] = 50_000.0
    changed = with_rows(project, key, rows)
    results = {key: check_lift(resolve_lift(changed, key))}
    document = json.loads(results_json(changed, results))
    row = next(r for r in document["lifts"][0]["combinations"] if r["N"] == 50_000.0)
    assert row["utilisation_constant_axial"] is None
    assert row["utilisation"] > 10


def test_the_worst_state_is_that_of_the_building(results):
    assert worst_state(results) is State.EXCEEDED
    assert worst_state({}) is State.NOT_CHECKED
    sound = {k: r for k, r in results.items() if r.state is not State.EXCEEDED}
    assert worst_state(sound) is State.ATTENTION


def test_the_audit_writes_its_largest_difference(project):
    nan = float("nan")
    opinions = {
        LiftKey("C1", "L1"): Opinion("U2", 0.8, 0.8012),
        LiftKey("C2", "L1"): Opinion("U8", 0.5, 0.4995),
        LiftKey("C3", "L1"): Opinion("", nan, nan),
    }
    text = audit_text(project, opinions)
    assert text.endswith("Largest difference: 0.150 %.\n")
    assert "C3 · L1       no forces" in text
