"""What a card's document says of visits, merged with what is known of them here."""

import datetime
from collections.abc import Mapping
from decimal import Decimal
from typing import Any, Final

from django.utils import timezone

from engine.language import say
from studio.accounts.models import Person
from studio.cards.models import AmountTaken, HomeCare, Leftover, Tweak
from studio.clients.models import Client
from studio.formats.entry import day_of, decimals, moment_of
from studio.formats.history_json import CARE_FIELDS, CONSULT_FIELDS
from studio.formats.services.telling import Told
from studio.head.state import set_target
from studio.visits.models import Consult, Incident, Signature, Visit, Zone

IN_CM: Final = ("length_cm", "regrowth_cm")
CAREFUL: Final = frozenset({"virgin", "doctors_note", "guardian_consents"})  # more careful unsaid than said


def merge_visit(person: Person, client: Client, said: Mapping[str, Any], told: Told) -> None:
    """What a document says of one visit, merged with the visit of that day."""
    day = day_of(said["day"], "day")
    visit = _visit_of(person, client, day, said.get("uid", ""))
    if "consult" in said:
        _merge_consult(visit, said["consult"], told)
    if "home_care" in said:
        merge_care(visit, said["home_care"], told)
    if "weighed_back" in said:
        _merge_amount(visit, said["weighed_back"], told)
    for each in said.get("signatures", []):
        _merge_signature(person, visit, each)
    for each in said.get("incidents", []):
        _merge_incident(person, visit, each)


def _visit_of(person: Person, client: Client, day: datetime.date, uid: str) -> Visit:
    """The client's visit of a day, or else the one that the file means, on whatever day it is here; made if neither."""
    found = Visit.objects.filter(client=client, day=day).first()
    if found is None and uid:
        found = Visit.objects.filter(client=client, uid=uid).first()
    return found or Visit.objects.create(client=client, day=day, colourist=person, **({"uid": uid} if uid else {}))


def _merge_consult(visit: Visit, said: Mapping[str, Any], told: Told) -> None:
    """The consult of a visit. Of yes and no the more careful one stands."""
    said = {name: Decimal(str(value)) if name in IN_CM else value for name, value in said.items()}
    made = [name for name in Consult.CHOICES if name in said]
    consult, is_new = Consult.objects.get_or_create(visit=visit, defaults={**said, "answered": made})
    if is_new:
        return
    unasked = consult.unasked
    consult.answered = [name for name in Consult.CHOICES if name in consult.answered or name in made]
    for name, field in CONSULT_FIELDS.items():
        if name not in said:
            continue
        if name in unasked:
            setattr(consult, name, said[name])
        elif name in CAREFUL:
            setattr(consult, name, getattr(consult, name) and said[name])
        elif isinstance(field.get_default(), bool):
            setattr(consult, name, getattr(consult, name) or said[name])
        else:
            told.settle(consult, name, said[name], where=f"{visit.client.name}, {visit.day}")
    consult.version += 1
    consult.save()


def merge_care(visit: Visit, said: Mapping[str, Any], told: Told) -> None:
    """How a client treats their hair, and when they come again."""
    care, _ = HomeCare.objects.get_or_create(visit=visit)
    where = f"{visit.client.name}, {visit.day}"
    for name in CARE_FIELDS:
        if name in said:
            theirs = Decimal(str(said[name])) if name == "washes_a_week" else said[name]
            told.settle(care, name, theirs, where=where)
    if "next_on" in said:
        told.settle(care, "next_on", day_of(said["next_on"], "next_on"), where=where)
    care.save()


def _merge_amount(visit: Visit, said: Mapping[str, float], told: Told) -> None:
    """What the head took, by a file; what was weighed here stands before it."""
    if Leftover.objects.filter(bowl__worktop__visit=visit, left_g__isnull=False).exists():
        return
    if said["left_g"] > said["poured_g"]:
        told.tell(
            say("{name}, {day}: more was weighed back than poured; left out.", name=visit.client.name, day=visit.day)
        )
        return
    grams = {name: round(Decimal(str(said[name])), 1) for name in ("needed_g", "poured_g", "left_g")}
    AmountTaken.objects.update_or_create(visit=visit, defaults=grams)


def _merge_signature(person: Person, visit: Visit, said: Mapping[str, Any]) -> None:
    """A signature that was given elsewhere is kept, and opens nothing here; one of our own that comes back is here."""
    signed_at = moment_of(said["signed_at"], "signed_at")
    if visit.signatures.filter(gate=said["gate"], signed_at=signed_at).exists():
        return
    names = said.get("zones", [])
    zones = list(visit.zones.filter(name__in=names).values_list("pk", flat=True))
    Signature.objects.create(
        visit=visit,
        gate=said["gate"],
        kind=said.get("kind", ""),
        line=said.get("line", ""),
        zones=zones,
        given=said.get("given", {}),
        sentence=said["sentence"],
        reason=said["reason"],
        signed_by=person,
        signed_at=signed_at,
        signed_as=said["signed_by"],
    )


def _merge_incident(person: Person, visit: Visit, said: Mapping[str, Any]) -> None:
    noted_at = moment_of(said["noted_at"], "noted_at")
    zone = visit.zones.filter(name=said["zone"]).first()
    if zone is None:
        zone = Zone.objects.create(visit=visit, name=said["zone"], removed=True)
    Incident.objects.get_or_create(
        visit=visit,
        zone=zone,
        kind=said["kind"],
        noted_at=noted_at,
        defaults={
            "what": said.get("what", ""),
            "minute": round(Decimal(str(said["minute"])), 1),
            "noted_by": person,
        },
    )


def merge_tweaks(person: Person, client: Client, said: list[Mapping[str, Any]], told: Told) -> None:
    """What to change next time, a word a zone of a visit: of the last one, or of today, where no day is told."""
    visits = {visit.day: visit for visit in Visit.objects.filter(client=client)}
    last = last_visit(client)
    usual = last.day if last else timezone.localdate()
    for each in said:
        day = day_of(each["day"], "day") if "day" in each else usual
        visit = visits.get(day)
        if visit is None:
            visit = visits[day] = Visit.objects.create(client=client, day=day, colourist=person)
        tweak = Tweak.objects.filter(visit=visit, zone_name=each.get("zone", "")).first()
        is_new = tweak is None
        tweak = tweak or Tweak(client=client, visit=visit, zone_name=each.get("zone", ""), made_by=person, words="")
        where = f"{client.name}, {visit.day}, {tweak.zone_name or 'all zones'}"
        told.settle(tweak, "words", each["words"], where=where)
        if tweak.words == each["words"]:
            lab = decimals(each.get("aim_lab"))
            set_target(tweak, None if lab is None else list(lab))
            tweak.minutes_more, tweak.vol = (_tenth(each.get(name)) for name in ("minutes_more", "vol"))
            if tweak.vol is not None:
                tweak.vol = max(tweak.vol, Decimal("0.1"))
            tweak.active = each.get("active", True) and (is_new or tweak.active)
        tweak.save()


def _tenth(number: float | None) -> Decimal | None:
    return None if number is None else round(Decimal(str(number)), 1)


def last_visit(client: Client) -> Visit | None:
    """The client's newest visit, if there is one."""
    return Visit.objects.filter(client=client).order_by("-day").first()
