"""The command line: jobs in, answers or explained errors out."""

import json
import subprocess
import sys
from pathlib import Path
from typing import ClassVar
from unittest import TestCase

from engine.errors import BadInput
from engine.jobs import Bounds, run, run_all
from tests.engine.schemas import schema

ROOT = Path(__file__).resolve().parents[2]
CANVAS = {"level": 10}
PREDICT = {"task": "predict", "canvas": CANVAS, "bowl": {"grams": {"violet": 2.0, "clear": 58.0}}}
MATCH = {"task": "match", "canvas": CANVAS, "target": {"lab": [60, 30, 20]}, "max_shades": 2}
OWN_SHADE = {
    "task": "match",
    "canvas": {"level": 9, "old": [{"shade": "violet", "k_s": 0.1}]},
    "shades": {"orchil": {"bands": [[540, 28, 1.0], [420, 40, 0.06]], "strength": 6}, "clear": {}},
    "target": {"lch": [60, 30, 350]},
    "light": "A",
    "total_grams": 80,
    "step_grams": 0.5,
}
ZONES = {"task": "predict", "zones": {"roots": {"level": 6}, "ends": {"level": 10}}, "bowl": PREDICT["bowl"]}

BOWL = PREDICT["bowl"]
TARGET = {"lch": [60, 20, 350]}
LADDER = [{"level": 1, "undertone": "dark"}, {"level": 8, "undertone": "orange", "lean": 3, "warmth": 0.5}]
ONE_BOWL = {"task": "match", "zones": {"roots": {"level": 9}, "ends": CANVAS}, "target": TARGET, "one_bowl": True}
RECORD = {"canvas": CANVAS, "bowl": BOWL, "actual": {"lab": [70, 4, 8]}}
STRAND = {"canvas": {"level": 11}, "share": 1.0, "lab": [40, 30, -30]}
PANEL = {"name": "panel", "apart": True, "coats": [{"purpose": "lift", "apply_min": 6, "window_min": [10, 30]}]}
LENGTHS = {
    "name": "lengths",
    "coats": [
        {"purpose": "fill", "apply_min": 5, "window_min": [5, 25], "rinsed": False},
        {"purpose": "colour", "apply_min": 12, "window_min": [20, 45], "wants_dry": False},
    ],
}
PLAN = {"task": "plan", "zones": [PANEL, LENGTHS], "basin_min": 8, "dry_min": 6}
ROOTS = {"name": "roots", "to_cm": 2}
AMOUNTS = {"task": "amounts", "length_cm": 40, "density": "thick", "zones": [ROOTS, {"name": "lengths", "from_cm": 2}]}
CHAIN = {
    "task": "chain",
    "canvas": {"level": 6, "family": "natural", "porosity": 1.3},
    "coats": [
        {"purpose": "equalise"},
        {"purpose": "lift", "to_level": 9},
        {"purpose": "pre_tone", "bowl": {"grams": {"violet": 1, "clear": 60}, "minutes": 5}, "rinsed": False},
        {"purpose": "colour", "bowl": BOWL},
        {"purpose": "seal", "read": CANVAS},
    ],
}
TINT = {"kind": "booster", "bands": [[540, 28, 1.0]], "strength": 20, "line": "Quayside"}
FLAT = [1.0] * 81
SHORT_FACTOR = "shades.violet.doubt.factors.0 (entries)"
COATS = [
    {"purpose": "lift", "to_level": 9.6},
    {"kind": "fill", "bowl": {"grams": {"copper": 2, "clear": 40}}},
    {"kind": "direct", "bowl": {"grams": {"violet": 3, "clear": 40}, "minutes": 25}},
]
ON_COATS = {"canvas": {"level": 8}, "coats": COATS, "actual": {"lab": [50, 20, 5]}, "judged_by": "reader"}
KNOWLEDGE = run({"task": "learn", "records": [RECORD, {**ON_COATS, "client": "Ilir", "reader": "Vesna"}]})["knowledge"]
AIMED = {"canvas": CANVAS, "target": TARGET, "knowledge": KNOWLEDGE}
ROUTE = {"task": "route", "canvas": CANVAS, "target": TARGET}
QUESTIONS = [
    PREDICT,
    {**PREDICT, "washes": 6, "target": TARGET},
    MATCH,
    OWN_SHADE,
    ZONES,
    {**MATCH, "canvas": {"level": 6, "family": "natural", "lean": 2}},
    {"task": "match", "zones": ZONES["zones"], "target": TARGET, "max_shades": 1},
    {"task": "adjust", "canvas": CANVAS, "bowl": BOWL, "target": TARGET, "max_total_grams": 120},
    {"task": "steer", "canvas": CANVAS, "bowl": BOWL},
    {"task": "steer", "canvas": CANVAS, "add_grams": 0.5, "light": "FL2"},
    {"task": "spread", "canvas": CANVAS, "bowl": {**BOWL, "minutes": 20}, "doubt": {"level": 0.2}},
    {"task": "fade", "canvas": CANVAS, "bowl": BOWL, "washes": 12, "hot_water": True},
    {"task": "fill", "canvas": CANVAS, "level": 6, "bowl": {"grams": {"black": 4, "clear": 20}}},
    {"task": "fill", "canvas": CANVAS, "level": 9, "fill_from": "more_than_two"},
    {"task": "fill", "canvas": CANVAS, "level": 6, "fill_with": "copper_red"},
    {"task": "reach", "canvas": CANVAS, "depth": 60},
    {"task": "reach", "canvas": {"level": 8}, "target": TARGET},
    {"task": "read", "lab": [70, 5, 20], "shades": {"violet": {}}, "ladder": "orange_at_8"},
    {**PREDICT, "washes": 4, "hot_water": True, "ladder": LADDER},
    {**ONE_BOWL, "weights": {"ends": 3}, "stock": {"magenta": 3.5}, "prices": {"magenta": 0.2}, "answers": 2},
    {**ONE_BOWL, "target": None, "targets": {"roots": TARGET, "ends": {"lab": [64, 22, 4]}}},
    {"task": "compare", "canvas": {"level": 9}, "target": TARGET, "max_shades": 2},
    {"task": "refresh", "canvas": CANVAS, "bowl": BOWL, "washes": 5, "hot_water": True},
    {"task": "pour", "canvas": CANVAS, "bowl": BOWL, "poured": {"violet": 2.6}, "target": TARGET},
    {"task": "learn", "records": [RECORD, {**RECORD, "light": "A"}], "shades": {"violet": {}}},
    {"task": "learn", "records": [{**ON_COATS, "washes": 3, "client": "Ilir", "reader": "Vesna", "read_by": "photo"}]},
    {**PREDICT, "knowledge": KNOWLEDGE, "client": "Ilir", "reader": "Vesna", "target": TARGET},
    {**PREDICT, "knowledge": KNOWLEDGE, "washes": 4},
    {**MATCH, "knowledge": KNOWLEDGE},
    {**CHAIN, "knowledge": KNOWLEDGE},
    *({"task": task, "canvas": CANVAS, "bowl": BOWL, "knowledge": KNOWLEDGE} for task in ("steer", "fade", "refresh")),
    *(
        {"task": t, "canvas": CANVAS, "bowl": BOWL, "target": TARGET, "knowledge": KNOWLEDGE}
        for t in ("adjust", "pour")
    ),
    *({"task": t, "canvas": CANVAS, "target": TARGET, "knowledge": KNOWLEDGE} for t in ("compare", "reach")),
    {"task": "fill", "canvas": CANVAS, "level": 6, "bowl": BOWL, "knowledge": KNOWLEDGE},
    {"task": "spread", "canvas": CANVAS, "bowl": BOWL, "samples": 64, "read_by": "reader", "knowledge": KNOWLEDGE},
    {**PREDICT, "shades": {"violet": {"samples": FLAT, "doubt": {"source": "strands", "count": 4, "factors": []}}}},
    {"task": "route", "canvas": {"level": 2, "family": "natural"}, "target": {"lch": [40, 45, 25]}},
    {
        **AIMED,
        "task": "route",
        "strength": {"lifts_before": 2, "lifted_today": True},
        "last_aim": TARGET,
        "lay": "open",
    },
    AMOUNTS,
    CHAIN,
    PLAN,
    {**PLAN, "hands": 2},
    {**PLAN, "zones": [{**PANEL, "coats": [{**PANEL["coats"][0], "apply_min": 90}]}]},
    {"task": "characterise", "name": "alkanet", "kind": "mask", "strand_tests": [STRAND, {**STRAND, "share": 0.2}]},
    {"task": "characterise", "family": "violet", "strand_tests": [STRAND, {**STRAND, "share": 0.1, "doubt": 3}]},
    {**PREDICT, "shades": {"conditioner": {"thins": 1.5}, "tint": TINT}, "bowl": {"grams": {"tint": 1, "clear": 9}}},
]

