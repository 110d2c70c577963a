"""Colour from a photograph: a patch of it, corrected by something neutral that lies in the same light."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.colorimetry.lab import lab_of
from engine.colorimetry.screen import BRADFORD, RGB_FROM_XYZ, SCREEN_WHITE_XYZ, decode
from engine.errors import BadInput

PAPER_REFLECTANCE: Final = 0.88  # of plain white paper; chosen by the founders
OVER: Final = 0.985  # encoded sRGB from which a channel counts as burnt out
UNDER: Final = 0.04  # and below which as lost in the dark
PAPER_LEAST: Final = 0.18  # linear light of paper in a usable photo: less is shadow
LOST_MOST: Final = 0.25  # share of a patch's pixels that may be burnt out or lost
UNEVEN_MOST: Final = 0.12  # spread of the paper's linear light, over its mean: more is a shadow's edge or print
TINT_MOST: Final = 2.2  # ratio of the paper's strongest to weakest channel: more is no white paper


class PhotoUnusable(BadInput):
    """A patch that says nothing certain of its colour; `code` tells why."""

    def __init__(self, code: str, field: str, message: str) -> None:
        super().__init__(field, message)
        self.code = code


@dataclass(frozen=True, kw_only=True, eq=False)
class PhotoColour:
    """A colour (3,) in L*a*b* under daylight, and how far half of the patch's pixels stray from it, in delta E76."""

    lab: FloatArray
    stray: float


def patch_colour(pixels: FloatArray, paper: FloatArray | None) -> PhotoColour:
    """The colour of a patch of encoded sRGB pixels (pixels, 3) in 0-1.

    paper: pixels (pixels, 3) of white paper in the same light, which becomes a neutral of its known reflectance by
    scaling in Bradford's cone space [LAM85]; without it the camera's own white is believed. Raises PhotoUnusable with
    code over_exposed, in_the_dark, paper_in_shadow, paper_uneven or paper_not_white.
    """
    _check_exposure(pixels, "hair")
    xyz: FloatArray = _xyz(decode(pixels))
    if paper is not None:
        _check_exposure(paper, "paper")
        gains = (BRADFORD @ (PAPER_REFLECTANCE * SCREEN_WHITE_XYZ)) / (BRADFORD @ _paper_xyz(paper))
        xyz = (gains * (xyz @ BRADFORD.T)) @ np.linalg.inv(BRADFORD).T
    labs = lab_of(np.clip(xyz, 1e-5, None), SCREEN_WHITE_XYZ)
    lab = np.median(labs, axis=0)
    lab[0] = min(float(lab[0]), 100.0)
    stray = float(np.median(np.linalg.norm(labs - lab, axis=-1)))
    return PhotoColour(lab=frozen(lab), stray=stray)


def _xyz(linear: FloatArray) -> FloatArray:
    return linear @ np.linalg.inv(RGB_FROM_XYZ).T


def _paper_xyz(paper: FloatArray) -> FloatArray:
    """XYZ (3,) of the paper. Raises PhotoUnusable if it is in shadow, uneven or no white."""
    linear = decode(paper)
    mean = np.median(linear, axis=0)
    if float(mean.mean()) < PAPER_LEAST:
        raise PhotoUnusable("paper_in_shadow", "paper", "paper is too dark: it lies in shadow, or is not white")
    if float(linear.mean(axis=-1).std() / mean.mean()) > UNEVEN_MOST:
        raise PhotoUnusable("paper_uneven", "paper", "paper is uneven: tap it away from its edge, print or a shadow")
    if float(mean.max() / max(float(mean.min()), 1e-6)) > TINT_MOST:
        raise PhotoUnusable("paper_not_white", "paper", "paper is strongly coloured: that is no white paper")
    return _xyz(mean)


def _check_exposure(pixels: FloatArray, field: str) -> None:
    over = float((pixels >= OVER).any(axis=-1).mean())
    under = float((pixels <= UNDER).all(axis=-1).mean())
    if over > LOST_MOST:
        raise PhotoUnusable("over_exposed", field, f"{field} is burnt out: take the photo with less light")
    if under > LOST_MOST:
        raise PhotoUnusable("in_the_dark", field, f"{field} is lost in the dark: take the photo with more light")
