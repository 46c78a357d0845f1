"""The command line: results, formats, exit codes, refusals."""

from __future__ import annotations

import csv
import io
import json
import os
import signal
import subprocess
import sys
import time
from collections import Counter
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path

import pytest
import typst
from typer.testing import CliRunner

from fexro import __version__
from fexro.cli import app, main
from fexro.demo.tarnholm import tarnholm_archive, tarnholm_columns
from fexro.exchange.spreadsheets import spreadsheet_text
from fexro.project.column import LiftKey
from fexro.project.edits.library import keep_section
from fexro.project.edits.lifts import replace_lift
from fexro.project.file import read_project, write_project
from tests.projects import demo_data

runner = CliRunner()
pytestmark = pytest.mark.usefixtures("shared_solutions")


def process(*args: str) -> subprocess.CompletedProcess[str]:
    """Run the real command, as a shell would."""
    return subprocess.run(
        [sys.executable, "-m", "fexro.cli", *args], capture_output=True, text=True, check=False
    )


def command(*args: str) -> subprocess.CompletedProcess[str]:
    """Run the command in this process, from its arguments to its exit code."""
    out, err = io.StringIO(), io.StringIO()
    with pytest.MonkeyPatch.context() as patch, redirect_stdout(out), redirect_stderr(err):
        patch.setattr(sys, "argv", ["fexro", *args])
        with pytest.raises(SystemExit) as end:
            main()
    return subprocess.CompletedProcess(args, end.value.code, out.getvalue(), err.getvalue())


@pytest.fixture
def sound_file(tmp_path):
    """The demo with its failing lifts mended."""
    project = tarnholm_columns()
    for storey in ("L2", "L1"):
        key = LiftKey("C4", storey)
        lift = project.by_key[key]
        section = lift.section.model_copy(update={"bars": "12 D28"})
        project = replace_lift(project, key, lift.model_copy(update={"section": section}))
    path = tmp_path / "sound.fexro.json"
    write_project(project, path)
    return path


def test_text_has_a_line_for_each_lift():
    result = runner.invoke(app, ["check", "demo"])
    assert result.exit_code == 1
    lines = result.stdout.split("\n")
    assert lines[0] == "Tarnholm Archive, ACI 318-19 (SI)"
    failing = next(line for line in lines if line.startswith("C4     L1"))
    assert failing.split() == [
        "C4",
        "L1",
        "exceeded",
        "1.041",
        "1.041",
        "Axial",
        "+",
        "biaxial",
        "bending",
        "22.4,",
        "21.2",
        "U8",
    ]
    assert "69 members: 3 exceeded, 4 attention, 62 satisfied." in lines
    assert "C1 · Roof, C1 · L5, C1 · L4 and 33 more: Torsion not yet checked." in lines
    slender = "second-order bending about y in U8; without slenderness 0.91."
    assert f"C4 · L2: Exceeds by 2 %: {slender}" in lines


def test_json_has_every_combination_with_both_utilisations():
    document = json.loads(runner.invoke(app, ["check", "demo", "--format", "json"]).stdout)
    assert document["state"] == "exceeded"
    # 36 column lifts; 5 panels of the straight wall and 2 piers, 2 · 6 channels; 2 · 6 beams of the
    # core and one over the opening; one bearing wall.
    assert Counter(lift["kind"] for lift in document["lifts"]) == {
        "column": 36,
        "wall panel": 19,
        "coupling beam": 13,
        "bearing wall": 1,
    }
    lift = next(x for x in document["lifts"] if (x["mark"], x["level"]) == ("C4", "L1"))
    assert {check["check"] for check in lift["checks"]} >= {
        "Axial + biaxial bending",
        "Bar ratio",
        "Number of bars",
        "Clear bar spacing",
        "Slenderness about x",
        "Slenderness about y",
    }
    # The same demands of each of 14 combinations.
    assert len(lift["combinations"]) % 14 == 0
    for row in lift["combinations"]:
        # The capacity lies on the ray through the demand.
        for name in ("N", "Mx", "My"):
            assert row["capacity"][name] * row["utilisation"] == pytest.approx(row[name], abs=1e-4)
        held = row["utilisation_constant_axial"]
        assert held is None or held >= 0
    worst = max(row["utilisation"] for row in lift["combinations"])
    assert worst == pytest.approx(lift["utilisation"])


