"""What a card's document holds beside formulas, merged with what is known here.

Facts that safety hangs on only ever add up: of two words the more careful one stands, whichever side it comes from.
"""

from collections.abc import Mapping
from decimal import Decimal
from typing import Any, Final

from django.utils import timezone

from engine.language import say
from studio.accounts.models import Person
from studio.cards.models import AmountTaken, HomeCare, Leftover, Tweak
from studio.clients.models import Client, PastWork, SkinTest, StrandTest
from studio.formats.entry import day_of, decimals, moment_of
from studio.formats.history_json import CARE_FIELDS, CONSULT_FIELDS
from studio.formats.services.telling import Told
from studio.head.state import set_target
from studio.shelf.models import ShadeLine
from studio.visits.models import Consult, Incident, Signature, Visit, Zone

SENSITIVITIES_MOST: Final = 200
IN_CM: Final = ("length_cm", "regrowth_cm")
NOTES_MOST: Final = 2000
CAREFUL: Final = frozenset({"virgin", "doctors_note", "guardian_consents"})  # more careful unsaid than said


def merge_card(person: Person, card: Mapping[str, Any], told: Told) -> Client:
    """Merge a document that fits the schema onto the client of its name, who is made if not here.

    What can't be kept, and where the two differ, is told.
    """
    said = card["client"]
    client, _ = Client.objects.get_or_create(studio=person.studio, name=said["name"])
    lines = {line.name: line for line in ShadeLine.objects.visible_to(person)}
    _merge_client(client, said, told)
    _merge_past(client, card.get("past_work", []))
    _merge_skin_tests(person, client, card.get("skin_tests", []), lines, told)
    _merge_strand_tests(person, client, card.get("strand_tests", []), lines, told)
    client.save()
    for visit in card.get("visits", []):
        _merge_visit(person, client, visit, told)
    _merge_tweaks(person, client, card.get("change_next_time", []), told)
    if "home_care" in card and (last := _last_visit(client)):
        _merge_care(last, card["home_care"], told)
    return client


def _merge_client(client: Client, said: Mapping[str, Any], told: Told) -> None:
    told.settle(client, "about", said.get("about", ""), where=client.name)
    client.notes = _joined_notes(client, said.get("notes", ""), told)
    client.reacted |= said.get("reacted", False)
    client.black_henna_tattoo |= said.get("black_henna_tattoo", False)
    for words in said.get("sensitivities", "").split(","):
        _add_sensitivity(client, words, told)
    if "born_on" in said:
        told.settle(client, "born_on", day_of(said["born_on"], "born_on"), where=client.name)


def _joined_notes(client: Client, theirs: str, told: Told) -> str:
    """Notes of both sides one below the other, unless one holds the other."""
    ours = client.notes
    if not theirs or theirs in ours:
        return ours
    if ours in theirs:
        return theirs
    both = f"{ours}\n{theirs}"
    if len(both) > NOTES_MOST:
        told.tell(
            say(
                "{name}: the notes of the file do not fit below those that are here, and were left out.",
                name=client.name,
            )
        )
        return ours
    return both


def _add_sensitivity(client: Client, words: str, told: Told) -> None:
    known = [each.strip() for each in client.sensitivities.split(",") if each.strip()]
    if not words.strip() or words.strip().lower() in {each.lower() for each in known}:
        return
    both = ", ".join([*known, words.strip()])
    if len(both) <= SENSITIVITIES_MOST:
        client.sensitivities = both
    else:
        client.reacted = True
        told.tell(
            say(
                "{name}: “{words}” does not fit under sensitivities; noted as an earlier reaction.",
                name=client.name,
                words=words.strip()[:80],
            )
        )


def _merge_past(client: Client, said: list[Mapping[str, Any]]) -> None:
    known = {(past.work, past.part, past.done_on) for past in client.past.all()}
    fresh = []
    for each in said:
        past = PastWork(
            client=client,
            work=each["work"],
            part=each["part"],
            done_on=day_of(each["done_on"], "done_on"),
            note=each.get("note", ""),
        )
        if (past.work, past.part, past.done_on) not in known:
            fresh.append(past)
            known.add((past.work, past.part, past.done_on))
    PastWork.objects.bulk_create(fresh)


