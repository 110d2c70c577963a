"""Measure what results teach, on simulated salons of the same, mildly other and strongly other physics, in one run.

.venv/bin/python tools/bench_learning.py [SALONS]
Ten salons of each kind by default, with fixed seeds. Held-out forecasts are judged by what truly comes out. Exits
non-zero when a bar of the design is missed.
"""

import json
import sys
import time
from dataclasses import replace
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

import numpy as np

from engine.bowl.mix import Bowl
from engine.bowl.spread import Doubt, spread
from engine.colorimetry.difference import delta_e00
from engine.knowledge.knowledge import Knowledge
from engine.knowledge.stored import stored
from engine.learning.learn import learn
from tests.salons.judging import held_out, record_of, summary, taught_bowl
from tests.salons.salon import Otherness, Salon, Visit, salon
from tests.salons.strands import found_out

VISITS = 25
HELD_OUT = 60
SPOILED = (4, 17)
HARM_MOST = 1.2  # of the 90th percentile, by two wrong shades in 25 records
WORSE_MOST = 0.1
# Most median and 90th percentile after VISITS; least and most share of outcomes within the 90 % interval.
BARS = {Otherness.SAME: (0.5, 1.2), Otherness.MILD: (1.5, 2.6), Otherness.STRONG: (3.0, 5.6)}
WITHIN_90 = {Otherness.SAME: 0.85, Otherness.MILD: 0.8, Otherness.STRONG: 0.7}
WITHIN_50 = (0.4, 0.65)
STRANDS_MOST = 2.0

missed: list[str] = []


def told(name: str, value: float, most: float, least: float = 0.0, unit: str = "") -> None:
    """Print a figure against its bar."""
    bar = f"at most {most:g}" if least == 0 else f"{least:g} to {most:g}"
    print(f"{name:66} {value:8.3f} {unit:3} bar {bar}")
    if not least <= value <= most:
        missed.append(name)


def coverage(made: Salon, visits: list[Visit], knowledge: Knowledge | None) -> tuple[float, float]:
    """How often what comes out lies within the 50 % and the 90 % interval, hands and eyes as unsure as ever."""
    inside, luck = [], made.luck
    for visit in visits:
        porosity = float(np.clip(visit.canvas.porosity * (1 + luck.normal(0, 0.08)), 0.5, 1.6))
        minutes = visit.process.minutes
        late = None if minutes is None else max(1.0, minutes + luck.uniform(-3, 3))
        poured = {shade: max(0.01, g + luck.uniform(-0.1, 0.1)) if g else 0.0 for shade, g in visit.bowl.grams.items()}
        true = made.outcome(
            replace(visit.canvas, porosity=porosity), Bowl(grams=poured), replace(visit.process, minutes=late)
        )
        around = spread(
            visit.noted,
            taught_bowl(knowledge, visit.bowl) if knowledge else visit.bowl,
            process=replace(visit.process, taught=knowledge),
            doubt=Doubt(grams=0.1),
        )
        off = float(delta_e00(around.lab, true))
        inside.append((off <= around.within_50, off <= around.within_90))
    half, most = np.mean(inside, axis=0)
    return float(half), float(most)


def salons(otherness: Otherness, count: int) -> None:
    """All bars of one kind of salon."""
    before, after, spoilt, unlearned, learned = ([] for _ in range(5))
    for seed in range(count):
        made = salon(otherness, seed)
        visits, test = made.visits(VISITS), made.visits(HELD_OUT)
        knowledge = learn([record_of(visit) for visit in visits]).knowledge
        wrong = [made.spoiled(visit) if turn in SPOILED else visit for turn, visit in enumerate(visits)]
        harmed = learn([record_of(visit) for visit in wrong]).knowledge
        before.append(summary(held_out(None, test)))
        after.append(summary(held_out(knowledge, test)))
        spoilt.append(summary(held_out(harmed, test)))
        unlearned.append(coverage(made, test, None))
        learned.append(coverage(made, test, knowledge))
    start, end, harm = (np.mean(each, axis=0) for each in (before, after, spoilt))
    print(f"\n{otherness.value} physics: {start[0]:.2f} / {start[1]:.2f} before any record")
    told("median after 25 visits", float(end[0]), BARS[otherness][0])
    told("90th percentile after 25 visits", float(end[1]), BARS[otherness][1])
    worst = max(one[0] - other[0] for one, other in zip(after, before, strict=True))
    told("worst change of any salon's median", worst, WORSE_MOST, -100)
    told("90th percentile with two wrong shades, over that without", float(harm[1] / end[1]), HARM_MOST)
    told("within the 90 % interval after 25 visits", float(np.mean(learned, axis=0)[1]), 1.0, WITHIN_90[otherness])
    if otherness is Otherness.SAME:
        told("within the 90 % interval, nothing learned", float(np.mean(unlearned, axis=0)[1]), 0.95, 0.85)
        told(
            "within the 50 % interval, nothing learned",
            float(np.mean(unlearned, axis=0)[0]),
            WITHIN_50[1],
            WITHIN_50[0],
        )
    else:
        print(f"{'within the 50 % interval after 25 visits':66} {np.mean(learned, axis=0)[0]:8.3f}")


def speed() -> None:
    """Time of 500 records, of one more on 100, and the size of what is learned."""
    print()
    visits = salon(Otherness.MILD, 3).visits(500)
    records = [record_of(visit) for visit in visits]
    start = time.process_time()
    found = learn(records)
    told("500 records", time.process_time() - start, 2.0, unit="s")
    told("size of what they teach", len(json.dumps(stored(found.knowledge))) / 1000, 200, unit="kB")
    learn(records[:100])
    start = time.process_time()
    learn(records[:101])
    told("one more on 100 records", time.process_time() - start, 0.3, unit="s")


def strands(count: int) -> None:
    """Bars of strand tests."""
    print()
    for name, photos in (("4 strands by instrument", False), ("6 strands off photos (simulated)", True)):
        misses, inside, took = [], [], []
        for seed in range(3 * count):
            _, off, share, seconds = found_out(seed, photos=photos)
            took.append(seconds)
            misses.append(off)
            inside.append(share)
        told(f"{name}: 90th percentile of forecasts", float(np.quantile(np.concatenate(misses), 0.9)), STRANDS_MOST)
        told(f"{name}: within the 90 % interval", float(np.mean(inside)), 1.0, 0.85)
        told(f"{name}: time", float(np.median(took)), 0.1, unit="s")


def main() -> int:
    """Print all figures; 1 if a bar was missed."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 10
    for otherness in Otherness:
        salons(otherness, count)
    strands(count)
    speed()
    for name in missed:
        print("missed:", name)
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main())