def test_csv_is_a_table():
    rows = list(
        csv.DictReader(io.StringIO(runner.invoke(app, ["check", "demo", "--format", "csv"]).stdout))
    )
    assert len(rows) == 69
    assert rows[0]["mark"] == "C1"
    assert 0 < float(rows[0]["utilisation"]) < 1


def test_exit_code_is_0_without_failure(sound_file):
    result = runner.invoke(app, ["check", str(sound_file)])
    assert result.exit_code == 0
    assert "exceeded" not in result.stdout


def test_version():
    assert runner.invoke(app, ["--version"]).stdout == f"Fexro {__version__}\n"


def test_completion_can_be_had():
    assert "--install-completion" in runner.invoke(app, ["--help"]).stdout


def test_the_schema_is_printed():
    assert json.loads(runner.invoke(app, ["schema"]).stdout)["title"] == "Project"


def test_refused_input_is_one_sentence_and_2(tmp_path):
    noise = tmp_path / "noise.fexro.json"
    noise.write_bytes(b"\x00\xff" * 5000)
    newer = tmp_path / "newer.fexro.json"
    newer.write_text('{"format": "fexro project", "version": 99}')
    for path, words in (
        (noise, "binary data"),
        (newer, "newer Fexro"),
        (tmp_path / "none.fexro.json", "No such file"),
    ):
        for verb in ("check", "open"):
            result = command(verb, str(path))
            assert result.returncode == 2
            assert result.stdout == ""
            assert result.stderr.startswith("fexro: ")
            assert words in result.stderr
            assert result.stderr.count("\n") == 1


def test_a_spreadsheet_takes_no_name_for_a_formula(tmp_path):
    text = json.dumps(demo_data()).replace('"C1"', '"=1+1"')
    path = tmp_path / "a.fexro.json"
    path.write_text(text)
    rows = list(csv.DictReader(io.StringIO(command("check", str(path), "--format", "csv").stdout)))
    assert rows[0]["mark"] == "'=1+1"


@pytest.mark.parametrize(("start", "written"), [("=A1", "'=A1"), ("−C1", "'−C1"), ("C1", "C1")])
def test_cells_that_look_like_formulas_are_marked_as_text(start, written):
    assert spreadsheet_text(start) == written


def test_python_runs_the_package():
    done = subprocess.run(
        [sys.executable, "-m", "fexro", "--version"], capture_output=True, text=True, check=True
    )
    assert done.stdout == f"Fexro {__version__}\n"


def test_an_unforeseen_error_is_one_sentence_and_3(monkeypatch, tmp_path, capsys):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    monkeypatch.setattr(sys, "argv", ["fexro", "check", "demo"])
    monkeypatch.setattr("fexro.cli.load", lambda _: 1 / 0)
    with pytest.raises(SystemExit) as ended:
        main()
    assert ended.value.code == 3
    said = capsys.readouterr().err
    assert "did not foresee" in said
    assert said.count("\n") == 1
    assert str(tmp_path) in said


@pytest.mark.long
def test_ctrl_c_says_that_nothing_was_written():
    def interruptible():
        # Who runs the tests in the background has SIGINT ignored, and so would the command.
        signal.signal(signal.SIGINT, signal.SIG_DFL)

    with subprocess.Popen(
        [sys.executable, "-m", "fexro", "audit", "demo"],
        stderr=subprocess.PIPE,
        text=True,
        preexec_fn=interruptible,
    ) as process:
        # Once it computes, however long a busy machine takes to get there.
        loaded = Path(f"/proc/{process.pid}/maps")
        ended = time.monotonic() + 30
        while "shapely" not in loaded.read_text() and time.monotonic() < ended:
            time.sleep(0.05)
        process.send_signal(signal.SIGINT)
        _, said = process.communicate(timeout=30)
    assert process.returncode == 130
    assert said == "fexro: cancelled; nothing was written.\n"


