"""Containers that are damaged, or made to harm: refused with a sentence and in little memory."""

from __future__ import annotations

import io
import random
import resource
import struct
import zipfile

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.project.file import parse_project, project_bytes
from tests.projects import factored_demo

COUNT = 2000


@pytest.fixture(scope="module")
def sound():
    demo = factored_demo()
    few = demo.changed(
        marks=demo.marks[:2], beams=(), groups=(), factored_forces=type(demo.factored_forces)()
    )
    return project_bytes(few)


def altered(content, chance):
    data = bytearray(content)
    match chance.randrange(5):
        case 0:
            for _ in range(chance.randint(1, 8)):
                data[chance.randrange(4, len(data))] = chance.randrange(256)
        case 1:
            del data[chance.randrange(4, len(data)) :]
        case 2:
            at = chance.randrange(4, len(data))
            del data[at : at + chance.randint(1, 64)]
        case 3:
            # The directory at the end, where sizes and places are told.
            at = chance.randrange(max(len(data) - 400, 4), len(data) - 4)
            data[at : at + 4] = struct.pack("<I", chance.choice([0, 1, 2**31, 2**32 - 1]))
        case _:
            at = chance.randrange(4, 64)
            data[at] ^= 1 << chance.randrange(8)
    return bytes(data)


def test_altered_containers_are_read_or_refused_in_little_memory(sound):
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    refused = 0
    for seed in range(COUNT):
        try:
            parse_project(altered(sound, random.Random(seed)), "file")
        except InputError as error:
            assert str(error).startswith("file")
            refused += 1
    assert refused > COUNT / 2
    grown = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before
    assert grown < 200 * 1024  # kB


def container(entries, how=zipfile.ZIP_DEFLATED):
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", how) as file:
        for name, content in entries.items():
            file.writestr(name, content)
    return stream.getvalue()


def header(shape, kind="<f8"):
    text = f"{{'descr': '{kind}', 'fortran_order': False, 'shape': {shape}, }}".ljust(117) + "\n"
    return b"\x93NUMPY\x01\x00" + struct.pack("<H", len(text)) + text.encode()


@pytest.mark.parametrize(
    ("entries", "how", "words"),
    [
        ({"project.json": b" " * 30_000_000}, zipfile.ZIP_DEFLATED, "unpack"),
        ({"project.json": b"{}"}, zipfile.ZIP_LZMA, "compression"),
        ({"project.json": b"{}"}, zipfile.ZIP_BZIP2, "compression"),
        ({"project.json": b"{}", "../other": b""}, zipfile.ZIP_STORED, "other"),
        ({"project.json": b"{}", "nested.zip": container({})}, zipfile.ZIP_STORED, "nested"),
        (
            {"project.json": b"{}", "case_forces.npy": header("(10000000, 2, 500, 6)")},
            zipfile.ZIP_STORED,
            "bytes for a shape",
        ),
        (
            {"project.json": b"{}", "case_forces.npy": header("(1,)", "|O") + b"\0" * 8},
            zipfile.ZIP_STORED,
            "no array",
        ),
        ({"project.json": b"{}", "case_forces.npy": b"\x93NUMPY\x07\x00"}, 0, "case_forces"),
    ],
)
def test_what_is_made_to_harm_is_refused_with_a_sentence(entries, how, words):
    with pytest.raises(InputError, match=words):
        parse_project(container(entries, how), "file")


def test_a_sound_container_is_still_read(sound):
    project = parse_project(sound, "file")
    assert [mark.name for mark in project.marks] == [m.name for m in factored_demo().marks[:2]]
    assert np.isfinite(project.basis.values.cover)
