"""What a studio decides for itself: its schools, where it is stricter than the trade, and how it measures."""

from __future__ import annotations

from typing import Final

from django.db import models

from engine.bowl.fill import FillFrom
from engine.bowl.filler import FillWith
from engine.bowl.past import OverTone
from engine.bowl.strategies import PreTone
from engine.hair.ladder import Ladder, Rung, School, school_ladder
from engine.language import later
from engine.service.house import BeginAt, Carrier, CleanUp, Condition, DepositOn, Heat, HowLight, TonerLevel, Water
from engine.service.known import COLOUR_FROM_YEARS, TEST_LEAST_HOURS
from engine.service.lift import CHECK_EVERY_MIN, Lay
from engine.service.root import RootLook
from engine.service.timing import Watch
from engine.service.work import SCALP_MOST_VOL
from engine.weights import Measure

# The schools of work, each with what is asked: in the order in which they are.
SCHOOLS: Final = {
    "school": later("Level 8 shows"),
    "watch": later("Colour is looked at"),
    "check_min": later("Lightener is looked at every"),
    "bowl_min": later("A bowl of {bowl:weight} is worked in within", bowl=60),
    "strong_lift": later("Strong virgin hair is lifted a visit by"),
    "fill_from": later("Light hair is filled before it goes darker by"),
    "fill_with": later("It is filled with"),
    "lay": later("Lightener lies, where nobody has asked"),
    "deposit_on": later("Colour goes on hair that is"),
    "how_light": later("Hair is lifted"),
    "toner_level": later("Toners are looked at on a level of"),
    "pre_tone": later("Warmth is toned away before a pastel"),
    "over_tone": later("A bowl is aimed"),
    "carrier": later("Bowls are thinned with"),
    "heat": later("Heat is used"),
    "clean_up": later("After a lift, hair is washed"),
    "condition": later("Before its colour, porous hair is"),
    "begin_at": later("Application begins"),
    "root_look": later("The root of a bright look is"),
    "water": later("At home, hair is washed with water that is"),
}


