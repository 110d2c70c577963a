"""One client's appointment, its zones, and what was read of their hair."""

from typing import Final

from django.db import models
from django.db.models import F, Q
from django.utils import timezone

from engine.hair.canvas import RANGES
from engine.hair.residue import Family
from engine.language import later, say
from engine.service.known import Scalp
from engine.service.lift import Lay
from engine.service.parting import LENGTHS
from engine.service.sections import SECTIONS_MOST
from studio.accounts.identity import own_uid
from studio.accounts.models import Person, StudioScope
from studio.accounts.traced import traced
from studio.clients.models import Client
from studio.shelf.models import Shade
from studio.ui.kept_words import SaidField

OLD_MOST = 3
ZONES_MOST = 12  # of one head


class VisitScope(StudioScope["Visit"]):
    """Visits of one studio."""

    studio_path = "client__studio"


@traced("uid")
class Visit(models.Model):
    """A client's appointment on one day."""

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="visits")
    day = models.DateField()
    colourist = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="visits")
    uid = own_uid()

    objects = VisitScope.as_manager()

    class Meta:
        ordering = ["-day", "-id"]
        constraints = [
            models.UniqueConstraint(fields=["client", "day"], name="visits_one_a_day"),
            models.UniqueConstraint(fields=["client", "uid"], name="visits_uid_once"),
        ]

    def __str__(self) -> str:
        return f"{self.client} on {self.day}"


class ZoneScope(StudioScope["Zone"]):
    """Zones of one studio's visits."""

    studio_path = "visit__client__studio"


class Zone(models.Model):
    """Hair that is treated alike: a part of the head, a stretch of its length, and all its strands or some of them.

    Lengthwise parts follow one another from root to end by position. A removed zone is kept, so that it can come back.
    from_cm, to_cm: from the scalp, where not as its part usually lies. area_share: of the scalp, likewise. pattern,
    strand_share: which strands there. left_alone: it gets nothing, and is out of aims, plan and amounts. sections: into
    how many it is parted, each put on and rinsed in its turn. rinsed_apart: by itself, without wetting the rest.
    """

    class Pattern(models.TextChoices):
        ALL = "all", later("all strands")
        FINE_WEAVE = "fine_weave", later("fine weave")
        WEAVE = "weave", later("weave")
        CHUNKY = "chunky_weave", later("chunky weave")
        SLICES = "slices", later("slices")
        ALTERNATE_A = "alternate_a", later("alternate A")
        ALTERNATE_B = "alternate_b", later("alternate B")
        HERRINGBONE = "herringbone", later("herringbone")
        VEIL = "veil", later("veil on top")

    class Part(models.TextChoices):
        WHOLE = "whole", later("whole head")
        ROOTS = "roots", later("roots")
        MIDS = "mids", later("mids")
        ENDS = "ends", later("ends")
        FRAME = "frame", later("face frame")
        CROWN = "crown", later("crown")
        NAPE = "nape", later("nape")
        PANEL = "panel", later("panel")
        LEFT = "left", later("left half")
        RIGHT = "right", later("right half")

    LENGTHWISE = (Part.WHOLE, Part.ROOTS, Part.MIDS, Part.ENDS)

    visit = models.ForeignKey(Visit, on_delete=models.CASCADE, related_name="zones")
    OWN_NAMES = frozenset([*Part.labels, LENGTHS])

    name = SaidField(max_length=40, known=OWN_NAMES, default=Part.WHOLE.label)
    part = models.CharField(max_length=10, choices=Part.choices, default=Part.WHOLE)
    position = models.PositiveSmallIntegerField(default=0)
    removed = models.BooleanField(default=False)
    from_cm = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    to_cm = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    area_share = models.DecimalField(max_digits=3, decimal_places=2, null=True, blank=True)
    pattern = models.CharField(max_length=12, choices=Pattern.choices, default=Pattern.ALL)
    strand_share = models.DecimalField(max_digits=3, decimal_places=2, null=True, blank=True)
    left_alone = models.BooleanField(default=False)
    sections = models.PositiveSmallIntegerField(default=1)
    rinsed_apart = models.BooleanField(default=False)

    objects = ZoneScope.as_manager()

    class Meta:
        ordering = ["position", "id"]
        constraints = [
            models.UniqueConstraint(fields=["visit", "name"], condition=Q(removed=False), name="visits_zone_name_once"),
            models.CheckConstraint(condition=~Q(name=""), name="visits_zone_name_not_empty"),
            models.CheckConstraint(
                condition=Q(from_cm=None, to_cm=None)
                | Q(from_cm__isnull=False, to_cm__isnull=False, from_cm__gte=0, to_cm__lte=150, to_cm__gt=F("from_cm")),
                name="visits_zone_stretch_whole",
            ),
            models.CheckConstraint(
                condition=(Q(area_share=None) | Q(area_share__gt=0, area_share__lte=1))
                & (Q(strand_share=None) | Q(strand_share__gt=0, strand_share__lte=1)),
                name="visits_zone_shares_0_1",
            ),
            models.CheckConstraint(
                condition=Q(sections__gte=1, sections__lte=SECTIONS_MOST), name="visits_zone_sections_1_4"
            ),
        ]

    def __str__(self) -> str:
        return str(self.name)

    @property
    def is_lengthwise(self) -> bool:
        """Whether it is a stretch of the hair from root to end."""
        return self.part in self.LENGTHWISE

    @property
    def lies_apart(self) -> bool:
        """Whether it lies in foil or is rinsed by itself: it neither shares the head's basin nor gets wet with it."""
        in_foil = self.pattern != self.Pattern.ALL or self.part == self.Part.PANEL
        return in_foil or self.rinsed_apart or self.sections > 1


