"""Archives that were made while a client was not forgotten yet."""

from django.db import transaction
from django.dispatch import receiver

from studio.archives.models import Transfer
from studio.archives.places import let_go
from studio.clients.signals import client_forgotten


@receiver(client_forgotten, dispatch_uid="archives that hold who is forgotten")
def forget_archives(sender: object, *, studio_id: int, **_more: object) -> None:
    """Let go of a studio's archives, and of the one that is being written, which the worker then throws away."""
    for each in Transfer.objects.filter(studio=studio_id, way=Transfer.Way.OUT) | Transfer.objects.filter(
        studio=studio_id, finished_at__isnull=False
    ):
        transaction.on_commit(lambda uid=each.uid, parts=each.parts: let_go(uid, parts))  # type: ignore[misc]
        each.delete()
