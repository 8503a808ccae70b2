"""Takes unit conversions out of the Python package pint (PyPI), for tests/reader.rs.

Run: pip install pint==0.25.3 && python units.py > units.json
"""

import json

import pint

ureg = pint.UnitRegistry()
GRAMS = {"mg": "milligram", "g": "gram", "kg": "kilogram", "oz": "ounce", "lb": "pound"}
MILLILITRES = {
    "ml": "milliliter", "cl": "centiliter", "dl": "deciliter", "l": "liter", "fl oz": "fluid_ounce",
    "cup": "cup", "tbsp": "tablespoon", "tsp": "teaspoon", "pint": "pint", "quart": "quart",
}
out = {
    "grams": {k: ureg.Quantity(1, u).to("gram").magnitude for k, u in GRAMS.items()},
    "millilitres": {k: ureg.Quantity(1, u).to("milliliter").magnitude for k, u in MILLILITRES.items()},
    "celsius": {str(f): ureg.Quantity(f, "degF").to("degC").magnitude for f in (32, 98.6, 212, 350, 375, 425, 500)},
}
print(json.dumps(out, indent=1))
