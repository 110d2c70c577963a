"""What was in truth another than a card says: how it is kept beside the row, and what the record then is."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from engine.bowl.doses import Worked
from engine.bowl.mix import Bowl
from engine.dye.shade import Shade


def mending_of(noted: Worked, truly: Worked) -> dict[str, Any]:
    """What hair or bowls were in truth, in types that JSON keeps: only what differs from what was noted."""
    if truly.canvas.level != noted.canvas.level:
        return {"level": round(truly.canvas.level, 2)}
    return {"coats": [{shade.code: round(g, 3) for shade, g in bowl.grams.items()} for bowl, _ in truly.coats]}


def mended(noted: Worked, mending: Mapping[str, Any], dyes: Mapping[str, Shade]) -> Worked:
    """What was worked in truth; where its coats or its tubes have changed since, as it was noted.

    dyes: the shelf's shades by their codes.
    """
    if "level" in mending:
        return replace(noted, canvas=replace(noted.canvas, level=mending["level"]))
    coats = mending.get("coats", [])
    if len(coats) != len(noted.coats) or not all(set(grams) <= set(dyes) for grams in coats):
        return noted
    bowls = [Bowl(grams={dyes[code]: weight for code, weight in grams.items()}) for grams in coats]
    processes = [process for _, process in noted.coats]
    return replace(noted, coats=tuple(zip(bowls, processes, strict=True)))
