"""`python -m deploy.drill up | drill | down`, as tools/far calls it."""

import os
import sys

from deploy.drill.chain import Chain, say
from deploy.drill.place import HOST, PORTS, Place


def main(word: str, turns: str = "3") -> int:
    """How it ends."""
    chain = Chain(Place.told())
    if word == "down":
        chain.down()
        return 0
    if word == "up":
        chain.up()
        say(f"The chain answers: http://{HOST}:{PORTS['WEB_PORT']}/  (tools/far drill, tools/far down)")
        return 0
    if word == "drill":
        return drill(chain, int(turns))
    raise SystemExit(f"no {word!r}")


def drill(chain: Chain, turns: int) -> int:
    """Drill a chain that is up, and write the page."""
    os.environ.update(chain.place.environment())
    from deploy.drill.drill import Drill  # Django is set up by what it is told now

    found = Drill(chain)
    faults = found.run(turns)
    print(found.ledger.markdown())
    found.write(turns)
    return min(faults, 1)


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))
