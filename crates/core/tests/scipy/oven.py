"""Figures for tests/oven.rs.

    pip install scipy==1.17.1 && python3 oven.py > oven.json

`series`: the centre of a slab, a long cylinder and a sphere that warm by conduction in a medium
with surface resistance, from the series solutions (Carslaw and Jaeger, Conduction of Heat in
Solids; the forms are recalled, the roots are SciPy's).

`lines`: the loaf with evaporation of docs/oven.md solved another way: an enthalpy method of lines
with equal shells and SciPy's LSODA, in which the boiling point is a plateau of the enthalpy.
"""

import json
import math

import numpy as np
from scipy.integrate import solve_ivp
from scipy.optimize import brentq
from scipy.special import j0, j1


def roots(f, spacing, n):
    """The first n roots of f, one in each interval of a width `spacing` (found by sign changes)."""
    found, x, step = [], 1e-9, spacing / 60
    while len(found) < n:
        a, b = x, x + step
        if f(a) * f(b) < 0 and abs(f(a)) < 1e6 and abs(f(b)) < 1e6:
            found.append(brentq(f, a, b))
        x = b
    return found


def centre(body, biot, fourier):
    """(T - T_medium) / (T_start - T_medium) in the middle."""
    total = 0.0
    if body == "slab":
        for z in roots(lambda z: z * math.sin(z) - biot * math.cos(z), math.pi, 30):
            total += 4 * math.sin(z) / (2 * z + math.sin(2 * z)) * math.exp(-z * z * fourier)
    elif body == "cylinder":
        for z in roots(lambda z: z * j1(z) - biot * j0(z), math.pi, 30):
            total += 2 / z * j1(z) / (j0(z) ** 2 + j1(z) ** 2) * math.exp(-z * z * fourier)
    else:
        for z in roots(lambda z: (1 - biot) * math.sin(z) - z * math.cos(z), math.pi, 30):
            total += 4 * (math.sin(z) - z * math.cos(z)) / (2 * z - math.sin(2 * z)) * math.exp(-z * z * fourier)
    return total


def series():
    cases = []
    water, solids, heat, k, start, oven = 150.0, 180.0, 1700.0, 0.25, 25.0, 200.0
    capacity = water * 4180 + solids * heat
    for body in ["slab", "cylinder", "sphere"]:
        for radius, h in [(0.03, 10.0), (0.05, 25.0), (0.07, 60.0)]:
            biot = h * radius / k
            for fourier in [0.2, 0.4, 0.8]:
                seconds = fourier * radius ** 2 * capacity / k
                core = oven + (start - oven) * centre(body, biot, fourier)
                cases.append({"body": body, "radius": radius, "h": h, "minutes": seconds / 60, "core": core})
    return cases


def saturation(t):
    return 133.322 * 10 ** (8.07131 - 1730.63 / (233.426 + t))


def lines(body, radius, oven, minutes, n=120):
    water, solids, heat, start, boiling = 150.0, 180.0, 1700.0, 25.0, 100.0
    latent, cw = 2.257e6, 4180.0
    s = {"slab": 0, "cylinder": 1, "sphere": 2}[body]
    edge = np.linspace(0, radius, n + 1)
    volume = (edge[1:] ** (s + 1) - edge[:-1] ** (s + 1)) / (s + 1)
    dx = radius / n
    moist = solids * heat + water * cw
    top = moist * (boiling - start)
    dried = top + water * latent

    def state(e):
        t = np.where(e < top, start + e / moist, np.where(e < dried, boiling, boiling + (e - dried) / (solids * heat)))
        w = np.clip(1 - (e - top) / (water * latent), 0, 1)
        return t, w

    def change(_, e):
        t, w = state(e)
        k = 0.25 + 0.70 * np.minimum(1, np.array([saturation(min(x, boiling)) for x in t]) / 101325)
        k = 0.07 + np.minimum(w / 0.6, 1) * (k - 0.07)
        q = np.zeros(n + 1)
        q[1:-1] = 2 * k[1:] * k[:-1] / (k[1:] + k[:-1]) * (t[1:] - t[:-1]) / dx * edge[1:-1] ** s
        # Surface temperature from the balance of conduction, convection and radiation.
        inside = k[-1] / (dx / 2)
        ts = brentq(lambda x: 10 * (oven - x) + 0.9 * 5.670374e-8 * ((oven + 273.15) ** 4 - (x + 273.15) ** 4)
                    - inside * (x - t[-1]), start, oven)
        q[-1] = inside * (ts - t[-1]) * edge[-1] ** s
        return (q[1:] - q[:-1]) / volume

    at = solve_ivp(change, (0, minutes[-1] * 60), np.zeros(n), method="LSODA", rtol=1e-5, atol=100.0,
                   t_eval=[60 * m for m in minutes], lband=1, uband=1)
    out = []
    for i, m in enumerate(minutes):
        t, w = state(at.y[:, i])
        loss = 100 * float(((1 - w) * water * volume).sum() / ((water + solids) * volume.sum()))
        out.append({"minutes": m, "core": float(t[0]), "loss": loss})
    return {"body": body, "radius": radius, "oven": oven, "moments": out}


print(json.dumps({
    "series": series(),
    "lines": [
        lines("sphere", 0.07, 230.0, [15, 25, 35, 45]),
        lines("sphere", 0.022, 220.0, [4, 6, 8]),
        lines("cylinder", 0.045, 195.0, [15, 25, 35]),
        lines("slab", 0.0125, 220.0, [4, 8, 12]),
    ],
}, indent=1))
