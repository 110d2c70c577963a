"""States that a page can be in, made by the services, for the census to walk through."""

import datetime
import json
import uuid
from decimal import Decimal

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

from studio.accounts.models import Person
from studio.cards.models import Formula
from studio.cards.services.judge import judge_zone, note_tweak
from studio.cards.services.save_formula import save_formula
from studio.clients.services.add_client import add_client
from studio.clients.services.history import add_past
from studio.clocks.models import ZoneClock
from studio.clocks.services.run import rinse
from studio.formats.card_json import card_document
from studio.formats.models import Intake
from studio.head.models import Bowl
from studio.head.services.aim import aim
from studio.head.services.change_line import change_line
from studio.head.services.coat_times import work_zone
from studio.head.services.coats import add_coat
from studio.head.services.open_bowl import open_bowl
from studio.head.services.pour import pour
from studio.head.services.zones import add_to_head, split_head
from studio.photos.models import Photo
from studio.photos.services.photo import mark_paper, mark_spot, picked_colour, take_photo
from studio.portrait.services.draw import draw, take_head, tell_light
from studio.pour.services.mix import mix_batch
from studio.pour.services.weigh import weigh
from studio.shelf.models import Shade, ShadeLine
from studio.visits.models import Visit
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.start_visit import start_visit
from studio.visits.services.zones import switch_part
from tests.engine.made_portrait import OVER_HAIR, head_photo
from tests.studio.made import LEVEL_TEN, clear_skin, put_on_hair
from tests.studio.test_photo import picture


