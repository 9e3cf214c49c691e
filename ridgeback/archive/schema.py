"""The schemas of a household and of an animal as one file: JSON Schema 2020-12, made from the tables."""

import json
from typing import Any

from django.contrib.postgres.fields import ArrayField
from django.db import models

from ridgeback.archive.tables import OF_AN_ANIMAL, TABLES, ArchiveTable
from ridgeback.archive.writing import ANIMAL_FORMAT, FORMAT, HOUSEHOLD_FIELDS
from ridgeback.households.models import Household, Keeper
from ridgeback.log.models import LogEntry

DIALECT = "https://json-schema.org/draft/2020-12/schema"
FILE = {"type": "string", "pattern": r"^pictures/[0-9]+-[a-z_]+\.(jpg|pdf)$"}


def schemas() -> dict[str, dict[str, Any]]:
    """The schemas by the names of their files."""
    return {
        "ridgeback-household-1.schema.json": _household(),
        "ridgeback-animal-1.schema.json": _animal(),
    }


def text_of(schema: dict[str, Any]) -> str:
    """A schema as its file has it."""
    return json.dumps(schema, indent=1, ensure_ascii=False) + "\n"


def _household() -> dict[str, Any]:
    own = {name: _column(Household._meta.get_field(name)) for name in HOUSEHOLD_FIELDS}
    return {
        "$schema": DIALECT,
        "title": "A household of Ridgeback, whole",
        "type": "object",
        "required": ["format", "household", "tables"],
        "additionalProperties": False,
        "properties": {
            "format": {"const": FORMAT},
            "household": _object(own),
            "tables": _object({one.name: _table(one) for one in TABLES}),
        },
    }


def _animal() -> dict[str, Any]:
    tables = {one.name: _table(one) for one in TABLES if one.name in OF_AN_ANIMAL}
    return {
        "$schema": DIALECT,
        "title": "An animal of Ridgeback with its history",
        "type": "object",
        "required": ["format", "from", "tables"],
        "additionalProperties": False,
        "properties": {
            "format": {"const": ANIMAL_FORMAT},
            "from": {"type": "string", "description": "Name of the household it comes from."},
            "tables": _object(tables),
        },
    }


def _object(properties: dict[str, Any]) -> dict[str, Any]:
    return {
        "type": "object",
        "required": list(properties),
        "additionalProperties": False,
        "properties": properties,
    }


def _table(table: ArchiveTable) -> dict[str, Any]:
    """Every row of a table, with the columns that the file has."""
    columns: dict[str, Any] = {"id": {"type": "integer", "description": "The row's own key."}}
    for field in table.model._meta.concrete_fields:
        if not field.primary_key and field.related_model is not Household:
            columns[field.name] = _column(field)
    if table.model is LogEntry:
        columns.pop("by")
    return {"type": "array", "items": _object(columns)}


def _column(field: Any) -> dict[str, Any]:
    """What a column holds; null, too, where it may."""
    found = _value(field)
    if field.null:
        return {"anyOf": [found, {"type": "null"}]}
    return found


def _value(field: Any) -> dict[str, Any]:
    if field.related_model is Keeper:
        return {"type": "string", "description": "A person's name; empty for none."}
    if field.is_relation:
        return {
            "type": "integer",
            "description": f"The key of a row of {field.related_model._meta.verbose_name_plural}.",
        }
    if isinstance(field, ArrayField):
        return {"type": "array", "items": _value(field.base_field)}
    if isinstance(field, models.JSONField):
        return {}
    if isinstance(field, models.BinaryField):
        return FILE
    for kind, found in KINDS:
        if isinstance(field, kind):
            return found
    return _text(field)


KINDS: tuple[tuple[type[Any], dict[str, Any]], ...] = (
    (models.BooleanField, {"type": "boolean"}),
    (models.IntegerField, {"type": "integer"}),
    (models.FloatField, {"type": "number"}),
    (models.DateTimeField, {"type": "string", "format": "date-time"}),
    (models.DateField, {"type": "string", "format": "date"}),
    (models.TimeField, {"type": "string", "format": "time"}),
    (models.UUIDField, {"type": "string", "format": "uuid"}),
)
"""Columns by their kind; a moment before a day, of which it is one."""


def _text(field: Any) -> dict[str, Any]:
    """Words, or one of some choices."""
    if field.choices:
        empty = [""] if field.blank else []
        return {"enum": [*dict.fromkeys([*(value for value, _ in field.flatchoices), *empty])]}
    found: dict[str, Any] = {"type": "string"}
    if field.max_length:
        found["maxLength"] = field.max_length
    return found
