"""A file of a spectrum, of an instrument's software or a spreadsheet."""

import datetime
from collections.abc import Mapping

from django.http import HttpRequest

from engine.arrays import FloatArray
from engine.colorimetry import cgats_in, spectral_package
from engine.colorimetry.spectral_package import Quantity, SpectralPackage, Spectrum
from engine.colorimetry.spectrum_in import SpectrumUnusable, as_reflectance, read_spectrum
from studio.shelf.selectors import StockedLine
from studio.ui.refusal import Refusal
from studio.ui.zipped import ZIP_BEGINS, unzipped, zipped

FILE_MOST_BYTES = 1_000_000
PACKAGE_MOST_BYTES = 10_000_000  # unpacked


def spectrum_in(request: HttpRequest, *, is_reflectance: bool) -> FloatArray:
    """The spectrum (bands,) of the file that a request brings: CGATS, a data package, rows of a wavelength and a value.

    Of a file with several samples the one that the form names. Raises Refusal file_missing, file_too_large,
    file_not_text, file_line, spectrum_which, spectrum_of_other.
    """
    upload = request.FILES.get("spectrum")
    if upload is None or not upload.size:
        raise Refusal("file_missing", "spectrum")
    if upload.size > FILE_MOST_BYTES:
        raise Refusal("file_too_large", "spectrum", most=FILE_MOST_BYTES // 1_000_000)
    body, named = upload.read(), request.POST.get("sample", "").strip()
    if body.startswith(ZIP_BEGINS):
        return _of_package(body, named, is_reflectance=is_reflectance)
    try:
        text = body.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refusal("file_not_text", "spectrum") from None
    try:
        if text.lstrip().upper().startswith(("CGATS", "IT8")) or "BEGIN_DATA" in text.upper():
            samples = cgats_in.read(text)
            return _named({each.name: each.reflectance for each in samples if each.reflectance is not None}, named)
        values = read_spectrum(text)
        return as_reflectance(values) if is_reflectance else values
    except (cgats_in.CgatsUnusable, SpectrumUnusable) as unusable:
        raise Refusal("file_line", "spectrum", message=str(unusable)) from None


def line_spectra(stocked: StockedLine, *, created: datetime.datetime) -> bytes:
    """What the tubes of a line absorb, as a data package: K/S undiluted, as they are known now. A ZIP."""
    spectra = [
        Spectrum(name=shade.name, values=dye.strength * dye.spectrum)
        for shade, dye in ((shade, stocked.plain[shade.pk]) for shade in stocked.shades if not shade.off_shelf)
        if not dye.is_clear
    ]
    how = "as it is known: measured, read from strands, or guessed by its name"
    package = SpectralPackage(quantity=Quantity.K_S, spectra=spectra, instrument=how)
    title = str(stocked.line)
    return zipped(spectral_package.written(package, name="tubes", title=title, created=created.isoformat()))


def _of_package(body: bytes, named: str, *, is_reflectance: bool) -> FloatArray:
    """Raises Refusal file_line, spectrum_which; spectrum_of_other for K/S where a strand is meant, or the reverse."""
    try:
        package = spectral_package.read(unzipped(body, most_bytes=PACKAGE_MOST_BYTES))
    except (spectral_package.PackageUnusable, ValueError) as unusable:
        raise Refusal("file_line", "spectrum", message=str(unusable)) from None
    if (package.quantity is Quantity.REFLECTANCE) is not is_reflectance:
        raise Refusal("spectrum_of_other", "of")
    return _named({each.name: each.values for each in package.spectra}, named)


def _named(spectra: Mapping[str, FloatArray], named: str) -> FloatArray:
    """The one that is meant. Raises Refusal spectrum_which."""
    if named in spectra:
        return spectra[named]
    if named or len(spectra) != 1:
        names = ", ".join(list(spectra)[:12]) or "none"
        raise Refusal("spectrum_which", "spectrum", names=names)
    return next(iter(spectra.values()))
