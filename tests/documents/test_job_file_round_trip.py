"""A job file read back is the job that was written, whatever stands in it."""

from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.film import Construction, FilmFacts, VltBasis, Warranty
from elumbra.core.glass import Curve
from elumbra.core.light import GlassSource
from elumbra.core.measure import Level
from elumbra.core.work import ReasonKind, VehicleFacts, WindowFacts, facts_of
from elumbra.documents.job_core import core_film, core_job, core_vehicle, core_window
from elumbra.documents.job_file import (
    FilmPart,
    JobFile,
    JobPart,
    LawPart,
    LotPart,
    ReadingPart,
    ReasonPart,
    VehiclePart,
    WindowPart,
    parse_job_file,
    to_bytes,
)
from tests.catalogue.facts import facts, words
from tests.catalogue.law import LAW
from tests.catalogue.panes import starting
from tests.effort import examples

days = st.sampled_from(["", "2026-11-24", "2031-01-31"])
FILMS = ("dark", "light")

reasons = st.builds(
    ReasonPart, kind=st.sampled_from(ReasonKind), film=st.sampled_from(FILMS), wish=words, document=words,
    expires_on=days, note=words, person=words, on=days,
)  # fmt: skip
windows = st.builds(
    lambda facts, links: WindowPart(**facts, **links),
    facts(WindowFacts),
    st.fixed_dictionaries(
        {
            "id": st.sampled_from(["a", "b", "c"]),
            "label": words,
            "layers": st.lists(st.sampled_from(FILMS), max_size=3).map(tuple),
            "reason": st.none() | reasons,
            "film": st.none() | st.sampled_from(FILMS),
            "curve": st.sampled_from(Curve),
            "level": st.sampled_from(Level),
            "readings": st.dictionaries(
                st.sampled_from(["width", "height", "strip_depth", "as1_depth", "strip_above_seat", "housing_width"]),
                st.sampled_from(["5", "39 3/8", "3' 3 1/4", "1000 mm"]).map(lambda typed: ReadingPart(typed=typed)),
            ),
        }
    ),
)
films = [
    FilmPart(
        id="dark", name="Dark", construction=Construction.DYED, vlt_percent=20, vlt_basis=VltBasis.ON_3MM_CLEAR,
        uv_rejection_percent=99, warranty=Warranty.YEARS, warranty_years=7,
        lot=LotPart(lot="L-1", vlt_percent=19.5, pm_points=0.8, readings=3),
    ),
    FilmPart(id="light", name="Light", construction=Construction.CLEAR, vlt_percent=85, reflectance_inside_percent=8),
]  # fmt: skip
vehicles = st.builds(lambda facts, label: VehiclePart(**facts, label=label), facts(VehicleFacts), words)
laws = st.none() | st.builds(
    LawPart, version=words, day=st.just("2026-11-24"),
    records=st.lists(st.sampled_from(sorted(LAW.records)), max_size=3, unique=True).map(
        lambda codes: [dict(LAW.of(code).row) for code in codes]
    ),
)  # fmt: skip
documents = st.builds(
    JobFile,
    job=st.builds(
        JobPart,
        title=words,
        vehicle=vehicles,
        windows=st.lists(windows, max_size=3, unique_by=lambda window: window.id),
    ),
    films=st.just(films),
    stock=st.just([]),
    law=laws,
)


@examples(150)
@given(document=documents)
def test_written_and_read_back_is_the_same_job(document: JobFile) -> None:
    again = parse_job_file(to_bytes(document))
    assert again == document
    assert to_bytes(again) == to_bytes(document)


@examples(60)
@given(document=documents)
def test_the_core_s_job_keeps_what_the_file_says(document: JobFile) -> None:
    """Light as fractions, films by id, the mean of the meter's readings where there are any."""
    job = core_job(document, starting=starting())
    assert [window.id for window in job.windows] == [part.id for part in document.job.windows]
    assert job.films["dark"].lot is not None
    assert job.films["dark"].lot.vlt == 0.195
    for part, window in zip(document.job.windows, job.windows, strict=True):
        assert window == core_window(part)
        assert window.film_id == part.film
        assert facts_of(window, WindowFacts) == facts_of(part, WindowFacts)
        assert (window.layers, window.measures.curve, window.measures.level) == (part.layers, part.curve, part.level)
        if part.bare_readings_percent and part.bare_vlt_source is GlassSource.METERED:
            assert window.bare is not None
            assert window.bare.readings == len(part.bare_readings_percent)
            assert window.bare.through_old_film == part.bare_vlt_through_old_film
        elif part.bare_vlt_percent is not None:
            assert window.bare is not None
            assert window.bare.vlt == part.bare_vlt_percent / 100
        else:
            assert window.bare is None


@examples(60)
@given(given=facts(FilmFacts), vehicle=vehicles)
def test_every_fact_of_film_and_vehicle_reaches_the_core(given: dict[str, object], vehicle: VehiclePart) -> None:
    part = FilmPart(**given, id="x")  # type: ignore[arg-type]
    assert facts_of(core_film(part), FilmFacts) == facts_of(part, FilmFacts) == given
    assert facts_of(core_vehicle(vehicle), VehicleFacts) == facts_of(vehicle, VehicleFacts)
