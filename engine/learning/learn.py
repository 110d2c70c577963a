"""What a studio's own results say of its shades, its physics, its readers and clients."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from engine.arrays import FloatArray, IntArray
from engine.bowl.doses import Worked, subject_of
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.errors import BadInput
from engine.hair.source import Source
from engine.knowledge.knowledge import REMAINDER_PRIOR, UNTAUGHT, Knowledge, print_of
from engine.knowledge.remainder import centres_of, features, per_axis_of
from engine.knowledge.told import told
from engine.knowledge.unknowns import SHADE_SD, Layout
from engine.learning.fit import Fitted, Model, fit
from engine.learning.misfits import Misfit, misfits_of
from engine.learning.study import Study

RECORDS_MOST: Final = 500
REMAINDERS: Final = (1.2, 2.5, 5.0)  # delta E00; how large a remainder may be is one of the questions
ROUNDS_TRIED: Final = 6  # of a model that is compared with others
RANK_MOST: Final = 40  # directions of the unknowns of which what was told is kept
NOWHERE: Final = np.zeros((0, 4))
COVERED: Final = 6.251  # squared distance that nine in ten stay within: chi squared of three
SURE_SD: Final = 0.05  # of the logarithm of a strength, however surely its spectrum is known


@dataclass(frozen=True, kw_only=True, eq=False)
class Record:
    """One result: what was on which hair, and the colour (3,) that came out, judged dry in `light`.

    read_by, judged_by: how the hair and the colour were told. client, reader: whose hair and whose eyes, by any names.
    """

    worked: Worked
    actual_lab: FloatArray
    light: Light = Light.DAYLIGHT
    read_by: Source = Source.EYE
    judged_by: Source = Source.READER
    client: str = ""
    reader: str = ""


@dataclass(frozen=True, kw_only=True, eq=False)
class Told:
    """Median and 90th percentile of how far records lie from forecasts made without them, in delta E00."""

    median: float
    most: float


@dataclass(frozen=True, kw_only=True, eq=False)
class Held:
    """One record, from 0, held against forecasts that were made without it, L*a*b* (3,) each.

    before_lab: by the engine's own physics. after_lab: by what all other records say. off: how far the record lies from
    either, delta E00. is_covered: whether it lies where nine in ten were to.
    """

    record: int
    before_lab: FloatArray
    after_lab: FloatArray
    before_off: float
    after_off: float
    is_covered: bool


@dataclass(frozen=True, kw_only=True, eq=False)
class Learned:
    """What was learned, how well records are forecast before and after, and those that don't fit.

    held: each record that teaches.
    """

    knowledge: Knowledge
    before: Told
    after: Told
    misfits: tuple[Misfit, ...]
    held: tuple[Held, ...] = ()


def learn(records: Sequence[Record]) -> Learned:
    """Fit unknowns to records, letting in more of them only as far as the records bear them out.

    With few records little is believed; one without colour teaches nothing. Raises BadInput without records, or with
    too many.
    """
    if not 1 <= len(records) <= RECORDS_MOST:
        raise BadInput("records", f"records holds {len(records)} results: 1 to {RECORDS_MOST} are needed")
    places = [index for index, record in enumerate(records) if any(bowl.colours for bowl, _ in record.worked.coats)]
    records = [records[index] for index in places]
    if not records:
        unmet = Told(median=0.0, most=0.0)
        return Learned(knowledge=UNTAUGHT, before=unmet, after=unmet, misfits=())
    shades = _shades_of(records)
    names = {
        "lines": tuple(dict.fromkeys(shade.line for shade in shades)),
        "clients": tuple(dict.fromkeys(record.client for record in records if record.client)),
        "readers": tuple(dict.fromkeys(record.reader for record in records if record.reader)),
    }
    study = _study_of(records, shades, names)
    plain = Layout(
        shades=len(shades),
        lines=len(names["lines"]),
        clients=len(names["clients"]),
        readers=len(names["readers"]),
        lives=any(record.worked.washes for record in records),
    )
    chosen = _chosen(study, plain)
    misfits = misfits_of(study, chosen, shades)
    mended = {each.record: each.mended for each in misfits if each.mended and each.is_sure}
    if mended:
        # What was most likely in the bowl teaches, too, as what it was.
        records = [replace(each, worked=mended.get(index, each.worked)) for index, each in enumerate(records)]
        chosen = _chosen(_study_of(records, shades, names), plain)
    nothing = told(study.subject, plain, np.zeros(plain.size), NOWHERE).lab
    before, left_out = delta_e00(study.actual_lab, nothing), np.linalg.norm(chosen.left_out, axis=-1)
    without = study.actual_lab - np.linalg.solve(study.metrics, chosen.left_out[..., None])[..., 0]
    covered = chosen.far <= COVERED
    if mended:  # a record that taught as something else is judged as it was noted
        noted = told(study.subject, chosen.model.layout, chosen.unknowns, chosen.model.centres).lab
        rows = list(mended)
        left_out[rows] = delta_e00(study.actual_lab[rows], noted[rows])
        without[rows], covered[rows] = noted[rows], False
    return Learned(
        knowledge=_knowledge_of(chosen, study, names, len(records)),
        before=_told_of(before),
        after=_told_of(left_out),
        misfits=tuple(replace(each, record=places[each.record]) for each in misfits),
        held=tuple(
            Held(
                record=place,
                before_lab=nothing[row],
                after_lab=without[row],
                before_off=float(before[row]),
                after_off=float(left_out[row]),
                is_covered=bool(covered[row]),
            )
            for row, place in enumerate(places)
        ),
    )


def _told_of(misses: FloatArray) -> Told:
    return Told(median=float(np.median(misses)), most=float(np.quantile(misses, 0.9)))


def _shades_of(records: Sequence[Record]) -> list[Shade]:
    """The coloured shades of all records, each once, by what its shelf knows it by."""
    found: dict[str, Shade] = {}
    for record in records:
        for bowl, _ in record.worked.coats:
            found.update((shade.key, shade) for shade in bowl.colours)
    return [found[name] for name in sorted(found)]


def _study_of(records: Sequence[Record], shades: Sequence[Shade], names: dict[str, tuple[str, ...]]) -> Study:
    def places(name: str, given: Sequence[str]) -> IntArray:
        known = {each: index for index, each in enumerate(names[name])}
        return np.array([known.get(each, -1) for each in given], dtype=int)

    worked = [record.worked for record in records]
    subject = subject_of(
        worked,
        shades,
        [record.light for record in records],
        line_of=places("lines", [shade.line for shade in shades]),
        client_of=places("clients", [record.client for record in records]),
        reader_of=places("readers", [record.reader for record in records]),
    )
    return Study(
        worked=worked,
        lights=[record.light for record in records],
        shades=shades,
        shade_sd=np.array([_strength_sd(shade) for shade in shades]),
        subject=subject,
        actual_lab=np.stack([record.actual_lab for record in records]),
        level_sd=np.array([record.read_by.level_sd for record in records]),
        judged_sd=np.array([record.judged_by.colour_sd for record in records]),
    )


def _strength_sd(shade: Shade) -> float:
    """How far the logarithm of a shade's strength is believed to stray, from where its spectrum comes."""
    if shade.doubt is None:
        return SHADE_SD
    # As far as the doubt moves all bands together, each as it counts for the shade.
    by_band, weight = shade.doubt.by_band, shade.tone / max(float(shade.tone.sum()), 1e-9)
    return float(np.clip(np.linalg.norm(by_band @ weight), SURE_SD, SHADE_SD))


