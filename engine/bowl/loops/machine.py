"""How loops over many bowls are compiled, and the plain laws that go into them.

Only loops are written for the compiler. The laws inside them are those of the plain modules: numba compiles the very
same functions for single numbers. It takes seconds to load, so that nothing imports this package before a search runs.
"""

import os
import shutil
from collections.abc import Callable
from hashlib import sha256
from pathlib import Path
from typing import Any, Final, ParamSpec, TypeVar, cast

import numba
from numba import config
from numba.extending import overload, register_jitable

import engine
from engine import arrays
from engine.arrays import either
from engine.bowl import goal
from engine.colorimetry import difference, lab
from engine.dye import uptake
from engine.hair import reflectance as hair

P = ParamSpec("P")
R = TypeVar("R")

READ: Final = (arrays, goal, difference, lab, uptake, hair)  # whose laws and constants are compiled into the loops
LOOSENED: Final = {"reassoc", "contract"}  # sums over bands may be taken in any order, as SIMD does


@overload(either)
def _either(condition: bool, first: float, other: float) -> Callable[..., float]:
    """`either` of single numbers."""

    def chosen(condition: bool, first: float, other: float) -> float:
        return first if condition else other

    return chosen


def _law(plain: Callable[..., object]) -> Callable[..., Any]:
    """A plain law, which loops may call with single numbers from now on."""
    return cast(Callable[..., Any], register_jitable(plain))


coordinates_of, coordinate_slopes = _law(lab.coordinates_of), _law(lab.coordinate_slopes)
response, response_slope = _law(lab.response), _law(lab.response_slope)
off, seventh = _law(difference.off), _law(difference.seventh)
quick_difference, parts_of = _law(difference.quick_difference), _law(difference.parts_of)
body_reflectance, reflectance = _law(hair.body_reflectance), _law(hair.reflectance)
reflectance_and_slope = _law(hair.reflectance_and_slope)


def _kept_in() -> Path | None:
    """Where compiled code is kept for the next start, by what it was compiled from; nowhere if nothing is writable."""
    package, sources = Path(engine.__file__).parent, sha256()
    for path in (*sorted(Path(__file__).parent.glob("*.py")), *(Path(str(module.__file__)) for module in READ)):
        sources.update(path.read_bytes())
    for folder in (package / "__pycache__", Path("~/.cache/rainshade").expanduser()):
        kept = folder / f"compiled-{sources.hexdigest()[:16]}"
        try:
            if not kept.is_dir():
                for outdated in folder.glob("compiled-*"):
                    shutil.rmtree(outdated, ignore_errors=True)
                kept.mkdir(parents=True, exist_ok=True)
        except OSError:
            continue
        if os.access(kept, os.W_OK):
            return kept
    return None


_KEPT = _kept_in()
if _KEPT:
    vars(config)["CACHE_DIR"] = str(_KEPT)


def compiled(loops: Callable[P, R]) -> Callable[P, R]:
    """The function, compiled when it is first called."""
    compiler = numba.njit(cache=_KEPT is not None, nogil=True, error_model="numpy", fastmath=LOOSENED)
    return cast(Callable[P, R], compiler(loops))


def inlined(loops: Callable[P, R]) -> Callable[P, R]:
    """The function, compiled into each that calls it."""
    return cast(Callable[P, R], numba.njit(inline="always", error_model="numpy", fastmath=LOOSENED)(loops))
