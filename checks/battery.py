"""The equations of docs/model.md written out a second time, for one kind of
healthy cells, and solved by scipy. Reads one JSON job from standard input and
prints one JSON answer; see scipy_test.go."""

import json
import math
import sys
import time

import numpy as np
from scipy.integrate import odeint, solve_ivp

R, F, ZERO = 8.314462618, 96485.33212, 273.15

# Chemistry: gravity full and empty, exchange 1/h, acceptance 1/h, gassing A/Ah,
# recombined, self-discharge a month.
CHEMISTRY = {
    "flooded": (1.265, 1.120, 2.0, 0.36, 0.30e-3, 0.0, 0.020),
    "flooded_sealed": (1.280, 1.125, 2.0, 0.34, 0.12e-3, 0.0, 0.015),
    "efb": (1.280, 1.125, 2.0, 0.46, 0.14e-3, 0.0, 0.010),
    "agm": (1.310, 1.135, 1.3, 0.64, 0.05e-3, 0.97, 0.006),
    "gel": (1.310, 1.135, 1.2, 0.37, 0.04e-3, 0.97, 0.006),
    "agm_deep_cycle": (1.310, 1.135, 1.3, 0.54, 0.05e-3, 0.97, 0.005),
}


def emf(s, full, empty):
    sg = empty + (full - empty) * (0.931 * s + 0.069 * s * s)
    x = sg - 1
    w = 1.55006 * x - 0.90981 * x * x + 0.51575 * x**3
    lg = math.log10(w / (0.098079 * (1 - w)))
    return 1.9228 + 0.147519 * lg + 0.063552 * lg**2 + 0.073772 * lg**3 + 0.033612 * lg**4 - 0.002


