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
import numpy as np
from numba import config
from numba.extending import overload, register_jitable

import engine
from engine import arrays
from engine.arrays import either, falling, five_thirds, sixth_root, three_fifths
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


# Powers in products, sums and quotients alone, which run over several bands at once; near enough to seven digits.
SIXTH: Final = 1 / 6
TWENTY_FOURTH: Final = 1 / 24


@overload(falling)
def _falling(power: float) -> Callable[..., float]:
    """`falling` of single numbers: the power of a 64th, by its series, squared six times; e to -100 is nothing."""

    def quick(power: float) -> float:
        part = (power if power > -100.0 else -100.0) * 0.015625
        found = 1.0 + part * (
            1.0
            + part
            * (0.5 + part * (SIXTH + part * (TWENTY_FOURTH + part * (SIXTH * 0.05 + part * SIXTH * SIXTH * 0.05))))
        )
        found *= found
        found *= found
        found *= found
        found *= found
        found *= found
        return found * found

    return quick


@register_jitable
def _cube_root(value: float) -> float:
    """Halley's way from the fourth root, which is near enough for absorptions."""
    root: float = np.sqrt(np.sqrt(value + 1e-18))
    for _ in range(3):
        cube = root * root * root
        root *= (cube + 2.0 * value) / (2.0 * cube + value)
    return root


@overload(three_fifths)
def _three_fifths(value: float) -> Callable[..., float]:
    """`three_fifths` of single numbers: the cube of the fifth root, by Halley's way from the fourth."""

    def quick(value: float) -> float:
        root: float = np.sqrt(np.sqrt(value))
        for _ in range(3):
            square = root * root
            fifth = square * square * root
            root *= (2.0 * fifth + 3.0 * value) / (3.0 * fifth + 2.0 * value)
        return root * root * root

    return quick


@overload(five_thirds)
def _five_thirds(value: float) -> Callable[..., float]:
    """`five_thirds` of single numbers."""

    def quick(value: float) -> float:
        root = _cube_root(value)
        return value * root * root

    return quick


@overload(sixth_root)
def _sixth_root(value: float) -> Callable[..., float]:
    """`sixth_root` of single numbers."""

    def quick(value: float) -> float:
        return _cube_root(np.sqrt(value))

    return quick


def _law(plain: Callable[..., object]) -> Callable[..., Any]:
    """A plain law, which loops may call with single numbers from now on."""
    return cast(Callable[..., Any], register_jitable(plain))


coordinates_of, coordinate_slopes = _law(lab.coordinates_of), _law(lab.coordinate_slopes)
response, response_slope = _law(lab.response), _law(lab.response_slope)
off, seventh = _law(difference.off), _law(difference.seventh)
_law(difference.quick_parts)
quick_difference, parts_of = _law(difference.quick_difference), _law(difference.parts_of)
residual_of = _law(difference.residual_of)
reflectance, reflectance_and_slope = _law(hair.reflectance), _law(hair.reflectance_and_slope)
filled_up = _law(hair.filled_up)
three_fifths_of = cast(Callable[..., Any], three_fifths)
five_thirds_of = cast(Callable[..., Any], five_thirds)


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


_COMPILING: Final[dict[str, Any]] = {"error_model": "numpy", "fastmath": LOOSENED}
_BY_ITSELF: Final[dict[str, Any]] = _COMPILING | {"cache": _KEPT is not None, "nogil": True}


def compiled(loops: Callable[P, R]) -> Callable[P, R]:
    """The function, compiled when it is first called."""
    return cast(Callable[P, R], numba.njit(**_BY_ITSELF)(loops))


def lent(loops: Callable[P, R]) -> Callable[P, R]:
    """As `compiled`, for loops that make no array and are lent all that they write on: two to three times as fast.

    Nobody counts who holds which array meanwhile. Each call that all tables are handed to would count them up and down
    again, in steps that no other may come between.
    """
    return cast(Callable[P, R], numba.njit(**_BY_ITSELF | {"_nrt": False})(loops))


def inlined(loops: Callable[P, R]) -> Callable[P, R]:
    """The function, compiled into each that calls it."""
    return cast(Callable[P, R], numba.njit(**_COMPILING, inline="always")(loops))
