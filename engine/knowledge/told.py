"""Forecasts of many bowls at once under constants of a studio's own, with their slopes by all that is unknown."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from engine.arrays import FloatArray, IntArray
from engine.colorimetry.grid import STEP_NM, WAVELENGTHS_NM
from engine.colorimetry.lab import coordinate_slopes, lab_of, response, response_slope
from engine.knowledge.law import Doses, Hair, Physics, seen, taken
from engine.knowledge.remainder import features, presence, waves
from engine.knowledge.unknowns import Layout


def shifted(spectra: FloatArray, shifts_nm: FloatArray) -> FloatArray:
    """Spectra (shades, bands) with their bands moved by (shades,) nm towards red."""
    if not shifts_nm.any():
        return spectra
    rows = zip(spectra, shifts_nm, strict=True)
    return np.stack([np.interp(WAVELENGTHS_NM - nm, WAVELENGTHS_NM, spectrum) for spectrum, nm in rows])


@dataclass(frozen=True, kw_only=True, eq=False)
class Subject:
    """Bowls on hair, one in each row. strengths (shades,), tones and bases (shades, bands): of the shades in them.

    weights: (n, 3, bands), each light's over its white. line_of (shades,), client_of and reader_of (n,): which of each
    group of unknowns, the latter -1 for none. stepped: the hair, had its level been read `steps` (n,) higher.
    """

    hair: Hair
    stepped: Hair
    steps: FloatArray
    doses: Doses
    strengths: FloatArray
    tones: FloatArray
    bases: FloatArray | None
    weights: FloatArray
    line_of: IntArray
    client_of: IntArray
    reader_of: IntArray

    @cached_property
    def bare_lab(self) -> FloatArray:
        """L*a*b* (n, 3) of the hair before anything was put on it."""
        return self.lab_of(seen(self.hair, np.zeros_like(self.hair.base), None).reflectance)

    def ratios(self, reflectance: FloatArray) -> FloatArray:
        """Tristimulus values over the white's, (n, 3), of reflectance (n, bands)."""
        seen: FloatArray = np.einsum("nxb,nb->nx", self.weights, reflectance)
        return seen

    def lab_of(self, reflectance: FloatArray) -> FloatArray:
        """L*a*b* (n, 3) of reflectance (n, bands)."""
        return lab_of(self.ratios(reflectance), np.ones(3))

    def line_sums(self, per_shade: FloatArray, lines: int) -> FloatArray:
        """What is per shade, (..., shades), added up over each line, (..., lines)."""
        member = np.zeros((len(self.line_of), lines))
        member[np.arange(len(self.line_of)), self.line_of] = 1
        summed: FloatArray = per_shade @ member
        return summed


@dataclass(frozen=True, kw_only=True, eq=False)
class Told:
    """L*a*b* (n, 3), and how it moves: with the unknowns (n, 3, size), the level as read and the logarithm of porosity.

    likeness: how much of the remainder's variance its centres know of, (n,); presence (n,): how much of it shows.
    by_band: by K that is added in each band, (n, 3, bands). units: of each shade that hair takes, (n, shades).
    """

    lab: FloatArray
    slopes: FloatArray
    by_level: FloatArray
    by_porosity: FloatArray
    likeness: FloatArray
    presence: FloatArray
    by_band: FloatArray
    units: FloatArray


