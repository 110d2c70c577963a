"""Whether a client agrees to what is about to be kept of her."""

from dataclasses import dataclass

from studio.accounts.models import Person
from studio.clients.models import Client, Consent
from studio.ui.refusal import Refusal


@dataclass(frozen=True, kw_only=True)
class ConsentSeen:
    """What a client was asked last about one thing; last: None where she was not asked."""

    of: str
    words: str
    last: Consent | None

    @property
    def stands(self) -> bool:
        """Whether she agrees."""
        return self.last is not None and self.last.withdrawn_at is None


def consents_of(person: Person, client_id: int) -> list[ConsentSeen]:
    """How a client stands to each thing that asks for her consent. One query."""
    rows = Consent.objects.visible_to(person).filter(client=client_id)
    newest: dict[str, Consent] = {}
    for each in rows.select_related("noted_by__same_as", "withdrawal_noted_by__same_as"):
        newest.setdefault(each.of, each)
    return [ConsentSeen(of=of, words=words, last=newest.get(of)) for of, words in Consent.Of.choices]


def check_consent(person: Person, client: Client, of: Consent.Of) -> None:
    """Raises Refusal consent_withdrawn, and where the house asks first consent_unasked."""
    seen = next(each for each in consents_of(person, client.pk) if each.of == of)
    if seen.last is not None and not seen.stands:
        raise Refusal("consent_withdrawn", what=seen.words)
    if seen.last is None and person.studio.consent_first:
        raise Refusal("consent_unasked", what=seen.words)
