#!/usr/bin/env python3
"""Random small days solved by OR-Tools' CP-SAT, for the check of the planner in crates/core/src/plan/search.rs.

    pip install ortools && python3 scripts/plan_cpsat.py > crates/core/tests/data/plan_cpsat.json

The model is that of docs/plan.md, written a second time: starts of blocks in steps of five minutes, waits between
them, closed hours cut out of the starts, hands, ovens, places and pans as constraints of room, the heatings of the
oven, the same weights. Each instance is
written with its optimum, or with none where CP-SAT proves that there is no plan; where there is none, with the optimum when
wished times and sleep may be given up at what that costs, or with none again.
"""

import json
import math
import random
import sys
import time

from ortools.sat.python import cp_model

OFF_WISH, NEAR, SPARED, OFF_BEST, SPAN, TOGETHER = 2000, 6, 1000, 480.0, 3, 10.0
# What it costs to give a wished time up, to be woken, and a quarter of an hour after a time before which it is not wanted.
GIVEN_UP, WOKEN, SOON = 12 * OFF_WISH, 90, 4
AIRS, FALLS, COLD = 2, 25.0, 20.0
HEATS, KEEPS_HOT = 30, 12
LIDDED = 2
COUNT, SEED = 200, 20261126


def instance(rng):
    """One to four doughs over a day or two."""
    length = rng.choice([180, 288, 432])
    lanes = []
    for _ in range(rng.choice([1, 2, 2, 3, 3, 4])):
        blocks, links = [], []
        work = lambda: [[0, rng.randint(1, 5)]] + ([[rng.randint(7, 9), 1]] if rng.random() < 0.4 else [])
        count = rng.randint(2, 3)
        for b in range(count):
            hands = work()
            oven = []
            if b == count - 1:
                hands = [[0, 1]]
                bake = rng.randint(4, 10)
                oven = [[0, bake, rng.choice([175, 180, 200, 230, 240]), rng.choice([1, 1, 2]), rng.choice([0, 0, 1, 2]), rng.choice([3, 3, 6, 9]), rng.choice([0, 0, 1])]]
                hands.append([bake, 1])
            ends = [f + l for f, l in hands] + [o[0] + o[1] for o in oven]
            blocks.append({"hands": hands, "oven": oven, "reach": [0, max(ends)]})
            if b:
                after = max(f + l for f, l in blocks[b - 1]["hands"])
                best = after + rng.randint(6, 40)
                sooner, later = rng.randint(0, 4), rng.randint(1, 9)
                earliest = max(after, best - sooner)
                links.append([b - 1, b, earliest, best, best + later, True])
        if rng.random() < 0.6:
            # The oven on before the last block, which may be shifted.
            blocks.append({"hands": [[0, 1]], "oven": [], "reach": [0, 1]})
            links.append([count - 1, count, -12, -6, -6, False])
        ready = [count - 1, blocks[count - 1]["reach"][1] * 5]
        at = rng.randint(60, length - 20)
        wanted = rng.choice([["any-time", 0], ["at", at], ["by", at], ["not-before", at]])
        # A place that it rises in, and a pan from its shaping to its end: thing, from block and step, to block and step.
        holds = []
        if rng.random() < 0.5:
            holds.append([0, 0, blocks[0]["reach"][1], 1, 0, 1])
        if rng.random() < 0.5:
            holds.append([1, count - 2, 0, count - 1, blocks[count - 1]["reach"][1], rng.choice([1, 1, 2, 3])])
        lanes.append({"blocks": blocks, "links": links, "holds": holds, "ready": ready, "wanted": wanted})
    closed = []
    if length > 200 or rng.random() < 0.5:
        night = rng.randint(60, 140)
        closed.append([night, min(night + rng.randint(30, 96), length), rng.choice([0, 0, 0, 2])])
    return {"begins": 0, "length": length, "lanes": lanes, "closed": closed, "hands": 1, "ovens": [2], "things": [1, 2]}


def weight(room):
    return max(int(OFF_BEST / max(room, 1) + 0.5), 2)


def between(first, then, heats, pot):
    """Steps between two bakes that are not in the oven together: a pot heats as long as from cold; the oven heats on by
    as much as is missing, or falls."""
    if abs(first - then) <= TOGETHER:
        return AIRS
    if pot:
        return max(heats, AIRS)
    part = (then - first) / max(then - COLD, 1.0)
    return max(math.ceil(heats * part if part > 0 else (first - then) / FALLS), AIRS)


