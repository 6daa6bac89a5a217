"""Old film: by which way it comes off, how long that takes, what it leaves and what it risks."""

from elumbra.core.removal.advise import Advice, GlueAdvice, Ranked, advise, glue_facts, signs_of
from elumbra.core.removal.case import Case, GlueWay, OldLook, Tool, Way
from elumbra.core.removal.own import Chance, OwnResult, chance_of
from elumbra.core.removal.table import RemovalError, RemovalTable, parse_removal_table

__all__ = [
    "Advice",
    "Case",
    "Chance",
    "GlueAdvice",
    "GlueWay",
    "OldLook",
    "OwnResult",
    "Ranked",
    "RemovalError",
    "RemovalTable",
    "Tool",
    "Way",
    "advise",
    "chance_of",
    "glue_facts",
    "parse_removal_table",
    "signs_of",
]
