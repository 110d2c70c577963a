"""The engine's command line: `python -m engine < job.json > answer.json`.

Exit 0 with the answer; on bad input exit 2 with an `error` object. In a list of jobs, each bad one gets
its error in place, and the exit code is 2 if there was any.
"""

import json
import sys
from typing import NoReturn

from engine.errors import BadInput, EngineError
from engine.jobs import error_object, run_all


def _refuse_constant(name: str) -> NoReturn:
    raise BadInput("", f"the job holds {name}: JSON has no such number")


def main() -> int:
    """Read jobs from standard input, write answers to standard output."""
    answer: object
    try:
        jobs = json.loads(sys.stdin.buffer.read().decode("utf-8"), parse_constant=_refuse_constant)
        answer = run_all(jobs)
    except (UnicodeDecodeError, json.JSONDecodeError, RecursionError) as error:
        answer = error_object(BadInput("", f"the job is not JSON: {error}"))
    except EngineError as error:
        answer = error_object(error)
    json.dump(answer, sys.stdout, allow_nan=False)
    sys.stdout.write("\n")
    answers = answer if isinstance(answer, list) else [answer]
    return 2 if any(isinstance(entry, dict) and "error" in entry for entry in answers) else 0


if __name__ == "__main__":
    raise SystemExit(main())
