import json

import pytest

from elumbra.core.errors import CoreError
from elumbra.documents.job_core import core_job
from elumbra.documents.job_file import LARGEST_FILE, JobFileError, parse_job_file, to_bytes
from tests.catalogue.jobs import job_document
from tests.catalogue.panes import starting


def encoded(document: object) -> bytes:
    return json.dumps(document).encode()


def test_written_and_read_back_is_the_same() -> None:
    document = parse_job_file(encoded(job_document()))
    assert parse_job_file(to_bytes(document)) == document


def test_what_was_typed_stays_as_typed() -> None:
    document = parse_job_file(encoded(job_document()))
    typed = [reading.typed for window in document.job.windows for reading in window.readings.values()]
    assert "1000 mm" in typed
    assert "35 7/16" in typed


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"{", "broken at line 1, column 2"),
        (b"\xff\xfe", "not text in UTF-8"),
        (b"[]", "not an Elumbra job file"),
        (b'{"format": "other"}', "not an Elumbra job file"),
        (b'{"format": "elumbra-job", "format_version": 9}', "format version 9; this program reads up to version 8"),
        (b'{"format": "elumbra-job"}', "format version None"),
        (b" " * (LARGEST_FILE + 1), "at most 2 MB"),
        (b"[" * 100_000, "job"),
    ],
)
def test_broken_foreign_future_and_huge_files_are_refused(content: bytes, says: str) -> None:
    with pytest.raises(JobFileError) as refusal:
        parse_job_file(content)
    assert says in refusal.value.message


@pytest.mark.parametrize(
    ("path", "value", "place", "says"),
    [
        (("job", "windows", 0, "film"), "gone", "job.windows[0].film", "There is no film “gone”"),
        (("job", "windows", 1, "same_as", "window"), "gone", "job.windows[1].same_as", "There is no window “gone”"),
        (("stock", 0, "film"), "gone", "stock[0].film", "There is no film “gone”"),
        (
            ("job", "windows", 0, "bare_vlt_percent"),
            120,
            "job.windows[0].bare_vlt_percent",
            "less than or equal to 100",
        ),
        (("job", "windows", 0, "position"), "sideways", "job.windows[0].position", "Input should be"),
        (
            ("job", "windows", 0, "colr"),
            "x",
            "job.windows[0].colr",
            "“colr” is not a field here. Did you mean “colours”?",
        ),
        (("films", 0, "vlt_percent"), -3, "films[0].vlt_percent", "greater than or equal to 0"),
        (("job", "vehicle", "states"), [], "job.vehicle.states", "at least 1 item"),
    ],
)
def test_wrong_fields_are_named_by_their_place(
    path: tuple[str | int, ...], value: object, place: str, says: str
) -> None:
    document: dict = job_document()
    inner = document
    for part in path[:-1]:
        inner = inner[part]
    inner[path[-1]] = value
    with pytest.raises(JobFileError) as refusal:
        parse_job_file(encoded(document))
    assert says in refusal.value.fields[place]


def test_repeated_ids_are_refused() -> None:
    document: dict = job_document()
    document["films"].append(document["films"][0])
    with pytest.raises(JobFileError, match="“carbon35” stands more than once"):
        parse_job_file(encoded(document))


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"readings": {"width": {"typed": "abc"}}}, "Driver front, width: “abc” is not a size"),
        ({"readings": {"width": {"typed": "30'"}}}, None),
    ],
)
def test_typed_lengths_are_checked_when_used(change: dict[str, object], says: str | None) -> None:
    document: dict = job_document()
    document["job"]["windows"][0] |= change
    parsed = parse_job_file(encoded(document))
    if says is None:
        core_job(parsed, starting=starting())
        return
    with pytest.raises(CoreError) as refusal:
        core_job(parsed, starting=starting())
    assert says in refusal.value.message


def test_film_that_cannot_be_is_refused_when_used() -> None:
    document: dict = job_document()
    document["films"][0] |= {"vlt_percent": 80, "reflectance_percent": 40}
    with pytest.raises(CoreError, match="make 120 %"):
        core_job(parse_job_file(encoded(document)), starting=starting())
