"""Ten thousand random jobs, good and bad: an answer with real numbers, or an error that names its field."""

import json
import random
from collections import Counter
from functools import partial
from unittest import TestCase

from engine.errors import BadInput
from engine.hair.source import Source
from engine.jobs import run, run_all
from engine.service.schedule.work import Purpose
from engine.tasks import TASKS
from engine.tasks.visiting import VISITING
from tests.engine.schemas import schema

JOBS, ANSWERS = schema("job"), schema("answer")
SEED = 1931
COUNT = 10_000
SLOW = (
    "match",
    "adjust",
    "fill",
    "reach",
    "read",
    "compare",
    "refresh",
    "characterise",
    "plan",
    "route",
)  # few of these: they search
QUICK = ("predict", "steer", "spread", "fade", "pour", "learn", "amounts", "chain", "bake", "", None, 7)
CHECKED = 8  # every so many jobs are held against the schemas, which is slow
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


def rung(rng: random.Random) -> object:
    return {"level": number(rng, 1, 11), "undertone": rng.choice(("gold", "", 3)), "lean": number(rng, 0, 10)}


def record(rng: random.Random) -> object:
    made: dict[str, object] = {"canvas": canvas(rng), "actual": {"lab": [number(rng, 0, 100) for _ in range(3)]}}
    if rng.random() < 0.8:
        made["bowl"] = bowl(rng)
    else:
        made["coats"] = chained(rng)
    for name, choices in (("read_by", Source), ("judged_by", Source), ("client", NAMES), ("reader", NAMES)):
        if rng.random() < 0.3:
            made[name] = rng.choice((*choices, *ODD[:4]))
    if rng.random() < 0.2:
        made["washes"] = number(rng, 0, 60)
    return made if rng.random() < 0.97 else rng.choice(ODD)


def strand(rng: random.Random) -> object:
    made = {"canvas": canvas(rng), "share": number(rng, 0.001, 1), "lab": [number(rng, 0, 100) for _ in range(3)]}
    if rng.random() < 0.3:
        made["doubt"] = number(rng, 0.1, 20)
    return made


def stretch(rng: random.Random) -> object:
    made: dict[str, object] = {"name": rng.choice(NAMES)}
    for name, low, high in (("from_cm", 0, 20), ("to_cm", 10, 60), ("area_share", 0, 0.6), ("saturation", 0.4, 2.1)):
        if rng.random() < 0.5:
            made[name] = number(rng, low, high)
    return made if rng.random() < 0.97 else rng.choice(ODD)


def coats(rng: random.Random) -> object:
    made = []
    for _ in range(rng.choice((1, 1, 2, 3, 0))):
        least = number(rng, 0, 30)
        mine = {"purpose": rng.choice((*Purpose, "bake", 4)), "apply_min": number(rng, 0, 40)}
        mine["window_min"] = [least, number(rng, 20, 60)]
        if rng.random() < 0.2:
            mine[rng.choice(("rinsed", "wants_dry"))] = rng.choice((True, False, 1))
        made.append(mine)
    return made


def chained(rng: random.Random) -> object:
    made = []
    for _ in range(rng.choice((1, 2, 3))):
        mine: dict[str, object] = {"purpose": rng.choice((*Purpose, "bake", None))}
        if rng.random() < 0.7:
            mine["bowl"] = bowl(rng)
        if mine["purpose"] == "lift" or rng.random() < 0.1:
            mine["to_level"] = number(rng, 4, 11)
        if rng.random() < 0.1:
            mine[rng.choice(("rinsed", "read"))] = rng.choice((True, False, {"level": 9}))
        made.append(mine)
    return made if rng.random() < 0.97 else rng.choice(ODD)


def planned(rng: random.Random) -> list[object]:
    return [
        {"name": f"{rng.choice(NAMES)}{index}", "apart": rng.choice((True, False)), "coats": coats(rng)}
        for index in range(rng.choice((1, 2, 3)))
    ]


def zones(rng: random.Random, task: object) -> object:
    if task == "plan":
        return planned(rng)
    if task == "amounts":
        return [stretch(rng) for _ in range(rng.choice((1, 1, 2)))]
    return {"roots": canvas(rng), "ends": canvas(rng)}


