"""People, devices and doors as the owner sees them."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, Password, Version, Words
from elumbra.api.base.day_words import Day, Hours
from elumbra.core.schedule import Skill

WorksAs = Literal["owner", "lead", "installer", "learner", "counter"]


class PersonCard(BaseModel):
    """Somebody who works here, as the owner sees him."""

    id: str
    version: int
    name: str
    role: str
    removed: bool
    skills: list[Skill]
    hours: Hours | None  # None: as the shop
    days_off: list[str]
    prices: bool
    password: bool
    pin: bool
    to_be_changed: bool
    here: int  # screens at which he sits now


class DeviceOut(BaseModel):
    """An enrolled device."""

    id: str
    version: int
    name: str
    enrolled_by: str
    at: datetime
    this_one: bool


class DoorsOut(BaseModel):
    """What is opened to whom."""

    lan: bool
    addresses: list[str]  # https, in the shop
    plain: str  # where a device fetches the shop's authority from
    fingerprint: str
    idle_minutes_bench: int
    idle_minutes_device: int
    home: bool
    version: int
    told: list[str]


class PeopleOut(BaseModel):
    """People, devices and doors."""

    people: list[PersonCard]
    devices: list[DeviceOut]
    doors: DoorsOut


class PersonCreate(Body):
    """Somebody new, with a first password that he changes when he first signs in."""

    name: Words
    role: WorksAs
    password: Password


class PersonPatch(Body):
    """Changes of somebody; only what is sent is changed."""

    version: Version
    name: Words | None = None
    role: WorksAs | None = None
    skills: Annotated[list[Skill], Field(max_length=20)] | None = None
    hours: Hours | None = None
    own_hours: bool | None = None  # no: back to the shop's
    days_off: Annotated[list[Day], Field(max_length=400)] | None = None
    prices: bool | None = None


class NewPasswordBody(Body):
    """A password that the owner gives somebody, until he changes it."""

    password: Password
    version: Version


class DoorsBody(Body):
    """How long nobody may touch a screen before it is locked; whether this is a home."""

    idle_minutes_bench: Annotated[int, Field(ge=1, le=1440)]
    idle_minutes_device: Annotated[int, Field(ge=1, le=10_080)]
    home: bool
    version: Version


class EnrolmentOut(BaseModel):
    """A code for one device, with where to type it."""

    code: str
    until: datetime
    address: str
    qr_svg: str