class Studio:
    """The demo studio, and visits of it."""

    def __init__(self, person: Person) -> None:
        self.person = person
        self.today = timezone.localdate()

    def fresh(self, name: str = "Wren Tallow", about: str = "second cymbals") -> Visit:
        """A visit that has just begun."""
        client = add_client(self.person, name=name, about=about)
        return start_visit(self.person, client_id=client.pk, day=self.today)

    def read(self, name: str = "Pim Harrow", about: str = "tuba", family: str | None = None, **hair: str) -> Visit:
        """Hair that was read, with nothing in the bowl."""
        visit = self.fresh(name, about)
        zone = open_zone(self.person, visit.pk).zone
        reading = LEVEL_TEN | {part: Decimal(number) for part, number in hair.items()}
        read_hair(self.person, zone_id=zone.pk, after=0, hair=reading, family=family)
        open_bowl(self.person, zone_id=zone.pk)
        clear_skin(self.person, visit.client_id, now=timezone.now())
        return visit

    def half_read(self, name: str = "Tam Roper") -> Visit:
        """Roots that were read, and lengths that were not."""
        visit = self.fresh(name)
        switch_part(self.person, zone_id=self.zone(visit), part="roots")
        read_hair(self.person, zone_id=self.zone(visit), after=0, hair={"level": Decimal(7)})
        return visit

    def yellowed(self, name: str = "Jory Brack") -> Visit:
        """White hair that has yellowed."""
        return self.read(name, "tuba", level="7", grey="0.7", yellowing="0.5", family="yellowed")

    def untested(self, name: str = "Hesper Lund") -> Visit:
        """Natural hair that has to be lifted for its aim, and no test of the skin: a stop that may be signed."""
        visit = self.fresh(name)
        zone = self.zone(visit)
        reading = LEVEL_TEN | {"level": Decimal(6)}
        read_hair(self.person, zone_id=zone, after=0, hair=reading)
        open_bowl(self.person, zone_id=zone)
        wanted = {"lightness": Decimal(70), "chroma": Decimal(20), "hue": Decimal(310)}
        aim(self.person, zone_id=zone, version=self.version(visit), nearest=True, **wanted)
        line = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        change_line(self.person, zone_id=zone, version=self.version(visit), line_id=line.pk)
        shade = self.shade("Selenite").pk
        pour(self.person, zone_id=zone, version=self.version(visit), shade_id=shade, typed="20")
        return visit

    def asked(self, client_id: int) -> Intake:
        """A file whose client has the name of another, and waits to be told who it is."""
        document = card_document(self.person, client_id)
        document["client"]["uid"] = str(uuid.uuid4())
        browser = Browser()
        browser.force_login(self.person)
        browser.post(reverse("formats:take"), {"file": SimpleUploadedFile("card.json", json.dumps(document).encode())})
        return Intake.objects.visible_to(self.person).latest("pk")

    def zone(self, visit: Visit) -> int:
        """The first zone's row."""
        return open_zone(self.person, visit.pk).zone.pk

    def version(self, visit: Visit) -> int:
        """What the bench of a visit stands at."""
        return Bowl.objects.filter(worktop__visit=visit).first().version

    def shade(self, name: str) -> Shade:
        """A tube of the shelf."""
        return Shade.objects.visible_to(self.person).get(name=name)

    def aimed(self, name: str = "Ansa Korr") -> Visit:
        """An aim, and nothing in the bowl."""
        visit = self.read(name, "a client with a long line about who they are and what they play, and where they march")
        numbers = {"lightness": Decimal(60), "chroma": Decimal(30), "hue": Decimal(355)}
        aim(self.person, zone_id=self.zone(visit), version=self.version(visit), nearest=True, **numbers)
        return visit

    def poured(self, name: str = "Ansel Gray") -> Visit:
        """An aim, and two shades in the bowl."""
        visit = self.aimed(name)
        zone = self.zone(visit)
        for shade, grams in (("Orchil", "4"), ("Clear", "56")):
            pour(
                self.person,
                zone_id=zone,
                version=self.version(visit),
                shade_id=self.shade(shade).pk,
                typed=grams,
            )
        return visit

    def six_zones(self, name: str = "Sorrel Whitby") -> Visit:
        """Roots, mids, ends, frame, crown and nape, each read, with something in the bowl."""
        visit = self.poured(name)
        zone = self.zone(visit)
        split_head(self.person, zone_id=zone, version=self.version(visit), into="three")
        for part in ("frame", "crown", "nape"):
            add_to_head(self.person, zone_id=self.zone(visit), version=self.version(visit), name="", part=part)
        for days, work in ((90, "lift"), (30, "box_dye")):
            day = self.today - datetime.timedelta(days=days)
            add_past(self.person, client_id=visit.client_id, work=work, part="ends", done_on=day, today=self.today)
        return visit

    def in_coats(self, name: str = "Rua Selkirk") -> Visit:
        """Two zones with lightener on one of them, a colour and a seal on both, and a glaze."""
        visit = self.poured(name)
        zone = self.zone(visit)
        add_to_head(self.person, zone_id=zone, version=self.version(visit), name="", part="nape")
        for purpose in ("lift", "glaze", "seal"):
            add_coat(self.person, zone_id=zone, version=self.version(visit), purpose=purpose)
        put_on_hair(self.person, zone_id=zone, kind="lightener", planned_min=30, now=self._ago(20))
        return visit

    def mixed(self, name: str = "Odo Fenn", ago_min: int = 40) -> Visit:
        """A bowl weighed and mixed some minutes ago."""
        visit = self.poured(name)
        zone = self.zone(visit)
        for shade, grams in (("Orchil", "4"), ("Clear", "56")):
            found = {"shade_id": self.shade(shade).pk, "grams": Decimal(grams), "lot": "L7"}
            weigh(self.person, zone_id=zone, version=self.version(visit), **found)
        mix_batch(self.person, zone_id=zone, version=self.version(visit), at=self._ago(ago_min))
        return visit

    def running(self, name: str = "Tib Corr", ago_min: int = 12) -> tuple[Visit, ZoneClock]:
        """A bowl on the hair since some minutes."""
        visit = self.mixed(name, ago_min + 10)
        return visit, put_on_hair(self.person, zone_id=self.zone(visit), kind="direct", now=self._ago(ago_min))

    def lifting(self, name: str = "Corin Ash") -> Visit:
        """Lightener on the first of two sections since six minutes: it calls for a look."""
        visit = self.read(name, level="6")
        work_zone(self.person, zone_id=self.zone(visit), version=self.version(visit), sections=Decimal(2))
        put_on_hair(self.person, zone_id=self.zone(visit), kind="lightener", planned_min=30, now=self._ago(6))
        return visit

    def rinsed(self, name: str = "Nell Bray") -> Visit:
        """A bowl that was on for half an hour, and is off."""
        visit, clock = self.running(name, 30)
        rinse(self.person, clock_id=clock.pk, now=timezone.now())
        return visit

    def kept(self, name: str = "Jory Vane") -> tuple[Visit, Formula]:
        """A result that was judged, with something to change, and is on the card."""
        visit = self.rinsed(name)
        zone = self.zone(visit)
        formula = save_formula(self.person, visit_id=visit.pk, version=self.version(visit))
        lab = formula.forecast_l, formula.forecast_a, formula.forecast_b
        judge_zone(self.person, zone_id=zone, lab=lab, forecast_lab=lab, source="eye", dry=True, two_lights=True)
        note_tweak(self.person, visit_id=visit.pk, zone_name="whole head", words="a drop less", aim_lab=lab)
        return visit, formula

    def marked(self, visit: Visit) -> None:
        """A photo of what went wrong, with paper, a right place and a spot."""
        upload = SimpleUploadedFile("hair.png", picture())
        take_photo(self.person, visit_id=visit.pk, upload=upload, purpose=Photo.Purpose.WRONG)
        mark_paper(self.person, visit_id=visit.pk, x=50, y=150, purpose=Photo.Purpose.WRONG)
        picked_colour(self.person, visit_id=visit.pk, x=300, y=150, purpose=Photo.Purpose.WRONG)
        mark_spot(self.person, visit_id=visit.pk, x=350, y=200)

    def portrayed(self, visit: Visit) -> None:
        """A photo of the head, its paper tapped and its hair found."""
        take_head(self.person, visit_id=visit.pk, upload=SimpleUploadedFile("head.png", head_photo()))
        tell_light(self.person, visit_id=visit.pk, x=0.075, y=0.075)
        draw(self.person, visit_id=visit.pk, of="hair", points=OVER_HAIR)

    def _ago(self, minutes: int) -> datetime.datetime:
        return timezone.now() - datetime.timedelta(minutes=minutes)
