"""Every provision of every code, run with numbers that know what they measure."""

from __future__ import annotations

import ast
import importlib
import pkgutil
import typing

import numpy as np
import pytest

import fexro.core.codes
from fexro.core.provisions import Coefficient, Equation, Provision
from fexro.core.provisions.provision import dimensions_of
from fexro.core.provisions.syntax import statements_of
from fexro.core.quantities import Dimension, UnitSystem, unit_of

SIZES = {
    Dimension.LENGTH: 431.0,
    Dimension.AREA: 1.3e5,
    Dimension.FORCE: 1.7e6,
    Dimension.MOMENT: 2.1e8,
    Dimension.STRESS: 63.0,
    Dimension.STRESS**0.5: 7.9,
    Dimension.STRAIN: 0.0021,
    Dimension.RATIO: 0.83,
    Dimension.SECOND_MOMENT: 2.9e9,
    Dimension.STIFFNESS: 4.1e13,
    Dimension.LENGTH**-1: 7.3e-6,
    Dimension.LENGTH**3: 5.3e7,
    Dimension.ANGLE: 0.41,
    Dimension.STRESS**-1: 1.3,
    Dimension.STRESS**-0.5: 1.7,
}


class MixedError(TypeError):
    """What is added or compared measures different things."""


class Dimensional:
    """A number in the units of a system, with its dimension; only what fits can be added."""

    def __init__(self, value, dimension, system):
        self.value, self.dimension, self.system = value, dimension, system

    @classmethod
    def of(cls, value, dimension, system):
        """A value in N and mm put into the units of a system."""
        if dimension is Dimension.ANGLE:
            return cls(value, Dimension.RATIO, system)
        return cls(value / unit_of(dimension, system, coherent=True).size, dimension, system)

    @property
    def internal(self):
        return self.value * unit_of(self.dimension, self.system, coherent=True).size

    def _like(self, other):
        """Another operand as a number of the same system."""
        if isinstance(other, Dimensional):
            return other
        if isinstance(other, Coefficient):
            return Dimensional.of(float(other), other.dimension, self.system)
        return Dimensional(float(other), Dimension.RATIO, self.system)

    def _alike(self, other):
        other = self._like(other)
        # Nothing measures whatever is asked.
        if other.value != 0 and powers(other.dimension) != powers(self.dimension):
            raise MixedError(f"{self.dimension} beside {other.dimension}")
        return other.value

    def _made(self, value, dimension=None):
        return Dimensional(value, dimension or self.dimension, self.system)

    def __add__(self, other):
        return self._made(self.value + self._alike(other))

    def __radd__(self, other):
        return self + other

    def __sub__(self, other):
        return self._made(self.value - self._alike(other))

    def __rsub__(self, other):
        return self._made(self._alike(other) - self.value)

    def __neg__(self):
        return self._made(-self.value)

    def __mul__(self, other):
        other = self._like(other)
        return self._made(self.value * other.value, self.dimension * other.dimension)

    def __rmul__(self, other):
        return self * other

    def __truediv__(self, other):
        other = self._like(other)
        return self._made(self.value / other.value, self.dimension / other.dimension)

    def __rtruediv__(self, other):
        return self._like(other) / self

    def __pow__(self, power):
        if isinstance(power, Dimensional):
            assert powers(power.dimension) == (0, 0)
            power = power.value
        return self._made(self.value**power, self.dimension**power)

    def __le__(self, other):
        return self.value <= self._alike(other)

    def __ge__(self, other):
        return self.value >= self._alike(other)

    __lt__, __gt__ = __le__, __ge__

    def __array_ufunc__(self, ufunc, method, *inputs):
        mine = next(i for i in inputs if isinstance(i, Dimensional))
        if ufunc is np.sqrt:
            return mine**0.5
        if ufunc in (np.sin, np.cos, np.tan, np.arcsin, np.log):
            assert powers(mine.dimension) == (0, 0)
            return mine._made(float(ufunc(mine.value)))
        assert ufunc in (np.maximum, np.minimum), ufunc
        return mine._made(float(ufunc(*(mine._alike(i) for i in inputs))))

    def __array_function__(self, function, types, args, kwargs):
        if function is np.clip:
            value, low, high = args
            return value._made(float(np.clip(value.value, value._alike(low), value._alike(high))))
        assert function is np.where, function
        condition, then, otherwise = args
        mine = next(i for i in (then, otherwise) if isinstance(i, Dimensional))
        return mine._made(mine._alike(then if condition else otherwise))


def powers(dimension):
    return dimension.force, dimension.length


def all_of(kind):
    found = {}
    package = fexro.core.codes
    for module in pkgutil.walk_packages(package.__path__, package.__name__ + "."):
        for name, value in vars(importlib.import_module(module.name)).items():
            if isinstance(value, kind):
                found[
                    f"{value.function.__module__.removeprefix(package.__name__ + '.')}.{name}"
                ] = value.function
    return found


FUNCTIONS = all_of(Provision | Equation)


def cases_of(function):
    """The names by which a provision chooses, one set of arguments for each."""
    keys = {
        keyword.arg
        for statement in statements_of(function)
        for node in ast.walk(statement.expression)
        if isinstance(node, ast.Call) and getattr(node.func, "id", "") == "select"
        for keyword in node.keywords
    }
    return sorted(keys) or [None]


def test_all_provisions_are_found():
    assert len(FUNCTIONS) > 35


@pytest.mark.parametrize("function", FUNCTIONS.values(), ids=FUNCTIONS)
def test_a_provision_measures_what_it_says_in_both_systems_of_units(function):
    dimensions = dict(dimensions_of(function))
    result = dimensions.pop("return")
    hints = typing.get_type_hints(function)
    for case in cases_of(function):
        found = []
        for system in UnitSystem:
            arguments = {
                # Arguments that measure alike are not equal.
                name: Dimensional.of(SIZES[dimension] * (1 + 0.07 * i), dimension, system)
                for i, (name, dimension) in enumerate(dimensions.items())
            }
            arguments |= {name: case for name, hint in hints.items() if hint is str}
            value = function(**arguments)
            if isinstance(value, Dimensional):
                assert powers(value.dimension) == powers(result)
                value = value.internal
            elif isinstance(value, Coefficient):
                assert powers(value.dimension) == powers(result)
            else:
                assert powers(result) == (0, 0)
            found.append(value)
        # What the formula gives is the same whatever the units it is worked in.
        assert found[0] == pytest.approx(found[1], rel=1e-12)


@pytest.mark.parametrize("function", FUNCTIONS.values(), ids=FUNCTIONS)
def test_what_is_printed_is_the_code_that_runs(function):
    # Compares the bytecode of the source with the function's own; refuses where they differ.
    assert statements_of(function)


def test_another_source_is_refused(monkeypatch):
    from fexro.core.codes.aci318_19 import strength
    from fexro.core.provisions import syntax

    name = strength.__name__
    changed = syntax.source_of(name).replace("beta_1 * c", "beta_1 + c")
    monkeypatch.setitem(syntax._taken, name, changed)
    syntax._functions.cache_clear()
    syntax.statements_of.cache_clear()
    with pytest.raises(LookupError, match="block_depth does not run what its source says"):
        statements_of(strength.block_depth.function)
    monkeypatch.undo()
    syntax._functions.cache_clear()
    syntax.statements_of.cache_clear()
    assert statements_of(strength.block_depth.function)


def test_a_wrong_sum_would_be_found():
    length = Dimensional(1.0, Dimension.LENGTH, UnitSystem.SI)
    with pytest.raises(MixedError):
        np.maximum(length, 20.0)
    with pytest.raises(MixedError):
        length + length * length
