"""Methods by name: every rule that can be asked for on its own, with its arguments, units, ranges,
source and an example.

A function of the core joins by the decorator `method`. `compute` calls one by name with checked
arguments; the command line,
The derivation and the generated method pages read the same registry.
"""

import datetime as dt
import functools
import importlib
import inspect
import math
import pkgutil
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, TypeVar

import husbandry
from husbandry.derivation import Derivation, Source, named_text, named_value
from husbandry.errors import (
    HusbandryError,
    ImpossibleStateError,
    OutOfRangeError,
    UnknownNameError,
)

F = TypeVar("F", bound=Callable[..., Any])


@dataclass(frozen=True)
class Argument:
    """One argument of a method: its unit and the range in which the method holds; or the words it
    may be.
    """

    unit: str
    low: float = -math.inf
    high: float = math.inf
    choices: tuple[str, ...] = ()


@dataclass(frozen=True)
class Example:
    """A worked example that runs as a test. `source` says where the expected value comes from."""

    arguments: Mapping[str, float | str]
    result: float
    rel: float
    source: str


@dataclass(frozen=True)
class Method:
    """A named rule of the core."""

    name: str
    function: Callable[..., Any]
    arguments: Mapping[str, Argument]
    unit: str
    rule: str
    source: Source
    example: Example
    defaults: Mapping[str, float | str]
    validity: str

    def command(self, given: Mapping[str, float | str]) -> str:
        """The command line that gives the same number."""
        words = " ".join(
            f"{name}={value if isinstance(value, str) else format(value, '.10g')}"
            for name, value in given.items()
        )
        return f"compute {self.name} {words}"


_REGISTRY: dict[str, Method] = {}


def method(
    *,
    arguments: Mapping[str, Argument],
    unit: str,
    rule: str,
    source: Source,
    example: Example,
    validity: str = "Inside the ranges of its arguments.",
) -> Callable[[F], F]:
    """Register a function under its own name.

    It stays an ordinary function for the rest of the core.
    """

    def register(function: F) -> F:
        parameters = inspect.signature(function).parameters
        if list(parameters) != list(arguments):
            raise TypeError(
                f"{function.__name__}: the declared arguments are not those of the function"
            )
        defaults = {
            name: p.default
            for name, p in parameters.items()
            if p.default is not inspect.Parameter.empty
        }
        _REGISTRY[function.__name__] = Method(
            function.__name__, function, arguments, unit, rule, source, example, defaults, validity
        )
        return function

    return register


def all_methods() -> dict[str, Method]:
    """Find every method of the core by name, in alphabetical order.

    The whole package is walked: a module that has a method cannot be forgotten.
    """
    _import_all()
    return dict(sorted(_REGISTRY.items()))


@functools.cache
def _import_all() -> None:
    """Import every module of the core, so that its methods join."""
    for module in pkgutil.walk_packages(husbandry.__path__, "husbandry."):
        if not module.name.endswith("__main__"):
            importlib.import_module(module.name)


def find(name: str) -> Method:
    """The method of that name.

    Raises
    ------
    UnknownNameError
    """
    methods = all_methods()
    if name not in methods:
        raise UnknownNameError(
            f"There is no method “{name}”; `python -m husbandry methods` lists them."
        )
    return methods[name]


