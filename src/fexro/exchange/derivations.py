"""Derivations of a project's checks as text, Typst and JSON."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from typing import Any

from fexro.core.errors import InputError
from fexro.core.findings import Finding
from fexro.core.members.lift import LiftResult
from fexro.core.members.verdict import detail_of, verdict_of
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.data import derivation_data
from fexro.core.rendering.text import plain_text
from fexro.core.rendering.typst import typst_source
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["derivations_json", "derivations_text", "derivations_typst"]

Results = Mapping[LiftKey, LiftResult]

# What the lines of a derivation call for, on a plain page.
_PAGE = """#set page(margin: 20mm, numbering: "1")
#set text(size: 9pt)
#show math.equation.where(block: true): set align(left)
#let source(body) = text(size: 8pt, fill: luma(90), body)
#let line-of(clause, symbols, numbers, result) = block(breakable: false)[
  #symbols #numbers #result #place(bottom + right, source(clause))
]
#let values(columns, ..cells) = text(size: 7pt, table(columns: columns, align: right, ..cells))
"""


def derivations_text(project: Project, results: Results, check: str | None = None) -> str:
    """Return the derivations of all checks, or of those with a name, as plain text.

    Raises:
        InputError: if no check has that name.
    """
    system, lines = project.basis.system, [f"{project.name}, {project.basis.design_code.name}"]
    for key, result, findings in _chosen(results, check):
        lines += ["", f"{key}: {verdict_of(result, system)}"]
        for finding in findings:
            lines += ["", _heading(finding, system), plain_text(finding.derive(), system)]
    return "\n".join(lines) + "\n"


def derivations_typst(project: Project, results: Results, check: str | None = None) -> str:
    """Return the same as a Typst document.

    Raises:
        InputError: if no check has that name.
    """
    system = project.basis.system
    parts = [_PAGE, f"= #{_quoted(f'{project.name}, {project.basis.design_code.name}')}"]
    for key, result, findings in _chosen(results, check):
        parts += [f"== #{_quoted(str(key))}", f"#{_quoted(verdict_of(result, system))}"]
        for finding in findings:
            parts += [f"=== #{_quoted(_heading(finding, system))}"]
            parts += [typst_source(finding.derive(), system)]
    return "\n\n".join(parts) + "\n"


def derivations_json(project: Project, results: Results, check: str | None = None) -> str:
    """Return the same as JSON, every line with its values.

    Raises:
        InputError: if no check has that name.
    """
    system = project.basis.system
    document = {
        "format": "fexro derivations",
        "version": 1,
        "project": project.name,
        "revision": project.revision,
        "code": project.basis.design_code.name,
        "lifts": [
            {
                "mark": key.mark,
                "level": key.storey,
                "verdict": verdict_of(result, system),
                "checks": [_check(finding, system) for finding in findings],
            }
            for key, result, findings in _chosen(results, check)
        ],
    }
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def _check(finding: Finding, system: UnitSystem) -> dict[str, Any]:
    return {
        "check": finding.name,
        "clause": finding.clause,
        "state": finding.state.word,
        "detail": detail_of(finding, system),
        "lines": derivation_data(finding.derive(), system),
    }


def _chosen(
    results: Results, check: str | None
) -> Iterator[tuple[LiftKey, LiftResult, list[Finding]]]:
    """Yield lifts with the findings that are asked for."""
    names = dict.fromkeys(f.name for result in results.values() for f in result.shown_findings)
    if check is not None and check.lower() not in map(str.lower, names):
        raise InputError("--check", f"“{check}”", f"one of {', '.join(names)}")
    for key, result in results.items():
        findings = [
            finding
            for finding in result.shown_findings
            if check is None or finding.name.lower() == check.lower()
        ]
        if findings:
            yield key, result, findings


def _heading(finding: Finding, system: UnitSystem) -> str:
    parts = (finding.name, finding.clause, detail_of(finding, system))
    return " · ".join(part for part in parts if part)


def _quoted(text: str) -> str:
    return json.dumps(text, ensure_ascii=False)
