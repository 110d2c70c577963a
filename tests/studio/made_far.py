"""A visit that has come far, with a row of nearly every kind."""

import io
from decimal import Decimal

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from PIL import Image

from studio.accounts.models import Person
from studio.archives.models import Transfer
from studio.cards.models import AmountTaken, Formula, HomeCare, LaterLook, Leftover, ZoneResult
from studio.cards.services.judge import judge_zone, note_tweak
from studio.clients.models import StrandTest
from studio.clients.services.history import add_past, record_skin_test
from studio.clocks.models import ClockCheck, ClockCorrection, ZoneClock
from studio.formats.models import Feed
from studio.formats.services.consent import give_consent
from studio.guesses.services.guess import show_forecast, write_down
from studio.head.models import Bowl
from studio.learning.services.learn import learn_anew
from studio.portrait.services.draw import draw, take_head
from studio.pour.services.mix import mix_batch
from studio.pour.services.weigh import weigh
from studio.practice.models import SetWork
from studio.practice.services.practise import begin
from studio.route.models import Agreement, ChosenRoute, VisitPlan
from studio.shelf.list_in import read_list
from studio.shelf.models import StrandReading, StrandSheet, TubeList
from studio.shelf.services.own_tubes import take_list
from studio.shelf.services.strands import read_strand
from studio.supplies.models import Supply
from studio.supplies.services.stock import add_supply
from studio.visits.models import Consult, Incident, Signature, Visit, Zone
from studio.visits.selectors import open_zone
from studio.visits.services.zones import add_zone
from tests.engine.made_portrait import OVER_HAIR, head_photo
from tests.studio.made import clear_skin, put_on_hair


def picture() -> bytes:
    """A small photo of red hair."""
    kept = io.BytesIO()
    Image.new("RGB", (80, 80), (180, 60, 50)).save(kept, "PNG")
    return kept.getvalue()


def bring_far(person: Person, visit: Visit) -> None:
    """Poured, weighed, mixed, on the hair and kept, with a past and tests."""
    now = timezone.now()
    clear_skin(person, visit.client_id, now=now)
    add_zone(person, like_zone_id=open_zone(person, visit.pk).zone.pk, part="frame", name="fringe")
    add_past(person, client_id=visit.client_id, work="lift", part="whole", done_on=visit.day, today=visit.day)
    record_skin_test(person, client_id=visit.client_id, line_id=None, tested_at=now, clear=True, now=now)
    give_consent(person, client_id=visit.client_id, of="photos", now=now)
    if not TubeList.objects.visible_to(person).exists():
        tubes = read_list("Sea Pink\tP1\t\tpink", letters={}, is_oxidative=False).tubes
        listed = take_list(person, line=person.studio.lines.first().pk, tubes=tubes)
        colour = (Decimal(60), Decimal(20), Decimal(5))
        pink = {"shade_id": listed.shades.get().pk, "level": Decimal(10), "share": Decimal("0.2")}
        read_strand(person, **pink, lab=colour, source="reader")
        strand = {"level": 10, "share": 0.5, "x": 4, "y": 4, "lab": [50, 30, 0]}
        photo = {"jpeg": picture(), "width": 80, "height": 80, "paper_x": 1, "paper_y": 1}
        listed.shades.get().sheets.create(**photo, strands=[strand], taken_by=person)
    if not person.studio.invitations.exists():
        key = f"{person.studio_id:064d}"
        person.studio.invitations.create(role="colourist", licensed=True, key_hash=key, made_by=person, made_at=now)
    if not person.studio.supplies.exists():
        add_supply(person, kind="foil", name="Foils", unit="pieces", pack=Decimal(500), packs=Decimal(1))
        add_supply(person, kind="developer", name="20 vol", unit="g", vol=Decimal(20), pack=Decimal(900))
    client = Client()
    client.force_login(person)

    zone = open_zone(person, visit.pk).zone

    def version() -> int:
        return Bowl.objects.get(coats__zone=zone).version

    def send(name: str, **fields: object) -> None:
        client.post(reverse(name, args=[visit.pk]), {"version": version(), **fields})

    shades = {shade.name: shade for line in person.studio.lines.all() for shade in line.shades.all()}
    send("bench:aim", lightness="66", chroma="25", hue="0")
    for name, grams in (("Orchil", "3"), ("Clear", "57")):
        send("bench:pour", shade=shades[name].pk, grams=grams)
    for name, grams in (("Orchil", "3"), ("Clear", "57")):
        weigh(person, zone_id=zone.pk, version=version(), shade_id=shades[name].pk, grams=Decimal(grams))
    mix_batch(person, zone_id=zone.pk, version=version(), at=now)
    guess(person, zone, version())
    put_on_hair(person, zone_id=zone.pk, kind="direct", now=now)
    send("bench:save")
    judge_and_care(person, visit, zone)
    learn_anew(person.studio_id)
    note_safety(person, visit, zone)
    photo = {"photo": SimpleUploadedFile("hair.png", picture())}
    for name in ("bench:send-photo", "result:photo"):
        client.post(reverse(name, args=[visit.pk]), {"version": 0, **photo})
    take_head(person, visit_id=visit.pk, upload=SimpleUploadedFile("head.png", head_photo(120, 150)))
    begin(person, skill="which", now=now)
    feed = {"key_hash": f"{person.studio_id:064d}", "made_by": person, "made_at": now}
    Feed.objects.get_or_create(studio=person.studio, defaults=feed)
    key = {"key_hash": f"{person.studio_id:064d}", "may": ["cards"], "per_minute": 30, "tail": "abcd"}
    person.studio.program_keys.get_or_create(name="Till", defaults=key | {"made_by": person, "made_at": now})
    Transfer.objects.create(studio=person.studio, person=person, way="out", finished_at=now, failed="no room")
    SetWork.objects.get_or_create(person=person, skill="which", defaults={"set_by": person, "set_at": now})
    for of, points in (("hair", OVER_HAIR), (str(zone.pk), OVER_HAIR[:2])):
        draw(person, visit_id=visit.pk, of=of, points=points)


