"""Forecasts of many bowls at once on one canvas, from fractions."""

from collections.abc import Sequence
from dataclasses import dataclass

from engine.arrays import FloatArray, frozen
from engine.bowl.mix import Process, gains_of, lifted
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, Viewing, viewing
from engine.dye.shade import Shade, spectra_of
from engine.dye.uptake import competitive_uptake
from engine.hair.canvas import Canvas, Fibres, fibres_of
from engine.hair.reflectance import reflectance


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

    def coarse(self) -> "Reckoning":
        """The same on every second band, each weight shared out to its neighbours: exact where R runs straight.

        For searches that are checked on the full grid afterwards, at half the cost.
        """
        weights = self.view.weights.copy()
        weights[0:-2:2] += weights[1::2] / 2
        weights[2::2] += weights[1::2] / 2
        view = Viewing(light=self.view.light, weights=frozen(weights[::2]), white_xyz=self.view.white_xyz)
        hair = self.fibres
        fibres = Fibres(
            bare=frozen(hair.bare[..., ::2]),
            pigment=frozen(hair.pigment[..., ::2]),
            base=frozen(hair.base[::2]),
            share=hair.share,
        )
        parts = self.spectra.reshape(len(self.spectra), -1, hair.bare.shape[-1])[..., ::2]
        return Reckoning(
            fibres=fibres,
            view=view,
            spectra=frozen(parts.reshape(len(self.spectra), -1)),
            strengths=self.strengths,
            gains=self.gains,
        )

    def _absorption(self, fractions: FloatArray) -> FloatArray:
        added = (competitive_uptake(fractions, self.strengths) * self.gains) @ self.spectra
        return self.fibres.dyed(added)

    def _xyz(self, absorption: FloatArray) -> FloatArray:
        return xyz_of(reflectance(absorption), self.view.weights)


def reckoning_of(canvas: Canvas, colours: Sequence[Shade], process: Process, light: Light) -> Reckoning:
    """The reckoning of a canvas and the coloured shades of a shelf."""
    return Reckoning(
        fibres=fibres_of(lifted(canvas, colours, process)),
        view=viewing(light),
        spectra=frozen(spectra_of(colours)),
        strengths=frozen([shade.strength for shade in colours]),
        gains=frozen(gains_of(colours, canvas.porosity, process)),
    )
