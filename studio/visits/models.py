"""One client's appointment, its zones, and what was read of their hair."""

from django.db import models
from django.db.models import Q

from engine.hair.canvas import RANGES
from engine.hair.residue import Family
from engine.service.lift import Way
from engine.service.safety import Scalp
from studio.accounts.models import Person, StudioScope
from studio.clients.models import Client

OLD_MOST = 3


class VisitScope(StudioScope["Visit"]):
    """Visits of one studio."""

    studio_path = "client__studio"


class Visit(models.Model):
    """A client's appointment on one day."""

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="visits")
    day = models.DateField()
    colourist = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="visits")

    objects = VisitScope.as_manager()

    class Meta:
        ordering = ["-day", "-id"]
        constraints = [models.UniqueConstraint(fields=["client", "day"], name="visits_one_a_day")]

    def __str__(self) -> str:
        return f"{self.client} on {self.day}"


class ZoneScope(StudioScope["Zone"]):
    """Zones of one studio's visits."""

    studio_path = "visit__client__studio"


class Zone(models.Model):
    """A part of the head with its own canvas and mix.

    Lengthwise parts follow one another from root to end by position. A removed zone is kept, so that it can come back.
    """

    class Part(models.TextChoices):
        WHOLE = "whole", "whole head"
        ROOTS = "roots", "roots"
        MIDS = "mids", "mids"
        ENDS = "ends", "ends"
        FRAME = "frame", "face frame"
        CROWN = "crown", "crown"
        NAPE = "nape", "nape"
        PANEL = "panel", "panel"

    LENGTHWISE = (Part.WHOLE, Part.ROOTS, Part.MIDS, Part.ENDS)

    visit = models.ForeignKey(Visit, on_delete=models.CASCADE, related_name="zones")
    name = models.CharField(max_length=40, default="whole head")
    part = models.CharField(max_length=10, choices=Part.choices, default=Part.WHOLE)
    position = models.PositiveSmallIntegerField(default=0)
    removed = models.BooleanField(default=False)

    objects = ZoneScope.as_manager()

    class Meta:
        ordering = ["position", "id"]
        constraints = [
            models.UniqueConstraint(fields=["visit", "name"], condition=Q(removed=False), name="visits_zone_name_once"),
            models.CheckConstraint(condition=~Q(name=""), name="visits_zone_name_not_empty"),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def is_lengthwise(self) -> bool:
        """Whether it is a stretch of the hair from root to end."""
        return self.part in self.LENGTHWISE


class FamilyChoice(models.TextChoices):
    """What the pigment of a canvas is."""

    LIGHTENED = Family.LIGHTENED.value, "lightened"
    NATURAL = Family.NATURAL.value, "natural"


class HairFields(models.Model):
    """A canvas as numbers, shared by readings and by what a formula remembers of the hair.

    old_shade, old_k_s: earlier colour still on the hair, and how strong it stands, K/S.
    """

    level = models.DecimalField(max_digits=4, decimal_places=2)
    warmth = models.DecimalField(max_digits=4, decimal_places=2, default=0)
    lean = models.DecimalField(max_digits=4, decimal_places=2, default=0)
    porosity = models.DecimalField(max_digits=4, decimal_places=2, default=1)
    grey = models.DecimalField(max_digits=4, decimal_places=2, default=0)
    family = models.CharField(max_length=10, choices=FamilyChoice.choices, default=FamilyChoice.LIGHTENED)
    old_shade = models.CharField(max_length=20, blank=True, help_text="a spectrum of the engine's demo shelf")
    old_k_s = models.DecimalField(max_digits=4, decimal_places=2, default=0)

    class Meta:
        abstract = True
        constraints = [
            models.CheckConstraint(
                condition=Q(**{f"{name}__gte": low, f"{name}__lte": high}), name=f"%(app_label)s_%(class)s_{name}_range"
            )
            for name, (low, high) in [*RANGES.items(), ("old_k_s", (0, OLD_MOST))]
        ]


class Reading(HairFields):
    """A zone's canvas as seen; the one with the highest number is in force."""

    class Source(models.TextChoices):
        EYE = "eye", "by eye"
        PHOTO = "photo", "from a photo"
        READER = "reader", "by the colour reader"

    zone = models.ForeignKey(Zone, on_delete=models.CASCADE, related_name="readings")
    number = models.PositiveIntegerField()
    source = models.CharField(max_length=6, choices=Source.choices, default=Source.EYE)
    after_lift = models.BooleanField(default=False, help_text="read after today's lift, in place of its forecast")
    read_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    read_at = models.DateTimeField(auto_now_add=True)

    class Meta(HairFields.Meta):
        abstract = False
        ordering = ["-number"]
        constraints = [
            *HairFields.Meta.constraints,
            models.UniqueConstraint(fields=["zone", "number"], name="visits_reading_number_once"),
        ]

    def __str__(self) -> str:
        return f"level {self.level}"


class ConsultScope(StudioScope["Consult"]):
    """Consults of one studio's visits."""

    studio_path = "visit__client__studio"


class SignatureScope(StudioScope["Signature"]):
    """Signatures of one studio's visits."""

    studio_path = "visit__client__studio"


class Consult(models.Model):
    """What was asked and seen before anything is touched; `version` counts its changes."""

    class Setting(models.TextChoices):
        EVERYDAY = "everyday", "daily"
        WORK = "work", "work"
        STAGE = "stage", "stage"
        EVENT = "event", "event"

    class Upkeep(models.TextChoices):
        LITTLE = "little", "little"
        SOME = "some", "some"
        WEEKLY = "weekly", "weekly mask"

    class Nerve(models.TextChoices):
        FRIGHTENED = "frightened", "frightened"
        CALM = "calm", "calm"
        BOLD = "bold", "bold"

    class ScalpSeen(models.TextChoices):
        SOUND = Scalp.SOUND.value, "sound"
        SORE = Scalp.SORE.value, "sore"
        BROKEN = Scalp.BROKEN.value, "broken"
        SUNBURNT = Scalp.SUNBURNT.value, "sunburnt"

    class Length(models.TextChoices):
        SHORT = "short", "short"
        MEDIUM = "medium", "medium"
        LONG = "long", "long"
        VERY_LONG = "very_long", "very long"

    class Density(models.TextChoices):
        THIN = "thin", "thin"
        MEDIUM = "medium", "medium"
        THICK = "thick", "thick"

    class Texture(models.TextChoices):
        FINE = "fine", "fine"
        MEDIUM = "medium", "medium"
        COARSE = "coarse", "coarse"

    class Curl(models.TextChoices):
        STRAIGHT = "straight", "straight"
        WAVY = "wavy", "wavy"
        CURLY = "curly", "curly"
        COILY = "coily", "coily"

    class Lay(models.TextChoices):
        FOIL = Way.FOIL.value, "in foil"
        COVER = Way.COVER.value, "covered"
        OPEN = Way.OPEN.value, "open"

    visit = models.OneToOneField(Visit, on_delete=models.CASCADE, related_name="consult")
    version = models.PositiveIntegerField(default=0)
    wish = models.CharField(max_length=300, blank=True)
    setting = models.CharField(max_length=10, choices=Setting.choices, default=Setting.EVERYDAY)
    upkeep = models.CharField(max_length=10, choices=Upkeep.choices, default=Upkeep.SOME)
    nerve = models.CharField(max_length=10, choices=Nerve.choices, default=Nerve.CALM)
    scalp = models.CharField(max_length=10, choices=ScalpSeen.choices, default=ScalpSeen.SOUND)
    length = models.CharField(max_length=10, choices=Length.choices, default=Length.MEDIUM)
    density = models.CharField(max_length=10, choices=Density.choices, default=Density.MEDIUM)
    texture = models.CharField(max_length=10, choices=Texture.choices, default=Texture.MEDIUM)
    curl = models.CharField(max_length=10, choices=Curl.choices, default=Curl.STRAIGHT)
    resistant = models.CharField(max_length=120, blank=True, help_text="spots that take badly")
    fragile = models.BooleanField(default=False)
    oxidative = models.BooleanField(default=False, help_text="colour with developer may be used today")
    strand_tested = models.BooleanField(default=False)
    stretch_failed = models.BooleanField(default=False)
    curl_loosened = models.BooleanField(default=False)
    on_scalp = models.BooleanField(default=False)
    heat = models.BooleanField(default=False)
    lay = models.CharField(max_length=10, choices=Lay.choices, default=Lay.FOIL)

    objects = ConsultScope.as_manager()

    def __str__(self) -> str:
        return f"consult of {self.visit}"


class Signature(models.Model):
    """A licensed person's word that a safety gate is passed at a visit, with the reason; never changed or removed."""

    visit = models.ForeignKey(Visit, on_delete=models.CASCADE, related_name="signatures")
    gate = models.CharField(max_length=40)
    sentence = models.CharField(max_length=300, help_text="the gate's own words on the day")
    reason = models.CharField(max_length=300)
    signed_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    signed_at = models.DateTimeField(auto_now_add=True)

    objects = SignatureScope.as_manager()

    class Meta:
        ordering = ["signed_at"]
        constraints = [
            models.UniqueConstraint(fields=["visit", "gate"], name="visits_gate_signed_once"),
            models.CheckConstraint(condition=~Q(reason=""), name="visits_signature_has_reason"),
        ]

    def __str__(self) -> str:
        return f"{self.gate}: {self.reason}"
