"""Hours between sunrise and sunset, and the light that falls on a level square metre above
the air, by an ephemeris (python3-ephem, whose positions are those of libastro) instead of
series. Reads {"year", "at": [[latitude, day], ...]} from standard input."""

import json
import math
import sys

import ephem

SOLAR_CONSTANT = 1361.0


def day(year, latitude, number):
    hours, kwh = 0.0, 0.0
    start = ephem.Date(f"{year}/1/1 00:00") + number - 1
    steps = 24 * 60
    sun = ephem.Sun()
    here = ephem.Observer()
    here.lat, here.lon, here.pressure = math.radians(latitude), 0.0, 0
    for k in range(steps):
        here.date = start + (k + 0.5) / steps
        sun.compute(here)
        # The sun's middle as seen from the middle of the earth: parallax is nothing here.
        if sun.alt > 0:
            hours += 24 / steps
            kwh += SOLAR_CONSTANT / 1000 * math.sin(sun.alt) / sun.earth_distance**2 * 24 / steps
    return {"hours": hours, "kwh": kwh}


job = json.load(sys.stdin)
print(json.dumps([day(job["year"], latitude, number) for latitude, number in job["at"]]))
