"""What stands on the shelf: lines, their shades, and what each shade absorbs."""

from typing import Final

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from engine.dye.guess import said_tones
from engine.dye.kind import Kind
from engine.dye.known import Known
from engine.dye.shade import THINS_LIMITS
from engine.hair.residue import LEVEL_CLEAN_WHITE, LEVEL_DARKEST
from engine.hair.source import Source
from engine.language import later
from engine.service.purposes import LIGHTENER as LIGHTENER
from engine.service.timing import MINUTES_MOST, Pack
from engine.service.work import TEST_LASTS_DAYS
from studio.accounts.identity import own_uid
from studio.accounts.models import Person, Studio, StudioScope
from studio.accounts.traced import traced

TEST_LASTS_MOST_DAYS: Final = 730
REORDER_G: Final = 30  # half a bowl
LOT_LONGEST: Final = 30
PHOTO_MOST_BYTES: Final = 600_000


@traced("version", "uid")
class ShadeLine(models.Model):
    """A family of shades with its own mixing rules."""

    class KindChoice(models.TextChoices):
        DIRECT = Kind.DIRECT.value, later("direct")
        BOOSTER = Kind.BOOSTER.value, later("booster")
        MASK = Kind.MASK.value, later("mask")
        DEMI = Kind.DEMI.value, later("demi")
        PERMANENT = Kind.PERMANENT.value, later("permanent")
        LIGHTENER = LIGHTENER, later("lightener")

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="lines")
    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=10, choices=KindChoice.choices)
    position = models.PositiveSmallIntegerField(default=0)
    developer_parts = models.DecimalField(
        max_digits=3, decimal_places=1, default=0, help_text="parts of developer to one of colour; 0 for none"
    )
    time_constant_min = models.DecimalField(max_digits=4, decimal_places=1, default=7)
    tube_g = models.DecimalField(max_digits=5, decimal_places=1, default=60)
    developer_vol = models.DecimalField(
        max_digits=4, decimal_places=1, default=0, help_text="strength of its developer, in vol; 0 for none"
    )
    pack_usual_min = models.DecimalField(
        max_digits=4, decimal_places=1, null=True, blank=True, help_text="minutes that its pack asks for, where known"
    )
    pack_most_min = models.DecimalField(
        max_digits=4, decimal_places=1, null=True, blank=True, help_text="minutes that its pack allows, where known"
    )
    asks_test = models.BooleanField(default=False, help_text="the pack asks for a sensitivity test, peroxide or not")
    test_lasts_days = models.PositiveSmallIntegerField(default=TEST_LASTS_DAYS, help_text="how long a test counts")
    declares = models.CharField(max_length=300, blank=True, help_text="what the pack declares, between commas")
    empty_tube_g = models.DecimalField(
        max_digits=5, decimal_places=1, default=8, help_text="what an empty tube weighs, with its cap"
    )
    tone_letters = models.CharField(
        max_length=300, blank=True, help_text="the tone that each letter or digit of its codes stands for"
    )
    version = models.PositiveIntegerField(default=0, help_text="counts every change of the line and its shades")
    uid = own_uid()

    objects = StudioScope["ShadeLine"].as_manager()

    class Meta:
        ordering = ["position", "id"]
        constraints = [
            models.UniqueConstraint(fields=["studio", "name"], name="shelf_line_name_once"),
            models.UniqueConstraint(fields=["studio", "uid"], name="shelf_line_uid_once"),
            models.CheckConstraint(
                condition=models.Q(developer_parts__gte=0, developer_parts__lte=10),
                name="shelf_line_developer_parts_0_10",
            ),
            models.CheckConstraint(
                condition=models.Q(time_constant_min__gte=0.5, time_constant_min__lte=60),
                name="shelf_line_time_constant_range",
            ),
            *(
                models.CheckConstraint(
                    condition=models.Q(**{name: None})
                    | models.Q(**{f"{name}__gte": 0.5, f"{name}__lte": MINUTES_MOST}),
                    name=f"shelf_line_{name}_range",
                    violation_error_message=f"Minutes of a pack are 0.5 to {MINUTES_MOST:g}.",
                )
                for name in ("pack_usual_min", "pack_most_min")
            ),
            models.CheckConstraint(
                condition=models.Q(pack_usual_min=None)
                | models.Q(pack_most_min=None)
                | models.Q(pack_usual_min__lte=models.F("pack_most_min")),
                name="shelf_line_pack_usual_within_most",
                violation_error_message="The pack asks for more minutes than it allows.",
            ),
            models.CheckConstraint(condition=models.Q(tube_g__gte=1, tube_g__lte=2000), name="shelf_line_tube_range"),
            models.CheckConstraint(
                condition=models.Q(developer_vol__gte=0, developer_vol__lte=40), name="shelf_line_vol_0_40"
            ),
            models.CheckConstraint(
                condition=models.Q(developer_parts=0, developer_vol=0)
                | models.Q(developer_parts__gt=0, developer_vol__gt=0),
                name="shelf_line_developer_has_strength",
            ),
            models.CheckConstraint(
                condition=models.Q(test_lasts_days__gte=2, test_lasts_days__lte=TEST_LASTS_MOST_DAYS),
                name="shelf_line_test_lasts_range",
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def is_powder(self) -> bool:
        """Whether it is weighed whatever the house measures in."""
        return self.kind == LIGHTENER

    @property
    def pack(self) -> Pack:
        """What its pack says of minutes."""
        usual, most = self.pack_usual_min, self.pack_most_min
        return Pack(usual_min=None if usual is None else float(usual), most_min=None if most is None else float(most))


class TubeListScope(StudioScope["TubeList"]):
    """Lists that one studio took."""

    studio_path = "line__studio"


class TubeList(models.Model):
    """A list of tubes that was put on the shelf as one, and can be taken off as one."""

    line = models.ForeignKey(ShadeLine, on_delete=models.CASCADE, related_name="lists")
    is_new_line = models.BooleanField(default=False, help_text="the line came with the list")
    taken_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    taken_at = models.DateTimeField(auto_now_add=True)

    objects = TubeListScope.as_manager()

    class Meta:
        ordering = ["-taken_at", "-id"]

    def __str__(self) -> str:
        return f"a list of {self.line}"


class ShadeScope(StudioScope["Shade"]):
    """Shades of one studio."""

    studio_path = "line__studio"


@traced("samples", "doubt_factors", "told", "readings", "version", "stock_g", "uid")
class Shade(models.Model):
    """One tube. A shade without bands or samples is a carrier: clear, a conditioner or a mask base.

    samples, doubt_factors: its absorption at strength 1 and how surely that is known, as the engine has them; none for
    a shade that its line describes by bands. known: where they come from. code, level, tones: as the tube says them;
    the tones between commas, the leading one first. off_shelf: taken off, and kept for the bowls and cards it is in.
    """

    class KnownChoice(models.TextChoices):
        DESCRIBED = "", later("described by its line")
        NAMED = Known.NAMED.value, later("guessed by its name")
        SWATCH = Known.SWATCH.value, later("from a swatch")
        STRANDS = Known.STRANDS.value, later("from strands")
        INSTRUMENT = Known.INSTRUMENT.value, later("measured")
        RESULTS = Known.RESULTS.value, later("from results")

    line = models.ForeignKey(ShadeLine, on_delete=models.CASCADE, related_name="shades")
    name = models.CharField(max_length=40)
    code = models.CharField(max_length=20, blank=True)
    level = models.DecimalField(max_digits=3, decimal_places=1, null=True, blank=True)
    tones = models.CharField(max_length=80, blank=True)
    known = models.CharField(max_length=10, choices=KnownChoice.choices, blank=True, default="")
    samples = models.JSONField(null=True, blank=True)
    doubt_factors = models.JSONField(null=True, blank=True)
    version = models.PositiveIntegerField(default=1, help_text="counts what was taken for its absorption")
    readings = models.PositiveSmallIntegerField(default=0, help_text="how many readings its absorption is known from")
    told = models.JSONField(
        null=True, blank=True, help_text="a swatch's look or a measured spectrum: what it is taken for without strands"
    )
    off_shelf = models.BooleanField(default=False)
    favourite = models.BooleanField(default=False, help_text="among those that the Bench shows when asked for few")
    listed = models.ForeignKey(TubeList, on_delete=models.SET_NULL, null=True, blank=True, related_name="shades")
    position = models.PositiveSmallIntegerField(default=0)
    keyboard_key = models.CharField(max_length=1, blank=True)
    strength = models.DecimalField(
        max_digits=5, decimal_places=2, default=8, validators=[MinValueValidator(0), MaxValueValidator(30)]
    )
    thins = models.DecimalField(
        max_digits=3, decimal_places=2, default=1, help_text="of a carrier: grams of plain clear that a gram stands for"
    )
    stock_g = models.DecimalField(max_digits=7, decimal_places=1, default=0)
    reorder_g = models.DecimalField(
        max_digits=6, decimal_places=1, default=REORDER_G, help_text="at how much or less more of it is ordered"
    )
    tube_price = models.DecimalField(max_digits=7, decimal_places=2, default=0, help_text="of one tube, in own money")
    uid = own_uid()

    objects = ShadeScope.as_manager()

    class Meta:
        ordering = ["position", "id"]
        constraints = [
            models.UniqueConstraint(fields=["line", "name"], name="shelf_shade_name_once"),
            models.UniqueConstraint(fields=["line", "uid"], name="shelf_shade_uid_once"),
            models.UniqueConstraint(
                fields=["line", "keyboard_key"], condition=~models.Q(keyboard_key=""), name="shelf_shade_key_once"
            ),
            models.CheckConstraint(
                condition=models.Q(strength__gte=0, strength__lte=30), name="shelf_shade_strength_0_30"
            ),
            models.CheckConstraint(
                condition=models.Q(thins__gte=THINS_LIMITS[0], thins__lte=THINS_LIMITS[1]),
                name="shelf_shade_thins_range",
            ),
            models.CheckConstraint(condition=models.Q(stock_g__gte=0), name="shelf_shade_stock_not_negative"),
            models.CheckConstraint(condition=models.Q(reorder_g__gte=0), name="shelf_shade_reorder_not_negative"),
            models.CheckConstraint(condition=models.Q(tube_price__gte=0), name="shelf_shade_price_not_negative"),
            models.UniqueConstraint(
                fields=["line", "code"], condition=~models.Q(code=""), name="shelf_shade_code_once"
            ),
            models.CheckConstraint(
                condition=models.Q(level=None) | models.Q(level__gte=LEVEL_DARKEST, level__lte=LEVEL_CLEAN_WHITE),
                name="shelf_shade_level_range",
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def said_tones(self) -> str:
        """Its tones in words."""
        return said_tones(filter(None, self.tones.split(", ")))

    @property
    def is_guessed(self) -> bool:
        """Whether only its name, level and tone are known."""
        return self.known == self.KnownChoice.NAMED


class ShadeVersion(models.Model):
    """What a tube was taken for before it was known anew: kept for the cards that were forecast with it."""

    shade = models.ForeignKey(Shade, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    known = models.CharField(max_length=10, choices=Shade.KnownChoice.choices, blank=True)
    readings = models.PositiveSmallIntegerField(default=0)
    strength = models.DecimalField(max_digits=5, decimal_places=2)
    samples = models.JSONField(null=True, blank=True)
    doubt_factors = models.JSONField(null=True, blank=True)
    until = models.DateTimeField(auto_now_add=True)
    changed_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-number"]
        constraints = [
            models.UniqueConstraint(fields=["shade", "number"], name="shelf_shade_version_once"),
            models.CheckConstraint(
                condition=models.Q(strength__gte=0, strength__lte=30), name="shelf_shade_version_strength_0_30"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.shade}, version {self.number}"


class ShadeBand(models.Model):
    """One absorption band of a shade."""

    shade = models.ForeignKey(Shade, on_delete=models.CASCADE, related_name="bands")
    centre_nm = models.DecimalField(max_digits=4, decimal_places=1)
    sigma_nm = models.DecimalField(max_digits=4, decimal_places=1)
    weight = models.DecimalField(max_digits=5, decimal_places=3)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(centre_nm__gte=300, centre_nm__lte=900), name="shelf_band_centre_300_900"
            ),
            models.CheckConstraint(
                condition=models.Q(sigma_nm__gte=5, sigma_nm__lte=200), name="shelf_band_sigma_5_200"
            ),
            models.CheckConstraint(condition=models.Q(weight__gte=0, weight__lte=10), name="shelf_band_weight_0_10"),
        ]

    def __str__(self) -> str:
        return f"{self.centre_nm} nm"


class StockMoveScope(StudioScope["StockMove"]):
    """Moves of one studio's tubes."""

    studio_path = "shade__line__studio"


class StockMove(models.Model):
    """What came to a tube's stock or went from it, and what was left by the record.

    lot: the number on the tube. tubes, paid: of a delivery, and what one cost. A count says what is there, and its
    grams are how far the record was off.
    """

    class Kind(models.TextChoices):
        DELIVERED = "delivered", later("delivered")
        COUNTED = "counted", later("counted")
        MIXED = "mixed", later("mixed")
        SPILT = "spilt", later("spilt or thrown away")

    shade = models.ForeignKey(Shade, on_delete=models.CASCADE, related_name="moves")
    kind = models.CharField(max_length=9, choices=Kind.choices)
    grams = models.DecimalField(max_digits=8, decimal_places=1)
    left_g = models.DecimalField(max_digits=7, decimal_places=1)
    lot = models.CharField(max_length=LOT_LONGEST, blank=True)
    expires_on = models.DateField(null=True, blank=True)
    paid = models.DecimalField(max_digits=7, decimal_places=2, null=True, blank=True)
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    objects = StockMoveScope.as_manager()

    class Meta:
        ordering = ["-made_at", "-id"]
        constraints = [
            models.CheckConstraint(condition=models.Q(left_g__gte=0), name="shelf_move_left_not_negative"),
            models.CheckConstraint(
                condition=models.Q(kind="delivered", grams__gt=0)
                | models.Q(kind="counted")
                | models.Q(kind__in=("mixed", "spilt"), grams__lt=0),
                name="shelf_move_way",
            ),
            models.CheckConstraint(
                condition=models.Q(kind="delivered") | models.Q(expires_on=None, paid=None),
                name="shelf_move_delivered_facts",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.grams:+} g {self.shade}"


class SheetScope(StudioScope["StrandSheet"]):
    """Sheets of one studio's tubes."""

    studio_path = "shade__line__studio"


class StrandSheet(models.Model):
    """A photo of strands or of a swatch on white paper, and what was read in it.

    strands: each with level, share, place x and y, and lab, in the order in which they lie. noted: taken as readings.
    """

    class Kind(models.TextChoices):
        STRANDS = "strands", later("strands")
        SWATCH = "swatch", later("a swatch")

    shade = models.ForeignKey(Shade, on_delete=models.CASCADE, related_name="sheets")
    kind = models.CharField(max_length=7, choices=Kind.choices, default=Kind.STRANDS)
    jpeg = models.BinaryField(max_length=PHOTO_MOST_BYTES)
    width = models.PositiveSmallIntegerField()
    height = models.PositiveSmallIntegerField()
    paper_x = models.PositiveSmallIntegerField()
    paper_y = models.PositiveSmallIntegerField()
    strands = models.JSONField(default=list)
    noted = models.BooleanField(default=False)
    taken_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    taken_at = models.DateTimeField(auto_now_add=True)

    objects = SheetScope.as_manager()

    class Meta:
        ordering = ["-taken_at", "-id"]

    def __str__(self) -> str:
        return f"a photo of {self.get_kind_display()} of {self.shade}"

    @property
    def marks(self) -> list[tuple[str, int, int]]:
        """What lies where in it."""
        strands = [(str(place), each["x"], each["y"]) for place, each in enumerate(self.strands, start=1)]
        return [("paper", self.paper_x, self.paper_y), *strands]


class StrandReadingScope(StudioScope["StrandReading"]):
    """Readings of one studio's tubes."""

    studio_path = "shade__line__studio"


class StrandReading(models.Model):
    """The colour that a share of a shade in clear gave on a strand of clean hair, at full time and dry: L*a*b* under
    daylight.
    """

    class SourceChoice(models.TextChoices):
        READER = Source.READER.value, later("by the colour reader")
        PHOTO = Source.PHOTO.value, later("from a photo")
        EYE = Source.EYE.value, later("by eye")

    shade = models.ForeignKey(Shade, on_delete=models.CASCADE, related_name="strands")
    level = models.DecimalField(max_digits=3, decimal_places=1)
    share = models.DecimalField(max_digits=4, decimal_places=3)
    lightness = models.DecimalField(max_digits=5, decimal_places=2)
    a = models.DecimalField(max_digits=6, decimal_places=2)
    b = models.DecimalField(max_digits=6, decimal_places=2)
    source = models.CharField(max_length=6, choices=SourceChoice.choices, default=SourceChoice.READER)
    sheet = models.ForeignKey(StrandSheet, on_delete=models.SET_NULL, null=True, blank=True, related_name="readings")
    read_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    read_at = models.DateTimeField(auto_now_add=True)

    objects = StrandReadingScope.as_manager()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(level__gte=LEVEL_DARKEST, level__lte=LEVEL_CLEAN_WHITE),
                name="shelf_strand_level_range",
            ),
            models.CheckConstraint(condition=models.Q(share__gte=0.001, share__lte=1), name="shelf_strand_share_range"),
            models.CheckConstraint(
                condition=models.Q(lightness__range=(0, 100), a__range=(-128, 128), b__range=(-128, 128)),
                name="shelf_strand_colour_range",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.share:g} of {self.shade} on level {self.level:g}"
