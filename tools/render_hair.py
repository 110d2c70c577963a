"""Path-traced locks of hair, against which the law of reflectance is held: tools/render_hair.py POINTS MIXTURES.

Writes two CSV tables. Needs Mitsuba 3.9 (`pip install mitsuba`), which is a requirement of this tool alone, and some
minutes of both cores. Straight clear fibres lie at random in a deep slab under even light; what the middle of it sends
back is told, as share of what a perfect white would send, with the doubt that its pixels leave.
"""

import csv
import sys
import tempfile
from importlib import import_module
from pathlib import Path
from types import ModuleType
from typing import Final

import numpy as np

WIDE, DEEP, LONG = 6.0, 2.5, 14.0
RADIUS: Final = 0.04
FIBRES: Final = 9000
ROUGHNESS: Final = 0.3
INDEX: Final = 1.55
TILT_DEG: Final = 2.0
DEPTH: Final = 400
PIXELS: Final = 24
SAMPLES: Final = 48
SEED: Final = 20261126

SIGMAS: Final = (0.0, 0.001, 0.0027, 0.0073, 0.02, 0.0548, 0.1071, 0.2096, 0.4099, 0.8018, 1.568)
WHITE: Final = 0.0035  # absorption of a white fibre among dark ones
DARKS: Final = (0.03, 0.1, 0.3, 1.0)
SHARES: Final = (0.1, 0.3, 0.5, 0.8)


def fibres(folder: Path, name: str, lies: np.ndarray) -> str:
    """Writes straight fibres that lie at places (fibres, 2) across and in the slab, and returns the file's name."""
    lines = []
    for across, below in lies:
        lines += [f"{across:.5f} {along:.3f} {below:.5f} {RADIUS}" for along in (-LONG / 2, 0.0, LONG / 2)]
        lines.append("")
    path = folder / f"{name}.txt"
    path.write_text("\n".join(lines), encoding="utf-8")
    return str(path)


def strand(file: str, sigma: float) -> dict[str, object]:
    """A bundle of fibres of one absorption, per radius."""
    hair = {
        "type": "hair",
        "longitudinal_roughness": ROUGHNESS,
        "azimuthal_roughness": ROUGHNESS,
        "scale_tilt": TILT_DEG,
        "int_ior": INDEX,
        "sigma_a": {"type": "rgb", "value": [sigma] * 3},
    }
    return {"type": "linearcurve", "filename": file, "bsdf": hair}


def renderer() -> ModuleType:
    """Mitsuba, loaded when it is first wanted. Raises ImportError."""
    mitsuba = import_module("mitsuba")
    if mitsuba.variant() is None:
        mitsuba.set_variant("scalar_rgb")
    return mitsuba


def sent_back(parts: dict[str, dict[str, object]], seed: int) -> tuple[float, float]:
    """Share of even light that comes back from the middle of a slab, and its standard error."""
    mi = renderer()
    half, place = WIDE / 5, mi.ScalarTransform4f()
    sensor = {
        "type": "orthographic",
        "to_world": place.look_at([0, 0, 10], [0, 0, 0], [0, 1, 0]) @ place.scale([half, half, 1]),
        "film": {"type": "hdrfilm", "width": PIXELS, "height": PIXELS, "rfilter": {"type": "box"}},
        "sampler": {"type": "independent", "sample_count": SAMPLES},
    }
    integrator = {"type": "path", "max_depth": DEPTH, "rr_depth": DEPTH, "hide_emitters": True}
    scene = {
        "type": "scene",
        "integrator": integrator,
        "sensor": sensor,
        "light": {"type": "constant", "radiance": 1.0},
    }
    seen = np.array(mi.render(mi.load_dict({**scene, **parts}), seed=seed))[..., :3].mean(axis=-1).ravel()
    return float(seen.mean()), float(seen.std() / np.sqrt(len(seen)))


def main(points: Path, mixtures: Path) -> None:
    """Renders both tables."""
    rng = np.random.default_rng(SEED)
    lies = rng.uniform([-WIDE / 2, -DEEP], [WIDE / 2, 0.0], size=(FIBRES, 2))
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        all_of = fibres(folder, "all", lies)
        with points.open("w", newline="", encoding="utf-8") as file:
            table = csv.writer(file, lineterminator="\n")
            table.writerow(["sigma", "reflectance", "doubt"])
            for sigma in SIGMAS:
                seen, doubt = sent_back({"hair": strand(all_of, sigma)}, SEED)
                table.writerow([sigma, f"{seen:.4f}", f"{doubt:.4f}"])
                file.flush()
        with mixtures.open("w", newline="", encoding="utf-8") as file:
            table = csv.writer(file, lineterminator="\n")
            table.writerow(["dark_sigma", "white_sigma", "white_share", "reflectance", "doubt"])
            for dark in DARKS:
                for share in (0.0, *SHARES, 1.0):
                    white = round(share * FIBRES)
                    parts = {}
                    if white:
                        parts["white"] = strand(fibres(folder, "white", lies[:white]), WHITE)
                    if white < FIBRES:
                        parts["dark"] = strand(fibres(folder, "dark", lies[white:]), dark)
                    seen, doubt = sent_back(parts, SEED)
                    table.writerow([dark, WHITE, share, f"{seen:.4f}", f"{doubt:.4f}"])
                    file.flush()


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
