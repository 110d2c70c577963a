"""Reads a studio's formulas since the last time into a file, a line of JSON each. Needs nothing but Python.

    RAINSHADE_KEY=rainshade_... python docs/read_formulas.py http://127.0.0.1:8000 formulas.jsonl

The key is made under Cards, "Programs that read", and reads cards. Run it as often as you like: it goes on from where
it was, waits when it is asked to, and keeps a formula that came twice once, as it came last.
"""

import json
import os
import sys
import time
import urllib.error
import urllib.parse
import urllib.request
from email.utils import parsedate_to_datetime
from pathlib import Path


def asked(address: str, key: str) -> tuple[dict, str]:
    """An answer, and the moment that it is of; waits and asks again where the key has asked too often."""
    request = urllib.request.Request(address, headers={"Authorization": f"Bearer {key}"})
    while True:
        try:
            with urllib.request.urlopen(request) as answer:
                return json.load(answer), answer.headers["Date"]
        except urllib.error.HTTPError as error:
            if error.code != 429:
                sys.exit(f"{error.code}: {json.load(error)['detail']}")
            time.sleep(int(error.headers["Retry-After"]))


def main(server: str, file: Path) -> None:
    """Take what came since the file was written."""
    key, mark = os.environ["RAINSHADE_KEY"], file.with_suffix(".since")
    known = {}
    if file.exists():
        lines = [json.loads(line) for line in file.read_text(encoding="utf-8").splitlines()]
        known = {line["formula"]["uid"]: line for line in lines}
    since = mark.read_text() if mark.exists() else ""
    address = f"{server}/api/1/formulas?" + urllib.parse.urlencode({"since": since} if since else {})
    began = ""
    while address:
        page, date = asked(address, key)
        began = began or parsedate_to_datetime(date).isoformat()
        known |= {line["formula"]["uid"]: line for line in page["formulas"]}
        address = page["next"]
    lines = [json.dumps(line, ensure_ascii=False) for line in known.values()]
    file.write_text("".join(f"{line}\n" for line in lines), encoding="utf-8")
    mark.write_text(began)
    print(f"{len(known)} formulas")


if __name__ == "__main__":
    main(sys.argv[1].rstrip("/"), Path(sys.argv[2]))
