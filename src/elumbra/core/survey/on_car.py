"""Findings of the car as a whole."""

from __future__ import annotations

from elumbra.core.survey.findings import Field, Finding, Group, ReadBy
from elumbra.core.survey.helps import then

ON_CAR = (
    Finding(
        name="machine",
        label="What it is",
        group=Group.CAR,
        options={"car": "car or truck", "side_by_side": "off-road side-by-side"},
        follows={"side_by_side": then("Wash the whole machine first", ReadBy.BAY, "11", minutes=25)},
    ),
    Finding(
        name="age",
        label="How old",
        group=Group.CAR,
        options={"new": "brand new", "few": "a few years", "old": "old"},
        follows={
            "new": then("Pad only", ReadBy.BAY, "10", tool="white pad"),
            "few": then("Razor too where the glass allows it", ReadBy.BAY, "10", tool="razor"),
            "old": then("Razor too where the glass allows it", ReadBy.BAY, "10", tool="razor"),
        },
    ),
    Finding(
        name="on_arrival",
        label="On arrival",
        group=Group.CAR,
        how=Field.SEVERAL,
        options={"dry": "clean and dry", "wet": "wet", "dirty": "dirty"},
        follows={
            "wet": then("Dry it before anything else", ReadBy.BAY, "4", minutes=10),
            "dirty": then("Wash it first", ReadBy.BAY, "11", minutes=20, dollars=15),
        },
    ),
    Finding(
        name="to_move",
        label="To move",
        group=Group.CAR,
        how=Field.SEVERAL,
        options={"headrests": "headrests", "child_seats": "child seats", "belongings": "belongings"},
        follows={
            "headrests": then("Headrests out, noted, put back", ReadBy.BAY, "10", minutes=3),
            "child_seats": then("Child seats out; the owner puts them back", ReadBy.BAY, "10", minutes=5),
            "belongings": then("Move the belongings", ReadBy.BAY, "10", minutes=5),
        },
    ),
    Finding(
        name="power",
        label="Power",
        group=Group.CAR,
        options={"sound": "battery sound", "weak": "battery weak", "accessory": "accessory power only"},
        follows={
            "weak": then("Charger on before windows are moved", ReadBy.BAY, "10", minutes=3, tool="battery charger"),
            "accessory": then("Power off between moves: lights and radio off", ReadBy.BAY, "10"),
        },
    ),
    Finding(
        name="order",
        label="Order",
        group=Group.CAR,
        options={"open": "not confirmed yet", "confirmed": "confirmed with the customer"},
        follows={"open": then("Do not cut before the order is confirmed", ReadBy.CUT, "4")},
    ),
    Finding(name="wishes", label="Wishes", group=Group.CAR, how=Field.TEXT),
)
