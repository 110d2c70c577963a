"""Guessing first: while it is written down what a bowl will give, all that tells of its forecast is covered."""

from dataclasses import replace
from typing import Final

from django.utils import timezone

from engine.language import say
from studio.bench.page import BenchPage
from studio.bench.quick_fixes import Corrections
from studio.guesses.models import Guess
from studio.guesses.services.guess import show_forecast, write_down
from studio.head.engine_adapter import forecast_of
from studio.head.selectors import bench_of
from studio.ui.numbers import typed_number
from studio.visits.acting import Sent

PARTS: Final = ("lightness", "chroma", "hue")
COVER_HEX: Final = "#9a9a9a"


def covered(page: BenchPage) -> BenchPage:
    """The page with nothing on it that tells of the forecast, in words, figures or colours."""
    pours = page.bench.pours
    return replace(
        page,
        then=page.now,
        tabs=[replace(tab, hex=COVER_HEX, off="") for tab in page.tabs],
        labels=[replace(label, off="") for label in page.labels],
        coats=tuple(replace(step, hex=COVER_HEX) for step in page.coats),
        depth=replace(page.depth, then_y="", then_hex=""),
        words=say("What will it give?") if pours else say("The bowl is empty: pour a shade"),
        why="",
        shorts=(),
        delta_e00="",
        is_on_aim=False,
        wander="",
        notices=[],
        corrections=Corrections(bench=page.bench, fixes=(), is_on_aim=False),
    )


def guess_on(sent: Sent) -> Guess:
    """What a tap or the typed colour says is expected; asked to show the forecast, that is held against it.

    Raises Refusal not_a_number, out_of_range, aim_not_showable, guess_first, empty_bowl; Stale.
    """
    bench = bench_of(sent.person, sent.opened)
    typed = {name: sent.text(name).strip() for name in PARTS}
    asks = bool(sent.text("show"))
    if any(typed.values()) or not asks:
        parts = {name: typed_number(given, name) for name, given in typed.items()}
        nearest = bool(sent.text("tapped"))
        guess = write_down(sent.person, **sent.hand, **parts, level=bench.reading.level, nearest=nearest)
        if not asks:
            return guess
    lab = forecast_of(bench).forecast.lab
    return show_forecast(sent.person, **sent.hand, forecast_lab=lab, now=timezone.now())
