"""From rows of the shelf to the engine's shades, and back."""

from collections.abc import Mapping, Sequence

from engine.dye import shade as dye
from engine.dye.kind import Kind
from engine.dye.known import Known, ShadeDoubt
from studio.shelf.models import LIGHTENER, Shade, ShadeBand, ShadeLine


def kind_of(line: ShadeLine) -> Kind:
    """The engine's kind of a line. Lightener has none of its own: nothing of it colours."""
    return Kind.DIRECT if line.kind == LIGHTENER else Kind(line.kind)


def engine_shade(shade: Shade, line: ShadeLine, bands: Sequence[ShadeBand] | None = None) -> dye.Shade:
    """The engine's shade. Its code is the row's id, unique on the shelf.

    bands: of a row that is not saved yet; else the row's own, which should have been prefetched.
    """
    if bands is None:
        bands = () if shade.samples else tuple(shade.bands.all())
    return dye.Shade(
        name=shade.name,
        code=str(shade.pk),
        bands=tuple(
            dye.Band(centre_nm=float(b.centre_nm), sigma_nm=float(b.sigma_nm), weight=float(b.weight)) for b in bands
        ),
        samples=tuple(shade.samples or ()),
        strength=1.0 if shade.samples else float(shade.strength),
        kind=kind_of(line),
        time_constant_min=float(line.time_constant_min),
        level=float(shade.level)
        if shade.level is not None and shade.is_guessed
        else None,  # strands hold its base, too
        ratio=float(line.developer_parts) or None,
        thins=float(shade.thins),
        line=line.name,
        doubt=_doubt(shade),
    )


def _doubt(shade: Shade) -> ShadeDoubt | None:
    if not shade.doubt_factors:
        return None
    factors = tuple(tuple(row) for row in shade.doubt_factors)
    return ShadeDoubt(source=Known(shade.known), count=shade.readings, factors=factors)


def knowledge_fields(known: Known, found: dye.Shade) -> Mapping[str, object]:
    """What a row keeps of an absorption that the engine has found, at strength 1; its bands wait behind it."""
    doubt = found.doubt
    return {
        "known": known.value,
        "samples": list(found.samples),
        "doubt_factors": [list(row) for row in doubt.factors] if doubt else None,
        "readings": doubt.count if doubt else 0,
    }