def told(
    subject: Subject, layout: Layout, unknowns: FloatArray, centres: FloatArray, by_level: FloatArray | None = None
) -> Told:
    """Forecast with unknowns (size,). centres: (waves, 4) of the remainder.

    by_level: its slope as it was found nearby, which moves little, to save reckoning it again.
    """
    groups = layout.groups
    physics = Physics(*unknowns[groups["physics"]]) if layout.physics else Physics()
    logs = unknowns[groups["strengths"]] + unknowns[groups["lines"]][subject.line_of]
    lives = unknowns[groups["lives"]][subject.line_of] if layout.lives else None
    per_client = np.append(unknowns[groups["clients"]], 0.0)[subject.client_of]
    took = taken(subject.doses, subject.strengths * np.exp(logs + per_client[:, None]), physics, lives)
    tones = shifted(subject.tones, unknowns[groups["shifts"]]) if layout.shifts else subject.tones
    tone, base = took.units @ tones, None
    if subject.bases is not None:
        # A base is what its level says; what is learned of a strength is learned of the tone.
        base = taken(subject.doses, subject.strengths, physics, lives).units @ subject.bases
    found = seen(subject.hair, tone, base, physics)
    ratios = subject.ratios(found.reflectance)
    lab, outer = lab_of(ratios, np.ones(3)), response_slope(response(ratios))

    def moved(steps: FloatArray) -> FloatArray:
        """L*a*b* slopes (n, 3, ...) of slopes of tristimulus ratios (n, 3, ...)."""
        answered = outer.reshape(*outer.shape, *(1,) * (steps.ndim - 2)) * steps
        return np.stack(coordinate_slopes(answered[:, 0], answered[:, 1], answered[:, 2]), axis=1)

    by_band = moved(subject.weights * found.by_tone[:, None, :])
    by_unit = by_band @ tones.T  # (n, 3, shades)
    by_strength = by_unit * took.units[:, None, :]
    if by_level is None:
        stepped = seen(subject.stepped, tone, base, physics).reflectance
        by_level = (subject.lab_of(stepped) - lab) / subject.steps[:, None]
    slopes = np.zeros((*lab.shape, layout.size))
    slopes[..., groups["strengths"]] = by_strength
    slopes[..., groups["lines"]] = subject.line_sums(by_strength, layout.lines)
    rows = np.flatnonzero(subject.client_of >= 0)
    slopes[rows, :, groups["clients"].start + subject.client_of[rows]] = by_strength.sum(axis=-1)[rows]
    rows = np.flatnonzero(subject.reader_of >= 0)
    # Who reads too light has darker hair before her than she says.
    lab = lab - by_level * np.append(unknowns[groups["readers"]], 0.0)[subject.reader_of][:, None]
    slopes[rows, :, groups["readers"].start + subject.reader_of[rows]] = -by_level[rows]
    if layout.physics:
        by_law = [moved(subject.ratios(each)) for each in (found.by_surface, found.by_power)]
        uptakes = (took.by_crowding, took.by_porosity, took.by_pace)
        by_uptake = [np.einsum("nxs,ns->nx", by_unit, each) for each in uptakes]
        slopes[..., groups["physics"]] = np.stack([*by_law, *by_uptake], axis=-1)
    if layout.shifts:
        steep = np.gradient(tones, STEP_NM, axis=-1)
        slopes[..., groups["shifts"]] = -(by_band @ steep.T) * took.units[:, None, :]
    if layout.lives:
        slopes[..., groups["lives"]] = subject.line_sums(by_unit * took.by_life[:, None, :], layout.lines)
    shows = presence(lab, subject.bare_lab)
    likeness = np.zeros(len(lab))
    if layout.waves:
        each = waves(features(lab, subject.bare_lab), centres)
        likeness = (each**2).sum(axis=-1)
        own = np.einsum("nm,xy->nxmy", each * shows[:, None], np.eye(3)).reshape(len(lab), 3, -1)
        lab, slopes[..., groups["remainder"]] = lab + own @ unknowns[groups["remainder"]], own
    # Porosity is read, too: a tenth more is taken a tenth more, and sooner.
    hurried = by_strength.sum(axis=-1) - np.einsum("nxs,ns->nx", by_unit, took.by_pace)
    return Told(
        lab=lab,
        slopes=slopes,
        by_level=by_level,
        by_porosity=hurried,
        likeness=np.minimum(likeness, 1),
        presence=shows,
        by_band=by_band,
        units=took.units,
    )
