"""Writing a derivation: plain text for terminals and tests, Typst for screens and paper."""

from __future__ import annotations

import ast
import re
from abc import ABC, abstractmethod
from collections.abc import Mapping

from fexro.core.provisions import Derivation, Formula, Given, Line, Note, Table, Term
from fexro.core.quantities import (
    MINUS,
    THIN_SPACE,
    Dimension,
    Unit,
    UnitSystem,
    format_number,
    format_quantity,
    format_significant,
    unit_of,
)

__all__ = ["plain_text", "typst_source"]

GREEK = {
    "alpha": "α",
    "beta": "β",
    "gamma": "γ",
    "delta": "δ",
    "epsilon": "ε",
    "eta": "η",
    "theta": "θ",
    "kappa": "κ",
    "lambda": "λ",
    "phi": "φ",
    "psi": "ψ",
    "rho": "ρ",
    "sigma": "σ",
    "omega": "ω",
    "Sigma": "Σ",
    "ell": "ℓ",
}
FIGURES_PUT_IN = 6
FIGURES_OF_RESULT = 5
DECIMALS_OF_ANGLE = 4  # of a degree: a hundredth of a millimetre across a section

_SUM, _PRODUCT, _UNARY, _POWER, _ATOM = range(5)
_COMPARISONS = {ast.Lt: "<", ast.LtE: "≤", ast.Gt: ">", ast.GtE: "≥"}


def plain_text(record: Derivation, system: UnitSystem) -> str:
    """Return the derivation as lines of plain text."""
    return "\n".join(_text_line(line, system) for line in record.lines)


def typst_source(record: Derivation, system: UnitSystem) -> str:
    """Return the derivation as Typst markup, without page settings."""
    return "\n\n".join(_typst_line(line, system) for line in record.lines)


def _number(term: Term, system: UnitSystem, figures: int) -> str:
    unit = unit_of(term.dimension, system, coherent=True)
    return format_significant(float(term.value) / unit.size, figures)


def _result(term: Term, system: UnitSystem) -> list[str]:
    """Write a result in the unit the formula gives and, where another is usual, in that too."""
    coherent = unit_of(term.dimension, system, coherent=True)
    shown = unit_of(term.dimension, system)
    if term.dimension is Dimension.ANGLE:
        return [f"{format_number(float(term.value) / shown.size, DECIMALS_OF_ANGLE)} °"]
    written = [f"{_number(term, system, FIGURES_OF_RESULT)} {coherent.symbol}".rstrip()]
    if shown.size != coherent.size:
        value = format_significant(float(term.value) / shown.size, FIGURES_OF_RESULT)
        written.append(f"{value} {shown.symbol}")
    return written


class _Renderer(ABC):
    """Walks an expression; names are written by `name`, operators by the notation."""

    def __init__(self, values: Mapping[str, str] | None) -> None:
        self.values = values

    def name(self, identifier: str) -> tuple[str, int]:
        if identifier == "pi":
            return self.pi, _ATOM
        if self.values is not None:
            text = self.values[identifier]
            # A negative number inside a formula needs its brackets, like a power of ten.
            return text, _PRODUCT if text.startswith(MINUS) or "·" in text else _ATOM
        return self.symbol(identifier), _ATOM

    def write(self, node: ast.expr) -> tuple[str, int]:
        match node:
            case ast.Constant(value=int() | float() as value):
                return format_significant(float(value), 12), _ATOM
            case ast.Name(id=identifier):
                return self.name(identifier)
            case ast.UnaryOp(op=ast.USub(), operand=operand):
                return f"{MINUS}{self.inside(operand, _PRODUCT)}", _UNARY
            case ast.BinOp(left=left, op=ast.Add(), right=right):
                return f"{self.inside(left, _SUM)} + {self.term(right)}", _SUM
            case ast.BinOp(left=left, op=ast.Sub(), right=right):
                return f"{self.inside(left, _SUM)} − {self.inside(right, _PRODUCT)}", _SUM
            case ast.BinOp(left=left, op=ast.Mult(), right=right):
                return self.product(left, right), _PRODUCT
            case ast.BinOp(left=left, op=ast.Div(), right=right):
                return self.quotient(left, right)
            case ast.BinOp(left=left, op=ast.Pow(), right=right):
                return self.power(left, right), _POWER
            case ast.Compare(left=left, ops=[op], comparators=[right]):
                sign = _COMPARISONS[type(op)]
                return f"{self.inside(left, _SUM)} {sign} {self.inside(right, _SUM)}", _SUM
            case ast.Tuple(elts=values):
                return f"[{', '.join(self.write(value)[0] for value in values)}]", _ATOM
            case ast.Call(func=ast.Name(id=function), args=args):
                return self.call(function, args)
        raise TypeError(f"{ast.unparse(node)} cannot be printed")

    def inside(self, node: ast.expr, least: int) -> str:
        """Write a part, in brackets where it binds less than needed."""
        text, binding = self.write(node)
        negative = least > _SUM and text.startswith(MINUS)
        return text if binding >= least and not negative else self.brackets(text)

    def term(self, node: ast.expr) -> str:
        """Write what is added: a sum needs no brackets, a negative number does."""
        text, _ = self.write(node)
        return self.brackets(text) if text.startswith(MINUS) else text

    def product(self, left: ast.expr, right: ast.expr) -> str:
        second = self.inside(right, _POWER)
        if isinstance(right, ast.BinOp) and isinstance(right.op, ast.Div):
            second = self.brackets(self.write(right)[0])
        return f"{self.inside(left, _PRODUCT)} {self.times} {second}"

    pi: str
    times: str

    @abstractmethod
    def symbol(self, identifier: str) -> str: ...
    @abstractmethod
    def brackets(self, text: str) -> str: ...
    @abstractmethod
    def quotient(self, left: ast.expr, right: ast.expr) -> tuple[str, int]: ...
    @abstractmethod
    def power(self, left: ast.expr, right: ast.expr) -> str: ...
    @abstractmethod
    def call(self, function: str, args: list[ast.expr]) -> tuple[str, int]: ...