def solve(inst, gives=False):
    m = cp_model.CpModel()
    terms, hands, oven = [], [], []
    held = [[] for _ in inst["things"]]
    length = inst["length"]
    for n, lane in enumerate(inst["lanes"]):
        starts = []
        for block in lane["blocks"]:
            first, last = inst["begins"] - block["reach"][0], length - block["reach"][1]
            open_, costs = [], []
            for s in range(first, last + 1):
                total, fits = 0, True
                for f, l in block["hands"]:
                    for a, b, spares in inst["closed"]:
                        within = min(s + f + l, b) - max(s + f, a)
                        if within > max(spares, 0):
                            fits = fits and gives
                            total += WOKEN
                        total += max(within, 0)
                if fits:
                    open_.append(s)
                    costs.append(total)
            if not open_:
                return None
            x = m.NewIntVarFromDomain(cp_model.Domain.FromValues(open_), "")
            if max(costs):
                c = m.NewIntVar(0, max(costs), "")
                m.AddAllowedAssignments([x, c], list(zip(open_, costs)))
                terms.append(SPARED * c)
            starts.append(x)
        over = lambda expr, most, w: terms.append(w * bounded(m, expr, most)) if most > 0 else None
        for a, b, earliest, best, latest, waits in lane["links"]:
            d = starts[b] - starts[a]
            m.Add(d >= earliest)
            m.Add(d <= latest)
            over(best - d, best - earliest, weight(best - earliest) if waits else 1)
            over(d - best, latest - best, weight(latest - best) if waits else 1)
        block, minutes = lane["ready"]
        after, x = -(-minutes // 5), starts[block]
        kind, t = lane["wanted"]
        # Nothing is ready a minute before it may be.
        whole = minutes // 5
        low, high, sooner, later = {
            "at": (t - NEAR - after, t + NEAR - after, t - after, t - after),
            "by": (None, t - after, None, t - after),
            "not-before": (t - whole, None, t - whole, None),
            "any-time": (None, None, None, None),
        }[kind]
        most = length + 2 * t
        if sooner is not None:
            over(sooner - x, most, OFF_WISH)
        if later is not None:
            over(x - later, most, OFF_WISH)
        if kind != "any-time":
            given_up = m.NewBoolVar("")
            if low is not None:
                m.Add(x >= low).OnlyEnforceIf(given_up.Not())
            if high is not None:
                m.Add(x <= high).OnlyEnforceIf(given_up.Not())
            if gives:
                terms.append(GIVEN_UP * given_up)
            else:
                m.Add(given_up == 0)
        if kind == "not-before":
            soon = m.NewIntVar(0, most, "")
            m.Add(SPAN * soon >= x - sooner)
            terms.append(SOON * soon)
        span = m.NewIntVar(0, length // SPAN + 1, "")
        m.Add(SPAN * span >= x - starts[0])
        terms.append(span)
        if kind in ("at", "by"):
            late = m.NewIntVar(0, length // SPAN + 1, "")
            m.Add(SPAN * late >= length - starts[0])
            terms.append(late)
        for thing, block, after, to, until, takes in lane["holds"]:
            begin, end = starts[block] + after, starts[to] + until
            size = m.NewIntVar(0, length, "")
            m.Add(begin + size == end)
            # What is larger than all the room takes all of it.
            held[thing].append((m.NewIntervalVar(begin, size, end, ""), min(takes, inst["things"][thing])))
        for i, block in enumerate(lane["blocks"]):
            for f, l in block["hands"]:
                hands.append(m.NewFixedSizeIntervalVar(starts[i] + f, l, ""))
            for f, l, dial, trays, air, heats, pot in block["oven"]:
                oven.append((n, starts[i] + f, l, dial, trays, air, heats, pot))
    m.AddNoOverlap(hands)
    room = inst["ovens"][0]
    m.AddCumulative([m.NewFixedSizeIntervalVar(s, l, "") for _, s, l, *_ in oven], [min(o[4], room) for o in oven], room)
    for i, (n, s, l, dial, _, air, heats, pot) in enumerate(oven):
        for k, s2, l2, dial2, _, air2, heats2, pot2 in oven[i + 1 :]:
            # Dry with dry, steam with steam; under a lid there is neither.
            suits = air == air2 or LIDDED in (air, air2)
            if n != k and (abs(dial - dial2) > TOGETHER or not suits):
                first = m.NewBoolVar("")
                m.Add(s + l + between(dial, dial2, heats2, pot2) <= s2).OnlyEnforceIf(first)
                m.Add(s2 + l2 + between(dial2, dial, heats, pot) <= s).OnlyEnforceIf(first.Not())
    for thing, capacity in enumerate(inst["things"]):
        m.AddCumulative([i for i, _ in held[thing]], [t for _, t in held[thing]], capacity)
    for i, (_, s, l, *_) in enumerate(oven):
        heats = m.NewBoolVar("")
        ways = [heats]
        for j, (_, s2, l2, *_) in enumerate(oven):
            if i != j:
                hot = m.NewBoolVar("")
                m.Add(s2 + (1 if j > i else 0) <= s).OnlyEnforceIf(hot)
                m.Add(s <= s2 + l2 + KEEPS_HOT).OnlyEnforceIf(hot)
                ways.append(hot)
        m.AddBoolOr(ways)
        terms.append(HEATS * heats)
    m.Minimize(sum(terms))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.max_time_in_seconds = 60
    status = solver.Solve(m)
    if status == cp_model.INFEASIBLE:
        return None
    assert status == cp_model.OPTIMAL, solver.StatusName(status)
    return int(solver.ObjectiveValue())


def bounded(m, expr, most):
    v = m.NewIntVar(0, most, "")
    m.Add(v >= expr)
    return v


def main():
    rng, all_ = random.Random(SEED), []
    spent = 0.0
    for _ in range(COUNT):
        inst = instance(rng)
        began = time.time()
        inst["optimum"] = solve(inst)
        inst["nearest"] = solve(inst, gives=True) if inst["optimum"] is None else None
        spent += time.time() - began
        all_.append(inst)
    import ortools

    print("[" + ",\n".join(json.dumps(i, separators=(",", ":")) for i in all_) + "]")
    possible = sum(i["optimum"] is not None for i in all_)
    nearest = sum(i["nearest"] is not None for i in all_)
    print(f"OR-Tools {ortools.__version__}: {COUNT} days, {possible} with a plan, {nearest} with a nearest one, {spent:.1f} s", file=sys.stderr)


if __name__ == "__main__":
    main()
