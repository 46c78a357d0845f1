"""From a table of forces to the lifts of a project: what matches and what is doubtful."""

from __future__ import annotations

import hashlib
import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

import numpy as np

from fexro.core.actions import COMPONENTS, ENDS
from fexro.core.arrays import BoolArray
from fexro.core.errors import FexroError, InputError
from fexro.exchange.force_guess import guess_mapping
from fexro.exchange.force_rows import Place
from fexro.exchange.force_table import ForceTable, read_force_table
from fexro.exchange.sheets import read_sheets
from fexro.project.column import LiftKey
from fexro.project.edits.cases import nature_of_name
from fexro.project.edits.takings import take_forces
from fexro.project.forces import Forces
from fexro.project.lift_loads import SpanForces
from fexro.project.mapping import ForcesMapping
from fexro.project.project import Project
from fexro.project.records import look, seen
from fexro.project.takings import Taking

__all__ = ["Doubt", "Matched", "checksum_of", "match_table", "take_file", "take_matched"]

NEARLY_ALL = 0.8
GROWTH = 0.5  # kN by which a gravity force may be less below than above
SHOWN = 8
# What is said of each kind of complaint, with the number of rows.
_SENTENCES = {
    "duplicate row": "repeat the forces of the same lift, case and end; each is taken once",
    "conflicting rows": "give different forces for the same lift, case and end; none is taken",
    "missing end": "are the only end of their lift and case; these are not taken",
    "envelope row": "are maxima and minima of each component, which do not act together; left out",
    "unreadable number": "hold a force that is no number; not taken",
    "number as text": "hold a number kept as text; read as a number",
    "not a member row": "are sums, notes or have no member or case; left out",
    "member in two elements": "are of lifts in several elements; these are joined end to end",
    "shear and moments disagree": "have shears that are not the slope of their moments",
    "end not understood": "name an end or a distance that is not understood; not taken",
}


@dataclass(frozen=True)
class Doubt:
    """Something that people should look at before a table is taken.

    Attributes:
        kind: what it is.
        sentence: that says it.
        rows: where in the table.
        serious: whether forces are left out, or results would be wrong if it is true.
    """

    kind: str
    sentence: str
    rows: tuple[Place, ...] = ()
    serious: bool = True


@dataclass(frozen=True, eq=False)
class Matched:
    """A table matched with a project.

    Attributes:
        table: as it was read.
        forces: of lifts of the project.
        doubts: what people should look at.
        members: how many lifts have forces by it.
        without: lifts of the project that have none.
        left_out: how many rows are of no lift of the project.
        span_forces: moments between the ends that are larger than at both.
    """

    table: ForceTable
    forces: Forces
    doubts: tuple[Doubt, ...]
    members: int
    without: tuple[LiftKey, ...]
    left_out: int
    span_forces: tuple[SpanForces, ...] = ()


def checksum_of(content: bytes) -> str:
    """Return the checksum by which a table is known again."""
    return hashlib.sha256(content).hexdigest()


def match_table(project: Project, table: ForceTable, mapping: ForcesMapping) -> Matched:
    """Return a table matched with the lifts of a project."""
    keys = _keys(project, table, mapping)
    found = [i for i, key in enumerate(keys) if key is not None]
    columns = [mapping.cases.get(name, _known_name(project, name, mapping)) for name in table.cases]
    doubts = [_told(project, table), _unknown(table, keys), _names_of_table(table)]
    twice = _twice(keys, columns)
    if twice:
        doubts.append([Doubt("same name", twice)])
    # All numbers of a lift in a column, or none.
    values = table.values[found] if found else np.empty((0, 2, len(columns), 6))
    lacking: BoolArray = np.any(np.isnan(values), axis=(1, 3))
    values = np.where(lacking[:, None, :, None], np.nan, values)
    members = tuple(key for key in keys if key is not None)
    forces = Forces()
    if not twice:
        forces = Forces(members, tuple(columns), values)
    # What two of a name leave undecided is taken by nobody.
    place = {key for i, key in enumerate(members) if not twice and not lacking[i].all()}
    without = tuple(key for key in project.by_key if key not in place)
    doubts.append(_about_project(project, forces, mapping, without))
    rows_of = (table.matched >= 0).sum(axis=(1, 2))
    left_out = int(sum(rows_of[i] for i, key in enumerate(keys) if key is None))
    flat = tuple(doubt for some in doubts for doubt in some)
    member = dict(zip(table.members, keys, strict=True))
    name = dict(zip(table.cases, columns, strict=True))
    spans = [
        SpanForces(
            **key._asdict(),
            name=name[s.case],
            at=s.place,
            **{c: v for c in COMPONENTS if not math.isnan(v := getattr(s, c))},
        )
        for s in table.span_maxima
        if (key := member[s.mark, s.storey]) is not None and key in place
    ]
    return Matched(table, forces, flat, len(place), without, left_out, tuple(spans))