@pytest.mark.long
def test_a_reader_that_goes_away_is_no_error():
    done = subprocess.run(
        f"{sys.executable} -m fexro check demo --format json | head -c 10",
        shell=True,
        capture_output=True,
        text=True,
        check=True,
    )
    assert done.stderr == ""


def test_a_wrong_option_is_2():
    done = command("check", "demo", "--format", "xml")
    assert done.returncode == 2
    assert "--format" in done.stderr


@pytest.mark.long
def test_a_home_that_cannot_be_written_is_no_hindrance(tmp_path):
    home = tmp_path / "home"
    home.write_text("not a folder")
    environment = {**os.environ, "HOME": str(home), "QT_QPA_PLATFORM": "offscreen"}
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME", "XDG_DATA_HOME"):
        environment.pop(name, None)
    code = (
        "import sys; from PyQt6.QtCore import QTimer; import fexro.desktop.application as a;"
        "from fexro.demo.tarnholm import tarnholm_columns as demo; app = a.make_application();"
        "QTimer.singleShot(1500, app.quit); sys.exit(a.run(demo(), None))"
    )
    done = subprocess.run(
        [sys.executable, "-c", code], env=environment, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr


@pytest.mark.long
@pytest.mark.parametrize(
    ("environment", "words"),
    [
        ({"DISPLAY": ":4711"}, "does not answer"),
        ({"WAYLAND_DISPLAY": "wayland-4711"}, "does not answer"),
        ({"QT_QPA_PLATFORM": "nonsense"}, "names the platform “nonsense”"),
        ({}, "no screen"),
    ],
)
def test_without_a_screen_that_answers_there_is_a_sentence(environment, words):
    kept = {
        key: value
        for key, value in os.environ.items()
        if key not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    }
    done = subprocess.run(
        [sys.executable, "-m", "fexro", "demo"],
        env=kept | environment,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 2
    assert words in done.stderr
    assert done.stderr.count("\n") == 1


@pytest.mark.long
def test_an_audit_that_compares_nothing_does_not_end_well(tmp_path):
    data = demo_data()
    data["marks"] = data["marks"][:1]
    data["beams"] = []
    data["factored_forces"]["members"] = []
    path = tmp_path / "bare.fexro.json"
    path.write_text(json.dumps(data))
    done = command("audit", str(path))
    assert done.returncode == 1
    assert "6 of 6 lifts not compared: no forces." in done.stdout
    assert "Largest difference" not in done.stdout
    assert command("check", str(path)).returncode == 1


def test_the_command_runs_as_a_process():
    result = process("check", "demo")
    assert result.returncode == 1
    assert "69 members" in result.stdout
    assert result.stderr == ""


def test_checking_needs_no_interface_toolkit():
    code = (
        "import sys; from fexro.cli import app; import fexro.project.checking as r;"
        "from fexro.demo.tarnholm import tarnholm_columns; r.check_project(tarnholm_columns());"
        "print([m for m in sys.modules if m.startswith(('PyQt6', 'pyqtgraph'))])"
    )
    result = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True
    )
    assert result.stdout == "[]\n"


@pytest.mark.long
def test_the_audit_reports_the_largest_difference():
    result = runner.invoke(app, ["audit", "demo"])
    assert result.exit_code == 0
    last = result.stdout.strip().split("\n")[-1]
    assert last.startswith("Largest difference: ")
    assert float(last.split()[2]) < 0.5
    assert sum(line.startswith("C") for line in result.stdout.split("\n")) == 36


def test_surface_writes_the_curve_as_csv():
    done = command("surface", "demo", "C4", "L1", "--angle", "30")
    assert done.returncode == 0
    head, *rows = done.stdout.splitlines()
    assert head.startswith('"nominal N, kN"')
    assert len(rows) > 50
    level = command("surface", "demo", "C4", "L1", "--axial", "2 000 kN")
    assert level.stdout.splitlines()[1].startswith("2000,")


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("C9", "L1"), ("“C9 · L1”", "C1, C2")),
        (("C4", "L1", "--axial", "3 m"), ("--axial", "“3 m”")),
        (("C4", "L1", "--axial", "900 MN"), ("pure tension", "cap")),
        (("C4", "L1", "--axial", "2 00 kN"), ("--axial", "“2 00 kN”")),
        (("C4", "L1", "--angle", "3 0"), ("--angle", "“3 0”")),
        (("C4", "L1", "--angle", "nan"), ("--angle", "degrees")),
    ],
)
def test_surface_refuses_with_a_sentence(arguments, words):
    done = command("surface", "demo", *arguments)
    assert done.returncode == 2
    assert done.stdout == ""
    assert all(word in done.stderr for word in words)


