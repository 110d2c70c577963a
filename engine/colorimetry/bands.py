"""Absorption bands: a Gaussian in wavenumber, as dyes in solution show."""

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.grid import WAVELENGTHS_NM


def band(centre_nm: float, sigma_nm: float) -> FloatArray:
    """A band (bands,) of height 1, centred and spread in wavenumber; centre and spread are given in nm."""
    wavenumber, centre = 1e7 / WAVELENGTHS_NM, 1e7 / centre_nm
    return np.exp(-0.5 * ((wavenumber - centre) / (sigma_nm * 1e7 / centre_nm**2)) ** 2)
