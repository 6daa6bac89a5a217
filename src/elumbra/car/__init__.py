"""The car, put together once: records to job file to looked-over car, for screens, plan and command line."""

from elumbra.car.assemble import assemble, input_hash, named, plan_input
from elumbra.car.bay import (
    Bay,
    BaySettings,
    cases_of,
    core_events,
    load_bay,
    not_put_back,
    own_results,
    settings_for,
)
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
from elumbra.car.spoilt import cut_again, spoilt, spoilt_no_more

__all__ = [
    "Bay",
    "BaySettings",
    "JobParts",
    "Shop",
    "StuckError",
    "assemble",
    "cases_of",
    "core_events",
    "cut_again",
    "film_part",
    "input_hash",
    "job_file",
    "load_bay",
    "load_parts",
    "load_parts_of",
    "load_shop",
    "lot_figure_of",
    "merged_answers",
    "named",
    "not_put_back",
    "own_results",
    "plan_input",
    "settings_for",
    "shop_starting_values",
    "spoilt",
    "spoilt_no_more",
    "standing_reasons",
    "stock_part",
    "stored_facts",
    "stored_links",
    "window_part",
]