def test_a_check_is_explained_in_text_typst_and_json():
    text = command("explain", "demo", "C4", "L1", "--check", "bar ratio").stdout
    # By hand: 10 D25 are 4 909 mm²; the L of 600 by 600 with legs of 250 is 237 500 mm².
    assert "ρ_g = A_st / A_g = 4 908.74 / 237 500 = 0.020668   [10.6.1.1]" in text.replace(
        "\u2009", " "
    )
    assert "Axial" not in text.split("Exceeds")[1].split("\n", 1)[1]
    document = json.loads(command("explain", "demo", "C4", "L1", "--format", "json").stdout)
    (lift,) = document["lifts"]
    bending = lift["checks"][0]
    assert (bending["check"], bending["lines"][-1]["symbol"]) == ("Axial + biaxial bending", "U")
    assert bending["lines"][-1]["value"] == pytest.approx(1.04, abs=0.005)
    markup = command("explain", "demo", "C4", "L1", "--format", "typst").stdout
    assert typst.compile(markup.encode(), format="pdf").startswith(b"%PDF")


@pytest.mark.long
def test_without_a_lift_all_are_explained():
    text = command("explain", "demo", "--check", "Number of bars").stdout
    assert text.count("n_min") == 36
    assert "C6 · Roof: " in text


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("C4",), "a mark and a level"),
        (("C9", "L1"), "a mark of C1"),
        (("C4", "L1", "--check", "Beauty"), "one of Axial + biaxial bending"),
    ],
)
def test_what_cannot_be_explained_is_refused(arguments, words):
    done = command("explain", "demo", *arguments)
    assert done.returncode == 2
    assert words in done.stderr


def test_projects_are_converted_between_kinds_and_versions(tmp_path):
    sample = Path(__file__).parent / "project" / "samples" / "version-1.fexro.json"
    container, text = tmp_path / "a.fexro", tmp_path / "b.fexro.json"
    assert command("convert", str(sample), str(container)).returncode == 0
    assert command("convert", str(container), str(text)).returncode == 0
    assert json.loads(text.read_text())["version"] == 9
    assert read_project(container) == read_project(text) == read_project(sample)
    assert command("check", str(container)).stdout == command("check", str(sample)).stdout
    again = command("convert", str(sample), str(container))
    assert (again.returncode, "which is there" in again.stderr) == (2, True)
    assert command("convert", "demo", str(container), "--force").returncode == 0
    assert read_project(container).combinations[6].not_for == ()
    assert "ending in .fexro" in command("convert", "demo", str(tmp_path / "c.txt")).stderr


def test_members_go_out_as_a_table_and_come_in_again(tmp_path):
    table, project = tmp_path / "members.xlsx", tmp_path / "b.fexro"
    assert command("members", "export", "demo", str(table)).returncode == 0
    assert "which is there" in command("members", "export", "demo", str(table)).stderr
    done = command("members", "import", "demo", str(table), str(project))
    assert (done.returncode, done.stdout) == (0, "0 lifts are new or changed.\n")
    assert read_project(project) == tarnholm_archive()
    wrong = tmp_path / "wrong.csv"
    wrong.write_text("Mark;Storey;Main bars\nC2;L1;16 D28\nC2;L9;8 D25\nC1;L1;4 Q7\n")
    done = command("members", "import", "demo", str(wrong), str(tmp_path / "c.fexro"))
    assert done.returncode == 2
    assert "wrong.csv, row 3: storey: found “L9”" in done.stderr
    assert "wrong.csv, row 4: " in done.stderr
    assert not (tmp_path / "c.fexro").exists()


