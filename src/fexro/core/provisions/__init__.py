"""Provisions: formulas of a design code as functions, and the derivation their calls leave.

A provision is a small pure function with its clause and symbol. Called, it computes. Called with
`into` and a derivation, it also leaves a record there: the function's own syntax tree, the values
put in, the result. Renderers turn the record into the printed line, so that what is read is what
ran; what anything else computes meanwhile leaves nothing.
"""

from fexro.core.provisions.coefficient import Coefficient
from fexro.core.provisions.derivation import (
    Derivation,
    Formula,
    Given,
    Line,
    Note,
    Reading,
    Root,
    Table,
    Term,
)
from fexro.core.provisions.equation import Equation, equation
from fexro.core.provisions.joining import join
from fexro.core.provisions.lookup import LookupTable
from fexro.core.provisions.provision import Case, Provision, provision, select

__all__ = [
    "Case",
    "Coefficient",
    "Derivation",
    "Equation",
    "Formula",
    "Given",
    "Line",
    "LookupTable",
    "Note",
    "Provision",
    "Reading",
    "Root",
    "Table",
    "Term",
    "equation",
    "join",
    "provision",
    "select",
]