class FamilyChoice(models.TextChoices):
    """What the pigment of a canvas is."""

    LIGHTENED = Family.LIGHTENED.value, later("lightened")
    NATURAL = Family.NATURAL.value, later("natural")


HAIR_NAMES: Final = (*RANGES, "family", "old_shade", "old_k_s", "laid")


class HairFields(models.Model):
    """A canvas as numbers, shared by readings and by what a formula remembers of the hair.

    old_shade, old_k_s: earlier colour still on the hair, and how strong it stands, K/S: a colour of the engine's own
    shelf by its name, or one of the studio's by its row. laid: what coats of this visit
    have left on it, each a row of the shelf with its K/S.
    """

    level = models.DecimalField(max_digits=4, decimal_places=2)
    warmth = models.DecimalField(max_digits=4, decimal_places=2, default=0)
    lean = models.DecimalField(max_digits=4, decimal_places=2, default=0)
    porosity = models.DecimalField(max_digits=4, decimal_places=2, default=1)
    grey = models.DecimalField(max_digits=4, decimal_places=2, default=0)
    yellowing = models.DecimalField(max_digits=4, decimal_places=2, default=0)
    family = models.CharField(max_length=10, choices=FamilyChoice.choices, default=FamilyChoice.LIGHTENED)
    old_shade = models.CharField(
        max_length=20, blank=True, help_text="a spectrum of the engine's demo shelf, or a row of the studio's"
    )
    old_k_s = models.DecimalField(max_digits=4, decimal_places=2, default=0)
    laid = models.JSONField(default=list, blank=True)

    class Meta:
        abstract = True
        constraints = [
            models.CheckConstraint(
                condition=Q(**{f"{name}__gte": low, f"{name}__lte": high}), name=f"%(app_label)s_%(class)s_{name}_range"
            )
            for name, (low, high) in [*RANGES.items(), ("old_k_s", (0, OLD_MOST))]
        ]

    @property
    def old_name(self) -> str:
        """What the old colour is called. A query where it is one of the studio's own."""
        if not self.old_shade.isdecimal():
            return self.old_shade
        return Shade.objects.filter(pk=self.old_shade).values_list("name", flat=True).first() or say("a colour")


@traced()
class Reading(HairFields):
    """A zone's canvas as seen; the one with the highest number is in force."""

    class Source(models.TextChoices):
        EYE = "eye", later("by eye")
        PHOTO = "photo", later("from a photo")
        READER = "reader", later("by the colour reader")
        FORECAST = "forecast", later("as it was forecast")

    zone = models.ForeignKey(Zone, on_delete=models.CASCADE, related_name="readings")
    number = models.PositiveIntegerField()
    source = models.CharField(max_length=8, choices=Source.choices, default=Source.EYE)
    after_lift = models.BooleanField(default=False, help_text="read after today's lift, in place of its forecast")
    after_coats = models.PositiveSmallIntegerField(default=0, help_text="how many coats of the zone were on before it")
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


