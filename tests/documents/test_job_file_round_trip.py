"""A job file read back is the job that was written, whatever stands in it."""

from hypothesis import given, settings
from hypothesis import strategies as st

from elumbra.core.cut import StripShape
from elumbra.core.film import Construction, VltBasis, Warranty
from elumbra.core.glass import Curve, GlassType, Position, Side, WindowKind
from elumbra.core.law import RegisteredAs, VehicleClass
from elumbra.core.light import GlassSource
from elumbra.core.work import Feature, ReasonKind
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
    core_job,
    core_window,
    parse_job_file,
    to_bytes,
)
from tests.catalogue.law import LAW
from tests.catalogue.panes import starting

words = (
    st.text(st.characters(codec="utf-8", exclude_categories=["Cs", "Cc"]), min_size=1, max_size=30)
    .filter(str.strip)
    .map(str.strip)
)
percents = st.one_of(st.integers(0, 100), st.floats(0, 100, allow_nan=False)).map(float)
days = st.sampled_from(["", "2026-11-24", "2031-01-31"])
FILMS = ("dark", "light")

reasons = st.builds(
    ReasonPart, kind=st.sampled_from(ReasonKind), film=st.sampled_from(FILMS), wish=words, document=words,
    expires_on=days, note=words, person=words, on=days,
)  # fmt: skip
windows = st.builds(
    WindowPart,
    id=st.sampled_from(["a", "b", "c"]),
    label=words,
    position=st.sampled_from(Position),
    side=st.sampled_from(Side),
    kind=st.sampled_from(WindowKind),
    glass_type=st.sampled_from(GlassType),
    bare_vlt_percent=st.none() | percents,
    bare_vlt_source=st.sampled_from(GlassSource),
    bare_readings_percent=st.lists(percents, max_size=5),
    bare_vlt_through_old_film=st.booleans(),
    old_film=st.booleans(),
    old_film_stays=st.booleans(),
    layers=st.lists(st.sampled_from(FILMS), max_size=3),
    factory_glass=st.none() | st.booleans(),
    as1_mark=st.none() | st.booleans(),
    features=st.lists(st.sampled_from(Feature), unique=True),
    reason=st.none() | reasons,
    film=st.none() | st.sampled_from(FILMS),
    coverage=st.sampled_from(["full", "strip"]),
    strip_shape=st.sampled_from(StripShape),
    strip_pieces=st.integers(1, 2),
    curve=st.sampled_from(Curve),
    readings=st.dictionaries(
        st.sampled_from(["width", "height", "strip_depth", "as1_depth", "strip_above_seat", "housing_width"]),
        st.sampled_from(["5", "39 3/8", "3' 3 1/4", "1000 mm"]).map(lambda typed: ReadingPart(typed=typed)),
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
vehicles = st.builds(
    VehiclePart, label=words, vehicle_class=st.sampled_from(VehicleClass),
    states=st.lists(st.sampled_from(sorted(LAW.records)), min_size=1, max_size=3, unique=True),
    mirrors_both_sides=st.none() | st.booleans(), model_year=st.none() | st.integers(1900, 2100),
    registered_as=st.none() | st.sampled_from(RegisteredAs),
    no_glass_at=st.lists(st.sampled_from(Position), unique=True),
)  # fmt: skip
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


@settings(max_examples=150)
@given(document=documents)
def test_written_and_read_back_is_the_same_job(document: JobFile) -> None:
    again = parse_job_file(to_bytes(document))
    assert again == document
    assert to_bytes(again) == to_bytes(document)


@settings(max_examples=60)
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
        assert window.features == frozenset(part.features)
        if part.bare_readings_percent and part.bare_vlt_source is GlassSource.METERED:
            assert window.bare is not None
            assert window.bare.readings == len(part.bare_readings_percent)
            assert window.bare.through_old_film == part.bare_vlt_through_old_film
        elif part.bare_vlt_percent is not None:
            assert window.bare is not None
            assert window.bare.vlt == part.bare_vlt_percent / 100
        else:
            assert window.bare is None
