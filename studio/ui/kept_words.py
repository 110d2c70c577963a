"""A column whose words are often the app's own: they are kept in English, and shown in the reader's language."""

from collections.abc import Collection
from typing import Any

from django.db import models

from engine.language import later


class SaidField(models.CharField):  # type: ignore[type-arg]
    """Text. known: which values are the app's own, or None where any may be: no text of ours stays as it is."""

    def __init__(self, *args: Any, known: Collection[str] | None = None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.known = known

    def from_db_value(self, value: str | None, *_rest: object) -> str | None:
        """As it is read from the database."""
        return later(value) if value and (self.known is None or value in self.known) else value

    def deconstruct(self) -> Any:
        """A column of text to migrations, which know no languages."""
        name, _path, args, kwargs = super().deconstruct()
        return name, "django.db.models.CharField", args, kwargs