HEALTH: Final = ("pregnant", "ill", "doctors_note", "guardian_consents")  # fields of a consult


class ConsultScope(StudioScope["Consult"]):
    """Consults of one studio's visits."""

    studio_path = "visit__client__studio"


class SignatureScope(StudioScope["Signature"]):
    """Signatures of one studio's visits."""

    studio_path = "visit__client__studio"


@traced()
class Consult(models.Model):
    """What was asked and seen before anything is touched; `version` counts its changes.

    A choice that was not made yet holds what is usual: the app reckons with it, and says that it was not asked.
    """

    CHOICES = ("setting", "upkeep", "nerve", "scalp", "length", "density", "texture", "curl", "lay")

    class Setting(models.TextChoices):
        EVERYDAY = "everyday", later("daily")
        WORK = "work", later("work")
        STAGE = "stage", later("stage")
        EVENT = "event", later("event")

    class Upkeep(models.TextChoices):
        LITTLE = "little", later("little")
        SOME = "some", later("some")
        WEEKLY = "weekly", later("weekly mask")

    class Nerve(models.TextChoices):
        FRIGHTENED = "frightened", later("frightened")
        CALM = "calm", later("calm")
        BOLD = "bold", later("bold")

    class ScalpSeen(models.TextChoices):
        SOUND = Scalp.SOUND.value, later("sound")
        TINGLING = Scalp.TINGLING.value, later("tingling")
        SORE = Scalp.SORE.value, later("sore")
        SUNBURNT = Scalp.SUNBURNT.value, later("sunburnt")
        BROKEN = Scalp.BROKEN.value, later("broken")

    class Length(models.TextChoices):
        SHORT = "short", later("short")
        MEDIUM = "medium", later("medium")
        LONG = "long", later("long")
        VERY_LONG = "very_long", later("very long")

    class Density(models.TextChoices):
        THIN = "thin", later("thin")
        MEDIUM = "medium", later("medium")
        THICK = "thick", later("thick")

    class Texture(models.TextChoices):
        FINE = "fine", later("fine")
        MEDIUM = "medium", later("medium")
        COARSE = "coarse", later("coarse")

    class Curl(models.TextChoices):
        STRAIGHT = "straight", later("straight")
        WAVY = "wavy", later("wavy")
        CURLY = "curly", later("curly")
        COILY = "coily", later("coily")

    class Lay(models.TextChoices):
        FOIL = Lay.FOIL.value, later("in foil")
        COVER = Lay.COVER.value, later("covered")
        OPEN = Lay.OPEN.value, later("open")

    visit = models.OneToOneField(Visit, on_delete=models.CASCADE, related_name="consult")
    version = models.PositiveIntegerField(default=0)
    answered = models.JSONField(default=list, help_text="which of the choices were made")
    wish = models.CharField(max_length=300, blank=True)
    setting = models.CharField(max_length=10, choices=Setting.choices, default=Setting.EVERYDAY)
    upkeep = models.CharField(max_length=10, choices=Upkeep.choices, default=Upkeep.SOME)
    nerve = models.CharField(max_length=10, choices=Nerve.choices, default=Nerve.CALM)
    scalp = models.CharField(max_length=10, choices=ScalpSeen.choices, default=ScalpSeen.SOUND)
    length = models.CharField(max_length=10, choices=Length.choices, default=Length.MEDIUM)
    length_cm = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    regrowth_cm = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    density = models.CharField(max_length=10, choices=Density.choices, default=Density.MEDIUM)
    texture = models.CharField(max_length=10, choices=Texture.choices, default=Texture.MEDIUM)
    curl = models.CharField(max_length=10, choices=Curl.choices, default=Curl.STRAIGHT)
    resistant = models.CharField(max_length=120, blank=True, help_text="spots that take badly")
    virgin = models.BooleanField(default=False, help_text="asked, and nothing was ever done to it")
    fragile = models.BooleanField(default=False)
    stretch_failed = models.BooleanField(default=False)
    curl_loosened = models.BooleanField(default=False)
    integrity_at = models.DateTimeField(null=True, blank=True, help_text="when stretch and curl were last tried")
    heat = models.BooleanField(default=False)
    pregnant = models.BooleanField(default=False)
    ill = models.BooleanField(default=False, help_text="an illness or medicines that may matter")
    doctors_note = models.BooleanField(default=False, help_text="an open note of a doctor")
    guardian_consents = models.BooleanField(default=False, help_text="a guardian's consent is on record")
    lay = models.CharField(max_length=10, choices=Lay.choices, default=Lay.FOIL)

    objects = ConsultScope.as_manager()

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(length_cm=None) | Q(length_cm__gte=1, length_cm__lte=150),
                name="visits_consult_length_1_150",
            ),
            models.CheckConstraint(
                condition=Q(regrowth_cm=None) | Q(regrowth_cm__gte=0, regrowth_cm__lte=150),
                name="visits_consult_regrowth_0_150",
            ),
        ]

    def __str__(self) -> str:
        return f"consult of {self.visit}"

    def is_answered(self, name: str) -> bool:
        """Whether a choice was made; what is other than usual was."""
        return name in self.answered or getattr(self, name) != self._meta.get_field(name).get_default()  # type: ignore[union-attr]

    @property
    def unasked(self) -> list[str]:
        """The choices that nobody made yet, in the order of the page."""
        return [name for name in self.CHOICES if not self.is_answered(name)]


