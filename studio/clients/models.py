"""The people in the chair."""

from django.db import models

from studio.accounts.models import Studio, StudioScope


class Client(models.Model):
    """A client of one studio, with a card."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="clients")
    name = models.CharField(max_length=80)
    about = models.CharField(max_length=120, blank=True)
    notes = models.TextField(max_length=2000, blank=True)

    objects = StudioScope["Client"].as_manager()

    class Meta:
        ordering = ["name", "id"]
        constraints = [
            models.UniqueConstraint(fields=["studio", "name"], name="clients_name_once"),
            models.CheckConstraint(condition=~models.Q(name=""), name="clients_name_not_empty"),
        ]

    def __str__(self) -> str:
        return self.name
