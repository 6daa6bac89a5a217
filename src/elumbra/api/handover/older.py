"""Cars that an older release delivered are kept as they went, one after another, while the shop works on."""

from __future__ import annotations

import logging
from collections.abc import Callable

from elumbra.api.handover.operations import freeze_car
from elumbra.car import take_copy, upgrade_copy
from elumbra.core.deeds import State
from elumbra.core.errors import CoreError
from elumbra.storage.database import Database
from elumbra.storage.deliveries import never_frozen
from elumbra.storage.store import jobs

_log = logging.getLogger(__name__)


def freeze_gone(database: Database, *, stop: Callable[[], bool] = lambda: False) -> int:
    """Keep every car that is gone and was never kept as it went; how many were.

    Each in a transaction of its own, so that nobody waits for the others, and all by the one copy of what the shop said
    when this release first opened it. A job that cannot be put together is left as it is.
    """
    with database.session(write=True) as session:
        take_copy(session)
        ids, then = never_frozen(session), upgrade_copy(session)
    count = 0
    for job_id in ids:
        if stop():
            break
        try:
            with database.session(write=True) as session:
                if jobs(session).get(job_id).status == State.DELIVERED:
                    freeze_car(session, job_id, person_id="", then=then)
                    count += 1
        except CoreError as error:
            _log.info("job %s is not kept as it went: %s", job_id, error.message)
    return count
