"""Combinations as the trade writes them: `1.2 D + 1.6 L - 0.5 (Wx + Wy)`.

expression: [sign] term { sign term }          sign: + - −
term:       [number [* × ·]] ( name | "(" expression ")" )
"""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Literal

from fexro.core.errors import InputError
from fexro.core.quantities import MINUS

__all__ = ["ExpressionError", "factors_of", "written"]

Kind = Literal[
    "empty",
    "missing case",
    "missing operator",
    "unknown case",
    "bad number",
    "unbalanced parenthesis",
    "unexpected character",
]
_TOKEN = re.compile(
    r"\s*(?:(?P<number>[\d.,]*\d[\d.,]*)|(?P<name>[^\W\d][\w']*)|(?P<mark>[-+*×·()−])|(?P<odd>\S))"
)
_NUMBER = re.compile(r"\d+([.,]\d*)?|[.,]\d+")
_DEEPEST = 50


class ExpressionError(InputError):
    """An expression that is not understood.

    Attributes:
        kind: what is wrong.
        place: the place of the first character that is not understood, from 0.
    """

    def __init__(self, kind: Kind, at: int, text: str, allowed: str) -> None:
        self.kind: Kind = kind
        self.place = at
        rest = text[at : at + 20]
        found = f"{kind} at “{rest}” (character {at + 1})" if rest else f"{kind} at the end"
        super().__init__("expression", found, allowed)


@dataclass(frozen=True)
class _Token:
    kind: str  # number, name, an operator, a parenthesis, or "end"
    text: str
    at: int


def factors_of(text: str, names: Collection[str]) -> dict[str, float]:
    """Return the factors by load case that an expression means; repeated cases add up.

    Args:
        text: the expression; decimal point or comma.
        names: of the load cases. Those that no expression could hold may stand between quotes.

    Raises:
        ExpressionError: where it is not understood; says what would be.
    """
    reader = _Reader(text, names)
    if reader.peek.kind == "end":
        raise ExpressionError("empty", 0, text, _known(names))
    factors = reader.sum(0)
    if reader.peek.kind == ")":
        raise reader.refuse("unbalanced parenthesis", reader.peek, "a parenthesis that is opened")
    if reader.peek.kind != "end":
        raise reader.refuse("missing operator", reader.peek, "+ or − between two cases")
    return {name: value for name, value in factors.items() if abs(value) > 1e-12}


def written(factors: Mapping[str, float]) -> str:
    """Return factors as an expression."""
    parts = []
    for name, factor in factors.items():
        sign = MINUS if factor < 0 else "+"
        shown = f"{abs(factor):.6g}"
        number = f"{shown}.0" if shown.isdigit() else shown
        parts.append(f"{sign} {number} {_quoted(name)}")
    text = " ".join(parts)
    return text.removeprefix("+ ")


def _quoted(name: str) -> str:
    return name if re.fullmatch(r"[^\W\d][\w']*", name) else f"“{name}”"


def _known(names: Collection[str]) -> str:
    if not names:
        return "load cases; there is none yet"
    shown = list(names)[:12]
    return f"cases such as {', '.join(shown)}"


class _Reader:
    """Reads an expression from left to right."""

    def __init__(self, text: str, names: Collection[str]) -> None:
        self._text, self._names = text, names
        self._tokens = self._split()
        self._next = 0

    @property
    def peek(self) -> _Token:
        return self._tokens[self._next]

    def refuse(self, kind: Kind, token: _Token, allowed: str) -> ExpressionError:
        return ExpressionError(kind, token.at, self._text, allowed)

    def sum(self, depth: int) -> dict[str, float]:
        """Read terms with their signs."""
        if depth > _DEEPEST:
            raise self.refuse("unbalanced parenthesis", self.peek, "fewer parentheses")
        total: dict[str, float] = {}
        sign = self._sign() or 1.0
        while True:
            for name, factor in self._term(depth).items():
                total[name] = total.get(name, 0.0) + sign * factor
            found = self._sign()
            if found is None:
                return total
            sign = found

    def _sign(self) -> float | None:
        if self.peek.kind not in ("+", "-", MINUS):
            return None
        return 1.0 if self._take().kind == "+" else -1.0

    def _term(self, depth: int) -> dict[str, float]:
        factor, number = 1.0, None
        if self.peek.kind == "number":
            number = self._take()
            factor = self._number(number)
            if self.peek.kind in ("*", "×", "·"):
                self._take()
            elif self.peek.kind == "number":
                raise self.refuse("missing operator", self.peek, "a case after a factor")
        token = self.peek
        if token.kind == "name":
            self._take()
            if token.text not in self._names:
                raise self.refuse("unknown case", token, _known(self._names))
            return {token.text: factor}
        if token.kind == "(":
            self._take()
            inner = self.sum(depth + 1)
            if self.peek.kind != ")":
                if self.peek.kind in ("end", "+", "-", MINUS):
                    raise self.refuse("unbalanced parenthesis", token, "a closing parenthesis")
                raise self.refuse("missing operator", self.peek, "+ or − between two cases")
            self._take()
            return {name: factor * value for name, value in inner.items()}
        if number is not None and token.kind != "end":
            raise self.refuse("missing case", number, "a case after each factor")
        allowed = _known(self._names)
        # At the end the sign before it is pointed at.
        place = self._tokens[self._next - 1] if token.kind == "end" and self._next else token
        raise self.refuse("missing case", place, allowed)

    def _take(self) -> _Token:
        token = self.peek
        self._next += 1
        return token

    def _number(self, token: _Token) -> float:
        if not _NUMBER.fullmatch(token.text):
            raise self.refuse("bad number", token, "a number such as 1.2, 1,35 or .3")
        return float(token.text.replace(",", "."))

    def _split(self) -> list[_Token]:
        tokens, at, text = [], 0, self._text
        end = len(text.rstrip())
        while at < end:
            quoted = re.compile(r"\s*[“\"]([^“”\"]+)[”\"]").match(text, at)
            if quoted:
                tokens.append(_Token("name", quoted[1], quoted.start(1) - 1))
                at = quoted.end()
                continue
            match = _TOKEN.match(text, at)
            assert match is not None
            kind = match.lastgroup or ""
            token = _Token(match[kind] if kind == "mark" else kind, match[kind], match.start(kind))
            if kind == "odd":
                allowed = "cases, factors, + − * and parentheses"
                raise self.refuse("unexpected character", token, allowed)
            tokens.append(token)
            at = match.end()
        return [*tokens, _Token("end", "", len(text))]