class Cells:
    """n equal cells in series, healthy."""

    def __init__(self, b, source, ambient):
        self.full, self.empty, k, accept, gas, recombined, month = CHEMISTRY[b["chemistry"]]
        self.n, self.c, self.ohms = b["cells"], b["pore_share"], b["ohms"]
        ah = b["coulombs"] / 3600
        self.q = b["coulombs"]
        self.k, self.self_ = k / 3600, month / (30 * 86400)
        self.i0, self.limit, self.farads = 0.02 * b["plate_amps"], 7 * b["plate_amps"], 0.5 * b["plate_amps"]
        self.accept, self.gas, self.gas_heat = accept * ah, gas * ah, 1.48 * (1 - recombined)
        self.heat, self.cooling = b["heat_capacity"], b["cooling"]
        self.amps, self.volts, self.series = source["amps"], source["volts"], source["ohms"]
        self.t0, self.per_hour = ambient["start"], ambient["per_hour"]

    def posts(self, e, u, h1, z, acid):
        r = self.ohms * (0.30 + 0.70 * acid * (1 + 1.4 * max(0, 1 - h1) ** 1.5)) * (1 + 2 * z)
        inside = self.n * (e + u)
        way = (self.amps > 0) - (self.amps < 0)
        # The corner at the source's own volts is round, 0.2 mV wide.
        x = way * (self.volts - inside)
        root = math.hypot(x, 2e-4)
        soft = (x + root) / 2 if x > 0 else 2e-4**2 / (root - x) / 2
        i = way * min(soft / (self.n * r + self.series), abs(self.amps)) if way else 0.0
        return i, r, inside + self.n * r * i

    def slope(self, t, y):
        temp, h1, h2, u, z = y[0], y[1], y[2], y[3], y[4]
        kelvin = temp + ZERO
        arrhenius = lambda joules: math.exp(joules / R * (1 / 298.15 - 1 / kelvin))
        vt = 2 * R * kelvin / F
        s = self.c * h1 + (1 - self.c) * h2
        left = max(0.0, 1 - s)
        lift = 0.00023 * (temp - 25)
        e1 = emf(h1, self.full, self.empty) + lift
        e2 = emf(h2, self.full, self.empty) + lift
        i, r, _ = self.posts(e1, u, h1, z, arrhenius(-14400))
        moves, taken, doubling = arrhenius(19200), arrhenius(38400), arrhenius(52800)

        closed = max(-0.15, 0.004 * (25 - temp))
        raw = (h1 - closed) / (1 - closed)
        open_ = 0.5 * (raw + math.sqrt(raw * raw + 4e-10))
        charge = self.accept * (taken * left**1.5 * math.exp(-9 * z) + 1e-6) * (1 + (u / 0.18) ** 2)
        discharge = self.limit * moves * open_
        x = min(max(u / vt, -60), 60)
        up, down = math.exp(x), math.exp(-x)
        i0 = self.i0 * taken
        if u > 0:
            y = math.exp(min(2 * u / vt, 60))
            surface = i0 * (y - 1) / (1 + 150 * (1 - 1 / y))
            main = 1 / (1 / surface + 1 / charge) if surface > 0 else 0.0
        else:
            main = i0 * (up - down) / (1 + i0 * (down - 1) / discharge)

        phi = e1 + u
        gas = self.gas * math.exp(min(max(11 * (phi - 2.23) + 0.06 * (temp - 25), -60), 60))
        back = self.gas * math.exp(min(max(-11 * (phi + 0.2) + 0.06 * (temp - 25), -60), 60)) if phi < 0.5 else 0.0
        into = i - gas + back
        flow = self.k * moves * self.c * (1 - self.c) * self.q * (h1 - h2)
        own = self.self_ * doubling
        over = max(0.0, (phi - 2.15) / 0.25)

        heat = self.n * (
            i * i * r
            + u * main
            + 0.00023 * kelvin * into
            + flow * (e1 - e2)
            + (gas - back) * phi
            - (gas + back) * self.gas_heat
            + own * self.q * (self.c * h1 * (e1 - 0.00023 * kelvin) + (1 - self.c) * h2 * (e2 - 0.00023 * kelvin))
        )
        out = self.cooling * (temp - self.t0 - self.per_hour * t / 3600)
        return [
            (heat - out) / self.heat,
            (into - flow) / (self.c * self.q) - own * h1,
            flow / ((1 - self.c) * self.q) - own * h2,
            (into - main) / self.farads,
            doubling * (1 - z) * left * left / (21 * 86400) - taken * z * over * over / (8 * 3600),
            i / 3600,
        ]

    def read(self, y):
        s = self.c * y[1] + (1 - self.c) * y[2]
        e = emf(y[1], self.full, self.empty) + 0.00023 * (y[0] - 25)
        acid = math.exp(-14400 / R * (1 / 298.15 - 1 / (y[0] + ZERO)))
        i, _, v = self.posts(e, y[3], y[1], y[4], acid)
        return {"volts": v, "amps": i, "soc": 100 * s, "temp_c": y[0], "ah_in": y[5], "sulphate": y[4], "pore": y[1]}


def main():
    job = json.load(sys.stdin)
    cells = Cells(job["battery"], job["source"], job["ambient"])
    s = job["state"]
    y0 = np.array([s["temp_c"], s["pore"], s["bulk"], s["polar"], s["sulphate"], 0.0])
    size = np.array([30, 1, 1, 0.2, 1, job["battery"]["coulombs"] / 3600])
    seconds = np.array(job["seconds"])
    best = math.inf
    for _ in range(job.get("repeat", 1)):
        start = time.perf_counter()
        if job["method"] == "odeint":
            # LSODA as scipy binds it most directly.
            y = odeint(cells.slope, y0, np.concatenate(([0.0], seconds)), rtol=job["rtol"], atol=job["rtol"] * size,
                       tfirst=True, mxstep=100000)[1:]
        else:
            got = solve_ivp(cells.slope, (0, seconds[-1]), y0, method=job["method"], t_eval=seconds,
                            rtol=max(job["rtol"], 2.3e-14), atol=job["rtol"] * size, first_step=min(1e-3, seconds[-1]))
            if not got.success:
                sys.exit(got.message)
            y = got.y.T
        best = min(best, time.perf_counter() - start)
    json.dump({"seconds_to_solve": best, "at": [cells.read(row) for row in y]}, sys.stdout)


if __name__ == "__main__":
    main()