def job(rng: random.Random) -> object:
    task = rng.choice(SLOW) if rng.random() < 0.012 else rng.choice(QUICK[: 8 if rng.random() < 0.9 else None])
    made: dict[str, object] = {"task": task}
    for name, share, make in (
        ("canvas", 0.95, canvas),
        ("bowl", 0.85, bowl),
        ("target", 0.7 if task in SLOW else 0.4, target),
        ("light", 0.3, lambda r: r.choice(("D65", "A", "LED-B3", "FL2", "moon", 3))),
        ("washes", 0.3, lambda r: r.choice((0, 1, 7, 60, 61, -1, 2.5, "3"))),
        ("depth", 0.1, lambda r: number(r, 0, 100)),
        ("lab", 0.8 if task == "read" else 0.1, lambda r: [number(r, 0, 100), number(r, -60, 60), number(r, -60, 60)]),
        ("level", 0.1, lambda r: number(r, 1, 11)),
        ("shades", 0.05, lambda r: r.choice(({"violet": {}, "clear": {}}, {"a": {"bands": [[500, 30, 1]]}}, *ODD))),
        ("ladder", 0.05, lambda r: r.choice(("orange_at_8", "yellow_gold_at_8", [], 4, [rung(r), rung(r)]))),
        ("one_bowl", 0.05, lambda r: r.choice((True, False, 1))),
        ("zones", 0.9 if task in VISITING else 0.05, partial(zones, task=task)),
        ("coats", 0.95, chained),
        ("length_cm", 0.95, lambda r: number(r, 20, 90)),
        ("hands", 0.3, lambda r: r.choice((1, 2, 3, 0, 1.5, "1"))),
        ("dry_min", 0.3, lambda r: number(r, 0, 10)),
        ("stock", 0.05, lambda r: {r.choice(NAMES): number(r, 0, 90)}),
        ("poured", 0.3, lambda r: {r.choice(NAMES[:6]): number(r, 0, 30)}),
        ("total_grams", 0.1, lambda r: number(r, 0, 200)),
        ("step_grams", 0.1, lambda r: number(r, 0, 3)),
        ("family", 0.2, lambda r: r.choice(("magenta", "neutral", "nothing", *ODD))),
        (
            "knowledge",
            0.05,
            lambda r: r.choice((KNOWLEDGE, {**KNOWLEDGE, "records": 7}, {**KNOWLEDGE, "version": 2}, *ODD)),
        ),
        ("client", 0.05, lambda r: r.choice(("Vesna", "nobody", *ODD))),
        ("reader", 0.05, lambda r: r.choice(("Ilir", "nobody", *ODD))),
        ("samples", 0.1, lambda r: number(r, 0, 300)),
        ("read_by", 0.2, lambda r: r.choice((*Source, "ear", *ODD))),
        ("doubt", 0.2, lambda r: {r.choice(("level", "grams", "mood")): number(r, 0, 3)}),
        (
            "strength",
            0.3,
            lambda r: {r.choice(("fragile", "lifts_before", "most_levels")): r.choice((True, 1, 3, *ODD))},
        ),
        ("lay", 0.2, lambda r: r.choice(("foil", "open", "x", 3))),
        ("on_scalp", 0.2, lambda r: r.choice((True, False, 1))),
        ("last_aim", 0.2, target),
        ("records", 0.6, lambda r: [record(r) for _ in range(r.choice((0, 1, 1, 2)))]),
        ("strand_tests", 0.8, lambda r: [strand(r), strand(r)]),
        ("surprise", 0.02, lambda r: 1),
    ):
        task = TASKS.get(made["task"]) if isinstance(made["task"], str) else None
        known = task is None or name in task.fields or rng.random() < 0.02
        if rng.random() < share and known:
            made[name] = make(rng)
    return made if rng.random() < 0.99 else rng.choice(ODD)


def taught() -> dict[str, object]:
    """Knowledge from a few records of the demo shelf, as learn answers it."""
    bowls = ({"violet": 2.0, "clear": 50.0}, {"magenta": 4.0, "red": 2.0, "clear": 40.0})
    records = [
        {
            "canvas": {"level": 9.5},
            "bowl": {"grams": bowls[turn % 2]},
            "actual": {"lab": [55.0 + turn, 30.0, -5.0]},
            "client": "Vesna",
            "reader": "Ilir",
        }
        for turn in range(6)
    ]
    return dict(run({"task": "learn", "records": records})["knowledge"])


KNOWLEDGE = taught()


class FuzzedJobs(TestCase):
    takes_long = True  # so that it begins early, and no process waits for it at the end

    def test_every_random_job_is_answered_or_refused_by_field(self) -> None:
        rng = random.Random(SEED)
        answered: Counter[str] = Counter()
        for turn in range(COUNT):
            made = job(rng)
            checked = turn % CHECKED == 0
            try:
                answer = run(made)
            except BadInput as refused:
                self.assertTrue(refused.field, refused)
                self.assertIn(refused.field.split(" (")[0].rsplit(".", 1)[-1], refused.message)
                continue
            plain = json.loads(json.dumps(answer, allow_nan=False))
            if checked:
                self.assertTrue(JOBS.is_valid(made), f"answered, though the schema refuses it: {made}")
                ANSWERS.validate(plain)
            answered[str(answer["task"])] += 1
        self.assertGreater(answered.total(), COUNT / 10)
        self.assertGreaterEqual(len(answered), len(TASKS) - 2, answered)

    def test_lists_and_what_they_share_are_answered_job_by_job(self) -> None:
        rng, lists, answers = random.Random(SEED + 1), 0, 0
        for _ in range(200):
            jobs = [made for made in (job(rng) for _ in range(3)) if not isinstance(made, dict) or quick(made)]
            shared = {"shades": {}, "knowledge": KNOWLEDGE, "light": "A", "surprise": 1, "bowl": bowl(rng)}
            some = {name: shared[name] for name in rng.sample(list(shared), rng.choice((1, 2)))}
            given: dict[str, object] = {"with": some, "jobs": jobs}
            if rng.random() < 0.2:
                given[rng.choice(("with", "jobs", "and"))] = rng.choice(ODD)
            try:
                answered = run_all(given)
            except BadInput as refused:
                self.assertIn(refused.field.split(" (")[0].split(".")[0], ("with", "jobs", "job"))
                continue
            self.assertEqual(len(answered), len(given["jobs"]))
            for index, each in enumerate(json.loads(json.dumps(answered, allow_nan=False))):
                self.assertTrue("task" in each or each["index"] == index)
                answers += "task" in each
            lists += 1
        self.assertGreater(lists, 40)
        self.assertGreater(answers, 10)


def quick(made: dict) -> bool:
    """Whether a job is one of those that are answered at once."""
    return made.get("task") not in SLOW
