"""Forecasts worked out independently from the model's description."""

import json
from pathlib import Path
from unittest import TestCase

import numpy as np

from engine.colorimetry.difference import delta_e00
from engine.jobs import run

CASES = json.loads((Path(__file__).parent / "reference_cases.json").read_text(encoding="utf-8"))["cases"]


class ReferenceCases(TestCase):
    def test_every_independent_forecast_is_met_within_a_tenth(self) -> None:
        self.assertEqual(len(CASES), 13)
        for index, case in enumerate(CASES):
            job = {"task": "predict", **{name: case[name] for name in ("canvas", "bowl", "light")}}
            with self.subTest(case=index):
                self.assertLess(float(delta_e00(np.array(case["lab"]), np.array(run(job)["lab"]))), 0.1)
