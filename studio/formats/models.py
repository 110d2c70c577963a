"""A file that is taken in piece by piece, so that a long one survives a break; a calendar that goes out."""

from django.db import models
from django.db.models import Q

from studio.accounts.models import Person, Studio, StudioScope


class Intake(models.Model):
    """What a file held, and what came of it so far.

    total, done: formulas. told: what the file and the card say differently. faults: what was left out, by line.
    asked: what must or can be decided before anything is taken, as `telling.Difference` has it; decided: whose word
    stands, by the key of what was asked, None until that was answered.
    card: what a card's document holds beside its formulas, until it is merged.
    """

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="intakes")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="intakes")
    prefers_file = models.BooleanField(default=False)
    total = models.PositiveIntegerField()
    done = models.PositiveIntegerField(default=0)
    taken = models.PositiveIntegerField(default=0)
    already = models.PositiveIntegerField(default=0)
    told = models.JSONField(default=list, blank=True)
    faults = models.JSONField(default=list, blank=True)
    card = models.JSONField(null=True, blank=True)
    asked = models.JSONField(default=list, blank=True)
    decided = models.JSONField(null=True, blank=True)
    began_at = models.DateTimeField(auto_now_add=True)
    finished_at = models.DateTimeField(null=True, blank=True)

    objects = StudioScope["Intake"].as_manager()

    class Meta:
        ordering = ["-began_at", "-id"]
        constraints = [
            models.CheckConstraint(condition=Q(done__lte=models.F("total")), name="formats_intake_done_within_total"),
            models.CheckConstraint(
                condition=Q(finished_at=None) | Q(done=models.F("total")), name="formats_intake_finished_is_whole"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.done} of {self.total}"

    @property
    def is_finished(self) -> bool:
        """Whether all of it is on the cards."""
        return self.finished_at is not None

    @property
    def waits_for_answers(self) -> bool:
        """Whether somebody has to decide before anything of it is taken."""
        return bool(self.asked) and self.decided is None

    @property
    def percent(self) -> int:
        """How far it is."""
        return 100 if not self.total else 100 * self.done // self.total


class IntakePart(models.Model):
    """A piece of a file that is still to be taken: rows as a card's document writes them, with line and client."""

    intake = models.ForeignKey(Intake, on_delete=models.CASCADE, related_name="parts")
    number = models.PositiveIntegerField()
    rows = models.JSONField()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["intake", "number"], name="formats_part_once")]

    def __str__(self) -> str:
        return f"part {self.number} of {self.intake_id}"


class Feed(models.Model):
    """The secret address by which calendars read a studio's next visits; the address itself is kept nowhere.

    key_hash: the SHA-256 of its key. read_at: when a calendar last asked for it.
    """

    studio = models.OneToOneField(Studio, on_delete=models.CASCADE, related_name="feed")
    key_hash = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")
    made_at = models.DateTimeField()
    read_at = models.DateTimeField(null=True, blank=True)

    objects = StudioScope["Feed"].as_manager()

    def __str__(self) -> str:
        return f"calendar of {self.studio}"
