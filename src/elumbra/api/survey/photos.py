"""Pictures taken at the survey. Plain arguments, no web framework."""

from __future__ import annotations

import base64
import binascii

from sqlalchemy.orm import Session

from elumbra.api.survey.schemas import PhotoIn
from elumbra.core.errors import CoreError
from elumbra.storage import shelf
from elumbra.storage.records import PhotoRecord
from elumbra.storage.store import NotFoundError, jobs, windows

_STARTS = {b"\xff\xd8\xff": "image/jpeg", b"\x89PNG\r\n\x1a\n": "image/png"}
_MOST = 200


def add(session: Session, job_id: str, body: PhotoIn, *, person_id: str) -> str:
    """Keep a picture. Its job's id.

    Raises
    ------
    CoreError
        No picture that a browser shows, or one too many.
    """
    jobs(session).get_present(job_id)
    if body.window_id is not None and windows(session).get_present(body.window_id).job_id != job_id:
        raise CoreError("That window is not of this car.", fields={"window_id": "Pick a window of this car."})
    try:
        content = base64.b64decode(body.content, validate=True)
    except (binascii.Error, ValueError) as error:
        raise CoreError("The picture did not arrive whole. Take it again.", fields={"content": "Broken."}) from error
    kind = next((kind for start, kind in _STARTS.items() if content.startswith(start)), None)
    if kind is None:
        raise CoreError("Only JPEG and PNG pictures can be kept.", fields={"content": "JPEG or PNG."})
    if len(shelf.photos_of(session, job_id)) >= _MOST:
        raise CoreError(f"A job keeps at most {_MOST} pictures.")
    shelf.add_photo(session, job_id=job_id, window_id=body.window_id, kind=kind, content=content, person_id=person_id)
    return job_id


def get(session: Session, job_id: str, photo_id: str) -> PhotoRecord:
    """A picture of a job.

    Raises
    ------
    NotFoundError
        There is none.
    """
    found = shelf.photo(session, photo_id)
    if found is None or found.job_id != job_id:
        raise NotFoundError("picture", photo_id)
    return found
