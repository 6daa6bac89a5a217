import pytest

from elumbra.core.errors import StartingValueError
from elumbra.core.starting import parse_starting_values
from tests.catalogue.panes import starting


def test_every_value_states_label_range_and_basis() -> None:
    for entry in starting().values.values():
        assert entry.low <= entry.value <= entry.high
        assert entry.label
        assert entry.basis.startswith(("handbook", "heart", "our assumption")), entry.name


def test_shop_value_is_laid_over_and_marked() -> None:
    ours = starting().with_shop_values({"blank_play_mm": 12.7})
    assert ours["blank_play_mm"] == 12.7
    assert ours.of("blank_play_mm").changed_by_shop
    assert starting()["blank_play_mm"] == 25.4


def test_value_out_of_range_is_refused_with_the_range() -> None:
    with pytest.raises(StartingValueError, match=r"outside 3 to 100 mm") as refusal:
        starting().with_shop_values({"blank_play_mm": 400})
    assert "blank_play_mm" in refusal.value.fields


def test_unknown_name_gets_the_nearest() -> None:
    with pytest.raises(StartingValueError, match="Did you mean “blank_play_mm”"):
        starting()["blank_pla_mm"]


def test_broken_file_is_refused() -> None:
    row = {"name": "a", "label": "A", "value": 5, "unit": "mm", "low": 0, "high": 1, "basis": "our assumption"}
    document = {"version": "1", "values": [row], "roll_widths_mm": []}
    with pytest.raises(StartingValueError, match="outside its own range"):
        parse_starting_values(document)
    document["values"] = [row | {"value": 1}, row | {"value": 1}]
    with pytest.raises(StartingValueError, match="stands twice"):
        parse_starting_values(document)