def check(entry: Method, given: Mapping[str, float | str]) -> dict[str, float | str]:
    """The arguments of a call, complete with defaults and inside their ranges, in the declared
    order.

    Raises
    ------
    HusbandryError
        An argument is unknown, missing or not a number.
    OutOfRangeError
        A number lies outside the method's range.
    """
    unknown = sorted(set(given) - set(entry.arguments))
    if unknown:
        raise HusbandryError(
            f"{entry.name} does not take {', '.join(unknown)}; it takes"
            f" {', '.join(entry.arguments)}"
        )
    complete: dict[str, float | str] = {}
    for name, argument in entry.arguments.items():
        if name not in given and name not in entry.defaults:
            raise HusbandryError(
                f"{entry.name} needs {name}{f' [{argument.unit}]' if argument.unit else ''}"
            )
        value = given.get(name, entry.defaults.get(name))
        if value is None:
            raise ImpossibleStateError("missing: value")
        if argument.choices:
            if value not in argument.choices:
                raise HusbandryError(
                    f"{name} must be one of {', '.join(argument.choices)}, not “{value}”"
                )
            complete[name] = value
            continue
        if argument.unit.startswith("date"):
            try:
                complete[name] = dt.date.fromisoformat(str(value)).isoformat()
            except ValueError:
                raise HusbandryError(
                    f"{name} must be a date such as 2026-06-21, not “{value}”"
                ) from None
            continue
        try:
            number = float(value)
        except ValueError:
            raise HusbandryError(
                f"{name} must be a number in {argument.unit or '1'}, not “{value}”"
            ) from None
        if not argument.low <= number <= argument.high or math.isnan(number):
            raise OutOfRangeError(name, number, argument.unit, argument.low, argument.high)
        complete[name] = number
    return complete


def compute(name: str, given: Mapping[str, float | str]) -> Derivation:
    """Call a method by name and return its number with the derivation.

    >>> round(compute("saturation_vapour_pressure", {"temp_c": 25}).value, 1)
    3168.5
    """
    entry = find(name)
    arguments = check(entry, given)
    return derivation_of(entry, arguments, float(entry.function(**arguments)))


def derivation_of(entry: Method, arguments: Mapping[str, float | str], value: float) -> Derivation:
    """The `Derivation` of a method's result."""
    inputs = tuple(
        (
            named_text(key, item)
            if isinstance(item, str)
            else named_value(key, item, entry.arguments[key].unit)
        )
        for key, item in arguments.items()
    )
    return Derivation(
        value=value,
        unit=entry.unit,
        rule=entry.rule,
        method=entry.name,
        inputs=inputs,
        sources=(entry.source,),
        command=entry.command(arguments),
    )


def page(entry: Method) -> str:
    """A method as a page of Markdown: what it takes, what it gives, where it holds, whose word it
    is, and a worked example.
    """
    rows = []
    for name, argument in entry.arguments.items():
        span = (
            " or ".join(argument.choices)
            if argument.choices
            else f"{_end(argument.low)} to {_end(argument.high)}"
        )
        if argument.unit.startswith("date"):
            span = "any day"
        default = f"{entry.defaults[name]}" if name in entry.defaults else ""
        rows.append(f"| `{name}` | {argument.unit or 'as the result'} | {span} | {default} |")
    example = entry.example
    table = "\n".join(
        ["| argument | unit | range | default |", "| --- | --- | --- | --- |", *rows]
    )
    summary = (inspect.getdoc(entry.function) or "").splitlines()[0]
    return (
        f"# {entry.name}\n\n{summary}\n\n{entry.rule}\n\n{table}\n\nGives:"
        f" {entry.unit or 'the unit of what goes in'}. Holds: {entry.validity}\n\nSource:"
        f" {entry.source}.\n\n```\npython -m husbandry"
        f" {entry.command(example.arguments)}\n```\n\ngives {example.result:g} (within"
        f" {example.rel:.0e} of it: {example.source}).\n"
    )


def _end(value: float) -> str:
    return "any" if math.isinf(value) else f"{value:g}"


def pages() -> dict[str, str]:
    """Every method's page by file name, and their list."""
    entries = all_methods()
    listed = "\n".join(f"- [{name}]({name}.md): {entry.rule}" for name, entry in entries.items())
    index = (
        "# Methods by name\n\nWritten by `python -m husbandry methods --pages"
        f" docs/methods/by-name`.\n\n{listed}\n"
    )
    return {"README.md": index, **{f"{name}.md": page(entry) for name, entry in entries.items()}}
