"""The logbook: formulas kept on a client's card. A formula is written once and never changed."""

import uuid
from decimal import Decimal
from typing import Final

from django.contrib.postgres.indexes import GinIndex, OpClass
from django.db import models
from django.db.models import Q
from django.db.models.functions import Now, Upper

from engine.bowl.fade import WASHES_MOST
from engine.colorimetry.lights import Light
from engine.language import begun, decimals, later, say
from engine.service.aftercare import Habits
from engine.service.sections import SECTIONS_MOST
from studio.accounts.identity import own_uid
from studio.accounts.models import Person, StudioScope
from studio.accounts.traced import traced
from studio.clients.models import NAME_LONGEST, Client
from studio.head.models import POUR_MOST_G, Bowl, Coat, TargetFields
from studio.shelf.models import Shade, ShadeLine
from studio.taught.models import Teaches
from studio.ui.kept_words import SaidField
from studio.visits.models import HairFields, Visit, Zone

MINUTES_MORE_MOST: Final = 60
PLAIN_UNITS: Final = (("product", ""), ("grams", " g"), ("vol", " vol"), ("minutes", " min"))


class FormulaScope(StudioScope["Formula"]):
    """Formulas of one studio's clients."""

    studio_path = "client__studio"


class Formula(HairFields, TargetFields):
    """A mix as it was saved: the hair, the aim, the grams, and the forecast with its light."""

    class LightChoice(models.TextChoices):
        DAYLIGHT = Light.DAYLIGHT.value, later("daylight")
        EVENING = Light.EVENING.value, later("evening")
        SALON = Light.SALON.value, later("salon")
        SHOP = Light.SHOP.value, later("shop")

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="formulas")
    visit = models.ForeignKey(Visit, on_delete=models.PROTECT, related_name="formulas")
    zone_name = SaidField(max_length=40, known=Zone.OWN_NAMES)
    zone_part = models.CharField(max_length=10, choices=Zone.Part.choices, default=Zone.Part.WHOLE)
    zone_position = models.PositiveSmallIntegerField(default=0)
    blend_percent = models.PositiveSmallIntegerField(default=10)
    bowl_number = models.PositiveSmallIntegerField(default=1, help_text="zones with one number shared one bowl")
    pattern = models.CharField(max_length=12, choices=Zone.Pattern.choices, default=Zone.Pattern.ALL)
    strand_share = models.DecimalField(max_digits=3, decimal_places=2, null=True, blank=True)
    from_cm = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    to_cm = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    sections = models.PositiveSmallIntegerField(default=1, help_text="each put on and rinsed in its turn")
    rinsed_apart = models.BooleanField(default=False)
    coat_number = models.PositiveSmallIntegerField(default=1, help_text="among the zone's coats of the visit")
    purpose = models.CharField(max_length=8, choices=Coat.Purpose.choices, default=Coat.Purpose.COLOUR)
    to_level = models.DecimalField(max_digits=4, decimal_places=2, null=True, blank=True, help_text="of a lift")
    developer_vol = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    developer_parts = models.DecimalField(max_digits=3, decimal_places=1, null=True, blank=True)
    line = models.ForeignKey(ShadeLine, on_delete=models.PROTECT, related_name="+")
    wanted_g = models.DecimalField(max_digits=6, decimal_places=1)
    forecast_l = models.DecimalField(max_digits=6, decimal_places=3)
    forecast_a = models.DecimalField(max_digits=7, decimal_places=3)
    forecast_b = models.DecimalField(max_digits=7, decimal_places=3)
    delta_e00 = models.DecimalField(max_digits=6, decimal_places=3, null=True, blank=True)
    knowledge_version = models.PositiveIntegerField(
        null=True, blank=True, help_text="of what results had taught, if its forecast was made with any"
    )
    beside = models.JSONField(default=list, blank=True, help_text="coats of its zone that nothing was mixed for")
    light = models.CharField(max_length=10, choices=LightChoice.choices, default=LightChoice.DAYLIGHT)
    note = models.CharField(max_length=200, blank=True)
    developer_g = models.DecimalField(max_digits=6, decimal_places=1, default=0, help_text="poured, else as planned")
    batches = models.PositiveSmallIntegerField(default=1)
    mixed_at = models.DateTimeField(null=True, blank=True)
    applied_at = models.DateTimeField(null=True, blank=True)
    rinsed_at = models.DateTimeField(null=True, blank=True)
    damp = models.BooleanField(default=False)
    heat = models.BooleanField(default=False)
    cost = models.DecimalField(max_digits=8, decimal_places=2, default=0, help_text="of what it took, in own money")
    saved_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    saved_as = models.CharField(max_length=NAME_LONGEST, blank=True, help_text="who saved it, in another studio")
    read_as = models.CharField(max_length=NAME_LONGEST, blank=True, help_text="who read its hair, in another studio")
    saved_at = models.DateTimeField()
    kept_at = models.DateTimeField(db_default=Now(), editable=False, help_text="here, of its own or from a file")
    uid = own_uid()

    objects = FormulaScope.as_manager()

    class Meta:
        ordering = ["-saved_at", "-id"]
        indexes = [
            models.Index(fields=["client", "-saved_at"], name="cards_by_client_and_time"),
            models.Index(fields=["forecast_a", "forecast_b"], name="cards_by_colour"),
            models.Index(fields=["-saved_at", "-id"], name="cards_by_time"),
            models.Index(fields=["kept_at"], name="cards_by_arrival"),
            GinIndex(OpClass(Upper("note"), name="gin_trgm_ops"), name="cards_note_holds"),
        ]
        constraints = [
            *HairFields.Meta.constraints,
            *TargetFields.Meta.constraints,
            models.UniqueConstraint(fields=["client", "uid"], name="cards_formula_uid_once"),
            models.CheckConstraint(condition=Q(forecast_l__range=(0, 100)), name="cards_formula_forecast_l_0_100"),
            models.CheckConstraint(
                condition=Q(rinsed_at=None) | Q(rinsed_at__gte=models.F("applied_at")),
                name="cards_formula_rinsed_after_applied",
            ),
            models.CheckConstraint(
                condition=Q(delta_e00=None) | Q(delta_e00__gte=0), name="cards_formula_delta_e00_not_negative"
            ),
            models.CheckConstraint(
                condition=Q(sections__gte=1, sections__lte=SECTIONS_MOST), name="cards_formula_sections_1_4"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.client}, {self.saved_at:%d %b %Y}"

    @property
    def author(self) -> str:
        """Who saved it, here or in the studio that it came from."""
        return self.saved_as or str(self.saved_by)

    @property
    def is_powder(self) -> bool:
        """Whether it was weighed as powder: lightener."""
        return self.to_level is not None

    @property
    def coat_words(self) -> str:
        """What it was put on for, where that is not the only coat of colour that most visits have."""
        if self.to_level is not None:
            return say("Lift to level {to_level:g}", to_level=float(self.to_level))
        if self.coat_number == 1 and self.purpose == Coat.Purpose.COLOUR:
            return ""
        return say(
            "{purpose}, coat {coat_number}",
            purpose=begun(self.get_purpose_display()),
            coat_number=self.coat_number,
        )

    @property
    def beside_words(self) -> list[str]:
        """The coats of its zone that nothing was mixed for, those that went on before it and after it, in words."""
        return [
            (say("before") if each["coat"] < self.coat_number else say("after"))
            + f": {Coat.Purpose(each['purpose']).label}"
            + "".join(
                f", {each[name]}{unit}" if name == "product" else decimals(f", {float(each[name]):g}{unit}")
                for name, unit in PLAIN_UNITS
                if each.get(name)
            )
            for each in self.beside
        ]

    @property
    def developer(self) -> tuple[Decimal, Decimal]:
        """Strength of the developer in vol, and its parts to one; a card of before has those of its line."""
        vol = self.line.developer_vol if self.developer_vol is None else self.developer_vol
        return vol, self.line.developer_parts if self.developer_parts is None else self.developer_parts

    @property
    def process_min(self) -> float | None:
        """Minutes on the hair, if a clock ran."""
        if self.applied_at is None or self.rinsed_at is None:
            return None
        return (self.rinsed_at - self.applied_at).total_seconds() / 60


class FormulaPour(models.Model):
    """Grams of one shade in a formula, with the name it had then. planned_g, lot: if it was poured line by line."""

    formula = models.ForeignKey(Formula, on_delete=models.CASCADE, related_name="pours")
    shade = models.ForeignKey(Shade, on_delete=models.PROTECT, related_name="+")
    shade_name = models.CharField(max_length=40)
    grams = models.DecimalField(max_digits=6, decimal_places=2)
    planned_g = models.DecimalField(max_digits=6, decimal_places=2, null=True, blank=True)
    lot = models.CharField(max_length=62, blank=True)
    shade_version = models.PositiveIntegerField(null=True, blank=True, help_text="of the tube, as it was known then")

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["formula", "shade"], name="cards_formula_pour_once_a_shade"),
            models.CheckConstraint(
                condition=Q(grams__gt=0, grams__lte=POUR_MOST_G), name="cards_formula_pour_grams_range"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.grams} g {self.shade_name}"


