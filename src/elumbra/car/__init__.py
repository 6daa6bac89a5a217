"""The car, put together once: records to job file to looked-over car, for screens, plan and command line."""

from elumbra.car.assemble import assemble, input_hash, named, plan_input
from elumbra.car.records import (
    JobParts,
    StuckError,
    job_file,
    load_parts,
    load_parts_of,
    merged_answers,
    standing_reasons,
    stock_part,
    stored_facts,
    stored_links,
    window_part,
)
from elumbra.car.shop import Shop, film_part, load_shop, lot_figure_of, shop_starting_values

__all__ = [
    "JobParts",
    "Shop",
    "StuckError",
    "assemble",
    "film_part",
    "input_hash",
    "job_file",
    "load_parts",
    "load_parts_of",
    "load_shop",
    "lot_figure_of",
    "merged_answers",
    "named",
    "plan_input",
    "shop_starting_values",
    "standing_reasons",
    "stock_part",
    "stored_facts",
    "stored_links",
    "window_part",
]
