"""A short name for what a tube does to a forecast, by which two tubes of one name are told apart."""

import hashlib
import json
from typing import Final

from engine.dye.shade import Shade

DIGITS: Final = 16  # hexadecimal: 64 bits, so that two of a million differing tubes meet by chance once in 40 million
PLACES: Final = 6  # decimals that a file keeps of a number


def fingerprint(shade: Shade) -> str:
    """16 hexadecimal digits that are the same for two shades exactly when every forecast of them is.

    Its name, code and line do not count, nor does how surely it is known, which changes how far a forecast may wander
    and not where it lies. Of the SHA-256 of its absorption, strength, kind and times, with numbers to six decimals.
    Source: [FIPS180].
    """
    said = {
        "kind": shade.kind.value,
        "bands": [[_told(band.centre_nm), _told(band.sigma_nm), _told(band.weight)] for band in shade.bands],
        "samples": [_told(each) for each in shade.samples],
        "strength": _told(shade.strength),
        "time_constant_min": _told(shade.time_constant_min),
        "life": _told(shade.life),
        "level": _told(shade.level),
        "ratio": _told(shade.ratio),
        "thins": _told(shade.thins),
    }
    return hashlib.sha256(json.dumps(said, sort_keys=True).encode()).hexdigest()[:DIGITS]


def _told(number: float | None) -> float | None:
    return None if number is None else round(float(number), PLACES) + 0.0  # and no minus zero
