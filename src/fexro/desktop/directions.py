"""What is assumed of a direction of the building, in the words of the project's code."""

from __future__ import annotations

from fexro.project.project import Project

__all__ = ["AGES", "LAPS", "direction_words"]

# How many of the bars are lapped at one level.
LAPS = {"one level": "all at one level", "half": "half at a level", "none": "none, coupled"}
# Whether a column is to be built or stands already.
AGES = {"new": "to be built", "existing": "stands already"}


def direction_words(project: Project) -> dict[str, dict[str, str]]:
    """Return the choices of frame, ductility and sway: for each its keys and how they are read."""
    words = project.basis.design_code.vocabulary
    return {
        "frame": {"moment frame": "moment frame", "walls": "walls", "dual": "frame and walls"},
        "ductility": dict(zip(("low", "medium", "high"), words.ductility, strict=True)),
        "sway": {"by rule": "by the code", "braced": words.braced, "sway": words.sway},
    }