def _merge_skin_tests(
    person: Person, client: Client, said: list[Mapping[str, Any]], lines: Mapping[str, ShadeLine], told: Told
) -> None:
    """Tests by line, moment and outcome. A reaction to a line that is not on this shelf stays as a sensitivity."""
    known = {(test.line_id, test.tested_at, test.clear) for test in client.skin_tests.all()}
    for each in said:
        name, tested_at = each.get("line", ""), moment_of(each["tested_at"], "tested_at")
        if name and name not in lines:
            day = timezone.localdate(tested_at)
            if each["clear"]:
                told.tell(
                    say(
                        "{name}: a clear skin test of {name2}, {day}, was left out: the line is not here.",
                        name=client.name,
                        name2=name,
                        day=day,
                    )
                )
            else:
                client.reacted = True
                _add_sensitivity(client, say("reacted to {name} on {day}", name=name, day=day), told)
            continue
        line = lines[name] if name else None
        if (line.pk if line else None, tested_at, each["clear"]) not in known:
            SkinTest.objects.create(
                client=client, line=line, tested_at=tested_at, clear=each["clear"], recorded_by=person
            )


def _merge_strand_tests(
    person: Person, client: Client, said: list[Mapping[str, Any]], lines: Mapping[str, ShadeLine], told: Told
) -> None:
    known = {(test.line_id, test.part, test.tested_at) for test in client.strand_tests.all()}
    for each in said:
        name, tested_at = each.get("line", ""), moment_of(each["tested_at"], "tested_at")
        if name and name not in lines:
            told.tell(
                say(
                    "{name}: a strand test of {name2} was left out: the line is not here.", name=client.name, name2=name
                )
            )
            continue
        line = lines[name] if name else None
        if (line.pk if line else None, each["part"], tested_at) in known:
            continue
        held = each.get("stretch_held", True)
        StrandTest.objects.create(
            client=client,
            line=line,
            part=each["part"],
            products=each.get("products", []),
            vol=round(Decimal(str(each.get("vol", 0))), 1),
            minutes=max(round(Decimal(str(each["minutes"])), 1), Decimal("0.1")),
            grams=each.get("grams", {}),
            forecast_lab=each.get("forecast_lab", []),
            seen_lab=each.get("seen_lab", []),
            colour_seen=each.get("colour_seen", ""),
            stretch_held=held,
            passed=each["passed"] and held,
            tested_at=tested_at,
            recorded_by=person,
        )


def _merge_visit(person: Person, client: Client, said: Mapping[str, Any], told: Told) -> None:
    day = day_of(said["day"], "day")
    visit, _ = Visit.objects.get_or_create(client=client, day=day, defaults={"colourist": person})
    if "consult" in said:
        _merge_consult(visit, said["consult"], told)
    if "home_care" in said:
        _merge_care(visit, said["home_care"], told)
    if "weighed_back" in said:
        _merge_amount(visit, said["weighed_back"], told)
    for each in said.get("signatures", []):
        _merge_signature(person, visit, each)
    for each in said.get("incidents", []):
        _merge_incident(person, visit, each)


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


def _merge_care(visit: Visit, said: Mapping[str, Any], told: Told) -> None:
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


def _merge_tweaks(person: Person, client: Client, said: list[Mapping[str, Any]], told: Told) -> None:
    """What to change next time, a word a zone of a visit."""
    visits = {visit.day: visit for visit in Visit.objects.filter(client=client)}
    last = _last_visit(client)
    for each in said:
        visit = visits.get(day_of(each["day"], "day")) if "day" in each else last
        if visit is None:
            visit = Visit.objects.create(client=client, day=day_of(each["day"], "day"), colourist=person)
            visits[visit.day] = visit
        tweak = Tweak.objects.filter(visit=visit, zone_name=each.get("zone", "")).first()
        is_new = tweak is None
        tweak = tweak or Tweak(client=client, visit=visit, zone_name=each.get("zone", ""), made_by=person, words="")
        where = f"{client.name}, {visit.day}, {tweak.zone_name or 'all zones'}"
        told.settle(tweak, "words", each["words"], where=where)
        if tweak.words == each["words"]:
            lab = decimals(each.get("aim_lab"))
            set_target(tweak, None if lab is None else list(lab))
            tweak.minutes_more, tweak.vol = (_tenth(each.get(name)) for name in ("minutes_more", "vol"))
            tweak.active = each.get("active", True) and (is_new or tweak.active)
        tweak.save()


def _tenth(number: float | None) -> Decimal | None:
    return None if number is None else round(Decimal(str(number)), 1)


def _last_visit(client: Client) -> Visit | None:
    return Visit.objects.filter(client=client).order_by("-day").first()