def _chosen(study: Study, plain: Layout) -> Fitted:
    """The best borne out of nested models: strengths; constants of physics; bands that shift; a smooth remainder."""
    plainest = Model(name="strengths", layout=plain, centres=NOWHERE)
    best = fit(study, plainest, np.zeros(plain.size), rounds=ROUNDS_TRIED)
    for name, layout in (
        ("physics", replace(plain, physics=True)),
        ("bands", replace(plain, physics=True, shifts=True)),
    ):
        best = _better(study, best, Model(name=name, layout=layout, centres=NOWHERE))
    lab = told(study.subject, best.model.layout, best.unknowns, best.model.centres).lab
    centres = centres_of(features(lab, study.subject.bare_lab))
    start = best
    for size in REMAINDERS:
        layout = replace(start.model.layout, waves=len(centres))
        model = Model(
            name=f"{start.model.name}, remainder {size:g}",
            layout=layout,
            centres=centres,
            remainder=per_axis_of(size),
        )
        better = _better(study, best, model)
        if better is best:
            break  # a larger one is borne out less still
        best = better
    return fit(study, best.model, best.unknowns, best.noise)


def _better(study: Study, best: Fitted, model: Model) -> Fitted:
    """The better borne out of a fit and a wider model, which starts from it and needs few rounds."""
    start = model.layout.carried(best.model.layout, best.unknowns)
    tried = fit(study, model, start, best.noise, ROUNDS_TRIED)
    return tried if tried.evidence > best.evidence else best


def _knowledge_of(chosen: Fitted, study: Study, names: dict[str, tuple[str, ...]], records: int) -> Knowledge:
    model, shades = chosen.model, study.shades
    remainder = model.remainder if model.layout.waves else per_axis_of(_unseen(chosen))
    return Knowledge(
        model=model.name,
        records=records,
        shades=tuple(shade.key for shade in shades),
        prints=tuple(print_of(shade) for shade in shades),
        shade_sd=study.shade_sd,
        line_of=tuple(names["lines"].index(shade.line) for shade in shades),
        lines=names["lines"],
        clients=names["clients"],
        readers=names["readers"],
        layout=model.layout,
        remainder=remainder,
        centres=model.centres,
        unknowns=chosen.unknowns,
        told_of=_told_directions(chosen, model.spreads(study)),
        noise=chosen.noise,
    )


def _unseen(chosen: Fitted) -> float:
    """What remainder, delta E00, to allow for where none was borne out: less, the more records there were."""
    return REMAINDER_PRIOR / float(np.sqrt(1 + len(chosen.weights)))


def _told_directions(chosen: Fitted, spread: FloatArray) -> FloatArray:
    """What records took from the covariance that unknowns had before, as its root, (size, rank)."""
    scaled = chosen.root / spread[:, None]
    values, vectors = np.linalg.eigh(np.eye(len(spread)) - scaled @ scaled.T)
    order = np.argsort(values)[::-1][: RANK_MOST if len(spread) > 120 else len(spread)]
    known: FloatArray = spread[:, None] * vectors[:, order] * np.sqrt(np.clip(values[order], 0, 1))
    return known
