"""Keys by which other programs read what a studio has."""

import datetime
from typing import Any, Final

from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models import F, Q

from engine.language import later
from engine.service.roles import Role
from studio.accounts.models import Person, Studio, StudioScope

NAME_LONGEST: Final = 60
KEYS_MOST: Final = 20  # of one studio that open at one time
RATES: Final = (30, 120, 600)  # requests a minute


class KeyScope(StudioScope["ProgramKey"]):
    """One studio's keys."""

    def open_at(self, now: datetime.datetime) -> "KeyScope":
        """Those that open: not ended, not over, and of an owner who is one still."""
        not_over = Q(ends_on=None) | Q(ends_on__gte=now.date())
        return self.filter(not_over, ended_at=None, made_by__is_active=True, made_by__role=Role.OWNER)


class ProgramKey(models.Model):
    """A secret that a program shows when it reads. Only what it hashes to is kept; what it may never changes.

    may: what it reads. tail: the last letters of the key, by which one knows it again. per_minute: how often it may
    ask. ends_on: the last day on which it opens, by UTC; None until it is ended. minute, asked: since when it is
    counted, and how often it has asked since. A key that was ended stays on record.
    """

    class May(models.TextChoices):
        CLIENTS = "clients", later("clients, without health facts")
        HEALTH = "health", later("health facts, notes and tests")
        CARDS = "cards", later("cards, formulas and the logbook")
        SHELF = "shelf", later("the shelf")
        FORECASTS = "forecasts", later("forecasts, reckoned for it")

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="program_keys")
    name = models.CharField(max_length=NAME_LONGEST)
    may = ArrayField(models.CharField(max_length=9, choices=May.choices))
    key_hash = models.CharField(max_length=64, unique=True)
    tail = models.CharField(max_length=4)
    per_minute = models.PositiveSmallIntegerField(choices=[(rate, str(rate)) for rate in RATES])
    ends_on = models.DateField(null=True, blank=True)
    made_by = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")
    made_at = models.DateTimeField()
    ended_by = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+", null=True, blank=True)
    ended_at = models.DateTimeField(null=True, blank=True)
    minute = models.DateTimeField(null=True, blank=True)
    asked = models.PositiveIntegerField(default=0)
    read_at = models.DateTimeField(null=True, blank=True)

    objects = KeyScope.as_manager()

    class Meta:
        ordering = [F("ended_at").desc(nulls_first=True), "-made_at", "-id"]
        constraints = [
            models.UniqueConstraint(
                fields=["studio", "name"], condition=Q(ended_at=None), name="api_key_of_a_name_once_open"
            ),
            models.CheckConstraint(condition=Q(per_minute__in=RATES), name="api_key_rate"),
            models.CheckConstraint(
                condition=~Q(may__len=0) & Q(may__contained_by=["clients", "health", "cards", "shelf", "forecasts"]),
                name="api_key_may_something",
            ),
            models.CheckConstraint(
                condition=Q(ended_at=None, ended_by=None) | Q(ended_at__isnull=False, ended_by__isnull=False),
                name="api_key_ended_by_somebody",
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def may_words(self) -> list[str]:
        """What it reads, in words."""
        return [str(label) for value, label in self.May.choices if value in self.may]

    def is_asleep(self, today: datetime.date) -> bool:
        """Whether it opens nothing though nobody has ended it: it is over, or its maker owns nothing here any more."""
        over = self.ends_on is not None and self.ends_on < today
        return self.ended_at is None and (over or not (self.made_by.is_active and self.made_by.role == Role.OWNER))

    def allows(self, wanted: Any) -> bool:
        """Whether it may read something."""
        return wanted in self.may
