"""The bay: the run of steps on this very car, led, timed and put right where something goes wrong.

Vocabulary
----------
step
    One thing the hands do. Written in the step file, with the condition under which it applies.
run
    The steps of one window, of the car before its windows, or after them, in order.
block
    Steps of one phase that follow each other; ticked whole by default.
situation
    One value for every fact that a step may ask.
mishap
    Something that went wrong; it puts steps into the run that must be done again.

Proofs of the hard rules stand in ``prove``, imported by those who prove: the solver takes seconds to load.
"""

from elumbra.core.bay.car_runs import END, START, CarRuns, car_runs, strip_key
from elumbra.core.bay.conditions import Condition, Situation, StepFileError, parse_condition
from elumbra.core.bay.day import Day, DayAnswer, DayError, SunSide, answer_of, cure_days, soap_ml, soap_words
from elumbra.core.bay.facts import FACTS, Fact, found_facts
from elumbra.core.bay.figures import FIGURES, LONGEST_SENTENCE, Figure, filled
from elumbra.core.bay.progress import LEAD_ONLY, Event, Happened, Progress, Tick, progress_of
from elumbra.core.bay.removals import removals_of, strip_tick
from elumbra.core.bay.round_car import ToDo, arranged, order_round
from elumbra.core.bay.rules import RULES, Rule, broken, of_book
from elumbra.core.bay.run import Block, Mishap, Run, RunStep, make_run, with_mishap
from elumbra.core.bay.situation import (
    Hands,
    Removal,
    Told,
    blank_situation,
    car_told,
    case_of,
    day_answer,
    is_worked,
    window_told,
)
from elumbra.core.bay.steps import (
    PHASE_WORDS,
    Corrections,
    Does,
    Effect,
    Occurrence,
    Phase,
    School,
    Step,
    StepBook,
    Wrong,
    figures_in,
    parse_step_book,
)
from elumbra.core.bay.times import Took, Usual, times_of, usual

__all__ = [
    "END",
    "FACTS",
    "FIGURES",
    "LEAD_ONLY",
    "LONGEST_SENTENCE",
    "PHASE_WORDS",
    "RULES",
    "START",
    "Block",
    "CarRuns",
    "Condition",
    "Corrections",
    "Day",
    "DayAnswer",
    "DayError",
    "Does",
    "Effect",
    "Event",
    "Fact",
    "Figure",
    "Hands",
    "Happened",
    "Mishap",
    "Occurrence",
    "Phase",
    "Progress",
    "Removal",
    "Rule",
    "Run",
    "RunStep",
    "School",
    "Situation",
    "Step",
    "StepBook",
    "StepFileError",
    "SunSide",
    "Tick",
    "ToDo",
    "Told",
    "Took",
    "Usual",
    "Wrong",
    "answer_of",
    "arranged",
    "blank_situation",
    "broken",
    "car_runs",
    "car_told",
    "case_of",
    "cure_days",
    "day_answer",
    "figures_in",
    "filled",
    "found_facts",
    "is_worked",
    "make_run",
    "of_book",
    "order_round",
    "parse_condition",
    "parse_step_book",
    "progress_of",
    "removals_of",
    "soap_ml",
    "soap_words",
    "strip_key",
    "strip_tick",
    "times_of",
    "usual",
    "window_told",
    "with_mishap",
]
