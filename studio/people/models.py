"""Links that let somebody in: to a studio, or to a new password."""

import datetime
from typing import Final

from django.db import models

from studio.accounts.models import LICENSED_AS, Person, Studio, StudioScope

HOLDS_FOR: Final = datetime.timedelta(days=7)


class InvitationScope(StudioScope["Invitation"]):
    """One studio's invitations."""


class Invitation(models.Model):
    """A link that somebody was given, once, by an owner. Only what its key hashes to is kept.

    person: whose password it makes anew; None for one who is to come.
    """

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="invitations")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+", null=True, blank=True)
    role = models.CharField(max_length=10, choices=Person.RoleChoice.choices)
    licensed = models.BooleanField(default=False)
    key_hash = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")
    made_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True, blank=True)
    withdrawn_at = models.DateTimeField(null=True, blank=True)

    objects = InvitationScope.as_manager()

    class Meta:
        ordering = ["-made_at", "-pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(licensed=False) | models.Q(role__in=LICENSED_AS),
                name="people_invited_with_a_licence_that_may_be_held",
            )
        ]

    def __str__(self) -> str:
        return f"{self.get_role_display()}, {self.made_at:%d %b}"

    @property
    def ends_at(self) -> datetime.datetime:
        """Until when it lets in."""
        return self.made_at + HOLDS_FOR