# what is wrong, the field that must be named, the code
BAD = [
    ([], "job", "wrong_type"),
    ({"canvas": CANVAS}, "task", "wrong_type"),
    ({"task": "bake"}, "task", "unknown"),
    ({**PREDICT, "colour": 1}, "job", "unknown"),
    ({"task": "predict"}, "canvas", "missing"),
    ({**PREDICT, "canvas": {}}, "canvas.level", "missing"),
    ({**PREDICT, "canvas": {"level": 12}}, "canvas.level", "out_of_range"),
    ({**PREDICT, "canvas": {"level": "ten"}}, "canvas.level", "wrong_type"),
    ({**PREDICT, "canvas": {"level": 10, "porosity": 9}}, "canvas.porosity", "out_of_range"),
    ({**PREDICT, "canvas": {"level": 10, "old": [{"shade": "woad", "k_s": 1}]}}, "canvas.old.0.shade", "unknown"),
    ({**PREDICT, "zones": {"roots": CANVAS}}, "zones", "bad_input"),
    ({**AMOUNTS, "length_cm": 0}, "length_cm", "out_of_range"),
    ({**AMOUNTS, "density": "bald"}, "density", "unknown"),
    ({**AMOUNTS, "zones": [ROOTS, {**ROOTS, "area_share": 0.5}]}, "zones", "bad_input"),
    ({**AMOUNTS, "zones": [{**ROOTS, "to_cm": 41}]}, "zones.0.to_cm", "bad_input"),
    ({**AMOUNTS, "zones": [{**ROOTS, "area_share": "half"}]}, "zones.0.area_share", "wrong_type"),
    ({**CHAIN, "coats": [{"purpose": "lift", "to_level": 5}]}, "coats.0.to_level", "out_of_range"),
    ({**CHAIN, "coats": [{"purpose": "lift"}]}, "coats.0.to_level", "bad_input"),
    ({**CHAIN, "coats": [{"purpose": "colour"}]}, "coats.0.bowl", "missing"),
    ({**CHAIN, "coats": [{"purpose": "seal", "bowl": BOWL}]}, "coats.0.bowl", "bad_input"),
    ({**CHAIN, "coats": [{**CHAIN["coats"][1], "rinsed": False}, CHAIN["coats"][3]]}, "coats.1", "bad_input"),
    ({**PLAN, "hands": 4}, "hands", "out_of_range"),
    ({**PLAN, "zones": []}, "zones (entries)", "out_of_range"),
    ({**PLAN, "zones": [PANEL, PANEL]}, "zones", "bad_input"),
    ({**PLAN, "zones": [{**PANEL, "coats": [{"purpose": "lift"}]}]}, "zones.0.coats.0.window_min", "missing"),
    ({**PLAN, "zones": [{**LENGTHS, "coats": LENGTHS["coats"][:1]}]}, "zones.0.coats", "bad_input"),
    ({**PREDICT, "bowl": {"grams": {}}}, "bowl.grams", "empty_bowl"),
    ({**PREDICT, "bowl": {"grams": {"violet": 0}}}, "bowl.grams", "empty_bowl"),
    ({**PREDICT, "bowl": {"grams": {"violet": -1}}}, "bowl.grams.violet", "out_of_range"),
    ({**PREDICT, "bowl": {"grams": {"violet": 1e999}}}, "bowl.grams.violet", "wrong_type"),
    ({**PREDICT, "bowl": {"grams": {"violet": 10**400}}}, "bowl.grams.violet", "wrong_type"),
    ({**PREDICT, "bowl": {"grams": {"nothing": 1}}}, "bowl.grams", "unknown"),
    ({**PREDICT, "bowl": {"grams": {"violet": 1}, "minutes": -1}}, "bowl.minutes", "out_of_range"),
    ({**PREDICT, "bowl": {"grams": {"violet": 1}, "damp": "yes"}}, "bowl.damp", "wrong_type"),
    ({**PREDICT, "light": "moon"}, "light", "unknown"),
    ({**PREDICT, "light": ["A"]}, "light", "unknown"),
    ({**PREDICT, "target": {"lab": [60, 300, 0]}}, "target.lab.1", "out_of_range"),
    ({**PREDICT, "target": {"lab": [60, 30]}}, "target.lab (entries)", "out_of_range"),
    ({**PREDICT, "target": {"rgb": [1, 2, 3]}}, "target", "unknown"),
    ({**PREDICT, "shades": {"a": {"bands": [[420, 26]]}}}, "shades.a.bands.0 (entries)", "out_of_range"),
    ({**PREDICT, "shades": {"a": {"bands": [[20, 26, 1]]}}}, "shades.a.bands.0.centre_nm", "out_of_range"),
    ({**PREDICT, "shades": {"a": {"strength": -3}}}, "shades.a.strength", "out_of_range"),
    ({**PREDICT, "shades": {"a": {"kind": "paint"}}}, "shades.a.kind", "unknown"),
    ({"task": "match", "canvas": CANVAS}, "target", "missing"),
    ({**MATCH, "max_shades": 9}, "max_shades", "out_of_range"),
    ({**MATCH, "max_shades": 2.5}, "max_shades", "wrong_type"),
    ({**MATCH, "shades": {"clear": {}}}, "shades", "empty_shelf"),
    ({**MATCH, "total_grams": 0}, "total_grams", "out_of_range"),
    ({**MATCH, "total_grams": 4, "step_grams": 5}, "step_grams", "bad_input"),
    ({**MATCH, "least_grams": 90}, "least_grams", "bad_input"),
    ({**PREDICT, "canvas": {"level": 5, "family": "horse"}}, "canvas.family", "unknown"),
    ({**PREDICT, "washes": 1000}, "washes", "out_of_range"),
    ({**PREDICT, "washes": 1.5}, "washes", "wrong_type"),
    ({"task": "adjust", "canvas": CANVAS, "target": TARGET}, "bowl", "missing"),
    ({"task": "adjust", "canvas": CANVAS, "bowl": BOWL}, "target", "missing"),
    (
        {"task": "adjust", "canvas": CANVAS, "bowl": BOWL, "target": TARGET, "max_total_grams": 5},
        "max_total_grams",
        "bad_input",
    ),
    ({"task": "steer", "canvas": CANVAS, "add_grams": 0}, "add_grams", "out_of_range"),
    ({"task": "spread", "canvas": CANVAS, "bowl": BOWL, "doubt": {"level": -1}}, "doubt.level", "out_of_range"),
    ({"task": "spread", "canvas": CANVAS, "bowl": BOWL, "doubt": {"mood": 1}}, "doubt", "unknown"),
    ({"task": "fade", "canvas": CANVAS, "bowl": BOWL, "hot_water": 1}, "hot_water", "wrong_type"),
    ({"task": "fill", "canvas": CANVAS}, "level", "missing"),
    ({"task": "fill", "canvas": CANVAS, "level": 4, "fill_from": "always"}, "fill_from", "unknown"),
    ({"task": "fill", "canvas": CANVAS, "level": 4, "fill_with": "beetroot"}, "fill_with", "unknown"),
    ({"task": "reach", "canvas": CANVAS}, "target", "missing"),
    ({"task": "reach", "canvas": CANVAS, "depth": 400}, "depth", "out_of_range"),
    ({"task": "read"}, "lab", "missing"),
    ({**PREDICT, "ladder": "green_at_8"}, "ladder", "unknown"),
    ({**PREDICT, "ladder": []}, "ladder (entries)", "out_of_range"),
    ({**PREDICT, "ladder": LADDER[::-1]}, "ladder.1.level", "bad_input"),
    ({**PREDICT, "ladder": [LADDER[0], {"level": 4, "undertone": ""}]}, "ladder.1.undertone", "bad_input"),
    ({**PREDICT, "ladder": [LADDER[0], {"level": 40, "undertone": "x"}]}, "ladder.1.level", "out_of_range"),
    ({**PREDICT, "shades": {"a": {"thins": 9}}}, "shades.a.thins", "out_of_range"),
    ({**PREDICT, "shades": {"a": {"line": 3}}}, "shades.a.line", "wrong_type"),
    ({**MATCH, "weights": {"roots": 1}}, "weights", "bad_input"),
    ({**MATCH, "one_bowl": True}, "zones", "missing"),
    ({**ONE_BOWL, "one_bowl": "yes"}, "one_bowl", "wrong_type"),
    ({**ONE_BOWL, "weights": {"crown": 1}}, "weights", "unknown"),
    ({**ONE_BOWL, "weights": {"ends": 0}}, "weights.ends", "out_of_range"),
    ({**ONE_BOWL, "targets": {"ends": {"lab": [1, 2]}}}, "targets.ends.lab (entries)", "out_of_range"),
    ({**ONE_BOWL, "targets": {"ends": None}}, "targets.ends", "missing"),
    ({**MATCH, "stock": {"violet": -1}}, "stock.violet", "out_of_range"),
    ({**MATCH, "stock": {"violet": 1, "clear": 1}, "shades": {"violet": {}, "clear": {}}}, "stock", "bad_input"),
    ({**MATCH, "prices": {"nothing": 1}}, "prices", "unknown"),
    ({**MATCH, "answers": 0}, "answers", "out_of_range"),
    ({"task": "refresh", "canvas": CANVAS}, "bowl", "missing"),
    ({"task": "pour", "canvas": CANVAS, "bowl": BOWL, "poured": {"red": 1}}, "poured.red", "bad_input"),
    ({"task": "pour", "canvas": CANVAS, "bowl": BOWL, "poured": {"violet": "x"}}, "poured.violet", "wrong_type"),
    ({"task": "learn"}, "records", "missing"),
    ({"task": "learn", "records": [{**RECORD, "canvas": {}}]}, "records.0.canvas.level", "missing"),
    (
        {"task": "learn", "records": [RECORD, {**RECORD, "actual": {"lab": [300, 0, 0]}}]},
        "records.1.actual.lab.0",
        "out_of_range",
    ),
    ({"task": "learn", "records": [{"canvas": CANVAS, "actual": {"lab": [70, 4, 8]}}]}, "records.0.bowl", "missing"),
    ({"task": "learn", "records": [{**RECORD, "coats": COATS}]}, "records.0.bowl", "missing"),
    ({"task": "learn", "records": [{**RECORD, "bowl": {"grams": {"nothing": 1}}}]}, "records.0.bowl.grams", "unknown"),
    ({"task": "learn", "records": [{**RECORD, "read_by": "ear"}]}, "records.0.read_by", "unknown"),
    ({"task": "learn", "records": [{**RECORD, "washes": 99}]}, "records.0.washes", "out_of_range"),
    ({"task": "learn", "records": [{**RECORD, "actual": {}}]}, "records.0.actual.lab", "missing"),
    ({"task": "learn", "records": [RECORD] * 501}, "records (entries)", "out_of_range"),
    ({**PREDICT, "knowledge": 3}, "knowledge", "wrong_type"),
    ({**PREDICT, "knowledge": {}}, "knowledge.version", "missing"),
    ({**PREDICT, "knowledge": {**KNOWLEDGE, "version": 2}}, "knowledge.version", "out_of_range"),
    ({**PREDICT, "knowledge": {**KNOWLEDGE, "records": 9}}, "knowledge.seal", "bad_input"),
    ({**MATCH, "shades": {"tint": TINT}, "knowledge": KNOWLEDGE}, "knowledge", "bad_input"),
    ({**PREDICT, "shades": {"violet": TINT}, "knowledge": KNOWLEDGE}, "knowledge", "bad_input"),
    ({**PREDICT, "client": 3}, "client", "wrong_type"),
    ({"task": "route", "canvas": CANVAS}, "target", "missing"),
    ({**ROUTE, "strength": {"fragile": 1}}, "strength.fragile", "wrong_type"),
    ({**ROUTE, "strength": {"lifts_before": -1}}, "strength.lifts_before", "out_of_range"),
    ({**ROUTE, "lay": "balloon"}, "lay", "unknown"),
    ({**ROUTE, "last_aim": {}}, "last_aim", "bad_input"),
    ({"task": "spread", "canvas": CANVAS, "bowl": BOWL, "samples": 0}, "samples", "out_of_range"),
    ({"task": "spread", "canvas": CANVAS, "bowl": BOWL, "read_by": "ear"}, "read_by", "unknown"),
    ({**PREDICT, "shades": {"violet": {"samples": FLAT, "doubt": {"factors": [[1]]}}}}, SHORT_FACTOR, "out_of_range"),
    ({"task": "characterise", "family": "none", "strand_tests": [STRAND, STRAND]}, "family", "unknown"),
    (
        {"task": "characterise", "strand_tests": [STRAND, {**STRAND, "doubt": 90}]},
        "strand_tests.1.doubt",
        "out_of_range",
    ),
    ({"task": "characterise", "strand_tests": [STRAND]}, "strand_tests", "bad_input"),
    (
        {"task": "characterise", "strand_tests": [STRAND, {**STRAND, "share": 2}]},
        "strand_tests.1.share",
        "out_of_range",
    ),
    ({"task": "characterise", "name": "", "strand_tests": [STRAND]}, "name", "wrong_type"),
    ({"task": "read", "lab": [50, 0]}, "lab (entries)", "out_of_range"),
    ({"task": "read", "lab": [50, 0, 0], "canvas": CANVAS}, "job", "unknown"),
]


