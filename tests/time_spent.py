"""Processor time of each test: recorded by the test processes, reported by bin/test.

python -m tests.time_spent FOLDER      prints the ten slowest, and fails where one is over the limit
"""

import json
import os
import subprocess
import sys
import time
from pathlib import Path
from statistics import median

#: A longer test delays every change: make it smaller, or mark it ``long``.
LIMIT_S = 8.0
SHOWN = 10
#: Seconds that `reference_work` and the start of a process with some packages take on an undisturbed
#: machine. Both are the lowest tenth of 80 readings over two and a half hours, two cores at 2.5 GHz.
QUIET_S, QUIET_START_S = 0.036, 0.65
#: Share of the limit below which the load of the machine makes no difference.
WORTH_COMPARING = 0.8


def reference_work():
    """Do a fixed piece of work like that of most tests: write, read and sort rows."""
    rows = [
        {"number": number, "name": f"task {number % 97}", "figures": [number * 0.5] * 8}
        for number in range(4000)
    ]
    back = json.loads(json.dumps(rows))
    return len({tuple(row["figures"]) for row in sorted(back, key=lambda row: row["name"])})


def slowness():
    """Return how many times slower this machine is now than a quiet one; never less than 1."""
    times = []
    for _ in range(5):
        began = time.process_time()
        reference_work()
        times.append(time.process_time() - began)
    return max(1.0, median(times) / QUIET_S, _start_s() / QUIET_START_S)


def _start_s():
    before = processor_seconds(with_children=True)
    start = [sys.executable, "-c", "import numpy, django.forms, psycopg"]
    subprocess.run(start, check=True)
    return processor_seconds(with_children=True) - before


def processor_seconds(*, with_children):
    """Return the processor time of this process, and of its finished children."""
    spent = os.times()
    own = spent.user + spent.system
    return own + spent.children_user + spent.children_system if with_children else own


def record(folder, test, seconds, *, is_long):
    """Add a test to this process's file in the folder, as seconds of a quiet machine."""
    if seconds > WORTH_COMPARING * LIMIT_S:
        seconds /= slowness()
    line = json.dumps({"test": test, "seconds": round(seconds, 2), "long": is_long})
    with (Path(folder) / f"{os.getpid()}.jsonl").open("a") as file:
        file.write(line + "\n")


def main(folder):
    """Print the slowest tests; return 1 where one is over the limit without being marked ``long``."""
    lines = [
        line for path in Path(folder).glob("*.jsonl") for line in path.read_text().splitlines()
    ]
    tests = sorted(map(json.loads, lines), key=lambda each: -each["seconds"])
    print(f"The {SHOWN} slowest of {len(tests)} tests, in seconds of a quiet machine's processor:")
    for each in tests[:SHOWN]:
        print(f"  {each['seconds']:6.2f}  {each['test']}")
    over = [each for each in tests if each["seconds"] > LIMIT_S and not each["long"]]
    for each in over:
        print(f"Over the limit of {LIMIT_S:g} s: {each['test']}")
    return 1 if over else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1]))
