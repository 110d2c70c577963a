"""Ten thousand random jobs, good and bad: an answer with real numbers, or an error that names its field."""

import json
import random
from unittest import TestCase

from engine.errors import BadInput
from engine.jobs import run

SEED = 1931
COUNT = 10_000
SLOW = ("match", "adjust", "fill", "reach", "read")  # a small share of these: they search
QUICK = ("predict", "steer", "spread", "fade", "bake", "", None, 7)
ODD = (
    None,
    True,
    "x",
    "",
    [],
    {},
    -1,
    0,
    1e9,
    -1e9,
    1e308,
    float("nan"),
    float("inf"),
    10**400,
    [1],
    {"a": 1},
    "\ud800",
)
NAMES = ("violet", "magenta", "red", "yellow", "clear", "blue-black", "nothing", "", "x" * 200)


def number(rng: random.Random, low: float, high: float) -> object:
    return rng.choice(ODD) if rng.random() < 0.06 else round(rng.uniform(low, high), rng.choice((0, 1, 3)))


def canvas(rng: random.Random) -> object:
    if rng.random() < 0.03:
        return rng.choice(ODD)
    made = {"level": number(rng, 0.8, 11.2)}
    for name, low, high in (("warmth", -2, 2), ("lean", 0, 10), ("porosity", 0.5, 1.6), ("grey", 0, 1)):
        if rng.random() < 0.3:
            made[name] = number(rng, low, high)
    if rng.random() < 0.1:
        made["family"] = rng.choice(("natural", "lightened", "horse", 3))
    if rng.random() < 0.15:
        made["old"] = [{"shade": rng.choice(NAMES), "k_s": number(rng, 0, 3)}]
    return made


def bowl(rng: random.Random) -> object:
    if rng.random() < 0.03:
        return rng.choice(ODD)
    made = {"grams": {rng.choice(NAMES[:6] if rng.random() < 0.9 else NAMES): number(rng, 0, 60) for _ in range(3)}}
    if rng.random() < 0.3:
        made["minutes"] = number(rng, 0, 60)
    if rng.random() < 0.2:
        made["damp"] = rng.choice((True, False, 1))
    return made


def target(rng: random.Random) -> object:
    if rng.random() < 0.5:
        return {"lab": [number(rng, 0, 100), number(rng, -60, 60), number(rng, -60, 60)]}
    return {"lch": [number(rng, 0, 100), number(rng, 0, 80), number(rng, 0, 360)][: rng.choice((3, 3, 3, 2))]}


def job(rng: random.Random) -> object:
    task = rng.choice(SLOW) if rng.random() < 0.012 else rng.choice(QUICK[: 4 if rng.random() < 0.9 else None])
    made: dict[str, object] = {"task": task}
    for name, share, make in (
        ("canvas", 0.95, canvas),
        ("bowl", 0.85, bowl),
        ("target", 0.4, target),
        ("light", 0.3, lambda r: r.choice(("D65", "A", "LED-B3", "FL2", "moon", 3))),
        ("washes", 0.3, lambda r: r.choice((0, 1, 7, 60, 61, -1, 2.5, "3"))),
        ("depth", 0.1, lambda r: number(r, 0, 100)),
        ("lab", 0.1, lambda r: [number(r, 0, 100), number(r, -60, 60), number(r, -60, 60)]),
        ("level", 0.1, lambda r: number(r, 1, 11)),
        ("shades", 0.05, lambda r: r.choice(({"violet": {}, "clear": {}}, {"a": {"bands": [[500, 30, 1]]}}, *ODD))),
        ("surprise", 0.02, lambda r: 1),
    ):
        known = name not in ("washes", "depth", "lab", "level") or rng.random() < 0.5
        if rng.random() < share and known:
            made[name] = make(rng)
    return made if rng.random() < 0.99 else rng.choice(ODD)


class FuzzedJobs(TestCase):
    def test_every_random_job_is_answered_or_refused_by_field(self) -> None:
        rng = random.Random(SEED)
        answered = 0
        for _ in range(COUNT):
            made = job(rng)
            try:
                answer = run(made)
            except BadInput as refused:
                self.assertTrue(refused.field, refused)
                self.assertIn(refused.field.split(" (")[0].rsplit(".", 1)[-1], refused.message)
                continue
            json.dumps(answer, allow_nan=False)
            answered += 1
        self.assertGreater(answered, COUNT / 10)
