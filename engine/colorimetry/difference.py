"""CIEDE2000, its parts, and its local metric for solvers. Source: [SWD05]."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from engine.arrays import BoolArray, FloatArray, either, frozen

POW25_7: Final = 25.0**7
TINY: Final = 1e-300  # instead of nothing, in a denominator
# Two unit vectors that add up to less have no direction between them, and the paper's rule decides.
OPPOSED: Final = 1e-9


@dataclass(frozen=True, kw_only=True, eq=False)
class Difference:
    """A sample against a reference, all of shape (...).

    delta_e00 is the CIEDE2000 difference. The three weighted parts are signed and in the same unit:
    deeper (-) or lighter (+), more muted (-) or brighter (+), and the hue part, negative when the sample's
    hue angle is smaller. hue_turn_deg is the hue angle of the sample minus that of the reference, -180..180,
    in CIEDE2000's own hue.
    """

    delta_e00: FloatArray
    lightness_part: FloatArray
    chroma_part: FloatArray
    hue_part: FloatArray
    hue_turn_deg: FloatArray


def difference(reference_lab: FloatArray, sample_lab: FloatArray) -> Difference:
    """CIEDE2000 of two L*a*b* arrays (..., 3) that broadcast, kL = kC = kH = 1."""
    reference, sample = np.asarray(reference_lab, dtype=float), np.asarray(sample_lab, dtype=float)
    found, lightness, chroma, hue, turn = parts_of(*_coordinates(reference), *_coordinates(sample))
    return Difference(delta_e00=found, lightness_part=lightness, chroma_part=chroma, hue_part=hue, hue_turn_deg=turn)


def _coordinates(lab: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
    """L*, a* and b* (...) of L*a*b* (..., 3)."""
    return lab[..., 0], lab[..., 1], lab[..., 2]


def parts_of(
    L1: FloatArray, a1: FloatArray, b1: FloatArray, L2: FloatArray, a2: FloatArray, b2: FloatArray
) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray, FloatArray]:
    """The fields of `Difference` (...) of coordinates (...), element by element. Numbers are the paper's equations."""
    mean_C7 = seventh((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2)  # 2, 3
    G = 0.5 * (1 - np.sqrt(mean_C7 / (mean_C7 + POW25_7)))  # 4
    C1, C2 = np.hypot((1 + G) * a1, b1), np.hypot((1 + G) * a2, b2)  # 5, 6
    h1, h2 = np.degrees(np.arctan2(b1, (1 + G) * a1)) % 360, np.degrees(np.arctan2(b2, (1 + G) * a2)) % 360  # 7

    dL, dC = L2 - L1, C2 - C1  # 8, 9
    grey = C1 * C2 == 0
    dh = h2 - h1
    dh = either(grey, 0.0, dh - 360 * (dh > 180) + 360 * (dh < -180))  # 10
    dH = 2 * np.sqrt(C1 * C2) * np.sin(np.radians(dh) / 2)  # 11

    mean_L, mean_C = (L1 + L2) / 2, (C1 + C2) / 2  # 12, 13
    far, total = np.abs(h1 - h2) > 180, h1 + h2
    mean_h = either(far, either(total < 360, total + 360, total - 360), total) / 2
    mean_h = either(grey, total, mean_h)  # 14
    T = (
        1
        - 0.17 * np.cos(np.radians(mean_h - 30))
        + 0.24 * np.cos(np.radians(2 * mean_h))
        + 0.32 * np.cos(np.radians(3 * mean_h + 6))
        - 0.20 * np.cos(np.radians(4 * mean_h - 63))
    )  # 15
    d_theta = 30 * np.exp(-(((mean_h - 275) / 25) ** 2))  # 16
    mean_C7 = seventh(mean_C)
    R_C = 2 * np.sqrt(mean_C7 / (mean_C7 + POW25_7))  # 17
    S_L = 1 + 0.015 * (mean_L - 50) ** 2 / np.sqrt(20 + (mean_L - 50) ** 2)  # 18
    S_C, S_H = 1 + 0.045 * mean_C, 1 + 0.015 * mean_C * T  # 19, 20
    R_T = -np.sin(np.radians(2 * d_theta)) * R_C  # 21
    l, c, h = dL / S_L, dC / S_C, dH / S_H
    found: FloatArray = np.sqrt(np.maximum(l**2 + c**2 + h**2 + R_T * c * h, 0))  # 22
    return found, l, c, h, dh


def seventh(number: FloatArray) -> FloatArray:
    """The seventh power by four products: a general power takes ten times as long."""
    square = number * number
    return square * square * square * number


def delta_e00(reference_lab: FloatArray, sample_lab: FloatArray) -> FloatArray:
    """The CIEDE2000 difference (...) alone: `difference` without its angles, in half the time, for searches.

    The mean hue is the direction between the two unit vectors, so that its multiples need no trigonometry.
    """
    reference, sample = np.asarray(reference_lab, dtype=float), np.asarray(sample_lab, dtype=float)
    found, opposed = quick_difference(*_coordinates(reference), *_coordinates(sample))
    return np.where(opposed, difference(reference, sample).delta_e00, found) if np.any(opposed) else found


def quick_difference(
    L1: FloatArray, a1: FloatArray, b1: FloatArray, L2: FloatArray, a2: FloatArray, b2: FloatArray
) -> tuple[FloatArray, BoolArray]:
    """`delta_e00` (...) of coordinates (...), element by element, and where hues lie opposite, for `parts_of`."""
    l, chroma, hue, R_T, opposed = quick_parts(L1, a1, b1, L2, a2, b2)
    found: FloatArray = np.sqrt(np.maximum(l * l + chroma * chroma + hue * hue + R_T * chroma * hue, 0))  # 22
    return found, opposed


def residual_of(
    L1: FloatArray, a1: FloatArray, b1: FloatArray, L2: FloatArray, a2: FloatArray, b2: FloatArray
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Three numbers (...) whose squares add up to that of `delta_e00`, element by element: what a fit makes small.

    The term in which chroma and hue meet is parted among both: c^2 + h^2 + R c h = (c + R h / 2)^2 + (1 - R^2 / 4) h^2.
    """
    l, chroma, hue, R_T, _ = quick_parts(L1, a1, b1, L2, a2, b2)
    return l, chroma + R_T / 2 * hue, np.sqrt(np.maximum(1 - R_T * R_T / 4, 0)) * hue


def quick_parts(
    L1: FloatArray, a1: FloatArray, b1: FloatArray, L2: FloatArray, a2: FloatArray, b2: FloatArray
) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray, BoolArray]:
    """The weighted parts of lightness, chroma and hue (...), the factor R_T between the last two, and where hues lie
    opposite, element by element."""
    mean_C7 = seventh((np.sqrt(a1 * a1 + b1 * b1) + np.sqrt(a2 * a2 + b2 * b2)) / 2)  # 2, 3
    stretch = 1.5 - 0.5 * np.sqrt(mean_C7 / (mean_C7 + POW25_7))  # 4
    a1, a2 = stretch * a1, stretch * a2  # 5
    C1, C2 = np.sqrt(a1 * a1 + b1 * b1), np.sqrt(a2 * a2 + b2 * b2)  # 6
    dL, dC = L2 - L1, C2 - C1  # 8, 9
    product, dot, cross = C1 * C2, a1 * a2 + b1 * b2, a1 * b2 - b1 * a2
    turned = np.sqrt(2 / np.maximum(product + dot, TINY)) * cross  # 11, by the half angle
    dH = either(dot < 0, np.copysign(np.sqrt(2 * np.maximum(product - dot, 0)), cross), turned)

    one, other = 1 / np.maximum(C1, TINY), 1 / np.maximum(C2, TINY)
    x, y = a1 * one + a2 * other, b1 * one + b2 * other
    long = np.sqrt(x * x + y * y)
    c, s = either(long > 0, x / np.maximum(long, TINY), 1.0), y / np.maximum(long, TINY)  # of the mean hue, 14
    c2, s2 = 2 * c * c - 1, 2 * s * c
    c3, s3 = c * (2 * c2 - 1), s * (2 * c2 + 1)
    c4, s4 = 2 * c2 * c2 - 1, 2 * s2 * c2
    T = 1 - 0.17 * off(c, s, 30) + 0.24 * c2 + 0.32 * off(c3, s3, -6) - 0.20 * off(c4, s4, 63)  # 15
    mean_h = np.degrees(np.arctan2(s, c)) % 360
    d_theta = np.radians(30) * np.exp(-(((mean_h - 275) / 25) ** 2))  # 16
    mean_C, lift = (C1 + C2) / 2, ((L1 + L2) / 2 - 50) ** 2
    mean_C7 = seventh(mean_C)
    R_T = -2 * np.sin(2 * d_theta) * np.sqrt(mean_C7 / (mean_C7 + POW25_7))  # 17, 21
    l = dL / (1 + 0.015 * lift / np.sqrt(20 + lift))  # 18
    chroma, hue = dC / (1 + 0.045 * mean_C), dH / (1 + 0.015 * mean_C * T)  # 19, 20
    return l, chroma, hue, R_T, (long < OPPOSED) & (product > 0)


def off(cosine: FloatArray, sine: FloatArray, angle_deg: float) -> FloatArray:
    """The cosine of an angle less angle_deg, from its cosine and sine."""
    return cosine * float(np.cos(np.radians(angle_deg))) + sine * float(np.sin(np.radians(angle_deg)))


def local_metric(lab: FloatArray) -> FloatArray:
    """The square root M (3, 3) of CIEDE2000's metric at one colour (3,): delta_e00 ~ |M @ d_lab| for small d_lab.

    By central second differences of delta_e00 squared, which is quadratic near the colour. Asked for again and again
    of the same target, and kept.
    """
    return _local_metric(tuple(np.asarray(lab, dtype=float).tolist()))


@lru_cache(maxsize=1024)
def _local_metric(colour: tuple[float, ...]) -> FloatArray:
    return frozen(local_metrics(np.array(colour)))


def local_metrics(lab: FloatArray, step: float = 0.05) -> FloatArray:
    """`local_metric` of many colours (..., 3) at once, (..., 3, 3)."""
    lab, basis = np.asarray(lab, dtype=float)[..., None, None, :], np.eye(3) * step
    points = np.concatenate([basis[i] + basis[j] for i in range(3) for j in range(3)]).reshape(3, 3, 3)
    opposed = np.concatenate([basis[i] - basis[j] for i in range(3) for j in range(3)]).reshape(3, 3, 3)

    def squared(offset: FloatArray) -> FloatArray:
        return delta_e00(lab - offset / 2, lab + offset / 2) ** 2

    gram = (squared(points) - squared(opposed)) / (4 * step**2)
    values, vectors = np.linalg.eigh(gram)
    told: FloatArray = (vectors * np.sqrt(np.maximum(values, 1e-9))[..., None, :]) @ np.swapaxes(vectors, -1, -2)
    return told


def ring(lab: FloatArray, delta_e00: float, points: int = 36) -> FloatArray:
    """a* and b* (points, 2) of the colours as light as `lab` (3,) that differ from it by delta_e00, nearly."""
    metric = local_metric(lab)[:, 1:]
    turn = np.linspace(0, 2 * np.pi, points, endpoint=False)
    ways = np.stack([np.cos(turn), np.sin(turn)], axis=-1)
    per_unit: FloatArray = np.linalg.norm(ways @ metric.T, axis=-1, keepdims=True)
    return lab[1:] + ways * (delta_e00 / per_unit)
