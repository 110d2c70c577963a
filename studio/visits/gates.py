"""What is known of a visit's head and skin, and the gates that a coat raises: one check, asked by every page."""

import datetime
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final

from django.db.models import Exists, QuerySet
from django.utils import timezone

from engine.language import say
from engine.service.house import Heat
from engine.service.known import House, Known, Scalp, SensitivityTest, StrandTest
from engine.service.lift import Lay, Strength
from engine.service.past import Earlier, Past
from engine.service.safety import Gate, check_all, still_covers
from engine.service.work import Mix, Place, Work, WorkKind
from studio.accounts.models import Person, Studio
from studio.accounts.prepared import Prepared
from studio.clients import models as clients
from studio.ui.refusal import Refusal
from studio.ui.words import GATE_NAMES
from studio.visits.models import Consult, Incident, Reading, Signature, Visit, Zone

FRAGILE_TEXTURE_LIFTS = 2  # fine hair counts as fragile from so many lifts; chosen by the founders


@dataclass(frozen=True, kw_only=True)
class GateCoat:
    """One coat as it is about to go on: its kind, the zones it goes on, and what it is there, zone by zone."""

    zones: tuple[Zone, ...]
    works: tuple[Work, ...]

    @property
    def kind(self) -> WorkKind:
        """What it does."""
        return self.works[0].kind

    @property
    def line(self) -> str:
        """Whose shades are in it."""
        return self.works[0].line

    @property
    def key(self) -> str:
        """Its name in a form."""
        return f"{self.kind}:{self.line}"

    @property
    def words(self) -> str:
        """The coat in words."""
        return self.line or say(self.kind.value)


@dataclass(frozen=True, kw_only=True)
class GateSeen:
    """A gate of a coat with the signature that covers it as things stand, if there is one."""

    gate: Gate
    coat: GateCoat
    signature: Signature | None

    @property
    def is_shut(self) -> bool:
        """Whether it stops the work as things stand."""
        return self.gate.stops and self.signature is None

    @property
    def name(self) -> str:
        """The gate in a few words, as a button says it."""
        return GATE_NAMES.get(self.gate.code, self.gate.code.replace("_", " "))


@dataclass(frozen=True, kw_only=True)
class Asked:
    """Everything that is known of a visit's head and skin, at a moment. Seven queries."""

    visit: Visit
    studio: Studio
    now: datetime.datetime
    consult: Consult
    past: Sequence[clients.PastWork]
    tests: Sequence[clients.SkinTest]
    strand_tests: Sequence[clients.StrandTest]
    incidents: Sequence[Incident]
    signatures: Sequence[Signature]
    lifted_today: dict[int, float]


# What may be known, each as a query of a studio, a visit and its client.
_ASKED: Final[Mapping[str, Callable[..., QuerySet[Any]]]] = {
    "consult": lambda studio, visit, client: Consult.objects.of_studio(studio).filter(visit=visit),
    "past": lambda studio, visit, client: clients.PastWork.objects.of_studio(studio).filter(client=client),
    "tests": lambda studio, visit, client: (
        clients.SkinTest.objects.of_studio(studio).filter(client=client).select_related("line")
    ),
    "strand_tests": lambda studio, visit, client: (
        clients.StrandTest.objects.of_studio(studio).filter(client=client).select_related("line")
    ),
    "incidents": lambda studio, visit, client: Incident.objects.of_studio(studio).filter(visit=visit),
    "signatures": lambda studio, visit, client: (
        Signature.objects.of_studio(studio).filter(visit=visit, signed_as="").select_related("signed_by")
    ),
    "lifts": lambda studio, visit, client: Reading.objects.filter(zone__visit=visit, after_lift=True),
}
_THERE: Final = Prepared(
    lambda studio, visit, client: (
        Visit.objects.filter(pk=visit)
        .annotate(**{f"has_{name}": Exists(rows(studio, visit, client)) for name, rows in _ASKED.items()})
        .order_by()
    ),
    studio=int,
    visit=int,
    client=int,
)


