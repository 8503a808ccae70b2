"""Boiling points of water by altitude, for tests/oven.rs.

    pip install CoolProp==8.0.0 ambiance==1.3.1 && python3 boiling.py > boiling.json

Pressure from ambiance's ISO 2533 standard atmosphere, saturation temperature from CoolProp's water
(IAPWS-95).
"""

import json

from ambiance import Atmosphere
from CoolProp.CoolProp import PropsSI

METRES = [-400, 0, 250, 500, 1000, 1500, 2000, 2500, 3000, 4000, 4500]
rows = []
for m in METRES:
    pressure = float(Atmosphere(m).pressure[0])
    rows.append({"metres": m, "pressure": round(pressure, 1), "boils": round(PropsSI("T", "P", pressure, "Q", 0, "Water") - 273.15, 3)})
print(json.dumps(rows, indent=1))