def test_forces_are_taken_and_what_does_not_fit_ends_with_2(tmp_path):
    examples = Path(__file__).parents[1] / "docs" / "examples"
    out = tmp_path / "new.fexro"
    done = command("forces", "demo", str(examples / "tarnholm-forces-C.csv"), "--out", str(out))
    assert done.returncode == 0
    assert "36 lifts have forces" in done.stdout
    taken = read_project(out)
    assert taken.takings[0].file == "tarnholm-forces-C.csv"
    # The next run is read by the mapping that the project keeps.
    again = command("forces", str(out), str(examples / "tarnholm-forces-B.xlsx"))
    assert again.returncode == 0
    assert "Nobody has looked" not in again.stdout
    tables = Path(__file__).parent / "acceptance" / "tables"
    lost = command("forces", "demo", str(tables / "T6-wide-tonnes.csv"))
    assert lost.returncode == 2
    assert "no lift of the project" in lost.stderr
    unknown = command("forces", "demo", str(examples / "x.csv"), "--mapping", "mine")
    assert unknown.returncode == 2
    assert "“mine”" in unknown.stderr
    there = command("forces", "demo", str(examples / "tarnholm-forces-B.csv"), "--out", str(out))
    assert there.returncode == 2
    assert "--force" in there.stderr


def test_stability_is_written_as_text_and_as_json(tmp_path):
    columns = str(tmp_path / "columns.fexro")
    write_project(tarnholm_columns(), Path(columns))
    text = runner.invoke(app, ["stability", columns])
    assert text.exit_code == 0
    lines = text.stdout.splitlines()
    assert "8 of 36 lifts are slender." in lines
    storey = next(line.split() for line in lines if line.startswith("L2 ") and " x " in line)
    # By hand: 32 510.2 kN · 17.5 mm / (910 kN · 4 200 mm).
    assert storey[2:5] == ["0.1489", "0.05", "sway"]
    lift = next(line.split() for line in lines if line.startswith("C4 ") and "L2" in line)
    assert lift[2:4] == ["y", "sway"]
    document = json.loads(runner.invoke(app, ["stability", columns, "--format", "json"]).stdout)
    found = next(one for one in document["lifts"] if (one["mark"], one["level"]) == ("C4", "L2"))
    assert found["without_slenderness"] < 1 < found["utilisation"]
    about_y = found["bending"][1]
    assert about_y["slenderness"] == pytest.approx(float(lift[5]), rel=1e-3)
    assert about_y["k"] == pytest.approx(float(lift[4]), rel=1e-3)
    # Over the radius of gyration of the gross section, √(6 648 163 377 / 237 500) mm.
    assert about_y["length"] / about_y["slenderness"] == pytest.approx(167.31, rel=1e-4)


def test_sections_are_told_drawn_and_read(tmp_path):
    told = runner.invoke(app, ["section", "show", "demo", "C5", "L1"])
    assert told.exit_code == 0
    lines = {line.split("  ")[0]: line for line in told.stdout.splitlines()}
    assert "400 × 400 mm" in lines["Shape"]
    assert "I 160 × 160 × 8 × 13 mm, S355" in lines["Steel"]
    # 400⁴/12 mm⁴ = 2.1333·10⁹, to four figures.
    assert lines["Ix, Iy"].replace("\u2009", "").count("2133000000 mm⁴") == 2
    drawing, out = tmp_path / "c4.dxf", tmp_path / "new.fexro.json"
    assert runner.invoke(app, ["section", "draw", "demo", "C4", "L1", str(drawing)]).exit_code == 0
    run = ["section", "read", "demo", "C1", "L1", str(drawing), str(out)]
    assert runner.invoke(app, run).exit_code == 0
    project = read_project(out)
    section = project.by_key[LiftKey("C1", "L1")].section
    assert section.shape.kind == "polygon"
    assert section.bars == "10 D25"
    again = command(*run)
    assert (again.returncode, "--force" in again.stderr) == (2, True)
    wrong = command(*run, "--force", "--unit", "yd")
    assert (wrong.returncode, "one of mm, cm" in wrong.stderr) == (2, True)