def command_line(text: str) -> tuple[int, object]:
    done = subprocess.run(
        [sys.executable, "-m", "engine"], input=text, capture_output=True, text=True, cwd=ROOT, check=False
    )
    assert not done.stderr, done.stderr
    return done.returncode, json.loads(done.stdout)


class CommandLine(TestCase):
    def test_a_job_is_answered_with_exit_0(self) -> None:
        code, answer = command_line(json.dumps(PREDICT))
        self.assertEqual(code, 0)
        self.assertEqual(answer, run(PREDICT))

    def test_bad_input_is_explained_with_exit_2(self) -> None:
        code, answer = command_line(json.dumps({**PREDICT, "canvas": {"level": 12}}))
        self.assertEqual(code, 2)
        self.assertEqual(
            answer,
            {
                "error": {
                    "code": "out_of_range",
                    "field": "canvas.level",
                    "message": "canvas.level is 12: 1 to 11 is allowed",
                }
            },
        )

    def test_what_is_not_json_is_explained_with_exit_2(self) -> None:
        for text in ("", "{", "NaN", '{"task": NaN}', "[" * 100_000):
            with self.subTest(text=text[:10]):
                code, answer = command_line(text)
                self.assertEqual(code, 2)
                self.assertEqual(answer["error"]["code"], "bad_input")

    def test_in_a_list_a_bad_job_spoils_only_its_own_answer(self) -> None:
        code, answers = command_line(json.dumps([PREDICT, {"task": "bake"}, MATCH]))
        self.assertEqual(code, 2)
        self.assertEqual([("error" in entry) for entry in answers], [False, True, False])
        self.assertEqual(answers[1]["index"], 1)

    def test_jobs_that_share_fields_are_answered_as_if_each_had_brought_them(self) -> None:
        shared = {"canvas": CANVAS, "light": "A", "hands": 2}
        jobs = [{"task": "predict", "bowl": BOWL}, {**MATCH, "light": "D65"}, PLAN, {"task": "bake"}, 7]
        code, answers = command_line(json.dumps({"with": shared, "jobs": jobs}))
        self.assertEqual(code, 2)
        self.assertEqual(answers[0], run({**PREDICT, "light": "A"}))
        self.assertEqual(answers[1], run({**MATCH, "light": "D65"}))
        self.assertEqual(answers[2], run({**PLAN, "hands": 2}))
        self.assertEqual([answer["index"] for answer in answers[3:]], [3, 4])

    def test_what_no_job_could_share_is_refused(self) -> None:
        for given, field in (
            ({"with": {"colour": 1}, "jobs": [PREDICT]}, "with"),
            ({"with": [], "jobs": [PREDICT]}, "with"),
            ({"with": {}, "jobs": PREDICT}, "jobs"),
            ({"jobs": [PREDICT], "task": "predict"}, "job"),
        ):
            with self.subTest(given=given), self.assertRaises(BadInput) as caught:
                run_all(given)
            self.assertEqual(caught.exception.field, field)


