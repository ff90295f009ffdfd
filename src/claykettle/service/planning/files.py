"""What was prepared, as files for the export of a whole house: practicals version by version, rosters, classes."""

from __future__ import annotations

import json

from sqlalchemy import Select, select

from claykettle.formats.roster import roster_csv
from claykettle.service.visit import Visit
from claykettle.store.runs import in_earnest
from claykettle.store.tables import Day, PracticalVersion, Section, Student


def prepared_files(visit: Visit) -> dict[str, bytes]:
    """Names and contents: `practicals/7-2.practical.json`, `rosters/SECTION.csv`, `classes/12.json` with its plan."""
    found: dict[str, bytes] = {}
    for row in visit.session.scalars(select(PracticalVersion).order_by(PracticalVersion.id)):
        found[f"practicals/{row.practical_id}-{row.number}.practical.json"] = _written(row.body)
    for section in visit.session.scalars(select(Section).where(in_earnest(Section.id)).order_by(Section.id)):
        names = select(Student.name).where(Student.section_id == section.id, ~Student.has_left)
        rows = visit.session.scalars(names.order_by(Student.position, Student.id)).all()
        if rows:
            found[f"rosters/{section.id}.csv"] = roster_csv(rows)
    for day in visit.session.scalars(_classes()):
        if not day.plan:
            continue
        places = [
            {"bench": one.bench.name, "students": [seat.student.name for seat in one.seats], "is_out": one.is_out}
            for one in day.places
        ]
        told = {"title": day.title, "date": day.date.isoformat(), "starts": day.starts, "places": places}
        found[f"classes/{day.id}.json"] = _written(told | {"plan": day.plan})
    return found


def _classes() -> Select[Day]:
    return select(Day).where(Day.plan.is_not(None), in_earnest(Day.section_id)).order_by(Day.id)


def _written(document: object) -> bytes:
    return (json.dumps(document, ensure_ascii=False, indent=2) + "\n").encode()
