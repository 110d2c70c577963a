"""Drills as they were asked and answered. Nothing of a client is in them: the engine makes them from a number."""

from django.db import models
from django.db.models import Q

from engine.language import later
from engine.practice.drill import HARDEST, Skill
from studio.accounts.models import Person, StudioScope


class DrillScope(StudioScope["Drill"]):
    """Drills of one studio's people."""

    studio_path = "person__studio"


class SkillChoice(models.TextChoices):
    """What can be practised, in words."""

    READ = Skill.READ.value, later("Read a lock")
    OPPOSITE = Skill.OPPOSITE.value, later("Which opposite")
    WHICH = Skill.WHICH.value, later("Which lock")
    HIT = Skill.HIT.value, later("Hit it by hand")
    RESCUE = Skill.RESCUE.value, later("Rescue the bowl")
    SUMS = Skill.SUMS.value, later("Sums by the bowl")
    ROUTE = Skill.ROUTE.value, later("Which way")
    WRONG = Skill.WRONG.value, later("What went wrong")
    TWO = Skill.TWO.value, later("Two heads at once")
    CASE = "case", later("What came out here")


class Drill(models.Model):
    """One drill of one person: which of the endless ones it is, and how it was answered.

    number: from which the engine makes it. case: of a drill from the studio's own work, hair, bowl and colours as they
    were then, and nothing of whose they were. pours: of a drill at the bowl, [shade, grams] in their order. given: the
    answer as it was sent. score: 0-1, none before it was answered.
    """

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="drills")
    skill = models.CharField(max_length=10, choices=SkillChoice.choices)
    difficulty = models.PositiveSmallIntegerField(default=1)
    number = models.PositiveIntegerField()
    made_at = models.DateTimeField()
    case = models.JSONField(null=True, blank=True)
    pours = models.JSONField(default=list, blank=True)
    given = models.CharField(max_length=40, blank=True)
    answered_at = models.DateTimeField(null=True, blank=True)
    score = models.DecimalField(max_digits=4, decimal_places=3, null=True, blank=True)

    objects = DrillScope.as_manager()

    class Meta:
        indexes = [models.Index(fields=["person", "skill", "answered_at"], name="practice_by_person_skill")]
        constraints = [
            models.UniqueConstraint(
                fields=["person", "skill"], condition=Q(answered_at=None), name="practice_one_open_a_skill"
            ),
            models.CheckConstraint(
                condition=Q(answered_at=None, score=None)
                | Q(answered_at__isnull=False, score__isnull=False, score__gte=0, score__lte=1),
                name="practice_scored_when_answered",
            ),
            models.CheckConstraint(
                condition=Q(difficulty__gte=1, difficulty__lte=HARDEST), name="practice_difficulty_1_5"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.get_skill_display()} of {self.person}"


class SetWorkScope(StudioScope["SetWork"]):
    """What was set to one studio's people."""

    studio_path = "person__studio"


class SetWork(models.Model):
    """A skill that a mentor set somebody to practise, and signed off once it was good enough."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="set_work")
    skill = models.CharField(max_length=10, choices=SkillChoice.choices)
    set_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    set_at = models.DateTimeField()
    signed_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+", null=True, blank=True)
    signed_at = models.DateTimeField(null=True, blank=True)

    objects = SetWorkScope.as_manager()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["person", "skill"], condition=Q(signed_at=None), name="practice_one_set_a_skill"
            ),
            models.CheckConstraint(
                condition=Q(signed_by=None, signed_at=None) | Q(signed_by__isnull=False, signed_at__isnull=False),
                name="practice_signed_whole",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.get_skill_display()} set to {self.person}"