class _Text(_Renderer):
    pi, times = "π", "·"

    def symbol(self, identifier: str) -> str:
        return text_symbol(identifier)

    def brackets(self, text: str) -> str:
        return f"({text})"

    def quotient(self, left: ast.expr, right: ast.expr) -> tuple[str, int]:
        return f"{self.inside(left, _PRODUCT)} / {self.inside(right, _POWER)}", _PRODUCT

    def power(self, left: ast.expr, right: ast.expr) -> str:
        base = self.inside(left, _ATOM)
        exponent = self.inside(right, _ATOM)
        return base + {"2": "²", "3": "³"}.get(exponent, f"^{exponent}")

    def call(self, function: str, args: list[ast.expr]) -> tuple[str, int]:
        parts = [self.write(arg)[0] for arg in args]
        match function:
            case "where":
                condition, then, otherwise = parts
                return f"({then} if {condition}, else {otherwise})", _ATOM
            case "sqrt":
                return f"√({parts[0]})", _ATOM
            case "interp":
                return f"interpolate({'; '.join(parts)})", _ATOM
            case "minimum" | "maximum":
                return f"{function[:3]}({'; '.join(parts)})", _ATOM
            case "clip":
                value, lower, upper = parts
                return f"min(max({value}; {lower}); {upper})", _ATOM
        raise TypeError(f"{function} cannot be printed")


class _Typst(_Renderer):
    pi, times = "pi", "dot.op"

    def symbol(self, identifier: str) -> str:
        return typst_symbol(identifier)

    def name(self, identifier: str) -> tuple[str, int]:
        text, binding = super().name(identifier)
        return (_typst_number(text), binding) if self.values is not None else (text, binding)

    def write(self, node: ast.expr) -> tuple[str, int]:
        text, binding = super().write(node)
        return (_typst_number(text), binding) if isinstance(node, ast.Constant) else (text, binding)

    def brackets(self, text: str) -> str:
        return f"({text})"

    def quotient(self, left: ast.expr, right: ast.expr) -> tuple[str, int]:
        return f"frac({self.write(left)[0]}, {self.write(right)[0]})", _ATOM

    def product(self, left: ast.expr, right: ast.expr) -> str:
        joint = " thin " if self.values is None else " dot.op "
        return f"{self.inside(left, _PRODUCT)}{joint}{self.inside(right, _POWER)}"

    def power(self, left: ast.expr, right: ast.expr) -> str:
        base = self.inside(left, _ATOM)
        if base.startswith("frac("):
            base = self.brackets(base)
        return f"{base}^({self.write(right)[0]})"

    def call(self, function: str, args: list[ast.expr]) -> tuple[str, int]:
        parts = [self.write(arg)[0] for arg in args]
        match function:
            case "where":
                condition, then, otherwise = parts
                return f'cases({then} & " if " {condition}, {otherwise} & " otherwise")', _ATOM
            case "sqrt":
                return f"sqrt({parts[0]})", _ATOM
            case "interp":
                return f'"interpolate"({", ".join(parts)})', _ATOM
            case "minimum" | "maximum":
                return f"{function[:3]}({', '.join(parts)})", _ATOM
            case "clip":
                value, lower, upper = parts
                return f"min(max({value}, {lower}), {upper})", _ATOM
        raise TypeError(f"{function} cannot be printed")


def text_symbol(identifier: str) -> str:
    """Write `f_c_prime` as f'c, `epsilon_ty` as ε_ty."""
    base, prime, subscript = _symbol_parts(identifier)
    return f"{base}{prime}_{subscript}" if subscript else base + prime


def typst_symbol(identifier: str) -> str:
    """Write `f_c_prime` as Typst mathematics."""
    letter, prime, subscript = _symbol_parts(identifier)
    base = letter if len(letter) == 1 else f'"{letter}"'
    return f'{base}{prime}_"{subscript}"' if subscript else f"{base}{prime}"