def asked_of(person: Person, visit: Visit, now: datetime.datetime | None = None) -> Asked:
    """What was asked of the client and seen at a visit; a visit without a consult has an empty one.

    now: the moment by which tests are old enough; by default this one.
    """
    # Most heads have little of all this: one look tells what there is, and only that is read.
    known = {"studio": person.studio_id, "visit": visit.pk, "client": visit.client_id}
    looked = _THERE(**known)[0]
    there = {name: bool(getattr(looked, f"has_{name}")) for name in _ASKED}
    found = {name: list(rows(**known)) if there[name] else [] for name, rows in _ASKED.items() if name != "lifts"}
    return Asked(
        visit=visit,
        studio=person.studio,
        now=now or timezone.now(),
        consult=_consult(found["consult"], visit, person),
        past=found["past"],
        tests=found["tests"],
        strand_tests=found["strand_tests"],
        incidents=found["incidents"],
        signatures=found["signatures"],
        lifted_today=_lifted_today(visit) if there["lifts"] else {},
    )


def check(asked: Asked, coat: GateCoat) -> list[GateSeen]:
    """The gates that a coat raises, stops first, each with the signature that still covers it."""
    gates = check_all(coat.works, [known_of(asked, zone) for zone in coat.zones])
    return [GateSeen(gate=gate, coat=coat, signature=_signature(asked, coat, gate)) for gate in gates]


def check_many(asked: Asked, coats: Sequence[GateCoat]) -> list[GateSeen]:
    """The gates of several coats, stops first; what two coats raise alike is told once for each."""
    found = [seen for coat in coats for seen in check(asked, coat)]
    return sorted(found, key=lambda seen: (not seen.is_shut, not seen.gate.stops, seen.gate.severity.value))


def refuse_shut(asked: Asked, coat: GateCoat, field: str = "") -> None:
    """Raises Refusal gate_shut for the first stop of a coat that no signature covers."""
    shut = next((seen for seen in check(asked, coat) if seen.is_shut), None)
    if shut:
        raise Refusal("gate_shut", field, sentence=shut.gate.sentence)


def place_of(
    zone: Zone,
    reading: Reading | None,
    *,
    beneath: frozenset[WorkKind] = frozenset(),
    overlaps_light: bool = False,
) -> Place:
    """The hair of a zone as a coat meets it."""
    return Place(
        part=zone.part,
        name=zone.name,
        porosity=float(reading.porosity) if reading else 1.0,
        is_natural=reading is not None and reading.family == "natural",
        beneath=beneath,
        overlaps_light=overlaps_light,
    )


def strength_of(asked: Asked, zone: Zone, reading: Reading | None) -> Strength:
    """What the hair of a zone can bear, for the route's own reckoning."""
    known, place = known_of(asked, zone), place_of(zone, reading)
    return Strength(
        fragile=known.is_fragile,
        curl_sets_limit=known.is_curly,
        lifts_before=len(known.lifts_before(place)),
        lifted_today=reading is not None and reading.after_lift,
        most_levels=known.most_levels(place),
        scalp_most_vol=known.house.scalp_most_vol,
    )


def _consult(found: Sequence[Consult], visit: Visit, person: Person) -> Consult:
    """The visit's consult, or an empty one: made only then, since whatever is made of a visit becomes its consult."""
    return found[0] if found else Consult(visit=visit, lay=person.studio.lay)


def lay_of(consult: Consult) -> Lay:
    """How the lightener is laid."""
    return Lay(consult.lay)


def past_of(asked: Asked) -> list[Past]:
    """The history as the engine takes it; work that was noted for after this visit's day is left out."""
    days = [(row, (asked.visit.day - row.done_on).days) for row in asked.past]
    return [Past(work=Earlier(row.work), days_ago=ago, part=row.part) for row, ago in days if ago >= 0]


