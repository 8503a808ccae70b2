"""Times one bake of 45 min beside SciPy's LSODA on the same equations by the method of lines.

    pip install scipy==1.17.1 && python3 time_bake.py

The reference is the same method of lines on 240 equal shells.
"""

import contextlib
import io
import subprocess
import time
from pathlib import Path

with contextlib.redirect_stdout(io.StringIO()):
    from oven import lines

ROOT = Path(__file__).resolve().parents[4]


def at_the_end(shells):
    begin = time.perf_counter()
    end = lines("sphere", 0.07, 230.0, [45], n=shells)["moments"][0]
    return end["core"], end["loss"], time.perf_counter() - begin


core, loss, _ = at_the_end(240)
fastest = None
for shells in (60, 120):
    c, w, took = at_the_end(shells)
    fastest = fastest or took
    print(f"LSODA, {shells} shells: {took * 1000:.0f} ms, core off by {abs(c - core):.2f} K, loss by {abs(w - loss):.2f}")
ours = subprocess.run(["cargo", "run", "--release", "-q", "-p", "cerealis-core", "--example", "time_bake"],
                      cwd=ROOT, capture_output=True, text=True, check=True).stdout.split("\n")
for line in filter(None, ours):
    shells, micros, c, w = (float(x) for x in line.split())
    print(f"ours, {shells:.0f} shells: {micros / 1000:.2f} ms, core off by {abs(c - core):.2f} K, loss by {abs(w - loss):.2f},"
          f" LSODA takes {fastest * 1e6 / micros:.0f} times as long")
