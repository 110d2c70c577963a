"""Keep the consult, and sign that a safety gate is passed."""

from collections.abc import Mapping

from django.db import transaction
from django.utils import timezone

from engine.service.roles import Act
from studio.accounts.models import Person
from studio.clients.consents import check_consent
from studio.clients.models import HEALTH_OF_CLIENT, Consent
from studio.ui.refusal import Refusal
from studio.visits.gates import GateSeen
from studio.visits.models import HEALTH, Consult, Signature, Visit

LONGEST = 300


def usual_of(person: Person) -> dict[str, object]:
    """What a consult begins with in a studio, where that is the house's own."""
    return {"lay": person.studio.lay}


@transaction.atomic
def save_consult(
    person: Person, *, visit_id: int, version: int, consult: Mapping[str, object], client: Mapping[str, object]
) -> Consult:
    """Keep what was asked and seen, and what of it belongs to the client. version: of the consult that was seen.

    A choice that consult doesn't name was not made: it stays as it was.

    Raises Refusal stale_consult, and for a health fact consent_withdrawn, consent_unasked; Visit.DoesNotExist for
    another studio's visit.
    """
    visit = Visit.objects.visible_to(person).select_for_update(of=("self",)).select_related("client").get(pk=visit_id)
    kept, _ = Consult.objects.get_or_create(visit=visit, defaults=usual_of(person))
    if kept.version != version:
        raise Refusal("stale_consult")
    if any(consult.get(name) for name in HEALTH) or any(client.get(name) for name in HEALTH_OF_CLIENT):
        check_consent(person, visit.client, Consent.Of.HEALTH)
    for row, given in ((kept, consult), (visit.client, client)):
        for name, answer in given.items():
            setattr(row, name, answer)
    kept.answered = [name for name in Consult.CHOICES if name in kept.answered or name in consult]
    kept.version += 1
    kept.save()
    visit.client.save(update_fields=list(client))
    return kept


@transaction.atomic
def note_integrity(person: Person, *, visit_id: int, stretch_held: bool, curl_held: bool) -> Consult:
    """Note that a wet strand was stretched and its curl looked at, now. Raises Visit.DoesNotExist."""
    visit = Visit.objects.visible_to(person).select_for_update(of=("self",)).get(pk=visit_id)
    kept, _ = Consult.objects.get_or_create(visit=visit, defaults=usual_of(person))
    kept.stretch_failed, kept.curl_loosened, kept.integrity_at = not stretch_held, not curl_held, timezone.now()
    kept.version += 1
    kept.save()
    return kept


def sign_gate(person: Person, *, visit_id: int, seen: GateSeen, reason: str) -> Signature:
    """Sign that a gate is passed for its coat, its zones and the facts as they stand, with the reason.

    It stays on the card, opens no other coat, and lapses when any of the facts gets worse.

    Raises Refusal gate_final, not_licensed, reason_missing, gate_signed; Visit.DoesNotExist.
    """
    visit = Visit.objects.visible_to(person).get(pk=visit_id)
    if not seen.gate.may_be_signed:
        raise Refusal("gate_final", "reason")
    if not person.may(Act.SIGN):
        raise Refusal("not_licensed", "reason")
    if not reason.strip():
        raise Refusal("reason_missing", "reason")
    if seen.signature:
        raise Refusal("gate_signed", "reason")
    return Signature.objects.create(
        visit=visit,
        gate=seen.gate.code,
        kind=seen.coat.kind.value,
        line=seen.coat.line,
        zones=[zone.pk for zone in seen.coat.zones],
        given=dict(seen.gate.given),
        sentence=seen.gate.sentence[:LONGEST],
        reason=reason.strip()[:LONGEST],
        signed_by=person,
    )
