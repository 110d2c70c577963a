"""Studios and the people who work in them."""

from __future__ import annotations

from typing import Self, TypeVar

from django.contrib.auth.models import AbstractUser
from django.db import models


class Studio(models.Model):
    """A place of one to a dozen chairs. Everything else belongs to exactly one."""

    name = models.CharField(max_length=80, unique=True)
    town = models.CharField(max_length=80, blank=True)

    def __str__(self) -> str:
        return self.name


class Person(AbstractUser):
    """Someone who signs in; for now each works in one studio."""

    studio = models.ForeignKey(Studio, on_delete=models.PROTECT, related_name="people")

    licensed = models.BooleanField(default=False, help_text="may sign that a safety gate is passed")

    REQUIRED_FIELDS = ["studio"]

    def __str__(self) -> str:
        return self.get_full_name() or self.username


Row = TypeVar("Row", bound=models.Model, covariant=True)


class StudioScope(models.QuerySet[Row]):
    """Rows of one studio. Subclasses name the path from a row to its studio."""

    studio_path = "studio"

    def visible_to(self, person: Person) -> Self:
        """The rows of the person's own studio; no query for a page may start without it."""
        return self.filter(**{self.studio_path: person.studio_id})
