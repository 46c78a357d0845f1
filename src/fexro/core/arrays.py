"""The array types that all of the core shares."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

__all__ = ["BoolArray", "FloatArray", "IntArray"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.intp]
BoolArray = npt.NDArray[np.bool_]
