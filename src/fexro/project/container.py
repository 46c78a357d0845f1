"""The container file: a zip of `project.json` and the arrays of its forces."""

from __future__ import annotations

import io
import math
import struct
import zipfile
import zlib
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.project.json_text import json_text, parse_json
from fexro.project.project import FORCES

__all__ = ["MAGIC", "Contents", "pack", "unpack"]

MAGIC = b"PK\x03\x04"
DOCUMENT = "project.json"
ARRAYS = {name: f"{name}.npy" for name in FORCES}
LARGEST = 1024**3  # of all that is unpacked
DENSEST, SMALL = 500, 1024**2  # how much more an entry may be than it is packed; bytes beside that
# The same content gives the same file.
_EPOCH = (1980, 1, 1, 0, 0, 0)


@dataclass(frozen=True)
class Contents:
    """What is in a container.

    Attributes:
        document: the JSON document, which says what the rows and columns of the arrays are.
        arrays: by name.
    """

    document: Any
    arrays: Mapping[str, FloatArray]


def pack(contents: Contents) -> bytes:
    """Return the bytes of a container; numbers are stored as they are, text is compressed."""
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w") as file:
        text = json_text(contents.document).encode()
        file.writestr(_entry(DOCUMENT), text, zipfile.ZIP_DEFLATED, 6)
        for name, array in contents.arrays.items():
            with file.open(_entry(ARRAYS[name]), "w", force_zip64=True) as entry:
                np.lib.format.write_array(entry, np.ascontiguousarray(array), (1, 0), False)
    return stream.getvalue()


def _entry(name: str) -> zipfile.ZipInfo:
    return zipfile.ZipInfo(name, _EPOCH)


def unpack(content: bytes, name: str) -> Contents:
    """Return what is in a container.

    Args:
        content: its bytes.
        name: of the file, for the refusal.

    Raises:
        InputError: if it is damaged, too large, or holds something else.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as file:
            present = [info.filename for info in file.infolist()]
            allowed = [DOCUMENT, *ARRAYS.values()]
            for found in present:
                if found not in allowed or present.count(found) > 1:
                    raise InputError(name, f"“{found}” in it", f"{', '.join(allowed)}, each once")
            if DOCUMENT not in present:
                raise InputError(name, f"no {DOCUMENT} in it", "a Fexro project")
            if sum(info.file_size for info in file.infolist()) > LARGEST:
                found = f"more than {LARGEST // 1024**2} MB in it"
                raise InputError(name, found, f"at most {LARGEST // 1024**2} MB")
            for info in file.infolist():
                _refuse_bomb(info, name)
            document = parse_json(file.read(DOCUMENT), f"{name}, {DOCUMENT}")
            arrays = {
                key: _read_array(file, entry, name)
                for key, entry in ARRAYS.items()
                if entry in present
            }
    except InputError:
        raise
    # Bytes that are damaged can fail wherever they are read, and in any of these ways.
    except (
        *(zipfile.BadZipFile, zlib.error, EOFError, OSError, ArithmeticError, LookupError),
        *(NotImplementedError, RuntimeError, ValueError, MemoryError, TypeError, struct.error),
    ) as error:
        raise InputError(name, f"a damaged container ({error})", "a Fexro project") from None
    return Contents(document, arrays)


def _refuse_bomb(info: zipfile.ZipInfo, name: str) -> None:
    """Refuse what is packed in another way than a project is, or unpacks to far more than it is.

    Raises:
        InputError: naming the entry.
    """
    where = f"{name}, {info.filename}"
    if info.compress_type not in (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED):
        raise InputError(where, f"compression {info.compress_type}", "stored or deflated")
    if info.file_size > DENSEST * info.compress_size + SMALL:
        found = f"{info.compress_size} bytes that unpack to {info.file_size}"
        raise InputError(where, found, f"at most {DENSEST} times as many")


def _read_array(file: zipfile.ZipFile, entry: str, name: str) -> FloatArray:
    where = f"{name}, {entry}"
    stream = io.BytesIO(file.read(entry))
    try:
        version = np.lib.format.read_magic(stream)
        if version != (1, 0):
            raise InputError(where, f"an array of version {version}", "version (1, 0)")
        shape, _, kind = np.lib.format.read_array_header_1_0(stream)
        held = len(stream.getbuffer()) - stream.tell()
        if math.prod(shape) * kind.itemsize != held:
            found = f"no array ({held} bytes for a shape of {shape})"
            raise InputError(where, found, "an array of numbers")
        stream.seek(0)
        array: FloatArray = np.lib.format.read_array(stream, allow_pickle=False)
    except InputError:
        raise
    except (ValueError, EOFError, TypeError, LookupError, SyntaxError) as error:
        raise InputError(where, f"no array ({error})", "an array of numbers") from None
    if array.dtype != np.float64:
        raise InputError(where, f"numbers of type {array.dtype}", "float64")
    return array
