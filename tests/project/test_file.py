"""The project file: read back as written, refused with the place, never half-written."""

from __future__ import annotations

import contextlib
import io
import json
import os
import threading
import tracemalloc
import zipfile
from pathlib import Path

import numpy as np
import pytest

from fexro.core.errors import FexroError, InputError
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.demo.tarnholm import tarnholm_archive, tarnholm_columns
from fexro.project import storage
from fexro.project.checking import check_project
from fexro.project.column import LiftKey
from fexro.project.file import (
    parse_project,
    project_bytes,
    project_schema,
    read_project,
    write_project,
)
from fexro.project.papers import Papers
from fexro.project.resolve import resolve_lift
from tests.projects import demo_data, factored_demo

DEMO = demo_data()


def changed(path: str, value):
    """The demo with the value at a dotted path replaced."""
    data = json.loads(json.dumps(DEMO))
    place = data
    *steps, last = [int(s) if s.isdigit() else s for s in path.split(".")]
    for step in steps:
        place = place[step]
    if value is DELETE:
        del place[last]
    else:
        place[last] = value
    return json.dumps(data).encode()


DELETE = object()
LIFT = "marks.1.lifts.0"


def group(*members):
    return [{"name": "G1", "members": list(members)}]


OWN_D20 = {"own": [{"name": "d20", "diameter": 20.0, "area": 310.0}]}
ROWS = "factored_forces.members.6.rows"
IN_ROWS = "factored_forces.members[6].rows"


def test_a_project_is_read_back_as_written(tmp_path):
    path = tmp_path / "archive.fexro.json"
    project = factored_demo()
    write_project(project, path)
    assert read_project(path) == project
    # Rows of forces stand on one line each.
    assert '"U1": [\n' in path.read_text()
    assert max(len(line) for line in path.read_text().split("\n")) < 160


def test_a_container_holds_the_same(tmp_path):
    path = tmp_path / "archive.fexro"
    project = factored_demo()
    write_project(project, path)
    assert read_project(path) == project
    assert zipfile.is_zipfile(path)
    with zipfile.ZipFile(path) as file:
        assert file.namelist() == ["project.json", "case_forces.npy", "factored_forces.npy"]
        # What is no force reads as in the JSON file, and numbers open anywhere as arrays.
        document = json.loads(file.read("project.json"))
        array = np.load(io.BytesIO(file.read("factored_forces.npy")))
    assert document["marks"] == DEMO["marks"]
    assert array.shape == (36, 2, 14, 6)
    rows = DEMO["factored_forces"]["members"][6]["rows"]
    np.testing.assert_array_equal(array[6, :, 0], rows["U1"])
    # The same project makes the same bytes.
    assert project_bytes(read_project(path)) == path.read_bytes()


