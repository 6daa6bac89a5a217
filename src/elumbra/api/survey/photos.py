"""Pictures of a job: of the car, a window, a flaw. Plain arguments, no web framework."""

from __future__ import annotations

import base64
import binascii

from sqlalchemy.orm import Session

from elumbra.api.survey.schemas import PhotoIn
from elumbra.core.errors import CoreError
from elumbra.documents.picture import clean_picture
from elumbra.storage import photos
from elumbra.storage.kept import flaws
from elumbra.storage.store import NotFoundError, jobs, windows

_MOST = 200


def add(session: Session, job_id: str, body: PhotoIn, *, person_id: str) -> str:
    """Keep a picture. Its job's id.

    Raises
    ------
    CoreError
        No true picture, too large a one, or one too many.
    DiskFullError
        No room for it.
    """
    jobs(session).get_present(job_id)
    if body.window_id is not None and windows(session).get_present(body.window_id).job_id != job_id:
        raise CoreError("That window is not of this car.", fields={"window_id": "Pick a window of this car."})
    if body.flaw_id is not None and flaws(session).get_present(body.flaw_id).job_id != job_id:
        raise CoreError("That flaw is not of this car.", fields={"flaw_id": "Pick a flaw of this car."})
    try:
        content = base64.b64decode(body.content, validate=True)
    except (binascii.Error, ValueError) as error:
        raise CoreError("The picture did not arrive whole. Take it again.", fields={"content": "Broken."}) from error
    if len(photos.photos_of(session, job_id)) >= _MOST:
        raise CoreError(f"A job keeps at most {_MOST} pictures.")
    picture = clean_picture(content)
    record = photos.new_photo(
        job_id=job_id, window_id=body.window_id, flaw_id=body.flaw_id, person_id=person_id, width=picture.width,
        height=picture.height,
    )  # fmt: skip
    photos.add_photo(session, record, picture.content, picture.thumb)
    return job_id


def shown(session: Session, job_id: str, photo_id: str, *, small: bool) -> tuple[str, bytes, str]:
    """A picture of a job: a name for it, what it shows, and its kind.

    Raises
    ------
    NotFoundError
        There is none.
    MissingPictureError
        Its file is gone or was changed.
    """
    found = photos.photo(session, photo_id)
    if found is None or found.job_id != job_id:
        raise NotFoundError("picture", photo_id)
    return f"{found.id}.{found.kind.split('/')[1]}", photos.content_of(session, found, small=small), found.kind