def take_matched(
    project: Project,
    matched: Matched,
    mapping: ForcesMapping,
    file: str,
    checksum: str,
    *,
    keep_others: bool = False,
    date: datetime | None = None,
) -> Project:
    """Return the project with the forces of a matched table, as a revision.

    Raises:
        InputError: if nothing of the table fits the project.
    """
    undecided = next((d.sentence for d in matched.doubts if d.kind == "same name"), None)
    if undecided is not None:
        raise InputError(file, f"names that are one in the project. {undecided}", "each name once")
    if not matched.members:
        marks, storeys = [m.name for m in project.marks], [s.name for s in project.storeys]
        allowed = f"marks such as {_listed(marks)}, storeys such as {_listed(storeys)}"
        some = [f"{mark} · {storey}" for mark, storey in matched.table.members]
        raise InputError(file, f"no lift of the project; it has {_listed(some) or 'none'}", allowed)
    taking = Taking(
        number=1 + max((t.number for t in project.takings), default=0),
        date=(date or datetime.now()).isoformat(timespec="seconds"),
        file=seen(file[-255:], 255),
        checksum=checksum,
        mapping=mapping.name,
        rows=matched.table.rows,
        members=matched.members,
        names=len(matched.forces.columns),
        left_out=matched.left_out,
        complaints=tuple(seen(doubt.sentence, 400) for doubt in matched.doubts)[:100],
    )
    return take_forces(
        project,
        matched.forces,
        mapping.results,
        mapping,
        taking,
        span_forces=matched.span_forces,
        keep_others=keep_others,
    )


def take_file(
    project: Project,
    path: Path,
    mapping: ForcesMapping | None = None,
    report: Callable[[str], None] | None = None,
) -> tuple[Project, Matched, ForcesMapping, tuple[str, ...]]:
    """Return the project with the forces of a file, what matched, the mapping and its doubts.

    Args:
        project: the project.
        path: the table.
        mapping: by which it is read; the first reading where none is given.
        report: is told what is being done.

    Raises:
        FexroError: if the file cannot be read.
        InputError: if it cannot be understood, or nothing of it fits.
    """
    sheets = read_sheets(path, report)
    guessed: tuple[str, ...] = ()
    if mapping is None:
        guess = guess_mapping(sheets)
        mapping, guessed = guess.mapping, guess.doubts
    matched = match_table(project, read_force_table(sheets, mapping, report), mapping)
    try:
        checksum = checksum_of(path.read_bytes())
    except OSError as error:
        raise FexroError(f"{path}: {error.strerror or error}.") from error
    taken = take_matched(project, matched, mapping, path.name, checksum)
    return taken, matched, mapping, guessed


def _keys(project: Project, table: ForceTable, mapping: ForcesMapping) -> list[LiftKey | None]:
    """Return the lift of the project that each member of the table is, if any."""
    marks = {look(mark.name): mark.name for mark in project.marks}
    storeys = {look(storey.name): storey.name for storey in project.storeys}
    found: list[LiftKey | None] = []
    for mark, storey in table.members:
        key = LiftKey(
            mapping.marks.get(mark, marks.get(look(mark), "")),
            mapping.storeys.get(storey, storeys.get(look(storey), "")),
        )
        found.append(key if key in project.by_key else None)
    return found


def _known_name(project: Project, name: str, mapping: ForcesMapping) -> str:
    known = project.cases if mapping.results == "cases" else project.combinations
    found = next((item.name for item in known if look(item.name) == look(name)), None)
    # What a table calls a case may be no name for a project.
    return found or seen(name, 40) or "unnamed"


def _twice(keys: Sequence[LiftKey | None], columns: Sequence[str]) -> str:
    for kind, names in (
        ("lifts", [str(key) for key in keys if key is not None]),
        ("cases", list(columns)),
    ):
        seen: set[str] = set()
        for name in names:
            if look(name) in seen:
                return f"Two {kind} of the table are {name} of the project; none is taken."
            seen.add(look(name))
    return ""


def _told(project: Project, table: ForceTable) -> list[Doubt]:
    """Say what was found in the table itself."""
    found = []
    for complaint in table.complaints:
        count = len(complaint.rows)
        if complaint.kind in _SENTENCES:
            rows = f"{count} row" + ("s" if count != 1 else "")
            sentence = f"{rows} {_agree(_SENTENCES[complaint.kind], count)}."
            harmless = complaint.kind in ("duplicate row", "number as text", "not a member row")
            serious = not (harmless or complaint.kind == "member in two elements")
            found.append(Doubt(complaint.kind, sentence, complaint.rows, serious))
        elif keys := [key for key in complaint.keys if not _of_wall(project, *key)]:
            shown = _listed([" · ".join(key) for key in keys])
            what = "a lift that other marks have" if len(keys) == 1 else "lifts of others"
            if complaint.kind == "missing case":
                what = "a case that other lifts have"
            sentence = f"The table lacks {what}: {shown}."
            found.append(Doubt(complaint.kind, sentence, complaint.rows, serious=False))
    if table.span_maxima:
        some = [f"{s.mark} · {s.storey} in {s.case}" for s in table.span_maxima]
        sentence = f"Moments between the ends are larger than at both: {_listed(some)}."
        found.append(Doubt("moment between the ends", sentence, serious=False))
    return found


