"""A drill in routes: read what stands on the left, see what is wanted, and choose the way that leads there."""

from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.predict import predict
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, OldColour
from engine.hair.reading import canvas_lab
from engine.hair.residue import Family
from engine.language import begun, decimals, later, listed, say
from engine.practice.drill import Choice, Shown, ToChoose
from engine.practice.looking import bowl_of
from engine.service.route import Route, RouteKind, routes

WAYS: Final = {
    RouteKind.DEPOSIT: later("colour alone, as it is"),
    RouteKind.LIFT: later("lighten first, then colour"),
    RouteKind.FILL: later("fill with warmth first, then colour"),
    RouteKind.REMOVE: later("take the old colour out first"),
}


def which_route(chance: np.random.Generator, difficulty: int) -> ToChoose:
    """Which way leads to a colour. The harder it is, the nearer the hair lies to where the way changes."""
    wanted = (_pastel, _vivid, _brown, _over_old)[int(chance.integers(4))]
    canvas, target, told = wanted(chance, (difficulty - 1) / 4)
    found = routes(canvas, target, list(demo_shelf().values()))
    best, by_kind = found.proposed, {route.kind: route for route in (found.proposed, *found.others)}
    if RouteKind.RELIFT in by_kind:  # lightener where it lags behind: the same way
        by_kind.setdefault(RouteKind.LIFT, by_kind[RouteKind.RELIFT])
    best_kind = RouteKind.LIFT if best.kind is RouteKind.RELIFT else best.kind
    return ToChoose(
        question=say("{told} Which way leads there?", told=told),
        shown=(Shown(words=say("before"), lab=canvas_lab(canvas)), Shown(words=say("aim"), lab=target)),
        choices=tuple(
            Choice(
                key=kind.value,
                words=str(words),
                score=1.0 if kind is best_kind else 0.0,
                because=_because(str(words), by_kind.get(kind)),
                lab=by_kind[kind].lab if kind in by_kind else None,
            )
            for kind, words in WAYS.items()
        ),
        why=listed([begun(str(WAYS[best_kind])) + ":", *best.reasons[:2]], " "),
    )


def _because(words: str, route: Route | None) -> str:
    if route is None:
        return say("{way}: nothing here asks for it.", way=begun(words))
    return decimals(say("{way}: {off:.1f} off, {cost}.", way=begun(words), off=route.delta_e00, cost=route.cost.words))


Case = tuple[Canvas, FloatArray, str]


def _pastel(chance: np.random.Generator, near: float) -> Case:
    """A pastel on hair that is light enough, or not."""
    light = float(np.round(chance.choice([10.8 - 0.3 * near, 7.2 + 1.2 * near]), 1))
    name = str(chance.choice(["magenta", "violet", "turquoise", "blue"]))
    target = predict(Canvas(level=10.3), bowl_of({name: 1.0, "clear": 39.0})).lab
    return Canvas(level=light), target, decimals(say("Lightened level {level:g}.", level=light))


def _vivid(chance: np.random.Generator, near: float) -> Case:
    """A vivid red or copper on natural hair."""
    level = float(np.round(chance.choice([7.5 - 0.3 * near, 3.0 + 0.8 * near]), 1))
    name = str(chance.choice(["red", "copper", "crimson"]))
    target = predict(Canvas(level=9.0), bowl_of({name: 12.0, "clear": 28.0})).lab
    canvas = Canvas(level=level, family=Family.NATURAL)
    return canvas, target, decimals(say("Natural level {level:g}, never lightened.", level=level))


def _brown(chance: np.random.Generator, near: float) -> Case:
    """A brown on light hair."""
    light = float(np.round(chance.uniform(8.5 - near, 10.0), 1))
    depth = float(np.round(chance.uniform(4.0, 5.5), 1))
    target = canvas_lab(Canvas(level=depth, family=Family.NATURAL))
    told = say("Lightened level {level:g}; wanted is the brown of level {depth:g}.", level=light, depth=depth)
    return Canvas(level=light), target, decimals(told)


def _over_old(chance: np.random.Generator, near: float) -> Case:
    """A warm colour over old cool dye."""
    old = str(chance.choice(["blue", "turquoise", "green", "violet"]))
    k_s = float(np.round(chance.uniform(1.4 - near, 2.2 - near), 2))
    canvas = Canvas(level=9.5, old=(OldColour(shade=demo_shelf()[old], k_s=k_s),))
    name = str(chance.choice(["orange", "copper", "yellow"]))
    target = predict(Canvas(level=9.5), bowl_of({name: 6.0, "clear": 34.0})).lab
    return canvas, target, say("Lightened level 9.5 with old {name} on it.", name=say(old))
