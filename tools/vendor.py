"""Copy third-party scripts and fonts from node_modules, and write their versions, licences and digests.

Run by hand after a version in package.json changed: .venv/bin/python tools/vendor.py
"""

import hashlib
import json
import shutil
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
MODULES, VENDOR = ROOT / "node_modules", ROOT / "studio" / "ui" / "static" / "vendor"
FONTS = "@fontsource-variable"
# package, the files taken from it, its licence file
TAKEN = (
    ("htmx.org", ("dist/htmx.min.js",), "LICENSE"),
    ("idiomorph", ("dist/idiomorph-ext.min.js",), "LICENSE"),
    (f"{FONTS}/atkinson-hyperlegible-next", ("files/atkinson-hyperlegible-next-latin-wght-normal.woff2",), "LICENSE"),
    (f"{FONTS}/sofia-sans-extra-condensed", ("files/sofia-sans-extra-condensed-latin-wght-normal.woff2",), "LICENSE"),
)


def main() -> None:
    """Fill static/vendor and its list."""
    shutil.rmtree(VENDOR, ignore_errors=True)
    VENDOR.mkdir(parents=True)
    lines = ["# Third-party files shipped with Rainshade; written by tools/vendor.py, checked by the tests.", ""]
    for package, files, licence in TAKEN:
        facts = json.loads((MODULES / package / "package.json").read_text(encoding="utf-8"))
        short = package.rpartition("/")[2]
        shutil.copy(MODULES / package / licence, VENDOR / f"{short}.LICENSE.txt")
        for file in files:
            name = Path(file).name
            shutil.copy(MODULES / package / file, VENDOR / name)
            digest = hashlib.sha256((VENDOR / name).read_bytes()).hexdigest()
            lines += [
                "[[file]]",
                f'name = "{name}"',
                f'package = "{package}"',
                f'version = "{facts["version"]}"',
                f'licence = "{facts["license"]}"',
                f'sha256 = "{digest}"',
                "",
            ]
    (VENDOR / "vendor.toml").write_text("\n".join(lines), encoding="utf-8")


if __name__ == "__main__":
    main()