def _symbol_parts(identifier: str) -> tuple[str, str, str]:
    """Split an identifier into its letter, a prime and its subscript."""
    head, *tail = identifier.split("_")
    summed = "Σ" if "sum" in tail else ""
    prime = "'" if "prime" in tail else ""
    subscript = ",".join(GREEK.get(part, part) for part in tail if part not in ("prime", "sum"))
    return summed + GREEK.get(head, head), prime, subscript


def _typst_number(text: str) -> str:
    """Write a formatted number for Typst: thin spaces and powers of ten."""
    text = re.sub(
        r"·10([⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)",
        lambda m: (
            " dot.op 10^(" + m[1].translate(str.maketrans("⁻⁰¹²³⁴⁵⁶⁷⁸⁹", "-0123456789")) + ")"
        ),
        text,
    )
    return text.replace(THIN_SPACE, " thin ")


def _note(line: Note, system: UnitSystem) -> str:
    shown = {
        name: format_quantity(float(term.value), term.dimension, system)
        for name, term in line.terms.items()
    }
    return line.text.format(**shown) if shown else line.text


def _text_line(line: Line, system: UnitSystem) -> str:
    match line:
        case Note():
            return _note(line, system)
        case Given(symbol=symbol, value=value, source=source):
            results = " = ".join(_result(value, system)).replace(" °", "°")
            return f"{text_symbol(symbol)} = {results}   ({source})"
        case Table():
            return _text_table(line, system)
        case Formula():
            values = {n: _number(t, system, FIGURES_PUT_IN) for n, t in line.terms.items()}
            parts = [
                text_symbol(line.symbol),
                _Text(None).write(line.expression)[0],
                _Text(values).write(line.expression)[0],
                *_result(line.result, system),
            ]
            return f"{' = '.join(parts)}   [{line.clause}]"


def _typst_line(line: Line, system: UnitSystem) -> str:
    match line:
        case Note():
            return _escape(_note(line, system))
        case Given(symbol=symbol, value=value, source=source):
            equation = f"${typst_symbol(symbol)} = {_typst_results(value, system)}$"
            return f"{equation} #h(1em) #source[{_escape(source)}]"
        case Table():
            return _typst_table(line, system)
        case Formula():
            values = {n: _number(t, system, FIGURES_PUT_IN) for n, t in line.terms.items()}
            symbols = _Typst(None).write(line.expression)[0]
            numbers = _Typst(values).write(line.expression)[0]
            return (
                f"#line-of([{_escape(line.clause)}])[$ {typst_symbol(line.symbol)} = {symbols} $]"
                f"[$ = {numbers} $][$ = {_typst_results(line.result, system)} $]"
            )


def _typst_results(term: Term, system: UnitSystem) -> str:
    return " = ".join(
        f'{_typst_number(number)} "{unit}"' if unit else _typst_number(number)
        for number, _, unit in (text.partition(" ") for text in _result(term, system))
    )


def _escape(text: str) -> str:
    return re.sub(r"([\\#$*_`<>@\[\]~=])", r"\\\1", text)


# Decimals of a table's cells beyond those of other tables: enough to do its sums again.
_FINER = {
    Dimension.FORCE: 1,
    Dimension.LENGTH: 1,
    Dimension.AREA: 1,
}
PER_MILLE = Unit("‰", 1e-3, 4)


def _cells(table: Table, system: UnitSystem) -> tuple[list[str], list[list[str]]]:
    """Return the headings (symbol and unit) and the rows of a table, as text."""
    heads, decimals, sizes = [], [], []
    for symbol, dimension in table.columns:
        unit = None if dimension is None else unit_of(dimension, system)
        if dimension is Dimension.STRAIN:
            unit = PER_MILLE
        suffix = f" ({unit.symbol})" if unit and unit.symbol else ""
        heads.append(text_symbol(symbol) + suffix)
        extra = 0 if dimension is None else _FINER.get(dimension, 0)
        decimals.append(unit.decimals + extra if unit else 0)
        sizes.append(unit.size if unit else 1.0)
    rows = [
        [
            value if isinstance(value, str) else format_number(float(value) / size, places)
            for value, size, places in zip(row, sizes, decimals, strict=True)
        ]
        for row in table.rows
    ]
    return heads, rows


def _text_table(table: Table, system: UnitSystem) -> str:
    heads, rows = _cells(table, system)
    widths = [max(map(len, column)) for column in zip(heads, *rows, strict=True)]
    lines = [
        "  ".join(cell.rjust(w) for cell, w in zip(row, widths, strict=True))
        for row in [heads, *rows]
    ]
    return "\n".join([f"{table.title}:", *(f"  {line}" for line in lines)])


def _typst_table(table: Table, system: UnitSystem) -> str:
    heads, rows = _cells(table, system)
    for i, (symbol, dimension) in enumerate(table.columns):
        if dimension is not None:
            heads[i] = heads[i].replace(text_symbol(symbol), f"${typst_symbol(symbol)}$")
    cells = ", ".join(
        [f"[{head}]" for head in heads] + [f"[{_escape(cell)}]" for row in rows for cell in row]
    )
    return f"{_escape(table.title)}:\n#values({len(heads)}, {cells})"
