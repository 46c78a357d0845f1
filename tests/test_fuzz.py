"""Files and fields fed with anything: each is read as it is, or refused with a sentence."""

from __future__ import annotations

import json
import random
import re
import string

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, parse_quantity
from fexro.core.section.bars import parse_ties
from fexro.core.section.call_out import parse_call_out
from fexro.project.checking import check_project
from fexro.project.file import parse_project, project_text
from fexro.project.project import Project
from tests.projects import demo_data

SMALL, LONG = 300, 10_000
DEMO = demo_data()
DEMO["marks"] = [{**DEMO["marks"][3], "lifts": DEMO["marks"][3]["lifts"][-2:]}]
DEMO["factored_forces"]["members"] = DEMO["factored_forces"]["members"][22:24]
DEMO["case_forces"]["members"] = []
DEMO["beams"] = [
    b for b in DEMO["beams"] if (b["mark"], b["storey"]) in (("C4", "L2"), ("C4", "L1"))
]
ODD = [
    *(None, True, False, 0, -1, 1, 1e308, -1e308, 10**400, 0.1, "", " ", "NaN", "C1", "1 500"),
    *([], {}, [[]], [1, 2, 3], {"kind": "rectangle"}, "\x00", "\u200b", "\ud800", "x" * 5000),
    *("=1+1", "<img src=x>", "\x1b[2J", [None] * 50, {"": None}, "12 D25", "D10@200"),
]


def places(value, path=()):
    """Every place inside a value of JSON."""
    yield path
    if isinstance(value, dict | list):
        for key, item in value.items() if isinstance(value, dict) else enumerate(value):
            yield from places(item, (*path, key))


PLACES = [path for path in places(DEMO) if path]


def altered(chance: random.Random) -> bytes:
    """The demo with something in it removed, doubled, put elsewhere or made odd."""
    data = json.loads(json.dumps(DEMO))
    for _ in range(chance.choice([1, 1, 1, 2, 4])):
        path = chance.choice(PLACES)
        holder = data
        try:
            for step in path[:-1]:
                holder = holder[step]
            deed = chance.randrange(4)
            if deed == 0:
                del holder[path[-1]]
            elif deed == 1:
                holder[path[-1]] = chance.choice(ODD)
            elif deed == 2 and isinstance(holder, list):
                holder.insert(0, holder[path[-1]])
            elif isinstance(holder, dict):
                holder[chance.choice(["", "name", "extra", str(path[-1]) + " "])] = 1
        except (KeyError, IndexError, TypeError):
            continue
    content = json.dumps(data).encode()
    match chance.randrange(8):
        case 0:
            at = chance.randrange(len(content))
            return content[:at]
        case 1:
            at = chance.randrange(len(content))
            return content[:at] + bytes([chance.randrange(256)]) + content[at + 1 :]
        case 2:
            # A key that stands twice.
            keys = list(re.finditer(rb'"(\w+)": ', content))
            at = chance.choice(keys)
            return content[: at.start()] + at[0] + b"0, " + content[at.start() :]
    return content


def feed(seed: int) -> str:
    """Read an altered file; tell whether it was refused. What is read is read back as written."""
    content = altered(random.Random(seed))
    try:
        project = parse_project(content, "file")
    except InputError as refusal:
        message = str(refusal)
        assert message.startswith("file")
        assert len(message) < 1500
        assert message.isprintable()
        return "refused"
    again = parse_project(project_text(project).encode(), "file")
    assert again == project
    # No value was taken for another: what is read says what the file said.
    kept, said = json.loads(project_text(project)), json.loads(content)
    assert same(kept, said)
    return "read"


def same(kept, said) -> bool:
    """Tell whether all that a file says is kept; what it leaves out has the documented default."""
    if isinstance(said, dict) and isinstance(kept, dict):
        return all(key in kept and same(kept[key], value) for key, value in said.items())
    if isinstance(said, list) and isinstance(kept, list):
        return len(said) == len(kept) and all(map(same, kept, said))
    return kept == said and isinstance(said, bool) == isinstance(kept, bool)


def test_altered_files_are_read_or_refused():
    outcomes = [feed(seed) for seed in range(SMALL)]
    assert outcomes.count("refused") > SMALL / 3
    assert outcomes.count("read") > SMALL / 50


@pytest.mark.long
def test_altered_files_are_read_or_refused_for_long():
    outcomes = [feed(seed) for seed in range(SMALL, SMALL + LONG)]
    assert {*outcomes} == {"refused", "read"}


@given(st.recursive(st.none() | st.booleans() | st.floats() | st.text(), st.lists, max_leaves=8))
@settings(max_examples=60)
def test_any_value_in_any_place_is_read_or_refused(value):
    for place in (("name",), ("basis", "values", "aggregate"), ("marks", 0, "lifts", 0, "bars")):
        data = json.loads(json.dumps(DEMO))
        holder = data
        for step in place[:-1]:
            holder = holder[step]
        holder[place[-1]] = value
        try:
            project = parse_project(json.dumps(data).encode(), "file")
        except InputError:
            continue
        assert isinstance(project, Project)


TYPED_DIMENSIONS = (
    *(Dimension.LENGTH, Dimension.AREA, Dimension.FORCE, Dimension.MOMENT, Dimension.STRESS),
    *(Dimension.STRAIN, Dimension.ANGLE, Dimension.RATIO),
)
TYPED = st.text(string.digits + " .,'+-−·*/^eE±mMkNinftPa°#dD@x×\u2009\u202f\"²", max_size=24)


def type_everywhere(text: str) -> None:
    """Every field takes a text for a finite number of its kind, or refuses it with the field."""
    for dimension in TYPED_DIMENSIONS:
        for system in UnitSystem:
            try:
                value = parse_quantity(text, dimension, system, "Field")
            except InputError as refusal:
                assert str(refusal).startswith("Field: found “")
                continue
            assert abs(value) < float("inf")
            # Only one run of digits, but for groups of three and one decimal mark; a power of ten,
            # inches behind feet and a fraction, which goes with lengths alone, have their own.
            more = len(re.findall(r"[.,]", text)) + len(re.findall(r"[a-z]\^?2", text))
            more += len(re.findall(r"[ '’\u2009\u202f\u00a0]\d{3}(?!\d)", text))
            more += len(re.findall(r"\d[eE][+−-]?\d", text))
            if dimension == Dimension.LENGTH:
                more += len(re.findall(r"(?:'|ft)[\s-]*\d", text))
                more += 2 * len(re.findall(r"\d/\d", text))
            assert len(re.findall(r"\d+", text)) <= 1 + more
    for parse in (parse_call_out, parse_ties):
        try:
            parse(text, "Field")
        except InputError as refusal:
            assert str(refusal).startswith("Field")


@given(TYPED)
@settings(max_examples=SMALL)
def test_anything_typed_is_read_as_one_quantity_or_refused(text):
    type_everywhere(text)


@pytest.mark.long
@given(TYPED)
@settings(max_examples=LONG)
def test_anything_typed_is_read_as_one_quantity_or_refused_for_long(text):
    type_everywhere(text)


def test_the_small_demo_of_these_tests_is_sound():
    assert len(check_project(parse_project(json.dumps(DEMO).encode(), "file"))) == 2
