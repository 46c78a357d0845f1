"""Unforeseen errors, written to a log that can be sent to whoever mends them."""

from __future__ import annotations

import logging
from pathlib import Path

from platformdirs import user_log_path

__all__ = ["log_failure"]


def log_failure(error: BaseException) -> str:
    """Write an unforeseen error to the log; return a sentence that says where, or that it is not.

    Nothing else depends on the log: where it cannot be written, the sentence says so.
    """
    logger = logging.getLogger("fexro")
    try:
        path = _open_log(logger)
    except OSError as refused:
        reason = refused.strerror or str(refused)
        return f"Details could not be kept ({reason}): {type(error).__name__}: {error}."
    logger.error("unforeseen error", exc_info=error)
    return f"Details are in {path}."


def _open_log(logger: logging.Logger) -> Path:
    path = user_log_path("fexro", ensure_exists=True) / "fexro.log"
    if not any(isinstance(h, logging.FileHandler) for h in logger.handlers):
        handler = logging.FileHandler(path, encoding="utf-8")
        handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
        logger.addHandler(handler)
        logger.propagate = False
    return path
