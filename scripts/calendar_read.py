#!/usr/bin/env python3
"""What Python's icalendar reads of the calendars that Cerealis writes, for the check in crates/web/src/days/calendar.rs.

    pip install icalendar && python3 scripts/calendar_read.py > crates/web/tests/data/calendar_read.json
"""

import json
import pathlib
from datetime import timezone

import icalendar

DATA = pathlib.Path(__file__).parent.parent / "crates/web/tests/data"


def read(name):
    calendar = icalendar.Calendar.from_ical((DATA / f"calendar_{name}.ics").read_bytes())
    events = []
    for event in calendar.walk("VEVENT"):
        start, end = event.decoded("DTSTART"), event.decoded("DTEND")
        alarm = event.walk("VALARM")[0]
        utc = start.astimezone(timezone.utc)
        events.append({
            "uid": str(event["UID"]),
            "start": utc.strftime("%Y-%m-%dT%H:%M:%SZ"),
            "minutes": (end.astimezone(timezone.utc) - utc).total_seconds() / 60,
            "sequence": int(event["SEQUENCE"]),
            "bell": alarm.decoded("TRIGGER").total_seconds() / 60,
        })
    return events


print(json.dumps({name: read(name) for name in ("spring", "autumn")}, indent=1))