def _of_wall(project: Project, mark: str, storey: str, *_: str) -> bool:
    """Tell whether a member of a wall is not where openings leave none."""
    known = project.mark_by_name.get(mark)
    absent = LiftKey(mark, storey) not in project.by_key
    return known is not None and known.kind != "column" and absent


def _agree(sentence: str, count: int) -> str:
    """Return a sentence about rows for one row."""
    if count != 1:
        return sentence
    first, rest = sentence.split(" ", 1)
    verbs = {"are": "is", "have": "has", "hold": "holds", "give": "gives", "repeat": "repeats"}
    return f"{verbs.get(first, first + 's')} {rest}"


def _unknown(table: ForceTable, keys: Sequence[LiftKey | None]) -> list[Doubt]:
    lost = [i for i, key in enumerate(keys) if key is None]
    if not lost:
        return []
    rows = {table.places[int(row)] for row in table.matched[lost].ravel() if row >= 0}
    some = [" · ".join(table.members[i]) for i in lost]
    verb = "is no lift" if len(lost) == 1 else "are no lifts"
    sentence = f"{len(lost)} of the table {verb} of the project: {_listed(some)}."
    return [Doubt("unknown member", sentence, tuple(sorted(rows)))]


def _names_of_table(table: ForceTable) -> list[Doubt]:
    return [] if table.cases else [Doubt("no case", "No row of the table is of a load case.")]


def _about_project(
    project: Project, forces: Forces, mapping: ForcesMapping, without: Sequence[LiftKey]
) -> list[Doubt]:
    """Say what is doubtful of the forces beside the project."""
    found = []
    # Strips of bearing walls have theirs by what acts on the wall.
    without = [key for key in without if project.mark_by_name[key.mark].kind != "bearing wall"]
    if without:
        count = len(without)
        verb = "lift of the project has" if count == 1 else "lifts of the project have"
        sentence = f"{count} {verb} no forces in the table: {_listed(map(str, without))}."
        found.append(Doubt("lift without forces", sentence))
    axial = forces.values[..., COMPONENTS.index("N")]
    known = axial[~np.isnan(axial)]
    if known.size and (known < 0).mean() > NEARLY_ALL:
        share = f"{100 * (known < 0).mean():.0f} %"
        sentence = f"{share} of all axial forces are tension; is tension positive in the table?"
        found.append(Doubt("tension", sentence))
    if mapping.results == "cases":
        found += _about_cases(project, forces)
    else:
        made = {c.name for c in project.combinations if c.factors} & set(forces.columns)
        if made:
            sentence = f"{_listed(sorted(made))}: made of load cases; these forces are not used."
            found.append(Doubt("combination of cases", sentence))
        new = [c for c in forces.columns if c not in {k.name for k in project.combinations}]
        gone = [c.name for c in project.combinations if not c.factors]
        gone = [name for name in gone if name not in forces.columns]
        if new and project.factored_forces.members:
            found.append(
                Doubt("new combination", f"New combinations: {_listed(new)}.", serious=False)
            )
        if gone:
            sentence = f"Combinations that the table lacks: {_listed(gone)}."
            found.append(Doubt("vanished combination", sentence))
    return found


def _about_cases(project: Project, forces: Forces) -> list[Doubt]:
    found = []
    counted = {name for c in project.combinations for name, f in c.factors.items() if f}
    loose = [name for name in forces.columns if name not in counted]
    if loose:
        sentence = f"No combination counts {_listed(loose)} yet."
        found.append(Doubt("case without a combination", sentence, serious=False))
    gone = [name for name in counted if name not in forces.columns]
    if gone:
        found.append(
            Doubt("vanished case", f"Combinations count {_listed(gone)}, which the table lacks.")
        )
    gravity = [
        i
        for i, name in enumerate(forces.columns)
        if (project.case_by_name.get(name) or nature_of_name(name)).nature
        in ("permanent", "imposed")
    ]
    order = {storey.name: i for i, storey in enumerate(project.storeys)}
    top = ENDS.index("top")
    shrinking = []
    for mark in project.marks:
        lifts = [key for key in forces.members if key.mark == mark.name]
        lifts.sort(key=lambda key: order[key.storey])
        if len(lifts) < 2 or not gravity:
            continue
        axial = forces.values[[forces.place[key] for key in lifts]][:, top][:, gravity, 0]
        falls = np.diff(axial, axis=0) < -GROWTH
        for i, c in np.argwhere(falls):
            shrinking.append(f"{lifts[i + 1]} in {forces.columns[gravity[c]]}")
    if shrinking:
        sentence = f"Gravity does not grow downwards: {_listed(shrinking)}."
        found.append(Doubt("gravity does not grow", sentence))
    return found


def _listed(names: Iterable[object]) -> str:
    shown = [str(name) for name in names]
    more = len(shown) - SHOWN
    return ", ".join(shown[:SHOWN]) + (f" and {more} more" if more > 0 else "")