def damaged(deed):
    """The demo's container with something wrong in it."""
    stream = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(project_bytes(factored_demo()))) as old,
        zipfile.ZipFile(stream, "w") as new,
    ):
        for name in old.namelist():
            content = old.read(name)
            if deed == "a strange file" and name == "project.json":
                new.writestr("run.sh", "true")
            if deed == "no document" and name == "project.json":
                continue
            if name == "factored_forces.npy":
                array = np.load(io.BytesIO(content))
                match deed:
                    case "a shape":
                        array = array[:, :, 1:]
                    case "infinite":
                        array[0, 0, 0, 0] = np.inf
                    case "in part":
                        array[0, 0, 0, 0] = np.nan
                    case "another type":
                        array = array.astype(np.float32)
                    case "objects":
                        array = np.array([{}], dtype=object)
                buffer = io.BytesIO()
                np.save(buffer, array)
                content = buffer.getvalue()
                if deed == "half an array":
                    content = content[: len(content) // 2]
            new.writestr(name, content)
    return stream.getvalue()


@pytest.mark.parametrize(
    ("deed", "words"),
    [
        ("a strange file", "“run.sh” in it"),
        ("no document", "no project.json in it"),
        ("a shape", "a shape of"),
        ("infinite", "C1 · Roof in U1 at the top, N"),
        ("in part", "missing in part"),
        ("another type", "float32"),
        ("objects", "no array"),
        ("half an array", "no array"),
    ],
)
def test_a_damaged_container_is_refused(deed, words):
    with pytest.raises(InputError, match=r"^a\.fexro") as refusal:
        parse_project(damaged(deed), "a.fexro")
    assert words in str(refusal.value)


def test_a_torn_container_is_refused():
    content = project_bytes(factored_demo())
    for end in range(4, len(content), 997):
        with pytest.raises(InputError):
            parse_project(content[:end], "a.fexro")


def test_version_1_is_read(tmp_path):
    """A kept sample of the demo as version 1 wrote it, with combinations exempted."""
    sample = Path(__file__).parent / "samples" / "version-1.fexro.json"
    project, demo = read_project(sample), factored_demo()
    former = json.loads(sample.read_text())
    assert former["version"] == 1
    assert project.factored_forces == demo.factored_forces
    N, Mx, My, Vx, Vy = former["marks"][1]["lifts"][0]["forces"]["U4"][0]
    row = project.factored_forces.row(LiftKey("C2", "Roof"), "U4")
    assert row[0].tolist() == [N, Vx, Vy, 0.0, Mx, My]
    assert same_lifts(project, demo)
    assert [str(m) for m in project.combinations[6].not_for] == ["C6", "C5 · Roof"]
    for name in ("a.fexro", "a.fexro.json"):
        write_project(project, tmp_path / name)
        assert read_project(tmp_path / name) == project


def test_version_2_is_read():
    """A kept sample of the demo as version 2 wrote it; what most lifts have is the project's."""
    sample = Path(__file__).parent / "samples" / "version-2.fexro.json"
    project, demo = read_project(sample), factored_demo()
    assert json.loads(sample.read_text())["version"] == 2
    assert same_lifts(project, demo)
    values = project.basis.values
    assert (values.concrete, values.steel, values.cover, values.aggregate) == (
        *("C35", "Grade 420", 40.0, 20.0),
    )
    assert project.record_by_key[LiftKey("C3", "L5")].own.given == {"cover": 45.0}
    assert project.record_by_key[LiftKey("C1", "L1")].own.given == {"concrete": "C45"}
    assert project.record_by_key[LiftKey("C1", "L5")].own.given == {}


def test_version_3_is_read():
    """A kept sample of the demo as version 3 wrote it: what is new has its default."""
    sample = Path(__file__).parent / "samples" / "version-3.fexro.json"
    project = read_project(sample)
    former = json.loads(sample.read_text())
    assert former["version"] == 3
    row = former["factored_forces"]["members"][6]["rows"]["U4"]
    assert project.factored_forces.row(LiftKey("C2", "Roof"), "U4").tolist() == row
    assert {c.uses for c in project.combinations} == {("strength",)}
    assert project.basis.rules.standard == "ACI 318-19"
    assert (project.takings, project.mappings) == ((), ())


def test_version_4_is_read():
    """A kept sample of the demo as version 4 wrote it: ends, beams and drifts are not known."""
    sample = Path(__file__).parent / "samples" / "version-4.fexro.json"
    project = read_project(sample)
    former = json.loads(sample.read_text())
    assert former["version"] == 4
    assert project.beams == ()
    assert {storey.drift_x for storey in project.storeys} == {None}
    assert [c.sway for c in project.cases] == [c["sway"] for c in former["cases"]]
    assert project.by_key.keys() == tarnholm_columns().by_key.keys()
    # A lift whose ends are not known is not checked where it takes part in sway.
    result = check_lift(resolve_lift(project, LiftKey("C1", "L3")))
    assert result.state is State.NOT_CHECKED


def test_version_5_is_read():
    """A kept sample of the demo as version 5 wrote it: the same project, but for one stack."""
    sample = Path(__file__).parent / "samples" / "version-5.fexro.json"
    assert json.loads(sample.read_text())["version"] == 5
    former, demo = read_project(sample), tarnholm_columns()
    # Beams had no bars, and C5 was square from top to bottom then.
    bare = tuple(beam.model_copy(update={"top": None, "bottom": None}) for beam in demo.beams)
    demo = demo.changed(beams=bare, papers=Papers())
    assert former.changed(marks=demo.marks) == demo
    others = [[mark for mark in p.marks if mark.name != "C5"] for p in (former, demo)]
    assert others[0] == others[1]


def test_version_6_is_read():
    """A kept sample of the demo as version 6 wrote it: what is new has its default."""
    sample = Path(__file__).parent / "samples" / "version-6.fexro.json"
    assert json.loads(sample.read_text())["version"] == 6
    former = read_project(sample)
    assert {beam.top for beam in former.beams} == {None}
    assert former.basis.values.tie_steel is None
    assert former.basis.values.age == "new"
    assert same_lifts(former, tarnholm_columns())


def test_version_7_is_read():
    """A kept sample of the demo as version 7 wrote it: nothing was issued of it."""
    sample = Path(__file__).parent / "samples" / "version-7.fexro.json"
    assert json.loads(sample.read_text())["version"] == 7
    former = read_project(sample)
    assert former.papers.issued == ()
    assert same_lifts(former, tarnholm_columns())


def test_version_8_is_read():
    """A kept sample of the demo as version 8 wrote it: it has no walls."""
    sample = Path(__file__).parent / "samples" / "version-8.fexro.json"
    assert json.loads(sample.read_text())["version"] == 8
    former = read_project(sample)
    assert former.walls == former.bearing_walls == ()
    assert former == tarnholm_columns()


def test_a_project_with_walls_is_read_as_it_was_written():
    demo = tarnholm_archive()
    assert parse_project(project_bytes(demo), "a.fexro") == demo


def same_lifts(project, other):
    """Whether all lifts have the same sections and materials, wherever they have them from."""
    names = ("concrete", "steel", "cover", "aggregate")
    return project.by_key.keys() == other.by_key.keys() and all(
        lift.section == other.by_key[key].section
        and all(getattr(lift.values, n) == getattr(other.by_key[key].values, n) for n in names)
        for key, lift in project.lifts()
    )


def test_what_version_1_did_not_allow_is_refused_in_it_too():
    former = json.loads((Path(__file__).parent / "samples" / "version-1.fexro.json").read_text())
    former["marks"][1]["lifts"][0]["forces"]["U4"][0] = [1, 2, "3"]
    with pytest.raises(InputError, match="six numbers"):
        parse_project(json.dumps(former).encode(), "old")
    former["marks"] = None
    with pytest.raises(InputError, match="marks"):
        parse_project(json.dumps(former).encode(), "old")


def test_version_1_with_an_annex_beside_a_code_without_any_is_read():
    former = json.loads((Path(__file__).parent / "samples" / "version-1.fexro.json").read_text())
    former["basis"]["annex"] = "UK"
    assert parse_project(json.dumps(former).encode(), "old").basis.annex == "recommended"


@pytest.mark.parametrize(
    ("path", "value", "where", "words"),
    [
        (f"{LIFT}.shape.width", 0, "marks[1].lifts[0].shape.width", "50 or more"),
        (f"{LIFT}.shape.width", -400, "marks[1].lifts[0].shape.width", "-400"),
        (f"{LIFT}.shape.width", "wide", "shape.width", "a number"),
        (f"{LIFT}.shape.kind", "blob", "marks[1].lifts[0].shape", "kind"),
        (f"{LIFT}.own.cover", 400, "marks[1].lifts[0].own.cover", "300 or less"),
        (f"{LIFT}.own.cover", 290, "marks[1].lifts[0], bar", "not inside the concrete"),
        (f"{LIFT}.bars", "60 D40", "marks[1].lifts[0], bars", "overlap"),
        (f"{LIFT}.bars", "8 X25", "marks[1].lifts[0].bars", "D25, D28"),
        (f"{LIFT}.ties", "D10", "marks[1].lifts[0].ties", "D10@200"),
        (f"{LIFT}.own.concrete", "C99", "marks[1].lifts[0].own.concrete", "C35, C45"),
        (f"{LIFT}.bars", DELETE, "marks[1].lifts[0].bars", "required"),
        (f"{LIFT}.storey", "L9", "marks[1].lifts[0].storey", "Roof"),
        (f"{LIFT}.storey", "L5", "marks[1].lifts[1]", "already used"),
        (f"{LIFT}.colour", "red", "marks[1].lifts[0].colour", "unknown field"),
        (f"{ROWS}.U99", [[1, 2, 3, 4, 5, 6]] * 2, IN_ROWS, "U1"),
        (f"{ROWS}.U1.0.0", 1e9, "C2 · Roof in U1 at the top, N", "-1e+07 to 1e+07 kN"),
        (f"{ROWS}.U1.1.5", -1e9, "C2 · Roof in U1 at the bottom, My", "1e+08 kN·m"),
        (f"{ROWS}.U1.0.0", 10**400, f"{IN_ROWS}.U1[0][0]", "kN"),
        (f"{ROWS}.U1.0.0", None, f"{IN_ROWS}.U1[0][0]", "a number"),
        (f"{ROWS}.U1.0.0", True, f"{IN_ROWS}.U1[0][0]", "found true; allowed: a number"),
        ("factored_forces.members.6.mark", "C9", "factored_forces.members[6]", "C1 · Roof"),
        ("factored_forces.members.6.mark", "C1", "factored_forces.members[6]", "each lift once"),
        ("factored_forces.columns", ["U1", "U1"], "factored_forces.columns", "each name once"),
        ("factored_forces.columns.0", "U99", "factored_forces.members[0].rows", "columns: U99"),
        ("factored_forces", [], "factored_forces", "columns and members"),
        ("cases", [{"name": "D", "nature": "heavy"}], "cases[0].nature", "permanent"),
        ("combinations.0.factors", {"D": 1.2}, "combinations[0].factors", "there is none"),
        ("combinations.0.factors", {"D": "1.2"}, "combinations[0].factors.D", "a number"),
        ("marks.1.name", "C1", "marks[1]", "already used by marks[0]"),
        ("concretes", [], "concretes", "at least one"),
        ("marks.1.name", "c1", "marks[1]", "already used by marks[0]"),
        ("marks.1.own", {"steel": "S9"}, "marks[1].own.steel", "one of Grade 420"),
        ("storeys.1.own", {"concrete": "C9"}, "storeys[1].own.concrete", "one of C35"),
        ("basis.values.concrete", "C9", "basis.values.concrete", "one of C35"),
        ("basis.bars", {"main": []}, "basis.bars.main", "at least one size"),
        ("basis.bars", {"main": ["D99"]}, "basis.bars.main[0]", "D16"),
        ("basis.bars", OWN_D20, "basis.bars.own[0].name", "a name that no standard has"),
        (
            "groups",
            [{"name": "G1", "members": [["C2", "L9"], ["C2", "L1"]]}],
            "groups[0]",
            "a lift",
        ),
        (
            "groups",
            [{"name": "G1", "members": [["C2", "L5"], ["C1", "L5"]]}],
            "members[1]",
            "10 D25",
        ),
        ("groups", group(["C2", "L9"], ["C2", "L1"]), "groups[0]", "a lift"),
        ("groups", group(["C2", "L5"], ["C1", "L5"]), "groups[0].members[1]", "10 D25"),
        ("groups", group(["C2", "L5"], ["C2", "L5"]), "groups[0].members[1]", "each lift once"),
        ("groups", group(["C2", "L5"]), "groups[0].members", "at least 2"),
        ("grid", [{"name": "A", "axis": "z", "at": 0.0}], "grid[0].axis", "'x' or 'y'"),
        ("storeys.1.level", 30.0, "storeys[1].level", "from the highest"),
        ("concretes.0.strength", -5, "concretes[0].strength", "5 or more"),
        ("basis.code", "ACI 1900", "basis.code", "ACI 318-19"),
        ("basis.annex", "UK", "basis.annex", "recommended for ACI 318-19"),
        ("version", 10, "version", "newer Fexro"),
        ("version", 0, "version", "1 to 9"),
        ("format", "other", "format", "fexro project"),
        ("name", "", "name", "at least 1"),
        ("name", "   ", "name", "can be seen"),
        ("basis", DELETE, "basis", "required"),
        ("version", DELETE, "version", "required"),
        ("version", True, "version", "1"),
        ("basis.code", DELETE, "basis.code", "required"),
        (f"{LIFT}.own.cover", "40", "own.cover", "a number"),
        (f"{LIFT}.own.cover", True, "own.cover", "found true; allowed: a number"),
        (f"{LIFT}.shape.width", "500", "shape.width", "a number"),
        (f"{ROWS}.U1.0", [1, 2, 3], f"{IN_ROWS}.U1", "six numbers"),
        (f"{ROWS}.U1.0", [1, 2, 3, 4, 5, 6, 7], f"{IN_ROWS}.U1", "six numbers"),
        (f"{ROWS}.U1.0.0", "1", f"{IN_ROWS}.U1[0][0]", "a number"),
        ("marks.1.name", "C1\u200b", "marks[1].name", "U+200B"),
        ("marks.1.name", "C1\x00", "marks[1].name", "U+0000"),
        ("marks.1.name", "C1 ", "marks[1]", "already used by marks[0]"),
        ("marks.1.name", "Ｃ１", "marks[1]", "told apart"),
        ("combinations.1.expression", "a\x1b[2J", "combinations[1].expression", "U+001B"),
        ("storeys.1.height", 9.0, "storeys[1].height", "4.2 m or less"),
        ("combinations.0.not_for", [{"mark": "C9"}], "not_for[0]", "one of C1"),
        ("combinations.0.not_for", [{"mark": "C1", "storey": "B"}], "not_for[0]", "a storey of C1"),
    ],
)
def test_wrong_content_is_refused_with_its_place(path, value, where, words):
    with pytest.raises(InputError) as refusal:
        parse_project(changed(path, value), "file")
    message = str(refusal.value)
    assert message.startswith("file: ")
    assert where in message
    assert words in message
    assert "found" in message
    assert "allowed" in message


@pytest.mark.parametrize("number", ["NaN", "Infinity", "-Infinity", "1e999"])
def test_numbers_that_are_not_finite_are_refused(number):
    content = changed(f"{LIFT}.own.cover", 12345678).replace(b"12345678", number.encode())
    with pytest.raises(InputError, match="cover"):
        parse_project(content, "file")


def test_a_self_crossing_outline_is_refused():
    shape = {"kind": "polygon", "outer": [[0, 0], [500, 500], [500, 0], [0, 500]]}
    with pytest.raises(InputError, match=r"lifts\[0\].shape.*cross"):
        parse_project(changed(f"{LIFT}.shape", shape), "file")


@pytest.mark.parametrize(
    ("old", "new", "where"),
    [
        ('"name": "C1"', '"name": "C1", "name": "C1"', "marks[0].name"),
        (
            '"U1": [',
            '"U1": [[0, 0, 0, 0, 0, 0], [0, 0, 0, 0, 0, 0]], "U1": [',
            "factored_forces.members[0].rows.U1",
        ),
        ('"format"', '"format": "other", "format"', "format"),
    ],
)
def test_a_key_that_stands_twice_is_refused(old, new, where):
    content = json.dumps(DEMO).replace(old, new, 1).encode()
    with pytest.raises(InputError) as refusal:
        parse_project(content, "file")
    assert refusal.value.where == f"file: {where}"
    assert "twice" in refusal.value.found


def test_saving_changes_no_text(tmp_path):
    path = tmp_path / "archive.fexro.json"
    data = json.loads(json.dumps(DEMO))
    names = ["A [ 1 ]", "A [1]", 'B "[ 2, 3 ]"', "C [\\n 4 ]", "D: [ ]"]
    for mark, name in zip(data["marks"], names, strict=False):
        for member in data["factored_forces"]["members"]:
            if member["mark"] == mark["name"]:
                member["mark"] = name
        for beam in data["beams"]:
            if beam["mark"] == mark["name"]:
                beam["mark"] = name
        mark["name"] = name
    data["combinations"][0]["expression"] = "[ 1.2  ] D"
    project = parse_project(json.dumps(data).encode(), "file")
    write_project(project, path)
    assert read_project(path) == project
    assert [mark.name for mark in read_project(path).marks][:5] == names


def wrong_throughout(kind):
    data = json.loads(json.dumps(DEMO))
    lift = data["marks"][0]["lifts"][0]
    match kind:
        case "lifts":
            data["marks"][0]["lifts"] = [{}] * 200_000
        case "marks":
            data["marks"] = [{}] * 200_000
        case "forces":
            rows = {f"U{i}": 0 for i in range(200_000)}
            data["factored_forces"]["members"][0]["rows"] = rows
        case "fields":
            lift |= {f"field{i}": 0 for i in range(200_000)}
        case "corners":
            lift["shape"] = {"kind": "polygon", "outer": [{}] * 200_000}
    return json.dumps(data).encode()


LONGER = [pytest.param(k, marks=pytest.mark.long) for k in ("marks", "forces", "fields", "corners")]


@pytest.mark.parametrize("kind", ["lifts", *LONGER])
def test_a_file_that_is_wrong_throughout_costs_no_more_than_its_first_problems(kind):
    content = wrong_throughout(kind)
    tracemalloc.start()
    with pytest.raises(InputError) as refusal:
        parse_project(content, "file")
    _, peak = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    # What the text itself becomes in memory is the larger part.
    assert peak < 60 * 1024**2
    assert len(str(refusal.value)) < 1500


def test_messages_are_cut_and_hold_nothing_invisible():
    data = json.loads(json.dumps(DEMO))
    data["marks"][0]["lifts"][0]["x" * 100_000] = 1
    data["marks"][1]["name"] = "\x1b[31mred\u202e"
    with pytest.raises(InputError) as refusal:
        parse_project(json.dumps(data).encode(), "na\x1bme")
    message = str(refusal.value)
    assert message.isprintable()
    assert len(message) < 1500
    assert "\\u001b[31mred" in message


def test_several_mistakes_are_all_told():
    data = json.loads(changed(f"{LIFT}.own.cover", -1))
    data["marks"][0]["lifts"][0]["shape"]["depth"] = 1
    with pytest.raises(InputError, match=r"(?s)depth.*also.*cover"):
        parse_project(json.dumps(data).encode(), "file")


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "an empty file"),
        (b"   \n", "an empty file"),
        (b"\x00\x01\x02\xff", "binary data"),
        (b"hello there", "text beginning"),
        (b"[1, 2]", "text beginning"),
        (b'{"format": ', "not JSON"),
        (b"{" * 100_000, "not JSON"),
        (b"{}", "format"),
    ],
)
def test_files_that_are_no_project_are_refused(tmp_path, content, words):
    path = tmp_path / "noise.fexro.json"
    path.write_bytes(content)
    with pytest.raises(InputError, match=words):
        read_project(path)


