"""A new shade's absorption from strand tests: what its family lets one expect, moved to what the strands show."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from itertools import product
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.colorimetry.difference import delta_e00, local_metrics
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.colorimetry.lab import coordinate_slopes, lab_of, response, response_slope
from engine.colorimetry.lights import Light, viewing
from engine.dye.families import Prior, anything, families, family, like
from engine.dye.kind import Kind
from engine.dye.known import JOINED, NODES, NODES_NM, Known, doubt_from
from engine.dye.shade import SAMPLE_LIMIT, SMALLEST_KS, Shade
from engine.errors import BadInput
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.reflectance import MIXED, filled_up, reflectance_and_slope
from engine.hair.source import Source, per_axis

READINGS_LEAST: Final = 2
ODD_BY: Final = 3.0  # times its doubt by which a strand lies off what all of them tell, and contradicts them
STRANDS_USUAL: Final = 4  # of a shade that is hardly known
STRANDS_MOST: Final = 6
DOUBT_LIMITS: Final = (0.1, 20.0)
MODEL_DOUBT: Final = 0.5  # delta E00 by which even a perfect reading of a strand lies off what the model says
PHOTO_FROM: Final = 2.0  # delta E00 of doubt from which a reading is taken for a photo's or an eye's, off all alike
# How photos of one set lie off together: L* all over, L* by its distance from 60, chroma, and gloss, a share of light.
PHOTO_SD: Final = frozen([2.0, 0.06, 0.08, 0.015])
NOISES: Final = (0.5, 1.0)  # readings that are far from sure may be better than is said of them
ROUNDS: Final = 25
SETTLED: Final = 1e-4  # of a standard deviation before any reading
LEAP_MOST: Final = 2.0
# What a next strand is chosen among, and the uses that it should make surer: shares in clear, on levels.
SHARES: Final = (1.0, 0.5, 0.2, 0.1, 0.05, 0.02)
LEVELS: Final = (8.0, 9.0, 10.0, 11.0)
USES: Final = tuple((level, share) for level in (9.0, 10.0) for share in (1.0, 0.3, 0.1, 0.03))


@dataclass(frozen=True, kw_only=True, eq=False)
class StrandTest:
    """The colour (3,) that a share 0-1 of the shade in clear gave on a canvas at full time, dry, in `light`.

    doubt: delta E00 by which such a reading usually lies off; an instrument's by default.
    """

    canvas: Canvas
    share: float
    lab: FloatArray
    light: Light = Light.DAYLIGHT
    doubt: float = Source.READER.colour_doubt

    def __post_init__(self) -> None:
        within("share", self.share, 0.001, 1.0)
        within("doubt", self.doubt, *DOUBT_LIMITS, "delta E00")


@dataclass(frozen=True, kw_only=True)
class NextStrand:
    """The strand that would tell most: its level and the share of the shade in clear.

    doubt, doubt_after: delta E00 by which forecasts of the shade alone usually lie off, now and then.
    """

    level: float
    share: float
    doubt: float
    doubt_after: float


@dataclass(frozen=True, kw_only=True, eq=False)
class Characterised:
    """The shade that was found with its doubt, the family it was taken for, how far it misses each strand test,
    delta E00 (tests,), which of them contradict the others (tests,), and which strand to make next."""

    shade: Shade
    family: str
    misses: FloatArray
    odd: tuple[bool, ...]
    settled: bool
    next_strand: NextStrand


@dataclass(frozen=True, kw_only=True, eq=False)
class Fitted:
    """Unknowns (nodes + nuisances,), their covariance, the logarithm of the evidence, and whether the fit settled."""

    unknowns: FloatArray
    covariance: FloatArray
    evidence: float
    settled: bool


def characterise(
    name: str, tests: Sequence[StrandTest], *, kind: Kind = Kind.DIRECT, start: Prior | None = None
) -> Characterised:
    """The shade whose absorption, at strength 1, explains the strand tests.

    The unknowns are logarithms of K every 20 nm, joined by straight lines. Gauss and Newton's steps with the analytic
    slope, from what is believed of its family; without a `start`, of the family that the strands bear out best. Raises
    BadInput for fewer than two tests or tests of one dilution only.
    """
    if len(tests) < READINGS_LEAST or len({test.share for test in tests}) < READINGS_LEAST:
        raise BadInput("strand_tests", "strand_tests need two or more readings at two or more dilutions")
    believed = [start] if start else [*(family(each) for each in likely_families(tests)), anything()]
    found, prior = max(
        ((fitted_to(tests, prior, noise), prior) for prior, noise in product(believed, NOISES)),
        key=lambda each: each[0].evidence,
    )
    nodes = len(prior.mean)
    logs, covariance = found.unknowns[:nodes], found.covariance[:nodes, :nodes]
    absorption = np.clip(np.exp(logs @ JOINED), SMALLEST_KS, SAMPLE_LIMIT)
    source = Known.INSTRUMENT if all(test.doubt < PHOTO_FROM for test in tests) else Known.STRANDS
    shade = Shade(
        name=name,
        samples=tuple(absorption.round(6).tolist()),
        strength=1.0,
        kind=kind,
        doubt=doubt_from(covariance, source, len(tests)),
    )
    misses = [float(delta_e00(test.lab, strand_lab(test, absorption))) for test in tests]
    return Characterised(
        shade=shade,
        family=prior.name,
        misses=frozen(misses),
        odd=tuple(miss > ODD_BY * test.doubt for miss, test in zip(misses, tests, strict=True)),
        settled=found.settled,
        next_strand=_next_strand(logs, covariance, min(test.doubt for test in tests)),
    )


def strand_lab(test: StrandTest, absorption: FloatArray) -> FloatArray:
    """L*a*b* (3,) that an undiluted absorption (bands,) gives in a strand test."""
    return _strand(test, absorption)[0]


def _strand(test: StrandTest, absorption: FloatArray, gloss: float = 0.0) -> tuple[FloatArray, FloatArray, FloatArray]:
    """L*a*b* (3,) of a strand test, and its slopes by the logarithm of K, (3, bands), and by a share of gloss, (3,)."""
    fibres, view = fibres_of(test.canvas), viewing(test.light)
    taken = test.share * test.canvas.porosity * absorption
    k = fibres.bare + filled_up(fibres.pigment, fibres.base) + taken
    mixed = (fibres.share[:, None] * k**MIXED).sum(axis=0) ** (1 / MIXED)
    inner = (fibres.share[:, None] * (mixed / k) ** (1 - MIXED)).sum(axis=0)
    seen, slope = reflectance_and_slope(mixed)
    ratio = np.maximum(seen @ view.weights / view.white_xyz + gloss, 1e-4)
    outer = response_slope(response(ratio))
    steps = outer[:, None] * (view.weights / view.white_xyz).T * (slope * inner * taken)
    return lab_of(ratio, np.ones(3)), np.stack(coordinate_slopes(*steps)), np.array(coordinate_slopes(*outer))


def likely_families(tests: Sequence[StrandTest]) -> list[str]:
    """The families whose members come nearest to the strands as they are, the nearest three."""
    aims = np.stack([test.lab for test in tests])

    def off(name: str) -> float:
        absorption = np.exp(family(name).mean @ JOINED)
        return float(delta_e00(aims, np.stack([strand_lab(test, absorption) for test in tests])).mean())

    return sorted(families(), key=off)[:3]


def fitted_to(tests: Sequence[StrandTest], prior: Prior, noise: float) -> Fitted:
    """The most likely absorption under a prior, with what photos have in common as further unknowns.

    noise: of readings that are far from sure, over what is said of them.
    """
    nodes = len(prior.mean)
    root = np.linalg.cholesky(prior.covariance)
    shared = np.array([test.doubt >= PHOTO_FROM for test in tests])
    said = np.array([test.doubt for test in tests]) * np.where(shared, noise, 1.0)
    sd = np.hypot(said, MODEL_DOUBT) / 3**0.5
    aims = np.stack([test.lab for test in tests])
    metrics = local_metrics(aims) / sd[:, None, None]
    scaled = np.zeros(nodes + len(PHOTO_SD))  # in standard deviations before any reading

    def residual(at: FloatArray) -> tuple[FloatArray, FloatArray]:
        absorption, off = np.exp((prior.mean + root @ at[:nodes]) @ JOINED), PHOTO_SD * at[nodes:]
        strands = [_strand(test, absorption, float(off[3]) * each) for test, each in zip(tests, shared, strict=True)]
        labs, slopes, glossy = (np.stack(each) for each in zip(*strands, strict=True))
        by_node = slopes @ JOINED.T @ root
        by_photo = np.zeros((*labs.shape, len(PHOTO_SD)))
        by_photo[:, 0, 0], by_photo[:, 0, 1] = 1, labs[:, 0] - 60
        by_photo[:, 1:, 2] = labs[:, 1:]
        by_photo *= shared[:, None, None] * PHOTO_SD
        seen = labs + by_photo @ at[nodes:]
        scale = 1 + shared[:, None] * np.array([off[1], off[2], off[2]])
        by_photo[..., 3] = shared[:, None] * scale * glossy * PHOTO_SD[3]
        moved = np.concatenate([by_node * scale[..., None], by_photo], axis=-1)
        missed = np.einsum("nxy,ny->nx", metrics, aims - seen).ravel()
        return missed, np.einsum("nxy,nyu->nxu", metrics, moved).reshape(-1, len(at))

    settled = False
    missed, slope = residual(scaled)
    for _ in range(ROUNDS):
        precision = slope.T @ slope + np.eye(len(scaled))
        step = np.linalg.solve(precision, slope.T @ missed - scaled)
        leap = float(np.abs(step).max())
        scaled = scaled + step * min(1.0, LEAP_MOST / max(leap, 1e-12))
        missed, slope = residual(scaled)
        if leap < SETTLED:
            settled = True
            break
    precision = slope.T @ slope + np.eye(len(scaled))
    covariance = np.linalg.inv(precision)
    full = np.zeros((len(scaled), len(scaled)))
    full[:nodes, :nodes] = root @ covariance[:nodes, :nodes] @ root.T
    return Fitted(
        unknowns=np.append(prior.mean + root @ scaled[:nodes], PHOTO_SD * scaled[nodes:]),
        covariance=full,
        evidence=-0.5 * float(missed @ missed + scaled @ scaled + np.linalg.slogdet(precision)[1])
        - 3 * float(np.log(sd).sum()),
        settled=settled,
    )


def prior_of(shade: Shade) -> Prior:
    """What is believed of a shade before its strands are read: its own absorption with its own doubt, if it has one,
    else that of a shade like it.
    """
    absorption = shade.strength * shade.spectrum
    if shade.doubt is None:
        return like(shade.name, absorption)
    factors = np.array(shade.doubt.factors).reshape(-1, NODES)
    mean = np.log(np.maximum(np.interp(NODES_NM, WAVELENGTHS_NM, absorption), SMALLEST_KS))
    return Prior(name=shade.name, mean=frozen(mean), covariance=frozen(factors.T @ factors + 1e-4 * np.eye(NODES)))


def strands_to_make(
    believed: Prior, count: int = STRANDS_USUAL, *, doubt: float = Source.READER.colour_doubt
) -> tuple[NextStrand, ...]:
    """The strands that would tell most of a shade of which so much is believed, the most telling first, each given
    those before it; of two dilutions at least. doubt: delta E00 by which they will be read. Raises OutOfRange.
    """
    within("count", count, 1, STRANDS_MOST)
    within("doubt", doubt, *DOUBT_LIMITS, "delta E00")
    strands, planned, covariance = _Strands(believed.mean), list[NextStrand](), believed.covariance
    for _ in range(count):
        made = [(each.level, each.share) for each in planned]
        same = {share for _, share in made}
        left_out = {(level, share) for level in LEVELS for share in (same if len(same) == 1 else ())} | set(made)
        strand, covariance = strands.chosen(covariance, doubt, left_out)
        planned.append(strand)
    return tuple(planned)


def _next_strand(logs: FloatArray, covariance: FloatArray, doubt: float) -> NextStrand:
    """Of strands that are easily made the one that leaves least doubt of the shade by itself."""
    return _Strands(logs).chosen(covariance, doubt, set())[0]


class _Strands:
    """The strands that may be made of a shade whose logarithms of K are believed to be `logs` (nodes,), and what each
    tells of them; and the uses of it that they should make surer.
    """

    def __init__(self, logs: FloatArray) -> None:
        self._absorption = np.exp(logs @ JOINED)
        self._uses = np.concatenate([self._told(level, share) for level, share in USES])
        self._all = {(level, share): self._told(level, share) for level in LEVELS for share in SHARES}

    def _told(self, level: float, share: float) -> FloatArray:
        """How far a strand's look moves, in delta E00, by each node, (3, nodes)."""
        test = StrandTest(canvas=Canvas(level=level), share=share, lab=np.zeros(3))
        lab, slope, _ = _strand(test, self._absorption)
        moved: FloatArray = local_metrics(lab) @ slope @ JOINED.T
        return moved

    def chosen(
        self, covariance: FloatArray, doubt: float, left_out: Collection[tuple[float, float]]
    ) -> tuple[NextStrand, FloatArray]:
        """The strand that leaves least doubt, and the covariance (nodes, nodes) once it is read."""
        noise = np.eye(3) * (per_axis(doubt) ** 2 + per_axis(MODEL_DOUBT) ** 2)

        def read(strand: FloatArray) -> FloatArray:
            gain = covariance @ strand.T
            after: FloatArray = covariance - gain @ np.linalg.solve(strand @ gain + noise, gain.T)
            return after

        def left(after: FloatArray) -> float:
            return float(np.sqrt(max(((self._uses @ after) * self._uses).sum(), 0) / len(USES)))

        tried = [(left(read(told)), *made) for made, told in self._all.items() if made not in left_out]
        after, level, share = min(tried)
        found = NextStrand(level=level, share=share, doubt=left(covariance), doubt_after=after)
        return found, read(self._all[level, share])