def test_kept_sections_go_from_project_to_project(tmp_path):
    source, library, out = (tmp_path / name for name in ("a.fexro.json", "s.json", "b.fexro.json"))
    write_project(keep_section(tarnholm_columns(), LiftKey("C1", "L1"), "K1"), source)
    assert runner.invoke(app, ["section", "export", str(source), str(library)]).exit_code == 0
    taken = runner.invoke(app, ["section", "import", "demo", str(library), str(out)])
    assert taken.stdout == "1 section is kept.\n"
    assert [section.name for section in read_project(out).sections] == ["K1"]
    none = command("section", "export", "demo", str(tmp_path / "none.json"))
    assert (none.returncode, "at least one section" in none.stderr) == (2, True)


def test_bars_are_found_and_written(tmp_path):
    out = tmp_path / "sized.fexro"
    done = command("size", "demo", "--mark", "C6", "--workers", "1", "--write", str(out))
    assert done.returncode == 0
    assert "6 lifts: " in done.stdout
    assert "full checks a lift" in done.stdout
    found = json.loads(
        command(
            *("size", "demo", "--mark", "C6", "--workers", "1"),
            *("--objective", "fewest bars", "--format", "json"),
        ).stdout
    )
    assert found["objective"] == "fewest bars"
    assert len(found["lifts"]) == 6
    sized = read_project(out)
    assert sized.record_by_key[LiftKey("C4", "L1")].bars == "10 D25"
    for key in (key for key in sized.by_key if key.mark == "C6"):
        assert sized.record_by_key[key].bars != tarnholm_archive().record_by_key[key].bars
    assert command("size", "demo", "--mark", "C9").returncode == 2
    assert "which is there" in command("size", "demo", "--write", str(out)).stderr


def test_documents_are_written_into_a_folder(tmp_path):
    out = tmp_path / "out"
    # In a process of its own: pictures bring an application that has no display.
    done = process("report", "demo", "--out", str(out), "--mark", "C4", "--level", "L2")
    assert done.returncode == 0, done.stderr
    assert (out / "Calculation.pdf").read_bytes().startswith(b"%PDF")
    done = command("bars", "demo", "--out", str(out), "--format", "csv")
    assert done.returncode == 0, done.stderr
    rows = (out / "Bar list.csv").read_text("utf-8-sig").splitlines()
    assert rows[0].startswith("Members,Mark,Type and size")
    done = command("drawings", "demo", "--out", str(out), "--mark", "C4", "--format", "dxf")
    assert done.returncode == 0, done.stderr
    svg = tmp_path / "svg"
    each = ("--mark", "C4", "--lifts", "--format", "svg")
    done = command("drawings", "demo", "--out", str(svg), *each)
    assert len(list(svg.glob("Column C4 · *.svg"))) == 6
    assert done.returncode == 0, done.stderr
    assert {path.name for path in out.iterdir()} == {
        "Calculation.pdf",
        "Bar list.csv",
        "Wall reinforcement.csv",
        "Column schedule.dxf",
        "Column C4.dxf",
    }


def test_documents_of_what_there_is_not_are_refused(tmp_path):
    done = command("report", "demo", "--out", str(tmp_path), "--mark", "C9")
    assert done.returncode == 2
    assert "one of C1, C2" in done.stderr
    done = command("report", "demo", "--out", str(tmp_path), "--chapter", "shear=all")
    assert done.returncode == 2
    assert "one of verdicts, checks, full" in done.stderr
    done = command("bars", "demo", "--out", "/proc/nothing")
    assert done.returncode == 2
    assert "nothing was written" in done.stderr
    assert not list(tmp_path.iterdir())


def test_a_building_model_is_written_and_read_back(tmp_path):
    done = command("ifc", "demo", "--out", str(tmp_path))
    assert done.returncode == 0, done.stderr
    model, back = tmp_path / "Tarnholm Archive.ifc", tmp_path / "back.fexro"
    done = command("take-ifc", "demo", str(model), "--out", str(back))
    assert (done.returncode, done.stdout) == (0, "69 members read, 0 changed.\n")
    assert read_project(back) == tarnholm_archive()
