"""Draw the eight plots of docs/model.md from the engine itself.

.venv/bin/python tools/plot_model.py
"""

import sys
import time
from dataclasses import replace
from pathlib import Path

sys.path[:0] = [str(Path(__file__).resolve().parent.parent), str(Path(__file__).resolve().parent)]

import matplotlib
import numpy as np
from bench_engine import shelf_of
from matplotlib import pyplot as plt
from matplotlib.axes import Axes
from matplotlib.figure import Figure
from matplotlib.patches import Rectangle

from engine.bowl.fade import fade
from engine.bowl.match import match
from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.bowl.reach import reach
from engine.bowl.spread import spread
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.screen import screen_colour
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas
from engine.learning.learn import learn
from tests.salons.judging import held_out, record_of, summary, taught_bowl
from tests.salons.salon import Otherness, salon

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "model"
SHELF = demo_shelf()
CLEAR = SHELF["clear"]
SALONS = 6


def save(name: str, axes: Axes, title: str, across: str, up: str) -> None:
    """One plot, with what stands on its axes."""
    axes.set_title(title)
    axes.set_xlabel(across)
    axes.set_ylabel(up)
    figure = axes.figure
    if not isinstance(figure, Figure):
        raise TypeError("a plot stands in a figure of its own")
    figure.savefig(FOLDER / f"{name}.svg", metadata={"Date": None}, bbox_inches="tight")
    plt.close(figure)
    print(name)


def ladder() -> None:
    """Bare hair at every level, over the undertone."""
    _, axes = plt.subplots(figsize=(7, 2.6))
    for row, (warmth, lean) in enumerate(((-2, 0), (0, 0), (2, 0), (0, 4))):
        for level in range(1, 12):
            colour = predict(Canvas(level=level, warmth=warmth, lean=lean), None).hex
            axes.add_patch(Rectangle((level - 0.5, row), 1, 0.94, color=colour))
    axes.set(xlim=(0.5, 11.5), ylim=(0, 4), xticks=range(1, 12))
    axes.set_yticks([0.5, 1.5, 2.5, 3.5], ["ashy", "even", "brassy", "lean 4"])
    save("ladder", axes, "Bare hair", "level", "undertone")


def dilution() -> None:
    """Lightness and chroma of a shade as it is thinned with clear."""
    _, axes = plt.subplots(figsize=(7, 3))
    parts = np.geomspace(0.1, 200, 60)
    lch = np.array([predict(Canvas(level=11), Bowl(grams={SHELF["magenta"]: 1, CLEAR: p})).lch for p in parts])
    axes.semilogx(parts, lch[:, 0], "k-", label="depth L*")
    axes.semilogx(parts, lch[:, 1], "k--", label="strength C*")
    axes.legend()
    save("dilution", axes, "Magenta on clean white, thinned with clear", "parts of clear to one of colour", "L*, C*")


def reachable() -> None:
    """What the demo shelf reaches at depth 60 on three levels."""
    figure = plt.figure(figsize=(5, 5))
    axes = figure.add_subplot(projection="polar")
    for level, line in ((11, "-"), (10, "--"), (8.5, ":")):
        found = reach(Canvas(level=level), list(SHELF.values()), 60)
        angles = np.radians([*found.hues_deg, found.hues_deg[0]])
        axes.plot(angles, [*found.chroma, found.chroma[0]], f"k{line}", label=f"level {level}")
    axes.legend(loc="lower left")
    save("reach", axes, "What the shelf reaches at depth 60", "hue", "")


def fading() -> None:
    """A vivid red over twenty-four washes."""
    _, axes = plt.subplots(figsize=(7, 2.2))
    path = fade(Canvas(level=10), Bowl(grams={SHELF["crimson"]: 8, CLEAR: 8}), washes=24)
    for wash, code in enumerate(screen_colour(path.lab).hexes):
        axes.add_patch(Rectangle((wash - 0.5, 0), 1, 60, color=code))
    axes.plot(path.delta_e00, "k-")
    axes.set(xlim=(-0.5, 24.5), ylim=(0, 60))
    save("fade", axes, "Crimson, half clear, on level 10", "washes", "ΔE00 from the first day")


