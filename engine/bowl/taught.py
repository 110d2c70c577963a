"""Forecasts under what a studio's results have taught, and how sure any forecast is of shades and physics."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.doses import Worked, subject_of
from engine.bowl.goal import ZoneAim
from engine.bowl.mix import Bowl, Process, added_absorption, lifted
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


def beside(canvas: Canvas, bowl: Bowl, process: Process, light: Light) -> FloatArray:
    """How far a studio's forecast lies from the engine's own, L*a*b* (3,): nothing where nothing was taught.

    Searches run on the engine's own physics with the studio's shades, and aim beside the target by this.
    """
    if process.taught is None or not bowl.colours:
        return np.zeros(3)
    added = added_absorption(bowl, canvas.porosity, process)
    plain = fibres_of(lifted(canvas, bowl.colours, process)).dyed(added)
    view = viewing(light)
    usual = lab_of(xyz_of(reflectance(plain), view.weights), view.white_xyz)
    off: FloatArray = looks([Worked(canvas=canvas, coats=((bowl, process),))], light, process.taught)[0] - usual
    return off


def aimed_beside(zones: Sequence[ZoneAim], bowl: Bowl, process: Process, light: Light) -> Sequence[ZoneAim]:
    """Aims as the engine's own physics must take them for a studio's forecast of such a bowl to be on them."""
    if process.taught is None:
        return zones
    return [replace(zone, target_lab=zone.target_lab - beside(zone.canvas, bowl, process, light)) for zone in zones]


def looks(worked: Sequence[Worked], light: Light, knowledge: Knowledge) -> FloatArray:
    """L*a*b* (n, 3) of worked hair, as a studio's results have it."""
    return look(worked, light, knowledge).lab
