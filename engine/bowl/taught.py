"""Forecasts under what a studio's results have taught, and how sure any forecast is of shades and physics."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.doses import Worked, subject_of
from engine.bowl.goal import ZoneAim
from engine.bowl.mix import Bowl, Process, added_absorption, lifted, lifted_under, lifts
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.reflectance import reflectance
from engine.knowledge.knowledge import UNTAUGHT, Knowledge, Looked


def look(worked: Sequence[Worked], light: Light, knowledge: Knowledge | None = None) -> Looked:
    """Forecast worked hair. The bowls' shades are as `Knowledge.taught` gives them; by default nothing is known yet."""
    colours: dict[Shade, None] = {}
    for each in worked:
        for bowl, _ in each.coats:
            colours.update(dict.fromkeys(bowl.colours))
    shades = list(colours)
    return (knowledge or UNTAUGHT).look(subject_of(worked, shades, [light] * len(worked)), shades)


def beside(
    canvas: Canvas, bowl: Bowl, process: Process, light: Light, among: Sequence[Shade] | None = None
) -> FloatArray:
    """How far a studio's forecast lies from the engine's own, L*a*b* (3,): nothing where nothing was taught.

    among: the shades that a search reckons with. It runs on the engine's own physics with the studio's shades, and
    takes every bowl that could lift natural hair for one that is all colour; it aims beside the target by this.
    """
    shades = bowl.colours if among is None else among
    if not bowl.colours or not (process.taught if among is None else is_beside(canvas, shades, process)):
        return np.zeros(3)
    hair = lifted_under(canvas, bowl, process) if among is None else lifted(canvas, shades, process)
    plain = fibres_of(hair).dyed(added_absorption(bowl, canvas.porosity, process))
    view = viewing(light)
    usual = lab_of(xyz_of(reflectance(plain), view.weights), view.white_xyz)
    off: FloatArray = looks([Worked(canvas=canvas, coats=((bowl, process),))], light, process.taught)[0] - usual
    return off


def is_beside(canvas: Canvas, shades: Sequence[Shade], process: Process) -> bool:
    """Whether bowls of some shades are forecast otherwise than a search among them reckons."""
    return process.taught is not None or lifts(canvas, shades, process)


def aimed_beside(
    zones: Sequence[ZoneAim], bowl: Bowl, process: Process, light: Light, among: Sequence[Shade]
) -> Sequence[ZoneAim]:
    """Aims as a search among shades must take them for the forecast of such a bowl to be on them."""
    if not any(is_beside(zone.canvas, among, process) for zone in zones):
        return zones
    return [zone.less(beside(zone.canvas, bowl, process, light, among)) for zone in zones]


def as_taught(worked: Worked, knowledge: Knowledge, client: str = "") -> Worked:
    """Worked hair whose bowls' shades are plain, as they work in a studio and on a client's hair."""

    def taught(bowl: Bowl) -> Bowl:
        return Bowl(grams={knowledge.taught(shade, client): grams for shade, grams in bowl.grams.items()})

    coats = tuple((taught(bowl), replace(process, taught=knowledge)) for bowl, process in worked.coats)
    return replace(worked, coats=coats)


def looks(worked: Sequence[Worked], light: Light, knowledge: Knowledge | None) -> FloatArray:
    """L*a*b* (n, 3) of worked hair, as a studio's results have it."""
    return look(worked, light, knowledge).lab