def spreading() -> None:
    """How far a pastel may wander, against how thin it is."""
    _, axes = plt.subplots(figsize=(7, 3))
    parts = np.geomspace(2, 100, 16)
    found = [
        spread(Canvas(level=10), Bowl(grams={SHELF["magenta"]: 60 / (1 + p), CLEAR: 60 * p / (1 + p)})) for p in parts
    ]
    axes.semilogx(parts, [each.within_50 for each in found], "k-", label="half of the results")
    axes.semilogx(parts, [each.within_90 for each in found], "k--", label="nine in ten")
    axes.legend()
    save("spread", axes, "60 g of magenta on level 10", "parts of clear to one of colour", "within ΔE00")


def match_time() -> None:
    """The time of a match against how many shades the shelf has, by how many a recipe may have."""
    _, axes = plt.subplots(figsize=(7, 3))
    canvas, target = Canvas(level=10), np.array([60.0, 25.0, 8.0])
    for shades, marker in ((2, "ko"), (3, "ks"), (4, "k^")):
        points = []
        for count in (12, 24, 48, 96, 192):
            start = time.perf_counter()
            match(canvas, shelf_of(count), target, scale=Scale(), max_shades=shades)
            points.append((count, 1000 * (time.perf_counter() - start)))
        axes.loglog(*zip(*points, strict=True), marker, fillstyle="none", label=f"up to {shades} of them")
    axes.legend()
    save("match-time", axes, "Matching (measured on the machine that drew this)", "shades on the shelf", "milliseconds")


def learning() -> None:
    """How far forecasts lie off what comes out, over the visits that have taught, in simulated salons."""
    _, axes = plt.subplots(figsize=(7, 3))
    for otherness, marker in zip(Otherness, ("ko-", "ks-", "k^-"), strict=True):
        points = []
        for count in (0, 3, 6, 12, 25, 50):
            medians = []
            for seed in range(SALONS):
                made = salon(otherness, seed)
                visits, test = made.visits(50), made.visits(40)
                taught = learn([record_of(visit) for visit in visits[:count]]).knowledge if count else None
                medians.append(summary(held_out(taught, test))[0])
            points.append((count, np.mean(medians)))
        axes.plot(*zip(*points, strict=True), marker, fillstyle="none", label=f"{otherness.value} physics")
    axes.set_ylim(bottom=0)
    axes.legend()
    save("learning", axes, f"{SALONS} simulated salons of each kind", "visits that taught", "median ΔE00 of others")


def calibration() -> None:
    """How many results lie within what the spread says, nothing learned and after 25 visits."""
    _, axes = plt.subplots(figsize=(4, 4))
    nominal = np.linspace(0.1, 0.95, 12)
    for otherness, count, marker in (
        (Otherness.SAME, 0, "ko-"),
        (Otherness.MILD, 25, "ks-"),
        (Otherness.STRONG, 25, "k^-"),
    ):
        ranks = []
        for seed in range(SALONS):
            made = salon(otherness, seed)
            visits, test = made.visits(25), made.visits(40)
            taught = learn([record_of(visit) for visit in visits[:count]]).knowledge if count else None
            for visit in test:
                bowl = taught_bowl(taught, visit.bowl) if taught else visit.bowl
                found = spread(visit.noted, bowl, process=replace(visit.process, taught=taught))
                off = delta_e00(found.lab, np.vstack([visit.lab, found.samples]))
                ranks.append(float(np.mean(off[1:] < off[0])))
        share = [float(np.mean(np.array(ranks) <= level)) for level in nominal]
        axes.plot(nominal, share, marker, fillstyle="none", label=f"{otherness.value}, {count} visits")
    axes.plot([0, 1], [0, 1], "k:")
    axes.set(xlim=(0, 1), ylim=(0, 1))
    axes.legend()
    save("calibration", axes, "Simulated salons", "share that the spread says", "share of results")


if __name__ == "__main__":
    FOLDER.mkdir(exist_ok=True)
    matplotlib.rcParams["svg.hashsalt"] = "rainshade"  # the same picture for the same numbers
    for draw in (ladder, dilution, reachable, fading, spreading, match_time, learning, calibration):
        draw()
