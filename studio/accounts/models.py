"""Studios and the people who work in them."""

from __future__ import annotations

import hashlib
from functools import cached_property
from typing import Any, Final, Self, TypeVar

from django.conf import settings
from django.contrib.auth.models import AbstractUser
from django.contrib.sessions.base_session import AbstractBaseSession
from django.db import models

from engine.language import later
from engine.service.known import COLOUR_FROM_YEARS, TEST_LEAST_HOURS
from engine.service.roles import LICENSABLE, Act, Role, may
from engine.service.work import SCALP_MOST_VOL
from studio.accounts.house import House
from studio.accounts.traced import traced

OLDEST_FROM_YEARS: Final = 25  # no house asks for more
SENT_LONGEST: Final = 36
LICENSED_AS: Final = sorted(role.value for role in LICENSABLE)


@traced()
class Studio(House):
    """A place of one to a dozen chairs. Everything else belongs to exactly one."""

    name = models.CharField(max_length=80, unique=True)
    town = models.CharField(max_length=80, blank=True)
    time_zone = models.CharField(max_length=64, default="UTC", help_text="of the studio's days and hours")
    learns = models.BooleanField(default=True, help_text="results teach, and forecasts are made with what they taught")
    language = models.CharField(max_length=7, choices=settings.LANGUAGES, default=settings.LANGUAGE_CODE)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=models.Q(colour_from_years__gte=COLOUR_FROM_YEARS, colour_from_years__lte=OLDEST_FROM_YEARS),
                name="accounts_colour_from_16_25",
            ),
            models.CheckConstraint(
                condition=models.Q(test_hours__gte=TEST_LEAST_HOURS, scalp_vol__lte=SCALP_MOST_VOL),
                name="accounts_no_house_is_laxer",
            ),
        ]

    def __str__(self) -> str:
        return self.name


@traced("password", "pin", "pin_wrong", "last_login", "username", "email", "date_joined", "is_staff", "is_superuser")
class Person(AbstractUser):
    """Someone in one studio. Who works in several is a person in each, and signs in as the one of them that came first.

    same_as: who of them signs in; None for that one.
    """

    class RoleChoice(models.TextChoices):
        OWNER = Role.OWNER.value, later("owner")
        COLOURIST = Role.COLOURIST.value, later("colourist")
        APPRENTICE = Role.APPRENTICE.value, later("apprentice")
        DESK = Role.DESK.value, later("front desk")

    studio = models.ForeignKey(Studio, on_delete=models.PROTECT, related_name="people")
    role = models.CharField(max_length=10, choices=RoleChoice.choices, default=RoleChoice.COLOURIST)
    licensed = models.BooleanField(default=False, help_text="may sign that a safety gate is passed")
    same_as = models.ForeignKey("self", on_delete=models.PROTECT, related_name="elsewhere", null=True, blank=True)
    pin = models.CharField(max_length=128, blank=True, help_text="its hash: unlocks a tablet that knows the person")
    pin_wrong = models.PositiveSmallIntegerField(default=0, help_text="guesses since it was last right")

    language = models.CharField(max_length=7, choices=settings.LANGUAGES, blank=True, help_text="none: the studio's")

    REQUIRED_FIELDS = ["studio"]

    class Meta(AbstractUser.Meta):
        verbose_name = "person"
        verbose_name_plural = "people"
        constraints = [
            models.CheckConstraint(
                condition=models.Q(licensed=False) | models.Q(role__in=LICENSED_AS),
                name="accounts_licence_of_those_who_may_hold_one",
            ),
            models.UniqueConstraint(fields=["studio", "same_as"], name="accounts_once_in_a_studio"),
        ]

    def __str__(self) -> str:
        return self.get_full_name() or self.sign_in_name

    @property
    def who(self) -> Person:
        """Who of them signs in, with the password, the mail and the second factor."""
        return self.same_as or self

    @property
    def sign_in_name(self) -> str:
        """The name that is typed at the door."""
        return self.who.username

    def everywhere(self) -> models.QuerySet[Person]:
        """The same human in every studio, this one among them."""
        first = self.same_as_id or self.pk
        return Person.objects.filter(models.Q(pk=first) | models.Q(same_as=first)).select_related("studio", "same_as")

    def _get_session_auth_hash(self, secret: str | None = None) -> str:
        """A new password ends the sessions in every studio."""
        if self.same_as is None:
            return str(super()._get_session_auth_hash(secret=secret))  # type: ignore[misc]
        return self.same_as._get_session_auth_hash(secret=secret)

    @property
    def reads(self) -> str:
        """The language in which they read, as Django names it."""
        return self.language or self.studio.language

    def may(self, act: Act) -> bool:
        """Whether they may do something; see `engine.service.roles`."""
        return may(Role(self.role), act, licensed=self.licensed)

    @cached_property
    def licensed_hands(self) -> list[Person]:
        """The colleagues who may sign what this person may not."""
        here = Person.objects.filter(studio=self.studio_id, licensed=True, is_active=True)
        return list(here.order_by("first_name", "pk"))

    @property
    def colleagues(self) -> list[Person]:
        """Who else works at a chair here."""
        here = Person.objects.filter(studio=self.studio_id, is_active=True).exclude(pk=self.pk)
        return [each for each in here.select_related("same_as").order_by("first_name", "pk") if each.works]

    @property
    def works(self) -> bool:
        """Whether they work at a chair: the front desk does not."""
        return self.may(Act.WORK)

    @property
    def hires(self) -> bool:
        """Whether they say who works here."""
        return self.may(Act.HIRE)

    @property
    def lock_min(self) -> int:
        """Minutes without a touch until their tablet locks itself; 0 for never, as for who has no PIN."""
        return self.studio.lock_min if self.pin else 0

    @property
    def hands_out(self) -> bool:
        """Whether they may hand out, and forget, all that is kept about a client."""
        return self.may(Act.HAND_OUT)


class SignedIn(AbstractBaseSession):
    """A browser's session; of whom, since when, at which kind of machine, and when a hand was last at it.

    person: who is signed in; None for a session that nobody has.
    """

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="sessions", null=True)
    machine = models.CharField(max_length=80, blank=True)
    began_at = models.DateTimeField()
    touched_at = models.DateTimeField()
    locked_at = models.DateTimeField(null=True)

    class Meta(AbstractBaseSession.Meta):
        abstract = False

    @property
    def mark(self) -> str:
        """What names it on a page: its key lets in, and is shown to nobody."""
        return hashlib.sha256(self.session_key.encode()).hexdigest()[:16]

    @classmethod
    def get_session_store_class(cls) -> Any:
        """The store that keeps these rows."""
        from studio.accounts.sessions import SessionStore

        return SessionStore


class SentOnce(models.Model):
    """A change that was made, by the token of the page that sent it: sent again, it is not made again."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")
    token = models.CharField(max_length=SENT_LONGEST)
    made_at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "token"], name="accounts_sent_once")]

    def __str__(self) -> str:
        return self.token


Row = TypeVar("Row", bound=models.Model, covariant=True)


class StudioScope(models.QuerySet[Row]):
    """Rows of one studio. Subclasses name the path from a row to its studio."""

    studio_path = "studio"

    def visible_to(self, person: Person) -> Self:
        """The rows of the person's own studio; no query for a page may start without it."""
        return self.of_studio(person.studio_id)

    def of_studio(self, studio_id: int) -> Self:
        """The rows of a studio by its row id: `visible_to` for queries that are prepared before anybody asks."""
        return self.filter(**{self.studio_path: studio_id})
