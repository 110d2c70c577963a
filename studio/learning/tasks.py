"""What the worker does."""

from django.db import connection
from django.utils import timezone
from procrastinate.contrib.django import app

from studio.learning.services.learn import learn_anew
from studio.learning.services.queue import missed, take_up
from studio.taught.services.ask import LEARN, ask_to_learn


@app.task(name=LEARN)
def learn(studio_id: int) -> None:
    """Learn anew from what a studio has kept; the thread that it is done in keeps no connection."""
    try:
        learn_anew(studio_id)
    finally:
        connection.close()


@app.periodic(cron="* * * * *")
@app.task(name="take_up", queueing_lock="take_up")
def take_up_what_was_left(timestamp: int) -> None:
    """Let what a worker that died was at begin anew, by whichever worker is there."""
    take_up()


@app.periodic(cron="40 3 * * *")
@app.task(name="ask_missed", queueing_lock="ask_missed")
def ask_for_what_was_missed(timestamp: int) -> None:
    """Ask for studios whose asking failed."""
    for studio_id in missed(timezone.now()):
        ask_to_learn(studio_id)
