"""What the worker does."""

from django.db import connection
from procrastinate.contrib.django import app

from studio.learning.services.learn import learn_anew
from studio.taught.services.ask import LEARN


@app.task(name=LEARN)
def learn(studio_id: int) -> None:
    """Learn anew from what a studio has kept; the thread that it is done in keeps no connection."""
    try:
        learn_anew(studio_id)
    finally:
        connection.close()
