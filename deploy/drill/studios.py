"""Two hundred studios: the demo's once, and its archive brought into each of the others by the chain's own workers."""

import time
from typing import Final

from django.core.files.storage import default_storage
from django.utils import timezone

from engine.service.roles import Role
from studio.accounts.models import Person, Studio
from studio.archives.models import Transfer
from studio.archives.places import PIECE_BYTES, whole_name
from studio.archives.services.asking import ask_for_archive, begin_bringing, bring_part
from studio.demo.load import load_demo

STUDIOS: Final = 200
PASSWORD: Final = "a drill's password, of loopback"
WORKED_WITHIN_S: Final = 900.0


def load_studios(many: int = STUDIOS) -> list[Person]:
    """The owner of each studio, in order; those that are there already stay. Raises RuntimeError for one that fails."""
    people = [Person.objects.filter(username="lantern").first() or load_demo(PASSWORD)]
    missing = [number for number in range(1, many) if not Person.objects.filter(username=f"quay{number}").exists()]
    if missing:
        asked = ask_for_archive(people[0], now=timezone.now())
        await_workers([asked.pk])
        with default_storage.open(whole_name(asked.uid)) as file:
            archive = bytes(file.read())
        await_workers([_bring(number, archive) for number in missing])
    people += [Person.objects.get(username=f"quay{number}") for number in range(1, many)]
    return people


def _bring(number: int, archive: bytes) -> int:
    studio = Studio.objects.create(name=f"Quay {number}")
    person = Person.objects.create(username=f"quay{number}", studio=studio, role=Role.OWNER)
    begun = begin_bringing(person, size=len(archive))
    for piece, start in enumerate(range(0, len(archive), PIECE_BYTES)):
        body = archive[start : start + PIECE_BYTES]
        bring_part(person, transfer_id=begun.pk, number=piece, body=body, now=timezone.now())
    return begun.pk


def await_workers(transfers: list[int], within_s: float = WORKED_WITHIN_S) -> None:
    """Until the workers have done with these archives. Raises RuntimeError for one that failed, or is late."""
    until = time.monotonic() + within_s
    while left := Transfer.objects.filter(pk__in=transfers, finished_at=None).count():
        if time.monotonic() > until:
            raise RuntimeError(f"{left} archives wait for a worker")
        time.sleep(0.5)
    failed = Transfer.objects.filter(pk__in=transfers).exclude(failed="").values_list("failed", flat=True)
    if failed:
        raise RuntimeError(failed[0])
