"""What is printed of a window at Heat."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.car_view.view import load_car
from elumbra.car.bay import shrink_preferred
from elumbra.core.errors import CoreError
from elumbra.core.work import HeatView, window_view
from elumbra.storage.store import windows


@dataclass(frozen=True)
class Sheet:
    """A window's view with what it is called on paper."""

    title: str
    label: str
    view: HeatView

    @property
    def words(self) -> str:
        """What a file of its pattern is called."""
        kind = "drawing of flat glass" if self.view.flat else "true pattern"
        return f"{self.title} {self.label}, {kind}"


def sheet_of(session: Session, window_id: str, part: int = 0) -> Sheet:
    """A window as it was decided, or one of its strips.

    Raises
    ------
    ApiError
        It cannot be laid, with the reason and the mend.
    """
    record = windows(session).get_present(window_id)
    car, parts, _ = load_car(session, record.job_id)
    try:
        view = window_view(car, window_id, part=part, preferred=shrink_preferred(session))
    except CoreError as error:
        raise ApiError("not_found", f"{record.label}: {error.message}") from error
    label = f"{record.label}, strip {part}" if part else record.label
    return Sheet(f"{parts.job.number} {parts.job.vehicle_label}", label, view)
