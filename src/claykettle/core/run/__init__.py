"""A run: what was recorded, the course it takes, and what it evaluates to."""

from claykettle.core.run.by_steps import evidence_of, is_neutralised, steps_missed
from claykettle.core.run.evaluation import Evaluation, Result, Summary, TrialEvaluation, evaluate_run, figures_of
from claykettle.core.run.layout import KitLine, PlannedStep, Progress, kit_of, minutes_of, slots_of, steps_of
from claykettle.core.run.pieces import parse_procedure
from claykettle.core.run.procedure import Piece, Procedure, procedure_body, school_titles
from claykettle.core.run.run import (
    INSTRUMENTS,
    Entry,
    ProcedureUse,
    Run,
    StepKind,
    StepMark,
    TrialRecord,
    course_faults,
    depends_on_options,
    reading_definition,
    reading_labels,
    reading_names,
    shape_of,
    usable_readings,
    with_hint,
)
from claykettle.core.run.stair import Loss, Tread, losses, stair, tread_label

__all__ = [
    "INSTRUMENTS",
    "Entry",
    "Evaluation",
    "KitLine",
    "Loss",
    "Piece",
    "PlannedStep",
    "Procedure",
    "ProcedureUse",
    "Progress",
    "Result",
    "Run",
    "StepKind",
    "StepMark",
    "Summary",
    "Tread",
    "TrialEvaluation",
    "TrialRecord",
    "course_faults",
    "depends_on_options",
    "evaluate_run",
    "evidence_of",
    "figures_of",
    "is_neutralised",
    "kit_of",
    "losses",
    "minutes_of",
    "parse_procedure",
    "procedure_body",
    "reading_definition",
    "reading_labels",
    "reading_names",
    "school_titles",
    "shape_of",
    "slots_of",
    "stair",
    "steps_missed",
    "steps_of",
    "tread_label",
    "usable_readings",
    "with_hint",
]