@pytest.mark.long
def test_a_hundred_megabytes_of_noise_are_refused(tmp_path):
    path = tmp_path / "noise.fexro.json"
    block = os.urandom(1024**2)
    for start in (b"", b"{"):
        with path.open("wb") as file:
            file.write(start)
            for _ in range(100):
                file.write(block)
        with pytest.raises(InputError, match=r"noise\.fexro\.json"):
            read_project(path)


def test_a_pipe_obeys_the_limit_too(tmp_path, monkeypatch):
    monkeypatch.setattr(storage, "LARGEST_FILE", 1024**2)
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)

    def feed():
        with contextlib.suppress(BrokenPipeError), pipe.open("wb") as file:
            file.write(b"{" * (3 * 1024**2))

    thread = threading.Thread(target=feed)
    thread.start()
    with pytest.raises(InputError, match="at most 1 MB"):
        read_project(pipe)
    thread.join()


def test_a_missing_file_and_a_folder_are_refused(tmp_path):
    for path in (tmp_path / "none.fexro.json", tmp_path):
        with pytest.raises(FexroError):
            read_project(path)


def test_writing_replaces_the_old_file_only_when_complete(tmp_path, monkeypatch):
    path = tmp_path / "archive.fexro.json"
    path.write_text("the old file")

    def fail(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", fail)
    with pytest.raises(FexroError, match="No space left"):
        write_project(factored_demo(), path)
    assert path.read_text() == "the old file"
    assert list(tmp_path.iterdir()) == [path]


def test_writing_where_there_is_no_folder_is_refused(tmp_path):
    with pytest.raises(FexroError, match="could not be written"):
        write_project(factored_demo(), tmp_path / "none" / "a.fexro.json")


def test_the_documented_schema_is_the_models_own():
    documented = Path(__file__).parents[2] / "docs" / "project.schema.json"
    assert json.loads(documented.read_text()) == project_schema()


def test_the_demo_makes_engineering_sense():
    project = factored_demo()
    assert len(project.storeys) >= 6
    assert len(project.marks) >= 6
    assert len(project.combinations) >= 12
    kinds = {lift.section.shape.kind for _, lift in project.lifts()}
    assert {"rectangle", "circle", "L", "hollow circle"} <= kinds
    least, forces = 0.0, project.factored_forces
    for mark in project.marks:
        keys = [LiftKey(mark.name, lift.storey) for lift in mark.lifts]
        gravity = [forces.row(key, "U2")[1, 0] for key in keys]
        assert gravity == sorted(gravity)
        # Low in the frame the earthquake turns the moments over.
        assert forces.row(keys[-1], "U8")[1, 5] * forces.row(keys[-1], "U9")[1, 5] < 0
        least = min(least, *(float(forces.of_member(key)[0][:, :, 0].min()) for key in keys))
    assert least < 0
    results = check_project(project)
    exceeded = [str(key) for key, result in results.items() if result.utilisation > 1]
    assert exceeded == ["C4 · L1"]
