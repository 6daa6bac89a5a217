"""Customers as their screens show them, and what they send."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, Id, LongText, ShortText, Version, Words
from elumbra.core.deeds import State


class VehicleOut(BaseModel):
    """A car that was here."""

    id: str
    version: int
    label: str
    plate: str
    vin: str
    note: str


class CustomerBrief(BaseModel):
    """A customer in a list."""

    id: str
    name: str
    phone: str
    email: str


class CustomerList(BaseModel):
    """A page of customers, by name."""

    customers: list[CustomerBrief]
    page: int
    pages: int
    total: int


class CustomerJob(BaseModel):
    """A job of a customer."""

    id: str
    number: int
    title: str
    vehicle_label: str
    status: State
    handed_over_on: str


class CustomerOut(CustomerBrief):
    """A customer with cars and jobs."""

    version: int
    note: str
    erased_on: str
    merged_into: str | None
    archived: bool  # a lead took it out of lists and search
    vehicles: list[VehicleOut]
    jobs: list[CustomerJob]


class OwnerOut(BaseModel):
    """Whose car a job is about."""

    customer: CustomerBrief | None
    vehicle: VehicleOut | None
    name: str  # as the job has it


class FindQuery(BaseModel):
    """What is looked for."""

    search: Annotated[str, Field(max_length=120)] = ""
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


class HitOut(BaseModel):
    """Something found, and where it is."""

    kind: str
    words: str
    detail: str
    to: str


class FindOut(BaseModel):
    """What was found."""

    hits: list[HitOut]


class CustomerBody(Body):
    """A customer."""

    name: Words
    phone: ShortText = ""
    email: ShortText = ""
    note: LongText = ""


class CustomerPatch(Body):
    """What of a customer is changed."""

    version: Version
    name: Words | None = None
    phone: ShortText | None = None
    email: ShortText | None = None
    note: LongText | None = None


class OwnerBody(Body):
    """Whose car a job is about; ids of what is on file, none for new ones."""

    customer_id: Id | None = None
    name: Words
    phone: ShortText = ""
    email: ShortText = ""
    vehicle_id: Id | None = None
    plate: ShortText = ""
    vin: ShortText = ""
    version: Version  # of the job


class MergeBody(Body):
    """Two records of one customer become one."""

    into: Id
    version: Version


class EraseBody(Body):
    """The name typed once more, so that nobody is erased by mistake."""

    name: Words
    version: Version