class House(models.Model):
    """The rules of a house. Which of its schools is right, the trade leaves to each."""

    class SchoolChoice(models.TextChoices):
        YELLOW_GOLD = School.YELLOW_GOLD_AT_8.value, later("yellow-gold")
        ORANGE = School.ORANGE_AT_8.value, later("mostly orange")
        OWN = "own", later("our own ladder")

    class WatchChoice(models.TextChoices):
        BY_KIND = Watch.BY_KIND.value, later("by kind")
        ALWAYS = Watch.ALWAYS.value, later("always watch")
        FULL = Watch.FULL.value, later("always full time")

    class LiftChoice(models.TextChoices):
        STEPS = "steps", later("4 levels, in checked steps")
        TWO = "two", later("2 levels always")

    class FillChoice(models.TextChoices):
        TWO_LEVELS = FillFrom.TWO_LEVELS.value, later("2 levels")
        MORE = FillFrom.MORE_THAN_TWO.value, later("more than 2 levels")

    class FillWithChoice(models.TextChoices):
        MISSING = FillWith.MISSING.value, later("what is missing")
        GOLD_NEUTRAL = FillWith.GOLD_NEUTRAL.value, later("gold and neutral")
        COPPER_RED = FillWith.COPPER_RED.value, later("copper-red")
        BROWN = FillWith.BROWN.value, later("brown")
        DIRECT_RED = FillWith.DIRECT_RED.value, later("direct red")

    class LayChoice(models.TextChoices):
        FOIL = Lay.FOIL.value, later("in foil")
        COVER = Lay.COVER.value, later("covered")
        OPEN = Lay.OPEN.value, later("open")

    class DepositChoice(models.TextChoices):
        BY_KIND = DepositOn.BY_KIND.value, later("by kind: toner and demi damp")
        DRY = DepositOn.DRY.value, later("always dry")
        DAMP = DepositOn.DAMP.value, later("always damp")

    class LightChoice(models.TextChoices):
        NEEDED = HowLight.NEEDED.value, later("as light as the colour needs")
        LIGHTEST = HowLight.LIGHTEST.value, later("as light as it goes")

    class TonerChoice(models.TextChoices):
        TWO_DARKER = TonerLevel.TWO_DARKER.value, later("its own or up to 2 darker")
        OWN = TonerLevel.OWN.value, later("its own only")

    class PreToneChoice(models.TextChoices):
        NEARER = PreTone.NEARER.value, later("only where it is nearer")
        ALWAYS = PreTone.ALWAYS.value, later("always")
        NEVER = PreTone.NEVER.value, later("never")

    class CarrierChoice(models.TextChoices):
        CLEAR = Carrier.CLEAR.value, later("the line's clear")
        CONDITIONER = Carrier.CONDITIONER.value, later("conditioner")

    class HeatChoice(models.TextChoices):
        NONE = Heat.NONE.value, later("nowhere")
        OXIDATIVE = Heat.OXIDATIVE.value, later("on oxidative colour")
        LIGHTENER = Heat.LIGHTENER.value, later("with lightener, under checks")

    class CleanUpChoice(models.TextChoices):
        ONCE = CleanUp.ONCE.value, later("once, gently")
        TWICE = CleanUp.TWICE.value, later("twice at the root, clarifying")

    class BeginChoice(models.TextChoices):
        NAPE = BeginAt.NAPE.value, later("nape up")
        HAIRLINE = BeginAt.HAIRLINE.value, later("hairline first")
        SIDE = BeginAt.SIDE.value, later("one side to the other")

    class WaterChoice(models.TextChoices):
        COOL = Water.COOL.value, later("cool")
        AS_LIKED = Water.AS_LIKED.value, later("as liked")

    class ConditionChoice(models.TextChoices):
        CLEAN = Condition.CLEAN.value, later("left as it is, clean")
        EQUALISE = Condition.EQUALISE.value, later("evened by a light equaliser")

    class RootChoice(models.TextChoices):
        SHADOW = RootLook.SHADOW.value, later("a shadow, deeper")
        NATURAL = RootLook.NATURAL.value, later("left natural")
        SOLID = RootLook.SOLID.value, later("solid, as the lengths")
        TAP = RootLook.TAP.value, later("a tap of shadow alone")

    class OverToneChoice(models.TextChoices):
        ON_AIM = OverTone.ON_AIM.value, later("on the aim")
        PAST = OverTone.PAST.value, later("slightly past it, for longer wear")

    class BowlChoice(models.IntegerChoices):
        FAST = 10, later("10 minutes")
        USUAL = 15, later("15 minutes")
        SLOW = 20, later("20 minutes")
        LEARNING = 30, later("30 minutes")

    class CheckChoice(models.IntegerChoices):
        USUAL = int(CHECK_EVERY_MIN), later("5 minutes")
        OFTEN = 3, later("3 minutes")
        MORE_OFTEN = 2, later("2 minutes")

    class TestChoice(models.IntegerChoices):
        TWO_DAYS = int(TEST_LEAST_HOURS), later("48 hours")
        THREE_DAYS = 72, later("72 hours")
        FOUR_DAYS = 96, later("96 hours")

    class ScalpChoice(models.IntegerChoices):
        USUAL = int(SCALP_MOST_VOL), later("20 vol")
        HALF = 10, later("10 vol")
        NONE = 0, later("none")

    class PaperChoice(models.TextChoices):
        A4 = "A4", later("A4")
        LETTER = "letter", later("US letter")

    class UnitChoice(models.TextChoices):
        GRAM = Measure.GRAM.value, later("grams")
        OUNCE = Measure.OUNCE.value, later("ounces")
        MILLILITRE = Measure.MILLILITRE.value, later("millilitres (powder in grams)")

    class LockChoice(models.IntegerChoices):
        NEVER = 0, later("by hand alone")
        SOON = 5, later("after 5 minutes")
        QUARTER = 15, later("after 15 minutes")
        HOUR = 60, later("after an hour")

    school = models.CharField(
        max_length=20,
        choices=SchoolChoice.choices,
        default=SchoolChoice.YELLOW_GOLD,
        help_text="what level 8 shows: the ladder of undertones that the studio reads by",
    )
    watch = models.CharField(
        max_length=10,
        choices=WatchChoice.choices,
        default=WatchChoice.BY_KIND,
        help_text="when colour is looked at while it works",
    )
    strong_lift = models.CharField(
        max_length=6,
        choices=LiftChoice.choices,
        default=LiftChoice.STEPS,
        help_text="what one visit asks of strong virgin hair",
    )
    fill_from = models.CharField(
        max_length=13,
        choices=FillChoice.choices,
        default=FillChoice.TWO_LEVELS,
        help_text="from how far down light hair gets its warmth back before the colour",
    )
    fill_with = models.CharField(
        max_length=12,
        choices=FillWithChoice.choices,
        default=FillWithChoice.MISSING,
        help_text="to what colour light hair is filled",
    )
    lay = models.CharField(
        max_length=10,
        choices=LayChoice.choices,
        default=LayChoice.FOIL,
        help_text="how lightener lies where nobody has asked",
    )
    deposit_on = models.CharField(
        max_length=13,
        choices=DepositChoice.choices,
        default=DepositChoice.BY_KIND,
        help_text="on what hair colour is put",
    )
    how_light = models.CharField(
        max_length=8,
        choices=LightChoice.choices,
        default=LightChoice.NEEDED,
        help_text="how far hair is lifted",
    )
    toner_level = models.CharField(
        max_length=10,
        choices=TonerChoice.choices,
        default=TonerChoice.TWO_DARKER,
        help_text="which toners are looked at",
    )
    pre_tone = models.CharField(
        max_length=6,
        choices=PreToneChoice.choices,
        default=PreToneChoice.NEARER,
        help_text="when warmth is toned away first",
    )
    carrier = models.CharField(
        max_length=11,
        choices=CarrierChoice.choices,
        default=CarrierChoice.CLEAR,
        help_text="what thins a bowl where a line has both",
    )
    heat = models.CharField(
        max_length=9,
        choices=HeatChoice.choices,
        default=HeatChoice.NONE,
        help_text="where heat is used unless somebody says otherwise",
    )
    clean_up = models.CharField(
        max_length=5,
        choices=CleanUpChoice.choices,
        default=CleanUpChoice.ONCE,
        help_text="how hair is washed after a lift",
    )
    begin_at = models.CharField(
        max_length=8,
        choices=BeginChoice.choices,
        default=BeginChoice.NAPE,
        help_text="where the application begins",
    )
    water = models.CharField(
        max_length=8,
        choices=WaterChoice.choices,
        default=WaterChoice.COOL,
        help_text="with what water a client is told to wash",
    )
    condition = models.CharField(
        max_length=8,
        choices=ConditionChoice.choices,
        default=ConditionChoice.CLEAN,
        help_text="what is done to porous hair before its colour",
    )
    root_look = models.CharField(
        max_length=7,
        choices=RootChoice.choices,
        default=RootChoice.SHADOW,
        help_text="what the root of a bright look gets",
    )
    over_tone = models.CharField(
        max_length=6,
        choices=OverToneChoice.choices,
        default=OverToneChoice.ON_AIM,
        help_text="how far a bowl is steered",
    )
    colour_from_years = models.PositiveSmallIntegerField(
        default=COLOUR_FROM_YEARS, help_text="no peroxide before that age"
    )
    test_hours = models.PositiveSmallIntegerField(
        choices=TestChoice.choices, default=TestChoice.TWO_DAYS, help_text="after which a sensitivity test counts"
    )
    scalp_vol = models.PositiveSmallIntegerField(
        choices=ScalpChoice.choices, default=ScalpChoice.USUAL, help_text="most strength of developer on the scalp"
    )
    minors_stop = models.BooleanField(default=False, help_text="a minor without a guardian's consent stops the work")
    health_stops = models.BooleanField(default=False, help_text="pregnancy, illness and a doctor's note stop the work")
    lines_apart = models.BooleanField(default=False, help_text="a second line on one head stops the work")
    consent_first = models.BooleanField(default=False, help_text="no photo and no health fact without consent noted")
    photos_months = models.PositiveSmallIntegerField(default=0, help_text="photos go after so many months; 0 for never")
    traces_months = models.PositiveSmallIntegerField(
        default=36, help_text="what tells who changed what goes after so many months; 0 for never"
    )
    signed_years = models.PositiveSmallIntegerField(
        default=0, help_text="signatures and tests of who is forgotten stay so long, without a name; 0 for not at all"
    )
    currency = models.CharField(max_length=4, blank=True, help_text="stands beside prices, as € or CHF")
    unit = models.CharField(
        max_length=2,
        choices=UnitChoice.choices,
        default=UnitChoice.GRAM,
        help_text="what weights are shown and typed in",
    )
    paper = models.CharField(max_length=6, choices=PaperChoice.choices, default=PaperChoice.A4)
    lock_min = models.PositiveSmallIntegerField(
        choices=LockChoice.choices,
        default=LockChoice.QUARTER,
        help_text="minutes without a touch after which the tablet of somebody with a PIN is locked",
    )

    own_ladder = models.JSONField(default=list, blank=True, help_text="rungs of the house's own ladder of undertones")
    bowl_min = models.PositiveSmallIntegerField(
        choices=BowlChoice.choices, default=BowlChoice.USUAL, help_text="minutes in which a bowl of 60 g is worked in"
    )
    check_min = models.PositiveSmallIntegerField(
        choices=CheckChoice.choices, default=CheckChoice.USUAL, help_text="minutes between two looks at lightener"
    )

    class Meta:
        abstract = True

    @property
    def schools(self) -> list[tuple[str, str]]:
        """The schools of undertones that it may read by, with their words: its own only once it has rungs."""
        return [each for each in self.SchoolChoice.choices if each[0] != self.SchoolChoice.OWN or self.own_ladder]

    @property
    def ladder(self) -> Ladder:
        """The ladder of undertones that the house reads by: a school's, or its own once it has one."""
        if self.school != self.SchoolChoice.OWN:
            return school_ladder(School(self.school))
        return Ladder(rungs=tuple(Rung(**rung) for rung in self.own_ladder)) if self.own_ladder else school_ladder()
