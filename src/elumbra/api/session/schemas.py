"""Who is acting, and how somebody says who he is."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, Id, Password, Words

Secret = Annotated[str, Field(min_length=1, max_length=200)]
Pin = Annotated[str, Field(pattern=r"^[0-9]{4,8}$")]


class OwnSettings(BaseModel):
    """How somebody likes his screens; it goes with him from device to device."""

    unit: Literal["in", "mm"] | None = None
    setting: Literal["bench", "bay-light", "bay-dark"] | None = None
    text: Literal["normal", "large", "largest"] | None = None


class SeatedOut(BaseModel):
    """Who sits at this screen."""

    id: str
    name: str
    role: str
    prices: bool  # whether he sees prices
    pin: bool  # whether he has one
    settings: OwnSettings
    settings_version: int


class NameOut(BaseModel):
    """Somebody who could sign in."""

    id: str
    name: str
    role: str
    pin: bool
    no_password: bool  # he sets one when he first signs in, at the machine itself


class SessionOut(BaseModel):
    """Who is acting, and who could be."""

    person: SeatedOut | None
    people: list[NameOut]  # none on a device that nobody enrolled: there a name is typed
    first_start: bool  # nobody owns this shop yet
    home: bool  # one person, at home, with no account
    device: str  # name under which this device is enrolled; empty: it is not
    at_the_machine: bool
    secure: bool  # https, or the machine itself: pages may be kept for when the server is away
    must_change: bool  # the password was made up by somebody else
    ended: str  # why nobody sits here any more
    known_passwords: dict[str, str]  # of the demo, by person
    version: str


class SignInBody(Body):
    """Who signs in, by what; nobody: whoever sits there leaves."""

    person_id: Id | None = None
    name: Words | None = None  # where the list is not shown
    password: Secret | None = None
    pin: Secret | None = None


class FirstOwnerBody(Body):
    """The first person of a new shop."""

    name: Words
    password: Password | None = None
    home: bool = False


class OwnPasswordBody(Body):
    """A new password of one's own."""

    old: Secret | None = None
    new: Password


class OwnPinBody(Body):
    """A PIN for enrolled devices; none takes it away."""

    password: Secret
    pin: Pin | None


class OwnSettingsBody(Body):
    """How somebody likes his screens."""

    settings: OwnSettings
    version: Annotated[int, Field(ge=0)]


class EnrolBody(Body):
    """A device that is enrolled by a code which the owner gave out."""

    code: Annotated[str, Field(min_length=4, max_length=40)]
    name: Words