@traced()
class Signature(models.Model):
    """A licensed person's word that a gate is passed for one coat; never changed or removed.

    kind, line: of the coat; zones: the rows of the zones that it was signed for. given: the facts, of which more is
    worse: as soon as one is, the signature covers the gate no more.
    """

    visit = models.ForeignKey(Visit, on_delete=models.CASCADE, related_name="signatures")
    gate = models.CharField(max_length=40)
    kind = models.CharField(max_length=10, blank=True)
    line = models.CharField(max_length=60, blank=True)
    zones = models.JSONField(default=list)
    given = models.JSONField(default=dict)
    sentence = SaidField(max_length=300, help_text="the gate as it was read")
    reason = models.CharField(max_length=300)
    signed_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    signed_at = models.DateTimeField(default=timezone.now)
    signed_as = models.CharField(
        max_length=150,
        blank=True,
        help_text="who signed elsewhere, in another studio's file: it opens nothing here",
    )

    objects = SignatureScope.as_manager()

    class Meta:
        ordering = ["signed_at"]
        constraints = [models.CheckConstraint(condition=~Q(reason=""), name="visits_signature_has_reason")]

    def __str__(self) -> str:
        return f"{self.gate} signed by {self.by}"

    @property
    def by(self) -> str:
        """Who signed."""
        return self.signed_as or str(self.signed_by)


class IncidentScope(StudioScope["Incident"]):
    """Incidents of one studio's visits."""

    studio_path = "visit__client__studio"


class Incident(models.Model):
    """Something that was felt or seen while it worked: it stung, or stretch or curl was going. Never changed."""

    class Kind(models.TextChoices):
        STUNG = "stung", later("it stings, itches or burns")
        GOING = "going", later("stretch or curl is going")

    visit = models.ForeignKey(Visit, on_delete=models.CASCADE, related_name="incidents")
    zone = models.ForeignKey(Zone, on_delete=models.CASCADE, related_name="incidents")
    kind = models.CharField(max_length=6, choices=Kind.choices)
    what = models.CharField(max_length=80, help_text="what was on the hair")
    minute = models.DecimalField(max_digits=5, decimal_places=1)
    noted_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    noted_at = models.DateTimeField()

    objects = IncidentScope.as_manager()

    class Meta:
        ordering = ["noted_at", "id"]
        constraints = [models.CheckConstraint(condition=Q(minute__gte=0), name="visits_incident_minute_not_negative")]

    def __str__(self) -> str:
        return f"{self.get_kind_display()}: {self.what}"
