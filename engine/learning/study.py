"""Records as they are fitted: what was on which hair, what came out, and how surely either is known."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from engine.arrays import FloatArray
from engine.bowl.doses import Worked
from engine.colorimetry.difference import local_metrics
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.knowledge.told import Subject


@dataclass(frozen=True, kw_only=True, eq=False)
class Study:
    """What is fitted, one record in each row of `subject`; shades: those that any of them holds, in its order.

    shade_sd: how far the logarithm of each one's strength is believed to stray, (shades,).
    actual_lab: (n, 3). level_sd: of the level as read, (n,). judged_sd: of each coordinate of the judged colour, in
    units of delta E00, (n,).
    """

    worked: Sequence[Worked]
    lights: Sequence[Light]
    shades: Sequence[Shade]
    shade_sd: FloatArray
    subject: Subject
    actual_lab: FloatArray
    level_sd: FloatArray
    judged_sd: FloatArray

    @cached_property
    def metrics(self) -> FloatArray:
        """What turns a miss in L*a*b* into delta E00, (n, 3, 3)."""
        return local_metrics(self.actual_lab)
