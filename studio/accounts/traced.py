"""Rows whose every change is kept, by triggers of the database: who changed what, and when."""

from collections.abc import Callable
from typing import TypeVar

import pghistory
from django.db.models import Model

Row = TypeVar("Row", bound=type[Model])


def traced(*left_out: str) -> Callable[[Row], Row]:
    """Keeps what a model's rows were at each insert, update and deletion. left_out: fields that are not kept."""
    found: Callable[[Row], Row] = pghistory.track(
        pghistory.InsertEvent(), pghistory.UpdateEvent(), pghistory.DeleteEvent(), exclude=list(left_out)
    )
    return found