class ResultScope(StudioScope["ZoneResult"]):
    """Results of one studio's zones."""

    studio_path = "zone__visit__client__studio"


@traced()
class ZoneResult(Teaches):
    """How a zone turned out, as L*a*b* under daylight, beside what had been forecast."""

    class Source(models.TextChoices):
        EYE = "eye", later("by eye")
        PHOTO = "photo", later("from a photo")
        READER = "reader", later("by the colour reader")

    zone = models.OneToOneField(Zone, on_delete=models.CASCADE, related_name="outcome")
    source = models.CharField(max_length=6, choices=Source.choices)
    result_l = models.DecimalField(max_digits=6, decimal_places=3)
    result_a = models.DecimalField(max_digits=7, decimal_places=3)
    result_b = models.DecimalField(max_digits=7, decimal_places=3)
    forecast_l = models.DecimalField(max_digits=6, decimal_places=3)
    forecast_a = models.DecimalField(max_digits=7, decimal_places=3)
    forecast_b = models.DecimalField(max_digits=7, decimal_places=3)
    dry = models.BooleanField(default=False)
    two_lights = models.BooleanField(default=False)
    judged_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    judged_as = models.CharField(max_length=NAME_LONGEST, blank=True, help_text="who judged it, in another studio")
    judged_at = models.DateTimeField(auto_now=True)

    objects = ResultScope.as_manager()

    class Meta:
        constraints = [
            models.CheckConstraint(condition=Q(result_l__range=(0, 100)), name="cards_result_l_0_100"),
            models.CheckConstraint(
                condition=Q(result_a__range=(-128, 128), result_b__range=(-128, 128)), name="cards_result_ab_range"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.zone}: {self.get_source_display()}"

    @property
    def judge(self) -> str:
        """Who judged it, here or in the studio that it came from."""
        return self.judged_as or str(self.judged_by)

    @property
    def lab(self) -> tuple[float, float, float]:
        """The result as L*a*b*."""
        return float(self.result_l), float(self.result_a), float(self.result_b)

    @property
    def forecast_lab(self) -> tuple[float, float, float]:
        """What had been forecast, as L*a*b*."""
        return float(self.forecast_l), float(self.forecast_a), float(self.forecast_b)


class LaterLookScope(StudioScope["LaterLook"]):
    """Later looks of one studio's zones."""

    studio_path = "zone__visit__client__studio"


class LaterLook(Teaches):
    """What had become of a zone's colour by a later visit, L*a*b* under daylight, after about so many washes."""

    zone = models.ForeignKey(
        Zone, on_delete=models.CASCADE, related_name="later_looks", help_text="of the earlier visit"
    )
    seen_in = models.ForeignKey(Visit, on_delete=models.CASCADE, related_name="+")
    washes = models.DecimalField(max_digits=4, decimal_places=1)
    hot_water = models.BooleanField(default=False)
    source = models.CharField(max_length=6, choices=ZoneResult.Source.choices)
    seen_l = models.DecimalField(max_digits=6, decimal_places=3)
    seen_a = models.DecimalField(max_digits=7, decimal_places=3)
    seen_b = models.DecimalField(max_digits=7, decimal_places=3)
    judged_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    judged_at = models.DateTimeField(auto_now=True)

    objects = LaterLookScope.as_manager()

    class Meta:
        ordering = ["-judged_at", "-id"]
        constraints = [
            models.UniqueConstraint(fields=["zone", "seen_in"], name="cards_later_look_once_a_visit"),
            models.CheckConstraint(condition=Q(washes__gte=0, washes__lte=WASHES_MOST), name="cards_later_washes"),
            models.CheckConstraint(
                condition=Q(seen_l__range=(0, 100), seen_a__range=(-128, 128), seen_b__range=(-128, 128)),
                name="cards_later_colour_range",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.zone} after {self.washes:g} washes"

    @property
    def lab(self) -> tuple[float, float, float]:
        """The colour as L*a*b*."""
        return float(self.seen_l), float(self.seen_a), float(self.seen_b)


class TweakScope(StudioScope["Tweak"]):
    """Tweaks of one studio's clients."""

    studio_path = "client__studio"


class Tweak(TargetFields):
    """What to change next time: words, and for a zone that was judged, what to aim at. Active until it is used.

    minutes_more: on the hair, less where negative. vol: of the developer. used_in: the visit that it was made in.
    """

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="tweaks")
    visit = models.ForeignKey(Visit, on_delete=models.CASCADE, related_name="tweaks")
    zone_name = SaidField(max_length=40, known=Zone.OWN_NAMES, blank=True)
    words = models.CharField(max_length=200)
    minutes_more = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    vol = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    active = models.BooleanField(default=True)
    used_in = models.ForeignKey(Visit, on_delete=models.SET_NULL, related_name="+", null=True, blank=True)
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    objects = TweakScope.as_manager()

    class Meta(TargetFields.Meta):
        abstract = False
        ordering = ["-made_at", "-id"]
        constraints = [
            *TargetFields.Meta.constraints,
            models.UniqueConstraint(fields=["visit", "zone_name"], name="cards_tweak_once_a_zone"),
            models.CheckConstraint(condition=~Q(words=""), name="cards_tweak_has_words"),
            models.CheckConstraint(
                condition=Q(minutes_more=None)
                | Q(minutes_more__gte=-MINUTES_MORE_MOST, minutes_more__lte=MINUTES_MORE_MOST),
                name="cards_tweak_minutes_range",
            ),
            models.CheckConstraint(condition=Q(vol=None) | Q(vol__gt=0, vol__lte=40), name="cards_tweak_vol_0_40"),
        ]

    def __str__(self) -> str:
        return self.words

    @property
    def acts(self) -> bool:
        """Whether it gets into the next visit by itself."""
        return self.minutes_more is not None or self.vol is not None

    @property
    def acts_words(self) -> str:
        """What of it gets into the next visit by itself."""
        told = []
        if self.minutes_more is not None:
            more = float(self.minutes_more)
            told.append(say("{more:g} min {told}", more=abs(more), told=say("more") if more > 0 else say("less")))
        if self.vol is not None:
            told.append(say("{vol:g} vol", vol=float(self.vol)))
        return ", ".join(told)


class HomeCareScope(StudioScope["HomeCare"]):
    """What clients of one studio take home."""

    studio_path = "visit__client__studio"


class HomeCare(models.Model):
    """How a client treats their hair, what they were given and told, and when they come again."""

    visit = models.OneToOneField(Visit, on_delete=models.CASCADE, related_name="home_care")
    washes_a_week = models.DecimalField(max_digits=3, decimal_places=1, default=3)
    hot_water = models.BooleanField(default=False)
    pool = models.BooleanField(default=False)
    sun = models.BooleanField(default=False)
    weekly_mask = models.BooleanField(default=False, help_text="a coloured mask at home, once a week")
    given = models.CharField(max_length=200, blank=True, help_text="what went home with them")
    next_on = models.DateField(null=True, blank=True)
    calendar_uid = models.UUIDField(default=uuid.uuid4, editable=False, help_text="of the next visit in any calendar")

    objects = HomeCareScope.as_manager()

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(washes_a_week__gte=Decimal("0.5"), washes_a_week__lte=14), name="cards_washes_range"
            )
        ]

    def __str__(self) -> str:
        return f"home care after {self.visit}"

    @property
    def habits(self) -> Habits:
        """The client's habits for the engine."""
        return Habits(
            washes_a_week=float(self.washes_a_week),
            hot_water=self.hot_water,
            pool=self.pool,
            sun=self.sun,
            weekly_mask=self.weekly_mask,
        )


