"""Forecasts of many bowls at once on one canvas, from fractions, with their slopes."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import cast

import numpy as np
from numpy.typing import NDArray

from engine.arrays import FloatArray, frozen
from engine.bowl.mix import Process, gains_of, lifted
from engine.colorimetry.lab import lab_of, lab_slope, xyz_of
from engine.colorimetry.lights import Light, Viewing, viewing
from engine.dye.shade import Shade, spectra_of
from engine.dye.uptake import CROWDING, competitive_uptake
from engine.hair.canvas import Canvas, Fibres, fibres_of
from engine.hair.reflectance import reflectance, reflectance_and_slope

IntArray = NDArray[np.intp]


@dataclass(frozen=True, kw_only=True, eq=False)
class Reckoning:
    """What a forecast of fractions needs. spectra: (shades, bands). strengths, gains: (shades,)."""

    fibres: Fibres
    view: Viewing
    spectra: FloatArray
    strengths: FloatArray
    gains: FloatArray

    def lab(self, fractions: FloatArray) -> FloatArray:
        """L*a*b* (..., 3) of fractions (..., shades)."""
        return lab_of(self._xyz(self._absorption(fractions)), self.view.white_xyz)

    def lab_and_slope(self, sets: IntArray, fractions: FloatArray) -> tuple[FloatArray, FloatArray]:
        """L*a*b* (sets, 3) of fractions (sets, k) of sets of shades (sets, k), and its slope (sets, 3, k)."""
        count = len(self.spectra)
        fractions = fractions.astype(self.spectra.dtype, copy=False)
        crowd = 1 + CROWDING * fractions.sum(axis=-1, keepdims=True)
        scale = (self.strengths * self.gains * (1 + CROWDING))[sets] / crowd
        taken = np.zeros((len(sets), count), dtype=self.spectra.dtype)
        np.put_along_axis(taken, sets, scale * fractions, axis=1)
        added = taken @ self.spectra
        seen, slope = reflectance_and_slope(self.fibres.absorption + added[:, None, :])
        if len(self.fibres.share) == 1:
            seen, slope = seen[:, 0], slope[:, 0]
        else:
            seen, slope = self.fibres.share @ seen, self.fibres.share @ slope
        xyz = xyz_of(seen, self.view.weights)
        weighted = self.view.weights.T[:, None, :] * self.spectra  # (3, shades, bands)
        through_all = slope @ weighted.reshape(-1, weighted.shape[-1]).T  # (sets, 3 shades)
        columns = sets[:, None, :] + count * np.arange(3)[:, None]
        xyz_slope = np.take_along_axis(through_all, columns.reshape(len(sets), -1), axis=1).reshape(columns.shape)
        # d u_i / d x_j = scale_i (delta_ij - beta x_i / crowd)
        xyz_slope *= scale[:, None, :]
        through_crowd = (xyz_slope * fractions[:, None, :]).sum(axis=-1, keepdims=True)
        xyz_slope -= CROWDING * through_crowd / crowd[:, None, :]
        return lab_of(xyz, self.view.white_xyz), lab_slope(xyz, self.view.white_xyz) @ xyz_slope

    def coarse(self) -> "Reckoning":
        """The same on every second band, each weight shared out to its neighbours: exact where R runs straight.

        For searches that are checked on the full grid afterwards, at half the cost.
        """
        weights = self.view.weights.copy()
        weights[0:-2:2] += weights[1::2] / 2
        weights[2::2] += weights[1::2] / 2
        view = Viewing(light=self.view.light, weights=frozen(weights[::2]), white_xyz=self.view.white_xyz)
        fibres = Fibres(absorption=frozen(self.fibres.absorption[..., ::2]), share=self.fibres.share)
        return Reckoning(
            fibres=fibres,
            view=view,
            spectra=frozen(self.spectra[:, ::2]),
            strengths=self.strengths,
            gains=self.gains,
        )

    def single(self) -> "Reckoning":
        """The same in single precision, for screening: good to a thousandth of L*a*b*, in half the time."""

        def half(values: FloatArray) -> FloatArray:
            return cast(FloatArray, values.astype(np.float32))

        weights, white = half(self.view.weights), half(self.view.white_xyz)
        return Reckoning(
            fibres=Fibres(absorption=half(self.fibres.absorption), share=half(self.fibres.share)),
            view=Viewing(light=self.view.light, weights=weights, white_xyz=white),
            spectra=half(self.spectra),
            strengths=half(self.strengths),
            gains=half(self.gains),
        )

    def _absorption(self, fractions: FloatArray) -> FloatArray:
        added = (competitive_uptake(fractions, self.strengths) * self.gains) @ self.spectra
        return self.fibres.absorption + added[..., None, :]

    def _xyz(self, absorption: FloatArray) -> FloatArray:
        return xyz_of(self.fibres.share @ reflectance(absorption), self.view.weights)


def reckoning_of(canvas: Canvas, colours: Sequence[Shade], process: Process, light: Light) -> Reckoning:
    """The reckoning of a canvas and the coloured shades of a shelf."""
    return Reckoning(
        fibres=fibres_of(lifted(canvas, colours, process)),
        view=viewing(light),
        spectra=frozen(spectra_of(colours)),
        strengths=frozen([shade.strength for shade in colours]),
        gains=frozen(gains_of(colours, canvas.porosity, process)),
    )
