"""Times the forecast of 24 h beside SciPy's LSODA on the same equations, at the same accuracy.

    pip install scipy==1.17.1 && python3 time_rise.py

Both answer with the likely course and those of a faster and a slower kitchen: three solutions.
"""

import math
import subprocess
import time
from pathlib import Path

from rise import solve

ROOT = Path(__file__).resolve().parents[4]


def three(rtol, max_step):
    return [solve("day", 0.02, 0, 65, 25, 21, 1000, [24.0], rtol=rtol, max_step=max_step, kitchen=k)["volume"][0]
            for k in (1.0, math.exp(0.2), math.exp(-0.2))]


exact = three(1e-11, 0.02)[0]
ours = subprocess.run(["cargo", "run", "--release", "-q", "-p", "cerealis-core", "--example", "time_rise"],
                      cwd=ROOT, capture_output=True, text=True, check=True).stdout.split()
micros, volume = float(ours[0]), float(ours[1])
print(f"ours: {micros / 1000:.2f} ms, volume off by {abs(volume - exact) / exact:.1e}")
for rtol in (1e-4, 1e-6, 1e-8):
    begin, runs = time.perf_counter(), 5
    for _ in range(runs):
        got = three(rtol, math.inf)[0]
    took = (time.perf_counter() - begin) / runs
    print(f"LSODA at {rtol:.0e}: {took * 1000:.1f} ms, volume off by {abs(got - exact) / exact:.1e},"
          f" {took * 1e6 / micros:.0f} times as long")