class Answers(TestCase):
    def test_jobs_and_answers_keep_to_the_schema(self) -> None:
        for job in QUESTIONS:
            with self.subTest(job=job):
                schema("job").validate(job)
                answer = run(job)
                json.dumps(answer, allow_nan=False)
                schema("answer").validate(answer)
        with self.assertRaises(BadInput):
            run(BAD[2][0])
        schema("answer").validate(run_all([BAD[2][0]])[0])

    def test_zones_are_answered_by_name(self) -> None:
        self.assertEqual(set(run(ZONES)["zones"]), {"roots", "ends"})

    def test_one_bowl_answers_with_every_zone(self) -> None:
        answer = run(ONE_BOWL)
        self.assertEqual(set(answer["recipes"][0]["zones"]), {"roots", "ends"})
        mean = sum(zone["delta_e00"] for zone in answer["recipes"][0]["zones"].values()) / 2
        self.assertAlmostEqual(answer["recipes"][0]["delta_e00"], mean, places=3)

    def test_every_answer_with_a_bowl_says_how_sure_it_is_and_what_it_assumed(self) -> None:
        for job in QUESTIONS:
            answer = run(job)
            if job["task"] in ("predict", "steer", "spread", "fade", "adjust", "match") and "canvas" in job:
                with self.subTest(job=job):
                    self.assertEqual("spread" in answer, "bowl" in job or job["task"] == "match")
                    self.assertIn("light", answer["assumptions"])
                    self.assertIsInstance(answer["warnings"], list)

    def test_a_characterised_shade_can_be_used_at_once(self) -> None:
        found = run(QUESTIONS[-2])
        job = {**PREDICT, "shades": {"alkanet": found["shade"]}, "bowl": {"grams": {"alkanet": 1, "clear": 9}}}
        self.assertLess(run(job)["lab"][0], 80)

    def test_a_ladder_fills_in_what_a_canvas_does_not_say(self) -> None:
        plain, orange, own = (
            run({"task": "predict", "canvas": {"level": 8, **more}, "ladder": "orange_at_8"})["lch"][2]
            if school
            else run({"task": "predict", "canvas": {"level": 8}})["lch"][2]
            for school, more in ((False, {}), (True, {}), (True, {"lean": 0}))
        )
        self.assertLess(orange, plain - 10)
        self.assertAlmostEqual(own, plain, places=6)

    def test_a_match_keeps_to_the_shades_given(self) -> None:
        for recipe in run(OWN_SHADE)["recipes"]:
            self.assertLessEqual(set(recipe["grams"]), {"orchil", "clear"})

    def test_a_bare_canvas_can_be_forecast(self) -> None:
        self.assertAlmostEqual(run({"task": "predict", "canvas": CANVAS})["lab"][0], 80, places=3)


