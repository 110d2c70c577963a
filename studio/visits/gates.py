"""Which safety gates stand in the way of a visit, and which of them are signed."""

import datetime
from collections.abc import Sequence
from dataclasses import dataclass, field

from engine.service.lift import Lift, Strength, Way
from engine.service.past import WHOLE, Past, Work, lifts_of
from engine.service.safety import Facts, Gate, Scalp, SensitivityTest, gates
from studio.accounts.models import Person
from studio.clients.models import PastWork, SkinTest
from studio.visits.models import Consult, Signature, Visit

FRAGILE_TEXTURE_LIFTS = 2  # fine hair counts as fragile from so many lifts; chosen by the founders


@dataclass(frozen=True, kw_only=True)
class GateSeen:
    """A gate with its signature, if there is one."""

    gate: Gate
    signature: Signature | None

    @property
    def is_shut(self) -> bool:
        """Whether it stops the work as things stand."""
        return self.gate.stops and self.signature is None


@dataclass(frozen=True, kw_only=True)
class Asked:
    """Everything that is known of a visit's head and skin. Four queries."""

    visit: Visit
    consult: Consult
    past: Sequence[PastWork]
    tests: Sequence[SkinTest]
    signatures: Sequence[Signature]


@dataclass(frozen=True, kw_only=True)
class Planned:
    """What is to be done to a zone, as far as gates ask: its lift, and the colour that goes on."""

    lift: Lift | None = None
    oxidative: bool = False
    direct: bool = False
    line: str = ""
    part: str = WHOLE
    porosity: float = 1.0
    neighbours_light: bool = field(default=False)


def asked_of(person: Person, visit: Visit) -> Asked:
    """What was asked of the client and seen at a visit; a visit without a consult has an empty one."""
    consult = Consult.objects.visible_to(person).filter(visit=visit).first()
    return Asked(
        visit=visit,
        consult=consult or Consult(visit=visit),
        past=list(PastWork.objects.visible_to(person).filter(client=visit.client_id)),
        tests=list(SkinTest.objects.visible_to(person).filter(client=visit.client_id).select_related("line")),
        signatures=list(Signature.objects.visible_to(person).filter(visit=visit).select_related("signed_by")),
    )


def strength_of(asked: Asked, part: str) -> Strength:
    """What the hair of a part of the head can bear."""
    consult, lifts = asked.consult, len(lifts_of(past_of(asked), part))
    return Strength(
        fragile=_is_fragile(consult, lifts),
        curl_sets_limit=consult.curl in (Consult.Curl.CURLY, Consult.Curl.COILY),
        lifts_before=lifts,
    )


def way_of(consult: Consult) -> Way:
    """How the lightener is laid."""
    return Way(consult.lay)


def gates_of(asked: Asked, planned: Planned = Planned()) -> list[GateSeen]:
    """The gates of a visit, for what is planned on one zone."""
    signed = {signature.gate: signature for signature in asked.signatures}
    return [GateSeen(gate=gate, signature=signed.get(gate.code)) for gate in gates(_facts(asked, planned))]


def past_of(asked: Asked) -> list[Past]:
    """The history as the engine takes it; work that was noted for after this visit's day is left out."""
    days = [(row, (asked.visit.day - row.done_on).days) for row in asked.past]
    return [Past(work=Work(row.work), days_ago=ago, part=row.part) for row, ago in days if ago >= 0]


def _is_fragile(consult: Consult, lifts: int) -> bool:
    worn = consult.texture == Consult.Texture.FINE and lifts >= FRAGILE_TEXTURE_LIFTS
    return consult.fragile or worn


def _facts(asked: Asked, planned: Planned) -> Facts:
    consult, client, day = asked.consult, asked.visit.client, asked.visit.day
    past = past_of(asked)
    lifts = lifts_of(past, planned.part)
    lift = planned.lift
    noon = datetime.datetime.combine(day, datetime.time(12), tzinfo=datetime.UTC)
    return Facts(
        age_years=client.age_on(day),
        scalp=Scalp(consult.scalp),
        reacted=client.reacted,
        black_henna_tattoo=client.black_henna_tattoo,
        past=past,
        tests=[
            SensitivityTest(
                hours_ago=(noon - test.tested_at).total_seconds() / 3600, clear=test.clear, line=test.line.name
            )
            for test in asked.tests
        ],
        strand_tested=consult.strand_tested,
        oxidative=planned.oxidative or consult.oxidative,
        direct=planned.direct,
        line=planned.line,
        lift_levels=lift.levels if lift else 0.0,
        lifts_before=len(lifts),
        days_since_lift=lifts[0].days_ago if lifts else None,
        porosity=planned.porosity,
        fragile=strength_of(asked, planned.part).gives_way,
        overlaps_light_hair=planned.neighbours_light and lift is not None,
        curl_loosened=consult.curl_loosened,
        stretch_failed=consult.stretch_failed,
        vol=lift.vol if lift else 0.0,
        on_scalp=consult.on_scalp and lift is not None,
        heat=consult.heat,
    )
