"""How well forecasts do on a simulated salon's visits, with what was learned or without."""

from collections.abc import Sequence

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.doses import Worked
from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.bowl.taught import looks
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lights import Light
from engine.hair.source import Source
from engine.knowledge.knowledge import Knowledge
from engine.learning.learn import Record
from tests.salons.salon import Visit


def record_of(visit: Visit) -> Record:
    """The record that a card keeps of a visit."""
    worked = Worked(canvas=visit.noted, coats=((visit.noted_bowl, visit.process),))
    return Record(worked=worked, actual_lab=visit.noted_lab, read_by=Source.EYE, judged_by=Source.READER)


def taught_bowl(knowledge: Knowledge, bowl: Bowl) -> Bowl:
    """A bowl of shades as they work in the salon."""
    return Bowl(grams={knowledge.taught(shade): grams for shade, grams in bowl.grams.items()})


def held_out(knowledge: Knowledge | None, visits: Sequence[Visit]) -> FloatArray:
    """delta E00 (visits,) of forecasts on hair that is read rightly, from what truly came out."""

    def forecast(visit: Visit) -> FloatArray:
        if knowledge is None:
            return predict(visit.canvas, visit.bowl, process=visit.process).lab
        bowl = taught_bowl(knowledge, visit.bowl)
        worked = Worked(canvas=visit.canvas, coats=((bowl, visit.process),))
        seen: FloatArray = looks([worked], Light.DAYLIGHT, knowledge)[0]
        return seen

    return np.array([float(delta_e00(visit.lab, forecast(visit))) for visit in visits])


def summary(misses: FloatArray) -> tuple[float, float]:
    """Median and 90th percentile."""
    return float(np.median(misses)), float(np.quantile(misses, 0.9))
