"""The mixing work: the aim, the bowl, what was poured, and every step so far."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Final

from django.db import models
from django.db.models import F, Q

from engine.language import later
from engine.service.purposes import PLAIN, Laid, may_be_mixed
from engine.service.schedule.work import Purpose
from engine.service.work import VOL_MOST
from studio.accounts.models import Person, StudioScope
from studio.shelf.models import Shade, ShadeLine
from studio.visits.models import Visit, Zone

POUR_MOST_G: Final = Decimal(1000)
WANTED_LEAST_G: Final = Decimal(5)
WANTED_MOST_G: Final = Decimal(1000)
BLEND_MOST_PERCENT: Final = 50
PARTS_MOST: Final = 10
COATS_MOST: Final = 8  # of one zone
PRODUCT_LONGEST: Final = 60


class TargetFields(models.Model):
    """An aim in L*a*b* under daylight: all three numbers or none."""

    target_l = models.DecimalField(max_digits=6, decimal_places=3, null=True, blank=True)
    target_a = models.DecimalField(max_digits=7, decimal_places=3, null=True, blank=True)
    target_b = models.DecimalField(max_digits=7, decimal_places=3, null=True, blank=True)

    class Meta:
        abstract = True
        constraints = [
            models.CheckConstraint(
                condition=Q(target_l=None, target_a=None, target_b=None)
                | Q(
                    # A comparison with NULL is not false, so a target with a part missing must be named as such.
                    target_l__isnull=False,
                    target_a__isnull=False,
                    target_b__isnull=False,
                    target_l__range=(0, 100),
                    target_a__range=(-128, 128),
                    target_b__range=(-128, 128),
                ),
                name="%(app_label)s_%(class)s_target_whole_and_in_range",
            )
        ]


class WorktopScope(StudioScope["Worktop"]):
    """Worktops of one studio's visits."""

    studio_path = "visit__client__studio"


class Worktop(models.Model):
    """All the mixing of one visit: what is locked, counted and undone as one.

    `version` counts every change, so that two tablets can't overwrite each other. `cursor` is the number of the
    step that the work stands at; steps from there to `newest_step` can be redone.
    """

    visit = models.OneToOneField(Visit, on_delete=models.CASCADE, related_name="worktop")
    version = models.PositiveIntegerField(default=0)
    cursor = models.PositiveIntegerField(default=0)
    newest_step = models.PositiveIntegerField(default=0)

    objects = WorktopScope.as_manager()

    class Meta:
        constraints = [
            models.CheckConstraint(condition=Q(cursor__lte=F("newest_step")), name="bench_worktop_cursor_at_a_step")
        ]

    def __str__(self) -> str:
        return f"worktop of {self.visit}"


class BowlScope(StudioScope["Bowl"]):
    """Bowls of one studio's visits."""

    studio_path = "worktop__visit__client__studio"


class Bowl(TargetFields):
    """What is mixed for one zone or several, and the aim. mixed_for: rows of the zones that it was mixed for.

    own_vol, own_parts: strength of the developer, and parts of it to one of colour or powder, where not as the line has
    them.
    """

    worktop = models.ForeignKey(Worktop, on_delete=models.CASCADE, related_name="bowls")
    line = models.ForeignKey(ShadeLine, on_delete=models.PROTECT, related_name="+")
    wanted_g = models.DecimalField(max_digits=6, decimal_places=1, default=Decimal(60))
    mixed_for = models.JSONField(default=list, blank=True)
    own_vol = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True, help_text="none: the line's")
    own_parts = models.DecimalField(max_digits=3, decimal_places=1, null=True, blank=True, help_text="none: the line's")

    objects = BowlScope.as_manager()

    class Meta(TargetFields.Meta):
        abstract = False
        ordering = ["id"]
        constraints = [
            *TargetFields.Meta.constraints,
            models.CheckConstraint(
                condition=Q(wanted_g__gte=WANTED_LEAST_G, wanted_g__lte=WANTED_MOST_G), name="bench_bowl_wanted_range"
            ),
            models.CheckConstraint(
                condition=Q(own_vol=None) | Q(own_vol__gte=0, own_vol__lte=VOL_MOST), name="bench_bowl_vol_range"
            ),
            models.CheckConstraint(
                condition=Q(own_parts=None) | Q(own_parts__gte=0, own_parts__lte=PARTS_MOST),
                name="bench_bowl_parts_0_10",
            ),
        ]

    def __str__(self) -> str:
        return f"bowl {self.pk}"

    @property
    def vol(self) -> Decimal:
        """Strength of its developer, in vol; 0 for none."""
        return self.line.developer_vol if self.own_vol is None else self.own_vol

    @property
    def parts(self) -> Decimal:
        """Parts of developer to one of what is in it; 0 for none."""
        return self.line.developer_parts if self.own_parts is None else self.own_parts

    @property
    def version(self) -> int:
        """The version of the worktop that it stands on."""
        return self.worktop.version


