"""What is set about learning: whether results teach, which of them, and what was in truth another than a card says."""

from typing import Final

from django.db import transaction
from django.db.models import QuerySet

from studio.accounts.models import Person, Studio
from studio.cards.models import LaterLook, ZoneResult
from studio.clients.models import Client, StrandTest
from studio.learning.lessons import LATER, RESULT, STRAND
from studio.learning.services.learn import forget_for_now
from studio.taught.models import KnowledgeVersion, Teaches
from studio.taught.services.ask import ask_to_learn
from studio.ui.refusal import Refusal

ROWS: Final = {RESULT: ZoneResult, LATER: LaterLook, STRAND: StrandTest}


@transaction.atomic
def set_learns(person: Person, *, learns: bool) -> None:
    """Whether a studio's results teach at all. Off, forecasts are the engine's own at once; on, they are learned from
    anew."""
    Studio.objects.filter(pk=person.studio_id).update(learns=learns)
    if learns:
        ask_to_learn(person.studio_id)
    else:
        forget_for_now(person.studio_id)


@transaction.atomic
def set_teaches(person: Person, *, key: str, teaches: bool) -> None:
    """Whether one record teaches. Raises Refusal lesson_gone."""
    row = _held(person, key)
    row.teaches = teaches
    row.save(update_fields=["teaches"])
    ask_to_learn(person.studio_id)


@transaction.atomic
def set_client_teaches(person: Person, *, client_id: int, teaches: bool) -> Client:
    """Whether what comes out on a client's hair teaches. Raises Client.DoesNotExist."""
    client = Client.objects.visible_to(person).select_for_update().get(pk=client_id)
    client.teaches = teaches
    client.save(update_fields=["teaches"])
    ask_to_learn(person.studio_id)
    return client


@transaction.atomic
def mend(person: Person, *, key: str) -> None:
    """Take a record for what it most likely was, as the version in force has found. Raises Refusal lesson_gone."""
    row = _held(person, key)
    newest = KnowledgeVersion.objects.visible_to(person).filter(in_force=True).first()
    mending = newest.shown["misfits"].get(key, {}).get("mending") if newest else None
    if not mending:
        raise Refusal("lesson_gone")
    _mended(person, row, mending)


@transaction.atomic
def unmend(person: Person, *, key: str) -> None:
    """Take a record as its card has it again. Raises Refusal lesson_gone."""
    _mended(person, _held(person, key), {})


def _mended(person: Person, row: Teaches, mending: dict[str, object]) -> None:
    row.mended = mending
    row.save(update_fields=["mended"])
    ask_to_learn(person.studio_id)


def _held(person: Person, key: str) -> ZoneResult | LaterLook | StrandTest:
    """The row that a record comes from, locked. Raises Refusal lesson_gone."""
    kind, _, number = key.partition("-")
    if kind not in ROWS or not number.isdecimal() or len(number) > 18:
        raise Refusal("lesson_gone")
    rows: QuerySet[ZoneResult | LaterLook | StrandTest] = ROWS[kind].objects.visible_to(person)  # type: ignore[attr-defined]
    row = rows.select_for_update(of=("self",)).filter(pk=int(number)).first()
    if row is None:
        raise Refusal("lesson_gone")
    return row