def guess(person: Person, zone: Zone, version: int) -> None:
    """What was expected of the bowl before its forecast was shown, and what is expected anew."""
    colour = {"lightness": Decimal(60), "chroma": Decimal(20), "hue": Decimal(350), "level": Decimal(10)}
    for shown in (True, False):
        write_down(person, zone_id=zone.pk, version=version, **colour)
        if shown:
            lab = np.array((60.0, 20.0, 5.0))
            show_forecast(person, zone_id=zone.pk, version=version, forecast_lab=lab, now=timezone.now())


def judge_and_care(person: Person, visit: Visit, zone: Zone) -> None:
    """How it turned out, what to change, what goes home, and how it was planned."""
    lab = (Decimal(60), Decimal(20), Decimal(5))
    judge_zone(person, zone_id=zone.pk, lab=lab, forecast_lab=lab, source="eye", dry=True, two_lights=False)
    later = {"seen_l": 62, "seen_a": 18, "seen_b": 5, "washes": 8, "source": "eye", "judged_by": person}
    LaterLook.objects.create(zone=zone, seen_in=visit, **later)
    note_tweak(person, visit_id=visit.pk, zone_name=zone.name, words="a drop less", aim_lab=lab)
    HomeCare.objects.create(visit=visit, given="a mask")
    bowl = Bowl.objects.filter(coats__zone=zone).first()
    Leftover.objects.create(bowl=bowl, left_g=5, poured_g=60, needed_g=50, noted_by=person)
    AmountTaken.objects.create(visit=visit, left_g=5, poured_g=60, needed_g=50)
    ChosenRoute.objects.create(zone=zone, kind="lift", chosen_by=person)
    VisitPlan.objects.create(visit=visit)
    Agreement.objects.create(visit=visit, work=["whole head: colour"], price=85, noted_by=person)
    zone.coats.update(apply_min=10, minutes=20)


def note_safety(person: Person, visit: Visit, zone: Zone) -> None:
    """What a gate may hang on."""
    now = timezone.now()
    StrandTest.objects.create(client=visit.client, vol=20, minutes=30, passed=True, tested_at=now, recorded_by=person)
    Consult.objects.get_or_create(visit=visit)
    Signature.objects.create(
        visit=visit, gate="box_dye", zones=[zone.pk], sentence="Box dye.", reason="it held", signed_by=person
    )
    Incident.objects.create(
        visit=visit, zone=zone, kind="going", what="lightener", minute=5, noted_by=person, noted_at=now
    )
    clock = ZoneClock.objects.get(zone=zone)
    ClockCheck.objects.create(clock=clock, minute=5, depth="on", seen_by=person, seen_at=now)
    ClockCorrection.objects.create(clock=clock, moment="applied_at", was=now, became=now, corrected_by=person)


def rows_of(person: Person, visit: Visit) -> dict[str, object]:
    """What every parameter of an address can be, for a visit that has come far."""
    line = person.studio.lines.first()
    return {
        "visit_id": visit.pk,
        "client_id": visit.client_id,
        "formula_id": Formula.objects.filter(visit=visit).first().pk,
        "line_id": line.pk,
        "shade_id": line.shades.first().pk,
        "list_id": TubeList.objects.visible_to(person).first().pk,
        "strand_id": StrandReading.objects.visible_to(person).first().pk,
        "sheet_id": StrandSheet.objects.visible_to(person).first().pk,
        "supply_id": Supply.objects.visible_to(person).first().pk,
        "intake_id": 1,
        "transfer_id": person.studio.transfers.first().pk,
        "key_id": person.studio.program_keys.first().pk,
        "uid": visit.client.uid,
        "number": 0,
        "drill_id": person.drills.first().pk,
        "depth": 50,
        "kind": "json",
        "key": f"result-{ZoneResult.objects.visible_to(person).first().pk}",
        "uidb36": "1",
    }
