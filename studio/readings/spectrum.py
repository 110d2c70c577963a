"""A file of a spectrum, of an instrument's software or a spreadsheet."""

from django.http import HttpRequest

from engine.arrays import FloatArray
from engine.colorimetry import cgats_in
from engine.colorimetry.spectrum_in import SpectrumUnusable, as_reflectance, read_spectrum
from studio.ui.refusal import Refusal

FILE_MOST_BYTES = 1_000_000


def spectrum_in(request: HttpRequest, *, is_reflectance: bool) -> FloatArray:
    """The spectrum (bands,) of the file that a request brings: CGATS, or rows of a wavelength and a value.

    Of a CGATS file with several samples the one that the form names. Raises Refusal file_missing, file_too_large,
    file_not_text, file_line, spectrum_which.
    """
    upload = request.FILES.get("spectrum")
    if upload is None or not upload.size:
        raise Refusal("file_missing", "spectrum")
    if upload.size > FILE_MOST_BYTES:
        raise Refusal("file_too_large", "spectrum", most=FILE_MOST_BYTES // 1_000_000)
    try:
        text = upload.read().decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refusal("file_not_text", "spectrum") from None
    try:
        if text.lstrip().upper().startswith(("CGATS", "IT8")) or "BEGIN_DATA" in text.upper():
            return _of_samples(text, request.POST.get("sample", "").strip())
        values = read_spectrum(text)
        return as_reflectance(values) if is_reflectance else values
    except (cgats_in.CgatsUnusable, SpectrumUnusable) as unusable:
        raise Refusal("file_line", "spectrum", message=str(unusable)) from None


def _of_samples(text: str, named: str) -> FloatArray:
    spectra = {each.name: each.reflectance for each in cgats_in.read(text) if each.reflectance is not None}
    if named in spectra:
        return spectra[named]
    if named or len(spectra) != 1:
        names = ", ".join(list(spectra)[:12]) or "none"
        raise Refusal("spectrum_which", "spectrum", names=names)
    return next(iter(spectra.values()))
