"""The charge of a battery that stands, written out a second time from docs/model.md and
docs/season.md and solved as a differential equation by scipy, with the weather of each day.
Reads one JSON job from standard input; see season_test.go."""

import json
import math
import sys

from scipy.integrate import solve_ivp

from battery import CHEMISTRY, emf

R, F, ZERO = 8.314462618, 96485.33212, 273.15


def lost(chemistry, soc, temp):
    """Percent a day, by itself."""
    full, empty, _, _, gas, _, own = CHEMISTRY[chemistry]
    s = max(0.0, min(100.0, soc)) / 100
    w = math.exp(4800 / R * (1 / 298.15 - 1 / (temp + ZERO)))
    volts = emf(s, full, empty) + 0.00023 * (temp - 25)
    gassing = gas * math.exp(11 * (volts - 2.23) + 0.06 * (temp - 25))  # A for each Ah
    return 100 * (own * w**11 * max(0.0, soc) / 100 / 30 + gassing * 24)


def run(job):
    drain = job["drain_ma"] / 1000 * 24 / job["ah"] * 100 if job["clamped"] else 0.0
    soc, out = job["soc"], []
    for temp in job["mean_c"]:
        out.append(soc)
        s = solve_ivp(lambda _, y: [-drain - lost(job["chemistry"], y[0], temp)], (0, 1), [soc], rtol=1e-9, atol=1e-9)
        soc = float(s.y[0][-1])
    return out


print(json.dumps([run(job) for job in json.load(sys.stdin)]))
