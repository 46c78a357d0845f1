"""The building model: valid by its schema, of the right size, and read back."""

from __future__ import annotations

import builtins
import math
from collections import Counter

import ifcopenshell
import ifcopenshell.validate
import pytest

from fexro.core.errors import FexroError, InputError
from fexro.core.members.check import check_lift
from fexro.demo.tarnholm import tarnholm_archive
from fexro.exchange.building_model import model_of, read_members, take_members_of, write_model
from fexro.project.column import LiftKey
from fexro.project.edits.lifts import change_lifts
from fexro.project.laid_bars import laid_bars
from fexro.project.resolve import resolve_lift


@pytest.fixture(scope="module")
def path(demo, results, tmp_path_factory):
    path = tmp_path_factory.mktemp("model") / "demo.ifc"
    write_model(demo, results, path)
    return path


@pytest.fixture(scope="module")
def model(path):
    return ifcopenshell.open(str(path))


def test_the_model_is_valid_by_its_schema(model):
    log = ifcopenshell.validate.json_logger()
    ifcopenshell.validate.validate(model, log)
    assert log.statements == []
    assert model.schema == "IFC4"


def sets_of(product):
    return {
        relation.RelatingPropertyDefinition.Name: {
            one.Name: one.NominalValue.wrappedValue
            for one in relation.RelatingPropertyDefinition.HasProperties
        }
        for relation in product.IsDefinedBy
    }


def test_every_lift_is_a_column_with_what_was_found_of_it(demo, results, model):
    columns = {one.Name: one for one in model.by_type("IfcColumn")}
    assert set(columns) == {str(key) for key in demo.by_key}
    for key, result in results.items():
        found = sets_of(columns[str(key)])["Fexro_Verdict"]
        assert found["State"] == result.state.word
        assert found["Governing"] == result.governing.name
        assert found["Utilisation"] == pytest.approx(result.shown_ratio)
    (solid,) = columns["C2 · L1"].Representation.Representations[0].Items
    assert solid.Depth == pytest.approx(4200)
    points = [p.Coordinates for p in solid.SweptArea.OuterCurve.Points]
    assert max(x for x, _ in points) - min(x for x, _ in points) == pytest.approx(500)
    assert max(y for _, y in points) - min(y for _, y in points) == pytest.approx(700)
    hollow = columns["C6 · L1"].Representation.Representations[0].Items[0]
    assert hollow.SweptArea.is_a("IfcArbitraryProfileDefWithVoids")


def test_there_are_as_many_bars_as_in_the_bar_list(demo, results, model):
    prepared = {key: result.prepared for key, result in results.items()}
    bars = model.by_type("IfcReinforcingBar")
    main = sum(
        one.number
        for key in demo.by_key
        for one in laid_bars(demo, prepared, key)
        if one.kind == "bar"
    )
    ties = sum(
        one.number
        for key in demo.by_key
        for one in laid_bars(demo, prepared, key)
        if one.kind.endswith("tie")
    )
    assert sum(bar.PredefinedType == "MAIN" for bar in bars) == main
    assert sum(bar.PredefinedType == "LIGATURE" for bar in bars) == ties
    largest = max(bar.NominalDiameter for bar in bars)
    assert largest == 28
    # m², as the model's units say.
    for bar in bars:
        area = math.pi * (bar.NominalDiameter / 2000) ** 2
        assert bar.CrossSectionArea == pytest.approx(area)


def test_bars_of_panels_are_in_the_model_row_by_row():
    core = tarnholm_archive()
    keys = [key for key in core.by_key if key.mark in ("K1.1", "W1")]
    results = {key: check_lift(resolve_lift(core, key)) for key in keys}
    prepared = {key: result.prepared for key, result in results.items()}
    model = ifcopenshell.file.from_string(model_of(core, results).decode())
    written = Counter(bar.Name.split(" ", 1)[1] for bar in model.by_type("IfcReinforcingBar"))
    listed: Counter[str] = Counter()
    for key in keys:
        for one in laid_bars(core, prepared, key):
            listed[one.kind] += one.number
    assert {"horizontal", "U-bar", "corner bar", "inner tie"} <= set(written)
    assert {kind: n for kind, n in listed.items() if kind != "dowel"} == written


def test_storeys_stand_where_they_stand(demo, model):
    levels = {one.Name: one.Elevation for one in model.by_type("IfcBuildingStorey")}
    for storey in demo.storeys:
        assert levels[storey.name] == pytest.approx(1000 * (storey.level - storey.height))


def test_identities_stay_when_the_model_is_written_again(demo, results, model, tmp_path):
    again = tmp_path / "again.ifc"
    write_model(demo, results, again)
    other = ifcopenshell.open(str(again))
    first = {one.GlobalId for one in model.by_type("IfcRoot")}
    assert first == {one.GlobalId for one in other.by_type("IfcRoot")}
    assert len(first) == len(model.by_type("IfcRoot"))


def test_own_members_are_read_back(demo, path):
    members = read_members(path)
    assert {one.key for one in members} == set(demo.by_key)
    assert take_members_of(demo, members) == demo
    key = LiftKey("C1", "L1")
    other = change_lifts(demo, [key], section={"bars": "8 D20"}, values={"concrete": "C35"})
    assert other != demo
    taken = take_members_of(other, members)
    assert taken.by_key == demo.by_key


def test_what_cannot_be_read_is_told(demo, path, tmp_path):
    wrong = tmp_path / "wrong.ifc"
    wrong.write_text("no model")
    with pytest.raises(InputError, match="no model"):
        read_members(wrong)
    empty = tmp_path / "empty.ifc"
    empty.write_text(ifcopenshell.file(schema="IFC4").to_string())
    with pytest.raises(InputError, match="no member of Fexro"):
        read_members(empty)
    fewer = demo.changed(marks=demo.marks[1:])
    with pytest.raises(InputError, match="C1 · Roof"):
        take_members_of(fewer, read_members(path))


def test_without_the_library_a_sentence_says_how_to_get_it(demo, results, tmp_path, monkeypatch):
    real = builtins.__import__

    def without(name, *rest):
        if name == "ifcopenshell":
            raise ImportError(name)
        return real(name, *rest)

    monkeypatch.setattr(builtins, "__import__", without)
    with pytest.raises(FexroError, match=r"\./run --with-ifc"):
        write_model(demo, results, tmp_path / "x.ifc")
    assert not list(tmp_path.iterdir())


def test_a_folder_that_is_not_there_is_told(demo, results, tmp_path):
    with pytest.raises(FexroError, match="nowhere"):
        write_model(demo, results, tmp_path / "nowhere" / "x.ifc")
