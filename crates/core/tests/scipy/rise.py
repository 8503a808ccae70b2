"""Figures for tests/rise.rs: the equations of docs/rise.md solved by SciPy's LSODA.

    pip install scipy==1.17.1 && python3 rise.py > rise.json

The equations are written out here a second time, from the documentation, so that the two
programs check each other and not only their solvers.
"""

import json
import math

from scipy.integrate import solve_ivp

RATE = [(0, 0), (4, .008), (8, .021), (12, .052), (16, .114), (20, .225), (24, .365), (26, .414),
        (28, .417), (30, .346), (32, .202), (34, .050), (36, 0)]


def cardinal(t, low, opt, high):
    if t <= low or t >= high:
        return 0.0
    top = (t - high) * (t - low) ** 2
    return top / ((opt - low) * ((opt - low) * (t - opt) - (opt - high) * (opt + low - 2 * t)))


def culture_rate(t):
    for (t0, r0), (t1, r1) in zip(RATE, RATE[1:]):
        if t0 <= t <= t1:
            return r0 + (r1 - r0) * (t - t0) / (t1 - t0)
    return 0.0


def home_culture_rate(t):
    return max(culture_rate(t - d) * (1 + 0.06 * d) for d in range(5))


def solve(name, yeast, culture, water, start, place, mass, hours, salt=2.0, rtol=1e-9, max_step=0.05,
          kitchen=1.0):
    flour = mass / (1 + water / 100 + salt / 100)
    reference = 20 / 58.44 * 2 / 0.65
    osm = salt * 10 / 58.44 * 2 / (water / 100) if water else reference
    slow = min(math.exp(-0.33 * (osm - reference)), 1.5)
    kg = (mass / 1000) ** (1 / 3)
    tau = 0.95 * kg + 0.45 * kg * kg
    volume = mass / flour * 100 / 1.14
    dissolves = 0.75 * water
    hold = 3.8

    def change(age, s):
        t, x, c, gas = s
        left = max(2.2 + 2.7 * (1 - math.exp(-age / 8)) - gas / 272, 0)
        fed = left / (left + 0.25)
        awake = 1 - math.exp(-age / 0.75)
        made = kitchen * fed * (230 / cardinal(28.5, 1, 37, 47) * slow * cardinal(t, 1, 37, 47) * x
                      * (1 - math.exp(-age / 0.2))
                      + 190 / 0.39 * min(slow, 1) * home_culture_rate(t) * c * awake)
        grow = kitchen * 0.30 * cardinal(t, 2, 31, 41) * x * max(1 - (x - yeast) / 0.17, 0)
        ripen = kitchen * home_culture_rate(t) * c * (1 - c) * awake * (0.85 if salt > 0.5 else 1) * min(slow, 1)
        return [(place - t) / tau + 0.004 * made, grow, ripen, made]

    at = solve_ivp(change, (0, hours[-1]), [start, yeast, culture / 100, 0], method="LSODA",
                   t_eval=hours, rtol=rtol, atol=rtol / 10, max_step=max_step)
    swollen = []
    for gas in at.y[3]:
        x = max(gas - dissolves, 0) / volume
        swollen.append(1 + x / (1 + (x / (hold - 1)) ** 3) ** (1 / 3))
    return {"name": name, "yeast": yeast, "culture": culture, "water": water, "start": start,
            "place": place, "mass": mass, "flour": flour, "osmolality": osm, "hours": hours,
            "volume": swollen, "temperature": list(at.y[0])}


if __name__ == "__main__":
    print(json.dumps([
        solve("straight tin dough", 1.0, 0, 65, 25, 25, 1670, [0.5, 0.75, 1.0, 1.25]),
        solve("cooling towards a cellar", 0.6, 0, 65, 26, 14, 900, [1, 2, 3, 5]),
        solve("warming in a box", 0.3, 0, 70, 18, 30, 500, [1, 2, 3]),
        solve("a night on the counter", 0.1, 0, 65, 21, 21, 1000, [4, 6, 8]),
        # At moments that the 72 h curve keeps (every 36 min): between them it is drawn straight.
        solve("into the fridge", 0.5, 0, 65, 25, 4, 1000, [1.2, 3, 6, 12]),
        solve("sourdough", 0, 9, 70, 25, 25, 1000, [2, 4, 5]),
        solve("sourdough and a pinch of yeast", 0.1, 12, 72, 24, 22, 900, [2, 3, 4]),
    ], indent=1))
