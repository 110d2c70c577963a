"""One value of a row as JSON has it, and back."""

from __future__ import annotations

import datetime
import uuid
from collections.abc import Callable, Mapping
from decimal import Decimal, InvalidOperation
from typing import Any, Final

from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models import Field

from engine.language import say

Cell = Any
KINDS: Final[tuple[tuple[type[Field[Any, Any]], type | tuple[type, ...]], ...]] = (
    (models.BooleanField, bool),
    (models.IntegerField, int),
    (models.FloatField, (int, float)),
    (models.DecimalField, (int, float)),
    (models.CharField, str),
    (models.TextField, str),
    (ArrayField, list),
)
MOMENTS: Final[Mapping[type[Field[Any, Any]], Callable[[str], Any]]] = {
    models.DateTimeField: datetime.datetime.fromisoformat,
    models.DateField: datetime.date.fromisoformat,
    models.TimeField: datetime.time.fromisoformat,
    models.UUIDField: uuid.UUID,
}


def told(value: Any) -> Cell:
    """A value of a column as JSON has it: numbers as numbers, moments in UTC by ISO 8601, UUIDs as text."""
    if isinstance(value, Decimal):
        return float(value)
    if isinstance(value, datetime.datetime):
        return value.astimezone(datetime.UTC).isoformat()
    if isinstance(value, datetime.date | datetime.time):
        return value.isoformat()
    if isinstance(value, uuid.UUID):
        return str(value)
    if isinstance(value, list) and value and isinstance(value[0], uuid.UUID):
        return [str(each) for each in value]
    return value


def value_of(field: Field[Any, Any], cell: Cell) -> Any:
    """A value of a column from JSON. Raises ValueError in words where it is of another kind."""
    if cell is None:
        if not field.null:
            raise ValueError(say("{name} is missing", name=field.name))
        return None
    if isinstance(field, models.JSONField):
        return cell
    for kind, read in MOMENTS.items():
        if isinstance(field, kind):
            return _read(field, cell, read)
    for kind, expected in KINDS:
        if isinstance(field, kind):
            if not isinstance(cell, expected) or (
                isinstance(cell, bool) and not isinstance(field, models.BooleanField)
            ):
                raise ValueError(say("{name} is “{given}”, which it can't be", name=field.name, given=str(cell)[:40]))
            return _read(field, str(cell), Decimal) if isinstance(field, models.DecimalField) else cell
    raise ValueError(say("{name} is of a kind that is not known", name=field.name))


def _read(field: Field[Any, Any], cell: Cell, read: Callable[[str], Any]) -> Any:
    try:
        return read(cell)
    except (TypeError, ValueError, InvalidOperation):
        raise ValueError(say("{name} is “{given}”, which it can't be", name=field.name, given=str(cell)[:40])) from None