class BadJobs(TestCase):
    def test_every_bad_field_is_named_with_a_code(self) -> None:
        for job, field, code in BAD:
            with self.subTest(field=field, code=code), self.assertRaises(BadInput) as caught:
                run(job)
            self.assertEqual((caught.exception.field, caught.exception.code), (field, code))

    def test_what_the_schema_refuses_the_reader_refuses_too(self) -> None:
        refused = [job for job, _, _ in BAD if not schema("job").is_valid(json.loads(json.dumps(job)))]
        self.assertGreater(len(refused), 20)


class Bounded(TestCase):
    """Whoever runs jobs for others lets them have so many, of some tasks, for so long."""

    JOB: ClassVar = {"task": "predict", "canvas": {"level": 10}}

    def test_no_further_job_is_begun_once_the_time_is_over(self) -> None:
        ticks = iter((0.0, 1.0, 1.9, 2.1, 2.2))
        answers = run_all([self.JOB] * 4, Bounds(seconds=2.0, clock=lambda: next(ticks)))
        self.assertEqual([each.get("error", {}).get("code") for each in answers], [None, None, *["out_of_time"] * 2])
        self.assertEqual([each.get("index") for each in answers], [None, None, 2, 3])

    def test_number_tasks_and_zones(self) -> None:
        bounds = Bounds(most=2, tasks=("fade",), zones=1)
        for jobs, field in (
            ([self.JOB] * 3, "jobs"),
            ({"jobs": [self.JOB] * 3}, "jobs (entries)"),
            (self.JOB, "task"),
            ({"task": "fade", "zones": {"roots": {"level": 9}, "ends": {"level": 10}}}, "zones (entries)"),
        ):
            with self.subTest(field=field):
                with self.assertRaises(BadInput) as refused:
                    run_all(jobs, bounds)
                self.assertEqual(refused.exception.field, field)
        told = run_all([self.JOB], bounds)
        self.assertEqual(told[0]["error"]["code"], "unknown")
