"""The schema of an archive: made from the tables themselves, so that it can't say anything else than they do."""

from __future__ import annotations

from typing import Any, Final

from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models import Field

from studio.archives.tables import CONTEXTS, PATHS, fields_of, pk_of, related, tracked

FORMAT: Final = "rainshade-studio"
VERSION: Final = 1
SCHEMA_ID: Final = f"urn:rainshade:schema:studio:{VERSION}"
KINDS: Final[tuple[tuple[type[Field[Any, Any]], dict[str, Any]], ...]] = (
    (models.BinaryField, {"type": "string", "pattern": "^files/[A-Za-z_.]+/[0-9]+-[a-z_]+$"}),
    (models.BooleanField, {"type": "boolean"}),
    (models.IntegerField, {"type": "integer"}),
    (models.DecimalField, {"type": "number"}),
    (models.FloatField, {"type": "number"}),
    (models.DateTimeField, {"type": "string", "format": "date-time"}),
    (models.DateField, {"type": "string", "format": "date"}),
    (models.TimeField, {"type": "string", "format": "time"}),
    (models.UUIDField, {"type": "string", "format": "uuid"}),
    (models.JSONField, {}),
)
NUMBER: Final = {"type": "integer", "minimum": 1}


def archive_schema() -> dict[str, Any]:
    """JSON Schema of the lines of each member: `$defs` has one for each table, and one for `archive.json`."""
    tables = {label: _table(label) for label in (*PATHS, CONTEXTS)}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": SCHEMA_ID,
        "title": "A studio's archive",
        "description": "A ZIP (UTF-8). archive.json tells what is in it. rows/TABLE.jsonl has a JSON object a line,"
        " a row of that table, by the schema of its name here; rows are numbered within the archive, and name one"
        " another by those numbers. files/ has photos. All moments are in UTC; grams in g, colours as CIE L*a*b*"
        " under D65.",
        "$defs": {"archive.json": _manifest(), **tables},
    }


def _manifest() -> dict[str, Any]:
    member = {
        "type": "object",
        "required": ["rows", "numbers"],
        "properties": {
            "rows": {"type": "integer", "minimum": 0, "description": "how many lines its file has"},
            "numbers": {"type": "integer", "minimum": 0, "description": "the highest number that names a row of it"},
        },
    }
    return {
        "type": "object",
        "required": ["format", "version", "made_at", "studio", "tables", "sha256"],
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": VERSION},
            "made_at": {"type": "string", "format": "date-time"},
            "studio": {"type": "string"},
            "tables": {"type": "object", "additionalProperties": member},
            "sha256": {
                "type": "object",
                "description": "SHA-256 (FIPS 180-4) of each other member, in hexadecimal digits, by its name",
                "additionalProperties": {"type": "string", "pattern": "^[0-9a-f]{64}$"},
            },
        },
    }


def _table(label: str) -> dict[str, Any]:
    fields = fields_of(label)
    return {
        "type": "object",
        "required": [pk_of(label)],
        "additionalProperties": False,
        "properties": {field.name: _column(label, field) for field in fields},
    }


def _column(label: str, field: Field[Any, Any]) -> dict[str, Any]:
    told: dict[str, Any]
    if field.primary_key or field.is_relation or (tracked(label) and field.name == "id"):
        of = label if field.primary_key else related(field) if field.is_relation else tracked(label)
        told = {**NUMBER, "description": f"number of a row of {of}"}
    else:
        told = _kind(field)
        if field.help_text:
            told["description"] = str(field.help_text)
    if field.null:
        told = {"anyOf": [told, {"type": "null"}]}
    return told


def _kind(field: Field[Any, Any]) -> dict[str, Any]:
    for kind, told in KINDS:
        if isinstance(field, kind):
            return dict(told)
    if isinstance(field, ArrayField):
        return {"type": "array", "items": _kind(field.base_field)}
    return {"type": "string"} | ({"maxLength": field.max_length} if field.max_length else {})
