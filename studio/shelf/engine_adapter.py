"""From rows of the shelf to the engine's shades."""

from engine.dye import shade as dye
from engine.dye.kind import Kind
from studio.shelf.models import LIGHTENER, Shade, ShadeLine


def engine_shade(shade: Shade, line: ShadeLine) -> dye.Shade:
    """The engine's shade; bands should have been prefetched. Its name is the row's id, unique on the shelf."""
    return dye.Shade(
        name=str(shade.pk),
        bands=tuple(
            dye.Band(centre_nm=float(b.centre_nm), sigma_nm=float(b.sigma_nm), weight=float(b.weight))
            for b in shade.bands.all()
        ),
        strength=float(shade.strength),
        kind=Kind.DIRECT if line.kind == LIGHTENER else Kind(line.kind),
        time_constant_min=float(line.time_constant_min),
        ratio=float(line.developer_parts) or None,
        thins=float(shade.thins),
        line=line.name,
    )
