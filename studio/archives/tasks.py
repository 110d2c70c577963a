"""What the worker does with archives."""

import datetime
from typing import Final

from django.utils import timezone
from procrastinate.contrib.django import app

from studio.archives.models import Transfer
from studio.archives.places import let_go, sweep
from studio.archives.services.asking import CARRY, hand_over
from studio.archives.services.carry import carry

KEPT_FOR: Final = datetime.timedelta(days=7)


@app.task(name=CARRY)
def carry_archive(transfer_id: int) -> None:
    """Write or put in one archive."""
    carry(transfer_id)


@app.periodic(cron="*/10 * * * *")
@app.task(name="archives", queueing_lock="archives")
def see_to_archives(timestamp: int) -> None:
    """Ask again for what a worker that died was at; let go of what was kept long enough, and of what nobody knows."""
    for waiting in Transfer.objects.filter(finished_at=None, asked_for_at__isnull=False):
        hand_over(waiting.pk)
    for old in Transfer.objects.filter(asked_at__lt=timezone.now() - KEPT_FOR).exclude(
        finished_at=None, asked_for_at__isnull=False
    ):
        let_go(old.uid, old.parts)
        old.delete()
    sweep(Transfer.objects.values_list("uid", flat=True))
