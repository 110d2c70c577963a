"""The one spectral grid: 380-780 nm in 5 nm steps. In every array the last axis is wavelength."""

from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen

START_NM: Final = 380
STOP_NM: Final = 780
STEP_NM: Final = 5
BANDS: Final = (STOP_NM - START_NM) // STEP_NM + 1
WAVELENGTHS_NM: Final[FloatArray] = frozen(np.arange(START_NM, STOP_NM + 1, STEP_NM))
