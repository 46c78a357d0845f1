"""Members as a table, one row a lift: written out, and taken from rows that fit."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from pydantic import TypeAdapter, ValidationError

from fexro.core.errors import InputError
from fexro.core.members.lift import LiftResult
from fexro.core.quantities import Dimension, UnitSystem, parse_quantity, unit_of
from fexro.core.section.call_out import canonical
from fexro.project.bars import sizes_by_name
from fexro.project.column import LiftKey, LiftModel, LiftRecord, Mark
from fexro.project.edits.lifts import by_hand, with_records
from fexro.project.edits.verified import verified
from fexro.project.project import Project
from fexro.project.resolve import verify_lift
from fexro.project.shapes import KINDS, SIZES, Shape
from fexro.project.values import OwnValues

__all__ = [
    "COLUMNS",
    "Column",
    "Taken",
    "column_title",
    "columns_of",
    "member_rows",
    "take_members",
    "value_of",
]

_SHAPE: TypeAdapter[Shape] = TypeAdapter(Shape)


@dataclass(frozen=True)
class Column:
    """A column of the table.

    Attributes:
        key: names it.
        title: its heading, without the unit.
        measures: what its numbers measure; nothing for text.
        taken: whether it is read from a table, too.
    """

    key: str
    title: str
    measures: Dimension | None = None
    taken: bool = True


COLUMNS = (
    Column("mark", "Mark"),
    Column("storey", "Storey"),
    Column("utilisation", "Utilisation", Dimension.RATIO, taken=False),
    Column("state", "State", taken=False),
    Column("governs", "Governs", taken=False),
    Column("shape", "Shape"),
    *(Column(name, title, Dimension.LENGTH) for name, title in SIZES.items()),
    Column("bars", "Main bars"),
    Column("ties", "Ties"),
    Column("cover", "Cover", Dimension.LENGTH),
    Column("concrete", "Concrete"),
    Column("steel", "Steel"),
    Column("group", "Group", taken=False),
)


@dataclass(frozen=True)
class Taken:
    """What came of the rows of a table.

    Attributes:
        project: with them; nothing where a row does not fit.
        lifts: how many lifts are others or new by them.
        problems: rows that do not fit, by their number in the table, with the reason.
    """

    project: Project | None
    lifts: int
    problems: tuple[tuple[int, str], ...]


def column_title(column: Column, system: UnitSystem) -> str:
    """Return the heading of a column with its unit."""
    if column.measures is None or column.measures == Dimension.RATIO:
        return column.title
    return f"{column.title}, {unit_of(column.measures, system).symbol}"


def value_of(
    column: Column, project: Project, key: LiftKey, result: LiftResult | None
) -> str | float | None:
    """Return what stands in a column for a lift, measured in the units people see."""
    lift = project.by_key[key]
    name = column.key
    found: str | float | None
    match name:
        case "mark":
            return key.mark
        case "storey":
            return key.storey
        case "shape":
            return lift.section.shape.kind
        case "bars" | "ties":
            return str(getattr(lift.section, name))
        case "concrete" | "steel":
            return str(getattr(lift, name))
        case "group":
            group = project.group_by_key.get(key)
            return None if group is None else group.name
        case "utilisation":
            found = None if result is None else result.utilisation
            return None if found is None or math.isnan(found) else round(found, 3)
        case "governs":
            if result is None:
                return None
            finding = result.governing
            return f"{finding.short} {finding.combination or ''}".strip()
        case "state":
            return "not checked" if result is None else result.state.word
    size = lift.section.cover if name == "cover" else getattr(lift.section.shape, name, None)
    if not size:
        return None
    return round(size / unit_of(Dimension.LENGTH, project.basis.system).size, 4)


def member_rows(
    project: Project,
    results: Mapping[LiftKey, LiftResult],
    columns: Sequence[Column] = COLUMNS,
) -> list[list[str | float | None]]:
    """Return the table of all lifts, the first row its headings."""
    heads: list[str | float | None] = [column_title(c, project.basis.system) for c in columns]
    rows = [
        [value_of(column, project, key, results.get(key)) for column in columns]
        for key in project.by_key
    ]
    return [heads, *rows]


def columns_of(heads: Sequence[str]) -> list[Column | None]:
    """Return which columns headings name; nothing for those that name none."""
    known = {column.title.casefold(): column for column in COLUMNS}
    known |= {column.key.casefold(): column for column in COLUMNS}
    found = []
    for head in heads:
        plain = head.split(",")[0].split("[")[0].split("(")[0].strip().casefold()
        found.append(known.get(plain))
    return found


def take_members(project: Project, rows: Sequence[Sequence[str]]) -> Taken:
    """Return a project with the lifts of a table, whose first row is of headings.

    A row names a lift by mark and storey; what it leaves empty stays as it is. Marks that there are
    not yet are made. Where any row does not fit, nothing is taken.

    Raises:
        InputError: if the headings do not name mark and storey.
    """
    columns = columns_of(rows[0])
    named = {column.key for column in columns if column is not None}
    if not {"mark", "storey"} <= named:
        titles = ", ".join(column.title for column in COLUMNS if column.taken)
        found = ", ".join(head for head in rows[0] if head) or "nothing"
        raise InputError("headings", f"“{found[:120]}”", f"at least Mark and Storey of {titles}")
    with_marks, problems = _with_marks(project, columns, rows)
    records: dict[LiftKey, LiftRecord] = {}
    for number, row in enumerate(rows[1:], start=2):
        cells = {
            column.key: cell
            for column, cell in zip(columns, row, strict=False)
            if column is not None and column.taken and cell.strip()
        }
        try:
            key, record = _record(with_marks, cells)
            if key in records:
                raise InputError("lift", f"“{key}” again", "each lift once")
            verify_lift(with_marks, with_marks.mark_by_name[key.mark], record, str(key))
        except InputError as error:
            problems.append((number, str(error)))
            continue
        records[key] = record
    if problems:
        return Taken(None, 0, tuple(sorted(problems)))
    before = project.record_by_key
    changed = {key: record for key, record in records.items() if before.get(key) != record}
    try:
        taken = verified(with_records(with_marks, changed)) if changed else project
    except InputError as error:
        return Taken(None, 0, ((1, str(error)),))
    return Taken(taken, len(changed), ())


def _with_marks(
    project: Project, columns: Sequence[Column | None], rows: Sequence[Sequence[str]]
) -> tuple[Project, list[tuple[int, str]]]:
    """Return the project with marks that rows name and it lacks, and names that are none."""
    at = next(i for i, column in enumerate(columns) if column is not None and column.key == "mark")
    problems, marks = [], dict(project.mark_by_name)
    for number, row in enumerate(rows[1:], start=2):
        name = row[at].strip() if at < len(row) else ""
        if name and name not in marks:
            try:
                marks[name] = Mark(name=name, lifts=())
            except ValidationError:
                refusal = InputError("mark", f"“{name}”", "1 to 40 characters that can be seen")
                problems.append((number, str(refusal)))
    if len(marks) == len(project.marks):
        return project, problems
    return project.changed(marks=tuple(marks.values())), problems


def _record(project: Project, cells: Mapping[str, str]) -> tuple[LiftKey, LiftRecord]:
    """Return the lift that the cells of a row describe, with what they leave out."""
    for name in ("mark", "storey"):
        if name not in cells:
            raise InputError(name, "nothing", "a name in every row")
    key = LiftKey(cells["mark"], cells["storey"])
    if key.storey not in project.storey_by_name:
        known = ", ".join(list(project.storey_by_name)[:12]) or "none; there is no storey"
        raise InputError("storey", f"“{key.storey}”", f"one of {known}")
    system = project.basis.system
    before = project.by_key.get(key)
    mark = project.mark_by_name[key.mark]
    sizes = {
        name: parse_quantity(cells[name], Dimension.LENGTH, system, name.replace("_", " "))
        for name in SIZES
        if name in cells
    }
    shape = _shape(before, cells.get("shape"), sizes)
    given = {name: cells[name] for name in ("concrete", "steel") if name in cells}
    record = project.record_by_key.get(key)
    if record is None:
        for name in ("bars", "ties"):
            if name not in cells:
                raise InputError(name, "nothing", "a call-out for a lift that is new")
        record = LiftRecord(storey=key.storey, shape=shape, bars=cells["bars"], ties=cells["ties"])
    lift = record.complete(project.inherited(mark, record))
    values: dict[str, object] = dict(given)
    if "cover" in cells:
        values["cover"] = parse_quantity(cells["cover"], Dimension.LENGTH, system, "cover")
        _refuse_values(values)
    text = {name: " ".join(cells[name].split()) for name in ("bars", "ties") if name in cells}
    if text.get("bars", lift.section.bars) != lift.section.bars:
        own = sizes_by_name(project.basis.bars.own)
        text["bars"] = canonical(text["bars"], "bars", own)
    section = lift.section.model_copy(update={**text, "shape": shape})
    changed = lift.model_copy(update={"section": section})
    if values:
        changed = changed.with_values(**values)
    made = changed.record(project.inherited(mark, record), record.own, record.named)
    return key, by_hand(made, record)


def _refuse_values(values: Mapping[str, object]) -> None:
    try:
        OwnValues.model_validate(values)
    except ValidationError:
        raise InputError("cover", f"{values['cover']:g} mm", "10 to 300 mm") from None


def _shape(before: LiftModel | None, kind: str | None, sizes: Mapping[str, float]) -> Shape:
    """Return the shape of a row: that of before with other sizes, or one of a kind."""
    old = {} if before is None else before.section.shape.model_dump()
    if kind is None and before is None:
        raise InputError("shape", "nothing", f"one of {', '.join(KINDS)} for a lift that is new")
    kinds = {name.casefold(): name for name in (*KINDS, *([old["kind"]] if old else []))}
    wanted = old["kind"] if kind is None else kinds.get(kind.strip().casefold())
    if wanted is None:
        raise InputError("shape", f"“{kind}”", f"one of {', '.join(KINDS)}")
    data = {**old, **sizes} if wanted == old.get("kind") else dict(sizes)
    try:
        return _SHAPE.validate_python({**data, "kind": wanted})
    except ValidationError as error:
        problem = error.errors(include_url=False)[0]
        place = str(problem["loc"][-1]).replace("_", " ") if problem["loc"] else "shape"
        if problem["type"] == "missing":
            raise InputError(place, "nothing", f"a size; a {wanted} needs it") from None
        if problem["type"] == "extra_forbidden":
            raise InputError(place, "a size", f"none; a {wanted} has no such size") from None
        reason = problem.get("ctx", {}).get("error", problem["msg"].lower())
        raise InputError(place, f"{problem['input']}", str(reason)) from None
