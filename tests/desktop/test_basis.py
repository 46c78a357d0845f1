"""The basis stage, the rail, and beginning a project: through what a person sees."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from fexro.core.findings import State
from fexro.desktop.shell.stages import Place
from fexro.desktop.shell.window import Window
from fexro.project.column import LiftKey

C1L1 = LiftKey("C1", "L1")
CONTROL_SHIFT = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier


def basis_of(window):
    window.go(Place("basis"))
    return window.stage("basis").page


def typed(qtbot, field, text):
    field.setFocus()
    field.selectAll()
    qtbot.keyClick(field, Qt.Key.Key_Delete)
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def pressed(qtbot, window, key, modifier=Qt.KeyboardModifier.ControlModifier):
    qtbot.keyClick(window, key, modifier)


def chosen(combo, key):
    combo.setCurrentIndex(combo.findData(key))
    combo.activated.emit(combo.currentIndex())


def test_a_new_project_asks_nothing_and_opens_on_the_basis(qtbot, empty_window):
    window = empty_window
    assert not window.rail.isVisible()
    pressed(qtbot, window, Qt.Key.Key_N)
    assert window.document.project.name == "New project"
    assert window.shows(window.stage("basis"))
    assert window.rail.isVisible()
    assert not window.document.modified
    page = basis_of(window)
    typed(qtbot, page.code.fields["name"], "Harbour store")
    assert window.title.text() == "Harbour store"
    assert window.windowTitle().startswith("Harbour store")
    window.document.undo()
    assert window.title.text() == "New project"
    pressed(qtbot, window, Qt.Key.Key_W)
    assert window.document.project is None
    assert window.start.isVisible()
    assert not window.rail.isVisible()


def test_the_rail_goes_to_stages_and_counts(qtbot, window):
    buttons = window.rail.buttons
    assert list(buttons)[:1] == ["basis"]
    assert window.shows(window.stage("schedule"))
    assert buttons["schedule"].isChecked()
    assert buttons["schedule"].count == 2
    qtbot.mouseClick(buttons["basis"], Qt.MouseButton.LeftButton)
    assert window.shows(window.stage("basis"))
    # From the bench Esc leads back to where one came from; the selection is kept.
    window.go(Place(lift=C1L1))
    window.commands.actions["escape"].trigger()
    assert window.shows(window.stage("basis"))
    pressed(qtbot, window, Qt.Key.Key_B)
    assert window.document.selection.lift == C1L1
    assert "2 unsettled" in buttons["schedule"].accessibleName()


def test_values_of_the_project_are_changed_and_refused(qtbot, window):
    page, document = basis_of(window), window.document
    typed(qtbot, page.values.fields["cover"], "2in")
    assert document.project.basis.values.cover == pytest.approx(50.8)
    assert document.project.by_key[C1L1].section.cover == pytest.approx(50.8)
    # C3 has a cover of its own.
    assert document.project.by_key[LiftKey("C3", "L1")].section.cover == 45.0
    typed(qtbot, page.values.fields["cover"], "5")
    assert "10 mm or more" in page.values.error.text()
    typed(qtbot, page.values.fields["cover"], "160")
    # Where a section cannot be built the lift is named, and nothing has changed.
    assert page.values.error.text().startswith("C4 · Roof, bar 1: ")
    assert document.project.basis.values.cover == pytest.approx(50.8)
    chosen(page.values.fields["concrete"], "C45")
    assert {lift.concrete for lift in document.project.by_key.values()} == {"C45"}
    assert document.undo_label == "Concrete"


def test_the_code_and_its_words(qtbot, window):
    page, document = basis_of(window), window.document
    ductility = page.directions.forms["x"].fields["ductility"]
    assert ductility.itemText(2) == "special"
    chosen(page.code.fields["code"], "EN 1992-1-1\nUK")
    assert document.project.basis.annex == "UK"
    assert ductility.itemText(2) == "DCH"
    chosen(ductility, "high")
    assert document.project.basis.values.x.ductility == "high"
    assert document.project.basis.values.y.ductility == "low"
    chosen(page.code.fields["units"], "in-lb")
    assert "in" in page.values.fields["cover"].text()


def test_a_density_changes_the_modulus_where_the_code_reads_it(qtbot, window):
    page, document = basis_of(window), window.document
    concretes = page.concretes
    field = concretes.fields["C35", "density"]
    assert field.placeholderText() == "normal weight"
    typed(qtbot, field, "115 lb/ft³")
    density = document.project.concrete_by_name["C35"].density
    assert density == pytest.approx(1842.1, rel=1e-4)
    # By hand: 0.043 · 1 842.1^1.5 · √35 MPa.
    assert "20" in concretes.facts["C35", "Ec"].text()
    key = LiftKey("C1", "L4")
    qtbot.waitUntil(lambda: document.complete)
    axis = document.results[key].second_order
    assert axis.values["Ec"] == pytest.approx(0.043 * density**1.5 * 35**0.5, rel=1e-9)
    typed(qtbot, concretes.fields["C35", "density"], "heavy")
    assert "such as 1850 kg/m³" in concretes.error.text()
    concretes.fields["C35", "density"].take_back()
    typed(qtbot, concretes.fields["C35", "density"], "500")
    assert "800 kg/m³ or more" in concretes.error.text()
    concretes.fields["C35", "density"].take_back()
    # What 19.2.2.1 does not cover is not checked.
    typed(qtbot, concretes.fields["C35", "density"], "2700")
    qtbot.waitUntil(lambda: document.complete)
    assert document.results[key].state is State.NOT_CHECKED
    typed(qtbot, concretes.fields["C35", "strength"], "1")
    assert "5 MPa or more" in concretes.error.text()
    concretes.fields["C35", "strength"].take_back()
    chosen(page.code.fields["code"], "EN 1992-1-1\nrecommended")
    assert ("C35", "density") not in concretes.fields


def test_materials_are_added_changed_and_removed(qtbot, window):
    page, document = basis_of(window), window.document
    concretes = page.concretes
    qtbot.mouseClick(concretes.add, Qt.MouseButton.LeftButton)
    assert [c.name for c in document.project.concretes] == ["C35", "C45", "C45 2"]
    typed(qtbot, concretes.fields["C45 2", "name"], "C60")
    typed(qtbot, concretes.fields["C60", "strength"], "60")
    assert document.project.concrete_by_name["C60"].strength == 60.0
    typed(qtbot, concretes.fields["C60", "name"], "c35")
    assert "already used" in concretes.error.text()
    concretes.fields["C60", "name"].take_back()
    qtbot.mouseClick(concretes.removes["C60"], Qt.MouseButton.LeftButton)
    assert [c.name for c in document.project.concretes] == ["C35", "C45"]
    qtbot.mouseClick(concretes.removes["C45"], Qt.MouseButton.LeftButton)
    assert "used by C1 · L2" in concretes.error.text()
    # What follows opens its derivation, and follows the code.
    qtbot.mouseClick(concretes.facts["C35", "β1"], Qt.MouseButton.LeftButton)
    assert "22.2.2.4.3" in concretes.derivation.text
    assert page.steels.facts["Grade 420", "εty"].text() == "εty 0.0021"
    chosen(page.code.fields["code"], "EN 1992-1-1\nrecommended")
    assert concretes.facts["C35", "fcd"].text() == "fcd 23.33 MPa"


def test_bar_sizes_on_offer(qtbot, window):
    page, document = basis_of(window), window.document
    qtbot.mouseClick(page.bars.standards["in-lb"], Qt.MouseButton.LeftButton)
    assert document.project.basis.bars.main[0] == "#5"
    typed(qtbot, page.bars.form.fields["own"], "T26 26mm 531mm²")
    assert document.project.basis.bars.own[0].area == pytest.approx(531.0)
    typed(qtbot, page.bars.form.fields["main"], "t26, D20")
    assert document.project.basis.bars.main == ("T26", "D20")
    typed(qtbot, page.bars.form.fields["ties"], "D11")
    assert "D10" in page.bars.form.error.text()
    typed(qtbot, page.bars.form.fields["own"], "T26")
    assert "a name, a diameter" in page.bars.form.error.text()


def test_lifts_that_differ_are_gone_to_and_put_back(qtbot, window):
    page, document = basis_of(window), window.document
    differences = page.differences
    assert list(differences.backs) == ["concrete"]
    qtbot.mouseClick(differences.links["concrete", C1L1], Qt.MouseButton.LeftButton)
    assert document.selection.lift == C1L1
    basis_of(window)
    qtbot.mouseClick(differences.backs["concrete"], Qt.MouseButton.LeftButton)
    assert {lift.concrete for lift in document.project.by_key.values()} == {"C35"}
    assert differences.backs == {}
    document.undo()
    assert list(differences.backs) == ["concrete"]


def test_several_windows_have_projects_of_their_own(qtbot, window):
    before = set(QApplication.topLevelWidgets())
    pressed(qtbot, window, Qt.Key.Key_N, CONTROL_SHIFT)
    (other,) = [
        w
        for w in QApplication.topLevelWidgets()
        if isinstance(w, Window) and w is not window and w not in before
    ]
    qtbot.addWidget(other)
    other.commands.actions["new"].trigger()
    assert window.document.project.name == "Tarnholm Archive"
    assert other.document.project.name == "New project"
    other.close()
    assert window.isVisible()


def test_the_last_project_is_opened_again(qtbot, window, tmp_path):
    path = tmp_path / "a.fexro"
    window.document.save(path)
    window.files._remember(path)
    window.commands.actions["close"].trigger()
    window.commands.refresh()
    window.commands.actions["reopen"].trigger()
    qtbot.waitUntil(lambda: window.document.project is not None, timeout=10_000)
    assert window.document.path == path
