"""The day: who works on which car when, in which bay, and what may honestly be promised.

Vocabulary
----------
task
    One phase on one window, or on a car as a whole: work, then time in which nobody is needed.
plan
    Who does what when, and which car stands in which bay. A plan is whole or it is none.
late, overtime, waiting
    What a plan costs, in this order: minutes past promises, past the people's days, from arrival to ready.
promise
    The earliest time that was kept on nine of ten simulated days.

The proof stands in ``exact``, imported by those who prove: the solver takes seconds to load.
"""

from elumbra.core.schedule.check import faults
from elumbra.core.schedule.choice import Choice, first_choice
from elumbra.core.schedule.least import Proof, least_waiting
from elumbra.core.schedule.listing import DoesNotFitError, lay
from elumbra.core.schedule.of_car import STAGE_OF, customary_tasks, tasks_of, together
from elumbra.core.schedule.possible import (
    SKILL_WORDS,
    Fit,
    Impossible,
    earliest_ready,
    fitting,
    impossible,
    span_words,
    without,
)
from elumbra.core.schedule.problem import (
    BayPlace,
    InBay,
    Lock,
    Measure,
    Place,
    Placed,
    Plan,
    PlanCar,
    PlanTask,
    Problem,
    Skill,
    Stretch,
    UnknownTaskError,
    Worker,
    closes,
    in_order,
    measure,
    overtime_by_day,
    weight,
)
from elumbra.core.schedule.promise import SURE, Promise, chances, promise, rounded_up
from elumbra.core.schedule.search import Found, first_plan, list_plans
from elumbra.core.schedule.simulate import DAYS, Days, simulate
from elumbra.core.schedule.why import Cause, Hangs, late_words, why_late

__all__ = [
    "DAYS",
    "SKILL_WORDS",
    "STAGE_OF",
    "SURE",
    "BayPlace",
    "Cause",
    "Choice",
    "Days",
    "DoesNotFitError",
    "Fit",
    "Found",
    "Hangs",
    "Impossible",
    "InBay",
    "Lock",
    "Measure",
    "Place",
    "Placed",
    "Plan",
    "PlanCar",
    "PlanTask",
    "Problem",
    "Promise",
    "Proof",
    "Skill",
    "Stretch",
    "UnknownTaskError",
    "Worker",
    "chances",
    "closes",
    "customary_tasks",
    "earliest_ready",
    "faults",
    "first_choice",
    "first_plan",
    "fitting",
    "impossible",
    "in_order",
    "late_words",
    "lay",
    "least_waiting",
    "list_plans",
    "measure",
    "overtime_by_day",
    "promise",
    "rounded_up",
    "simulate",
    "span_words",
    "tasks_of",
    "together",
    "weight",
    "why_late",
    "without",
]
