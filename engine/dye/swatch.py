"""A shade of which only a look is known: the maker's swatch, or a lock that it looks like."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.dye.characterise import StrandTest, fitted_to, likely_families
from engine.dye.families import anything, family
from engine.dye.kind import Kind
from engine.dye.known import JOINED, NODES, Known, doubt_from
from engine.dye.shade import SAMPLE_LIMIT, SMALLEST_KS, Shade
from engine.errors import BadInput
from engine.hair.canvas import Canvas

SWATCH_DOUBT: Final = 5.0  # delta E00 by which a swatch lies off what its tube gives on hair: the founders' estimate
STRENGTH_SD: Final = 0.25  # of the logarithm: a deep colour hides how much of it there is; the founders' estimate


@dataclass(frozen=True, kw_only=True, eq=False)
class Swatched:
    """The shade that a look was taken for, and the family that it is most like, nothing where it is like none."""

    shade: Shade
    family: str


def from_swatch(
    name: str, lab: FloatArray, canvas: Canvas, *, kind: Kind = Kind.DIRECT, like: str = "", share: float = 1.0
) -> Swatched:
    """The shade that gives a look L*a*b* (3,) in daylight on a canvas, a share 0-1 of it in clear.

    like: the family that it was picked from; without one, that of the families that bears the look out best. One look
    leaves open how much of it there is, and much of its course: what is in doubt says so. Raises BadInput for a look
    that is no darker than the canvas.
    """
    test = StrandTest(canvas=canvas, share=share, lab=lab, doubt=SWATCH_DOUBT)
    believed = [family(like)] if like else [*(family(each) for each in likely_families([test])), anything()]
    found, prior = max(((fitted_to([test], each, 1.0), each) for each in believed), key=lambda each: each[0].evidence)
    absorption = np.clip(np.exp(found.unknowns[:NODES] @ JOINED), SMALLEST_KS, SAMPLE_LIMIT)
    if not np.isfinite(absorption).all():
        raise BadInput("lab", "lab is no look that a shade gives")
    covariance = found.covariance[:NODES, :NODES] + np.full((NODES, NODES), STRENGTH_SD**2)
    shade = Shade(
        name=name,
        samples=tuple(absorption.round(6).tolist()),
        strength=1.0,
        kind=kind,
        doubt=doubt_from(covariance, Known.SWATCH, 1),
    )
    return Swatched(shade=shade, family=prior.name)
