"""The middle of the Bench: steering by the wheel, or aiming on the plane."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.reach import reach
from engine.bowl.spread import Spread
from engine.colorimetry.words import colour_word
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas
from engine.language import later, say
from studio.bench import plane
from studio.bench.wheel import Marks, Wheel, rim_labs, wheel_of
from studio.guesses.models import Guess
from studio.head.engine_adapter import BenchForecast, fade_labs, offered_shades, steering_of, step_g_of, trail_labs
from studio.head.rail import rail_of
from studio.head.selectors import Bench, trail_of
from studio.head.sight import Sight
from studio.ui.locks import Lock, lock_of_colour
from studio.visits.engine_adapter import canvas_of

AIM_FIELDS: Final = (("lightness", later("Depth")), ("chroma", later("Strength")), ("hue", later("Hue°")))


@dataclass(frozen=True, kw_only=True, eq=False)
class SteerMiddle:
    """The wheel, with the whole plane as an inset: where the rim dots are the strongest colours in reach.

    shown_as: steer, or list: the same line by line.
    """

    wheel: Wheel
    rim: tuple[plane.Place, ...]
    inset_now: plane.Place
    inset_then: plane.Place
    inset_aim: plane.Place | None
    said: str
    shown_as: str


@dataclass(frozen=True, kw_only=True, eq=False)
class AimMiddle:
    """The plane at the aim's depth, with what this hair can reach, and other ways to aim."""

    depth: str
    now: plane.Place
    then: plane.Place
    aim: plane.Place | None
    rings: tuple[str, ...]
    reach: str
    fields: list[tuple[str, str, str]]


@dataclass(frozen=True, kw_only=True, eq=False)
class GuessMiddle:
    """The plane to tap what is expected on, while the forecast is covered. lock: what is expected so far."""

    depth: str
    now: plane.Place
    expected: plane.Place | None
    expected_y: str
    aim: plane.Place | None
    lock: Lock | None
    fields: list[tuple[str, str, str]]


def steer_middle(bench: Bench, seen: BenchForecast, sight: Sight, wander: Spread | None) -> SteerMiddle:
    """Gather what the wheel shows."""
    target = bench.target_lab
    depth = _depth_of(target, seen.forecast.lab)
    edge = _edge_once(*_edge_key(bench, depth))
    start = seen.hand.bare_lab
    now = start if not bench.pours else _day_one(bench, seen, sight)
    marks = Marks(
        now=now,
        start=start,
        aim=target,
        trail=_trail(bench, seen, sight),
        fade=fade_labs(bench, sight.washes) if sight.washes else None,
        spread=wander.shown if wander else None,
        reach=edge,
    )
    offered = offered_shades(bench)
    shades = [shade for shade in bench.stocked.shades if shade in offered or shade.pk in bench.pours]
    wheel = wheel_of(
        steering_of(bench).by_key,
        [(shade, step_g_of(bench.stocked.dyes[shade.pk])) for shade in shades],
        marks,
        {pk: ladder[len(ladder) // 2][1] for pk, ladder in rail_of(bench).items()},
    )
    aim = None if target is None else plane.place_of(target)
    return SteerMiddle(
        wheel=wheel,
        rim=_rim_once(*_edge_key(bench, depth)),
        inset_now=plane.place_of(start, wheel.start_hex),
        inset_then=plane.place_of(now, wheel.hex),
        inset_aim=aim,
        shown_as="list" if sight.shows_list else "steer",
        said=say("Forecast {colour_word}", colour_word=colour_word(now))
        + (say(", aim {colour_word}", colour_word=colour_word(target)) if target is not None else ""),
    )


def _trail(bench: Bench, seen: BenchForecast, sight: Sight) -> FloatArray:
    """Where the bowl has stood, L*a*b* (steps, 3), the newest last, which is where it stands."""
    states = trail_of(bench) if bench.pours else []
    if not states:
        return np.zeros((0, 3))
    return np.vstack([trail_labs(bench, states[:-1]), _day_one(bench, seen, sight)])


def _day_one(bench: Bench, seen: BenchForecast, sight: Sight) -> FloatArray:
    """The forecast before any wash, from which steering starts."""
    if not sight.washes:
        return seen.forecast.lab
    path = fade_labs(bench, 0)
    return seen.forecast.lab if path is None else path[0]


def aim_middle(bench: Bench, seen: BenchForecast, typed: Mapping[str, str]) -> AimMiddle:
    """Gather what aiming shows. typed: what a refused form held."""
    target = bench.target_lab
    depth = _depth_of(target, None)
    numbers = plane.aim_numbers(target)
    return AimMiddle(
        depth=str(depth),
        now=plane.place_of(seen.hand.bare_lab, seen.now.hex, seen.now.said),
        then=plane.place_of(seen.forecast.lab, seen.then.hex, seen.then.said),
        aim=None if target is None else plane.place_of(target),
        rings=()
        if target is None
        else tuple(plane.ring_points(tuple(target.tolist()), size) for size in (plane.NEAR_RING, plane.FAR_RING)),
        reach=plane.polygon(_edge_once(*_edge_key(bench, depth))),
        fields=[(name, label, typed.get(name, numbers[name])) for name, label in AIM_FIELDS],
    )


def guess_middle(bench: Bench, seen: BenchForecast, guess: Guess | None, typed: Mapping[str, str]) -> GuessMiddle:
    """Gather what guessing shows: nothing of the forecast. typed: what a refused form held."""
    target, expected = bench.target_lab, None if guess is None else np.array(guess.expected_lab)
    lock = None if expected is None else lock_of_colour(tuple(expected.tolist()))
    numbers = plane.aim_numbers(expected)
    return GuessMiddle(
        depth=str(_depth_of(expected if expected is not None else target, seen.hand.bare_lab)),
        now=plane.place_of(seen.hand.bare_lab, seen.now.hex, seen.now.said),
        expected=None if expected is None or lock is None else plane.place_of(expected, lock.hex, lock.said),
        expected_y="" if expected is None else plane.ladder_y(float(expected[0])),
        aim=None if target is None else plane.place_of(target),
        lock=lock,
        fields=[(name, label, typed.get(name, numbers[name])) for name, label in AIM_FIELDS],
    )


def _depth_of(target: FloatArray | None, fallback: FloatArray | None) -> int:
    if target is not None:
        return round(float(target[0]))
    return plane.DEFAULT_DEPTH if fallback is None else round(float(fallback[0]))


def _edge_key(bench: Bench, depth: int) -> tuple[Canvas, tuple[Shade, ...], int]:
    return canvas_of(bench.reading), tuple(bench.stocked.dyes.values()), depth


@lru_cache(maxsize=256)
def _edge_once(canvas: Canvas, shelf: tuple[Shade, ...], depth: int) -> FloatArray:
    """The strongest colours that hair and line reach at a depth, L*a*b* (edge, 3), round the hues."""
    found = reach(canvas, shelf, float(depth))
    return rim_labs(float(depth), found.hues_deg, found.chroma)


@lru_cache(maxsize=256)
def _rim_once(canvas: Canvas, shelf: tuple[Shade, ...], depth: int) -> tuple[plane.Place, ...]:
    """The same as dots, each in its own colour."""
    return plane.coloured(_edge_once(canvas, shelf, depth))
