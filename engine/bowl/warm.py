"""Compiles the loops of a search, or loads them: python -m engine.bowl.warm. A server does it before it
answers, and nobody's first search takes half a minute.
"""

import numpy as np

from engine.bowl.adjust import adjust
from engine.bowl.match import match
from engine.bowl.mix import Bowl
from engine.bowl.reach import reach
from engine.bowl.weigh import Scale
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas


def warm_up() -> None:
    """Runs one search of each kind, on as little as will do."""
    shelf = list(demo_shelf().values())
    few, aim, hair = [shelf[0], shelf[-1]], np.array([60.0, 20.0, 20.0]), Canvas(level=10)
    match(hair, few, aim, scale=Scale(), max_shades=1)
    adjust(hair, Bowl(grams={shelf[1]: 1.0, shelf[-1]: 40.0}), few, aim, max_total_g=90)
    reach(hair, few, 60.0)


if __name__ == "__main__":
    warm_up()