def known_of(asked: Asked, zone: Zone) -> Known:
    """What is known of the client and of a zone's hair, as the engine takes it."""
    consult, client, studio = asked.consult, asked.visit.client, asked.studio
    past = past_of(asked)
    lifts = [each for each in past if each.work is Earlier.LIFT and each.touches(zone.part)]
    worn = consult.texture == Consult.Texture.FINE and len(lifts) >= FRAGILE_TEXTURE_LIFTS
    return Known(
        age_years=client.age_on(asked.visit.day),
        guardian_consents=consult.guardian_consents,
        reacted=client.reacted,
        black_henna_tattoo=client.black_henna_tattoo,
        sensitivities=[words for words in client.sensitivities.split(",") if words.strip()],
        pregnant=consult.pregnant,
        ill=consult.ill,
        doctors_note=consult.doctors_note,
        scalp=Scalp(consult.scalp),
        stung_today=any(each.kind == Incident.Kind.STUNG for each in asked.incidents),
        going_today=any(each.kind == Incident.Kind.GOING and each.zone_id == zone.pk for each in asked.incidents),
        past=past,
        tests=[
            SensitivityTest(hours_ago=_hours(asked, test.tested_at), clear=test.clear, line=_line(test.line))
            for test in asked.tests
        ],
        strand_tests=[_strand_test(asked, test) for test in asked.strand_tests],
        lifted_today=asked.lifted_today.get(zone.pk, 0.0),
        is_virgin=consult.virgin,
        is_fragile=consult.fragile or worn,
        is_curly=consult.curl in (Consult.Curl.CURLY, Consult.Curl.COILY),
        curl_loosened=consult.curl_loosened,
        stretch_failed=consult.stretch_failed,
        house=House(
            colour_from_years=studio.colour_from_years,
            minors_stop=studio.minors_stop,
            health_stops=studio.health_stops,
            lines_apart=studio.lines_apart,
            test_least_h=float(studio.test_hours),
            scalp_most_vol=float(studio.scalp_vol),
            strong_hair_levels=2.0 if studio.strong_lift == Studio.LiftChoice.TWO else House().strong_hair_levels,
        ),
    )


def heated(asked: Asked, kind: WorkKind) -> bool:
    """Whether a kind of work gets heat: as the consult says, or as the house has it."""
    return asked.consult.heat or Heat(asked.studio.heat).is_on(kind)


def _lifted_today(visit: Visit) -> dict[int, float]:
    """Levels that each zone was lifted by at a visit, by zone id: from the last reading before to the newest after."""
    before: dict[int, float] = {}
    lifted: dict[int, float] = {}
    readings = Reading.objects.filter(zone__visit=visit).order_by("zone_id", "number")
    for zone_id, level, after_lift in readings.values_list("zone_id", "level", "after_lift"):
        if after_lift:
            lifted[zone_id] = max(float(level) - before.get(zone_id, float(level)), 0.0)
        else:
            before[zone_id] = float(level)
    return lifted


def _signature(asked: Asked, coat: GateCoat, gate: Gate) -> Signature | None:
    """The newest signature that was given for this gate, this coat and these zones, and for facts no better."""
    zones = {zone.pk for zone in coat.zones}
    for signed in reversed(asked.signatures):
        same = signed.gate == gate.code and signed.kind == coat.kind.value and signed.line == coat.line
        if same and gate.may_be_signed and zones <= set(signed.zones) and still_covers(signed.given, gate):
            return signed
    return None


def _hours(asked: Asked, moment: datetime.datetime) -> float:
    return (asked.now - moment).total_seconds() / 3600


def _line(line: object) -> str:
    return str(line) if line else ""


def _strand_test(asked: Asked, test: clients.StrandTest) -> StrandTest:
    kind = WorkKind(test.line.kind) if test.line else WorkKind.LIGHTENER
    return StrandTest(
        mix=Mix(kind=kind, line=_line(test.line), products=frozenset(test.products), vol=float(test.vol)),
        part=test.part,
        passed=test.passed,
        hours_ago=_hours(asked, test.tested_at),
    )
