"""The whole chain on one machine's loopback, worked at and hurt: `tools/far up | drill | down`."""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[2] / "tools"))  # whose colourists work here, too
