"""The practice glass: film shrunk on a pane in time, ruined for nothing, judged, and shown by a robot."""

from elumbra.core.practice.board import COLUMNS, ROWS, Board, Lie
from elumbra.core.practice.film import Contact, Day, Sheet, day_of, gives, shrunk_after, stands_off, stepped
from elumbra.core.practice.fingers import Ridge, ridges
from elumbra.core.practice.hand import MOST_AT_ONCE, MOST_STEPS, STEP_S, Do, Stroke, StrokeError, read_strokes
from elumbra.core.practice.hints import Hint, mistake, next_hint
from elumbra.core.practice.lessons import Lesson, School, parse_lessons
from elumbra.core.practice.of_pane import board_of
from elumbra.core.practice.robot import Eyes, Shown, by_plan, carried_out, shown
from elumbra.core.practice.rules import BY_NAME, RULES, Damage, Rule
from elumbra.core.practice.run import RULES_VERSION, Event, Run, begin, played, ruined, stepped_on
from elumbra.core.practice.score import Part, Score, score_of
from elumbra.core.practice.screen import Looks, Screen, Warmth, screen_of

__all__ = [
    "BY_NAME",
    "COLUMNS",
    "MOST_AT_ONCE",
    "MOST_STEPS",
    "ROWS",
    "RULES",
    "RULES_VERSION",
    "STEP_S",
    "Board",
    "Contact",
    "Damage",
    "Day",
    "Do",
    "Event",
    "Eyes",
    "Hint",
    "Lesson",
    "Lie",
    "Looks",
    "Part",
    "Ridge",
    "Rule",
    "Run",
    "School",
    "Score",
    "Screen",
    "Sheet",
    "Shown",
    "Stroke",
    "StrokeError",
    "Warmth",
    "begin",
    "board_of",
    "by_plan",
    "carried_out",
    "day_of",
    "gives",
    "mistake",
    "next_hint",
    "parse_lessons",
    "played",
    "read_strokes",
    "ridges",
    "ruined",
    "score_of",
    "screen_of",
    "shown",
    "shrunk_after",
    "stands_off",
    "stepped",
    "stepped_on",
]
