"""Colour readings and spectra as CGATS text: the keyword-and-table form that colour instruments exchange.

Source: [CGATS17], ANSI CGATS.17, from memory: a first line that names the format, keywords, a BEGIN_DATA_FORMAT
block of field names, NUMBER_OF_SETS, and a BEGIN_DATA block of rows in which text stands in quotes; a file may hold
several such tables. Read back by `engine.colorimetry.cgats_in`.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from engine.arrays import FloatArray
from engine.colorimetry.grid import BANDS, START_NM, STEP_NM
from engine.errors import BadInput

LAB_FIELDS: Final = ("LAB_L", "LAB_A", "LAB_B")
DAYLIGHT_LAB: Final = {"MEASUREMENT_SOURCE": "Illumination=D65 ObserverAngle=2degree"}


@dataclass(frozen=True, kw_only=True, eq=False)
class Sample:
    """One row: its name, L*a*b* (3,) for D65 and 2 degrees if it has it, and reflectance (bands,) 0-1 if it has it."""

    name: str
    lab: FloatArray | None
    reflectance: FloatArray | None = None


def written(samples: Sequence[Sample], *, originator: str, created: str, about: Mapping[str, str] | None = None) -> str:
    """Samples as text, each with L*a*b*: a table of those without a spectrum, and a table of those with. Raises
    BadInput for a sample without L*a*b*.
    """
    lines = ["CGATS.17", f'ORIGINATOR "{_plain(originator)}"', f'CREATED "{_plain(created)}"']
    lines += [f'{key} "{_plain(text)}"' for key, text in ({**DAYLIGHT_LAB, **(about or {})}).items()]
    bare = [sample for sample in samples if sample.reflectance is None]
    spectral = [sample for sample in samples if sample.reflectance is not None]
    if bare or not spectral:
        lines += _table(bare, [])
    if spectral:
        lines += _table(spectral, [f"SPECTRAL_NM{START_NM + STEP_NM * band}" for band in range(BANDS)])
    return "\n".join([*lines, ""])


def _table(samples: Sequence[Sample], spectral: Sequence[str]) -> list[str]:
    fields = ["SAMPLE_ID", "SAMPLE_NAME", *LAB_FIELDS, *spectral]
    return [
        f"NUMBER_OF_FIELDS {len(fields)}",
        "BEGIN_DATA_FORMAT",
        " ".join(fields),
        "END_DATA_FORMAT",
        f"NUMBER_OF_SETS {len(samples)}",
        "BEGIN_DATA",
        *(_row(number, sample) for number, sample in enumerate(samples, start=1)),
        "END_DATA",
    ]


def _row(number: int, sample: Sample) -> str:
    if sample.lab is None:
        raise BadInput("samples", "samples: L*a*b* is needed for each")
    numbers = [f"{part:.4f}" for part in sample.lab]
    if sample.reflectance is not None:
        numbers += [f"{part:.6f}" for part in sample.reflectance]
    return " ".join([str(number), f'"{_plain(sample.name)}"', *numbers])


def _plain(text: str) -> str:
    """Text that can stand between quotes on one line."""
    return " ".join(text.replace('"', "'").split())
