"""What a studio's results have taught, version by version: the newest that learning made is in force."""

from django.db import models

from studio.accounts.models import Studio, StudioScope


class Teaches(models.Model):
    """A row that says what came out, which learning takes as a record.

    teaches: whether it is taken at all. mended: what was in truth another than the card says, where that was found
    out later: {"level": 8.0} of the hair, or {"coats": [{"4": 12.5}]}, grams by the row of each shade, coat by coat.
    The card stays as it was written.
    """

    teaches = models.BooleanField(default=True)
    mended = models.JSONField(default=dict, blank=True)

    class Meta:
        abstract = True


class KnowledgeVersion(models.Model):
    """What the results of one day said. A version is written once; only whether it is in force changes.

    held: the engine's knowledge, sealed. shown: what a person may read of it, record by record; see
    `studio.learning.shown`. before_*, after_*: how far records lie from forecasts made without them, delta E00, the
    middle one and nine in ten, by the engine's own physics and by this knowledge.
    """

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="knowledge")
    number = models.PositiveIntegerField()
    in_force = models.BooleanField(default=False)
    records = models.PositiveSmallIntegerField()
    before_half = models.DecimalField(max_digits=6, decimal_places=3)
    before_most = models.DecimalField(max_digits=6, decimal_places=3)
    after_half = models.DecimalField(max_digits=6, decimal_places=3)
    after_most = models.DecimalField(max_digits=6, decimal_places=3)
    held = models.JSONField()
    shown = models.JSONField()
    made_at = models.DateTimeField()

    objects = StudioScope["KnowledgeVersion"].as_manager()

    class Meta:
        ordering = ["-number"]
        constraints = [
            models.UniqueConstraint(fields=["studio", "number"], name="taught_number_once"),
            models.UniqueConstraint(fields=["studio"], condition=models.Q(in_force=True), name="taught_one_in_force"),
            models.CheckConstraint(condition=models.Q(records__gte=1), name="taught_by_records"),
            models.CheckConstraint(
                condition=models.Q(before_half__gte=0, before_most__gte=0, after_half__gte=0, after_most__gte=0),
                name="taught_offs_not_negative",
            ),
        ]

    def __str__(self) -> str:
        return f"version {self.number}, from {self.records} results"