class CoatScope(StudioScope["Coat"]):
    """Coats of one studio's visits."""

    studio_path = "zone__visit__client__studio"


class Coat(TargetFields):
    """One application on a zone: what it is for, the bowl it comes from, and its place among the zone's coats.

    Its target: an aim of its own, where that is another than the bowl's, which all that it serves share.

    bowl: none for what has neither aim nor mix: remover, equaliser, seal. blend_percent: how wide its seam to the next
    zone is, of the length. to_level: where a lift is to stop. minutes, apply_min: on the hair, and of the hands that
    put it on, where not as usual. not_before_min: how long into the visit it is begun at the soonest. joins: the coat
    of another zone that it goes on beside, for its minutes before that is rinsed. begun: whether it has been put on;
    then it neither moves nor goes. worked_min, damp: how long it was on and on what hair, once it is off. product,
    grams, own_vol: of one that nothing is mixed for: what it is, how much of it, and the strength of its peroxide, if
    any. removed: kept, so that undo can bring it back.
    """

    class Purpose(models.TextChoices):
        REMOVE = Purpose.REMOVE.value, later("remove")
        LIFT = Purpose.LIFT.value, later("lift")
        EQUALISE = Purpose.EQUALISE.value, later("equalise")
        FILL = Purpose.FILL.value, later("fill")
        PRE_TONE = Purpose.PRE_TONE.value, later("pre-tone")
        COLOUR = Purpose.COLOUR.value, later("colour")
        OVERLAY = Purpose.OVERLAY.value, later("overlay")
        GLAZE = Purpose.GLAZE.value, later("glaze")
        MASK = Purpose.MASK.value, later("mask")
        SEAL = Purpose.SEAL.value, later("seal")

    zone = models.ForeignKey(Zone, on_delete=models.CASCADE, related_name="coats")
    bowl = models.ForeignKey(Bowl, on_delete=models.PROTECT, related_name="coats", null=True, blank=True)
    purpose = models.CharField(max_length=8, choices=Purpose.choices, default=Purpose.COLOUR)
    order = models.PositiveSmallIntegerField(default=0)
    blend_percent = models.PositiveSmallIntegerField(default=10)
    to_level = models.DecimalField(max_digits=4, decimal_places=2, null=True, blank=True)
    minutes = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    apply_min = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    not_before_min = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    joins = models.ForeignKey("self", on_delete=models.SET_NULL, related_name="joined_by", null=True, blank=True)
    begun = models.BooleanField(default=False)
    worked_min = models.DecimalField(max_digits=5, decimal_places=1, null=True, blank=True)
    damp = models.BooleanField(default=False)
    product = models.CharField(max_length=PRODUCT_LONGEST, blank=True)
    grams = models.DecimalField(max_digits=6, decimal_places=1, null=True, blank=True)
    own_vol = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    removed = models.BooleanField(default=False)

    objects = CoatScope.as_manager()

    class Meta(TargetFields.Meta):
        abstract = False
        ordering = ["order", "id"]
        constraints = [
            *TargetFields.Meta.constraints,
            models.CheckConstraint(condition=Q(blend_percent__lte=BLEND_MOST_PERCENT), name="bench_coat_blend_0_50"),
            models.CheckConstraint(
                condition=Q(purpose__in=["remove", "equalise", "seal"], bowl=None)
                | (~Q(purpose__in=["remove", "equalise", "seal"]) & Q(bowl__isnull=False)),
                name="bench_coat_bowl_where_mixed",
            ),
            models.CheckConstraint(
                condition=Q(purpose="lift", to_level__gte=1, to_level__lte=11)
                | (~Q(purpose="lift") & Q(to_level=None)),
                name="bench_coat_level_of_a_lift",
            ),
            models.CheckConstraint(
                condition=Q(minutes=None) | Q(minutes__gte=0.5, minutes__lte=240), name="bench_coat_minutes_range"
            ),
            models.CheckConstraint(
                condition=Q(apply_min=None) | Q(apply_min__gte=0, apply_min__lte=240), name="bench_coat_apply_range"
            ),
            models.CheckConstraint(
                condition=Q(not_before_min=None) | Q(not_before_min__gte=0, not_before_min__lte=600),
                name="bench_coat_not_before_range",
            ),
            models.CheckConstraint(condition=Q(joins=None) | ~Q(joins=F("id")), name="bench_coat_joins_another"),
            models.CheckConstraint(
                condition=Q(purpose__in=["remove", "equalise", "seal"]) | Q(product="", grams=None, own_vol=None),
                name="bench_coat_product_where_plain",
            ),
            models.CheckConstraint(
                condition=(Q(grams=None) | Q(grams__gt=0, grams__lte=POUR_MOST_G))
                & (Q(own_vol=None) | Q(own_vol__gt=0, own_vol__lte=VOL_MOST)),
                name="bench_coat_grams_and_vol_range",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.get_purpose_display()} on {self.zone}"

    @property
    def lifts(self) -> bool:
        """Whether it takes colour out by lightener."""
        return self.purpose == self.Purpose.LIFT

    @property
    def is_plain(self) -> bool:
        """Whether nothing is mixed for it on the bench."""
        return Purpose(self.purpose) in PLAIN

    @property
    def laid(self) -> Laid:
        """Its place in the order of work, as the engine takes it."""
        return Laid(purpose=Purpose(self.purpose), begun=self.begun)

    def may_come_from(self, line: ShadeLine) -> bool:
        """Whether it may be mixed from a line."""
        return may_be_mixed(Purpose(self.purpose), line.kind)


class Portion(models.Model):
    """Grams of one shade in a bowl.

    mixed_g: how much of it is mixed in already and can't come out. weighed_g: how much of that was weighed in, which no
    undo takes out. doubt_g: how far off the weight may be either way, when it was squeezed or dropped and not weighed.
    """

    bowl = models.ForeignKey(Bowl, on_delete=models.CASCADE, related_name="pours")
    shade = models.ForeignKey(Shade, on_delete=models.PROTECT, related_name="+")
    grams = models.DecimalField(max_digits=6, decimal_places=2)
    mixed_g = models.DecimalField(max_digits=6, decimal_places=2, default=0)
    weighed_g = models.DecimalField(max_digits=6, decimal_places=2, default=0)
    doubt_g = models.DecimalField(max_digits=6, decimal_places=2, default=0)

    class Meta:
        ordering = ["shade__position", "shade_id"]
        constraints = [
            models.UniqueConstraint(fields=["bowl", "shade"], name="bench_pour_once_a_shade"),
            models.CheckConstraint(condition=Q(grams__gt=0, grams__lte=POUR_MOST_G), name="bench_pour_grams_range"),
            models.CheckConstraint(
                condition=Q(mixed_g__gte=0, mixed_g__lte=F("grams")), name="bench_pour_mixed_within_grams"
            ),
            models.CheckConstraint(
                condition=Q(weighed_g__gte=0, weighed_g__lte=F("mixed_g")),
                name="bench_pour_weighed_within_mixed",
            ),
            models.CheckConstraint(condition=Q(doubt_g__gte=0), name="bench_pour_doubt_not_negative"),
        ]

    def __str__(self) -> str:
        return f"{self.grams} g {self.shade}"


class BenchStep(models.Model):
    """The worktop after one change, so that each can be undone and redone."""

    worktop = models.ForeignKey(Worktop, on_delete=models.CASCADE, related_name="steps")
    number = models.PositiveIntegerField()
    words = models.CharField(max_length=120)
    state = models.JSONField()
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["number"]
        constraints = [
            models.UniqueConstraint(fields=["worktop", "number"], name="bench_step_number_once"),
        ]

    def __str__(self) -> str:
        return self.words


@dataclass(frozen=True, kw_only=True)
class WorktopRows:
    """What stands on a worktop: the coats of each zone that is still on the head in their order, their bowls, and pours
    by bowl.
    """

    coats: list[Coat]
    bowls: dict[int, Bowl]
    pours: dict[int, list[Portion]]