class LeftoverScope(StudioScope["Leftover"]):
    """Leftovers of one studio's bowls."""

    studio_path = "bowl__worktop__visit__client__studio"


class Leftover(models.Model):
    """What is left of a bowl. goes_home: with the client, never of one that holds peroxide.

    left_g: as it was weighed back; poured_g, needed_g: what had been poured by then, and what its hair was reckoned to
    need, which tells how much this head takes.
    """

    bowl = models.OneToOneField(Bowl, on_delete=models.CASCADE, related_name="leftover")
    goes_home = models.BooleanField(default=False)
    left_g = models.DecimalField(max_digits=6, decimal_places=1, null=True, blank=True)
    poured_g = models.DecimalField(max_digits=6, decimal_places=1, default=0)
    needed_g = models.DecimalField(max_digits=6, decimal_places=1, default=0)
    noted_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    noted_at = models.DateTimeField(auto_now_add=True)

    objects = LeftoverScope.as_manager()

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(left_g=None) | Q(left_g__gte=0, left_g__lte=models.F("poured_g")),
                name="cards_leftover_of_what_was_poured",
            )
        ]

    def __str__(self) -> str:
        return f"what is left of {self.bowl}"


class AmountTakenScope(StudioScope["AmountTaken"]):
    """What heads took on one studio's visits."""

    studio_path = "visit__client__studio"


class AmountTaken(models.Model):
    """What a head took on a visit that came from a file, all its bowls together: reckoned, poured, and weighed back."""

    visit = models.OneToOneField(Visit, on_delete=models.CASCADE, related_name="amount_taken")
    needed_g = models.DecimalField(max_digits=6, decimal_places=1)
    poured_g = models.DecimalField(max_digits=6, decimal_places=1)
    left_g = models.DecimalField(max_digits=6, decimal_places=1)

    objects = AmountTakenScope.as_manager()

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(needed_g__gt=0, left_g__gte=0, left_g__lte=models.F("poured_g")),
                name="cards_amount_of_what_was_poured",
            )
        ]

    def __str__(self) -> str:
        return f"{self.poured_g - self.left_g:g} g on {self.visit}"
