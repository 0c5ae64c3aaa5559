"""People: signing in and out, joining by a one-time code, who works here, devices signed in, who did what."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

import segno
from flask import Response, current_app, g, request
from pydantic import Field

from olvask.core.model.base import Described, choice, tick
from olvask.store.people import ROLES, NoSuchPerson, Person, Role
from olvask.web import signing_in
from olvask.web.allowed import LOOPBACK, host_only
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, stores
from olvask.web.repeated import once_a_name
from olvask.web.shapes import Out
from olvask.web.signing_in import owner_only


class PersonOut(Out):
    """Somebody who works here."""

    id: int
    name: str
    initials: str
    role: Role
    active: bool

    @classmethod
    def of(cls, person: Person) -> PersonOut:
        """From the store's person."""
        return cls(id=person.id, name=person.name, initials=person.initials, role=person.role, active=person.active)


class MeOut(Out):
    """Who asks, and whether anybody has to say so."""

    required: bool
    person: PersonOut | None


class SignPersonIn(Described):
    """Name and password."""

    name: str = Field(title="Name", min_length=1, max_length=80)
    password: str = Field(title="Password", min_length=1, max_length=200)


class CodeIn(Described):
    """A one-time code."""

    code: str = Field(title="Code", min_length=8, max_length=80)


class CodeLooked(Out):
    """What a code is for."""

    fresh: bool = Field(description="whether somebody new joins, who has to choose a password")
    name: str
    role: Role


class JoinIn(CodeIn):
    """A code used, and by somebody new their name and password."""

    name: str = Field("", title="Name", max_length=80)
    initials: str = Field("", title="Initials", max_length=12)
    password: str = Field("", title="Password", max_length=200)


class PasswordIn(Described):
    """Another password."""

    password: str = Field(title="Password", min_length=1, max_length=200)


class InviteIn(Described):
    """Somebody who is to join."""

    name: str = Field("", title="Name", max_length=80)
    initials: str = Field("", title="Initials", max_length=12)
    role: Literal["owner", "fitter"] = choice("May do", ROLES, default="fitter")


class RoleIn(Described):
    """What somebody may do, and whether they work here."""

    role: Literal["owner", "fitter"] = choice("May do", ROLES)
    active: bool = tick("Works here", default=True)


class InvitationOut(Out):
    """A one-time code, the address that uses it, and that address as a QR code."""

    address: str
    svg: str


class SignedInOut(Out):
    """A device somebody is signed in with."""

    id: int
    person: int
    device: str
    seen_at: datetime
    here: bool = Field(description="whether it is the one that asks")


class PeopleOut(Out):
    """Everybody, and the devices they are signed in with."""

    people: tuple[PersonOut, ...]
    devices: tuple[SignedInOut, ...]


class DeedOut(Out):
    """Who did what."""

    at: datetime
    person: str
    what: str
    job: int | None


class DeedsOut(Out):
    """Who did what, the latest first."""

    total: int
    deeds: tuple[DeedOut, ...]


class DeedsQuery(Described):
    """Which part of it."""

    begin: int = Field(0, title="From row", ge=0, le=10_000_000)
    rows: int = Field(50, title="Rows", ge=1, le=200)


def _me(person: Person | None) -> MeOut:
    return MeOut(required=signing_in.required(), person=PersonOut.of(person) if person is not None else None)


def _device() -> str:
    """What a request comes from, in a few words of its browser's name."""
    agent = request.user_agent.string
    kind = "phone" if "Mobile" in agent else "computer"
    system = next((name for name in ("Android", "iPhone", "iPad", "Windows", "Mac", "Linux") if name in agent), "")
    return f"{kind}{f', {system}' if system else ''}"


@api.get("/me")
@api.output(MeOut)
def me() -> Response:
    """Who asks, and whether anybody has to sign in."""
    return answer_json(_me(signing_in.person()))


@api.post("/sign-in")
@api.input(SignPersonIn, arg_name="asked")
@api.output(MeOut)
def sign_in(asked: SignPersonIn) -> Response:
    """Sign in."""
    signing_in.count_try()
    person, token = stores().people.sign_in(asked.name, asked.password, _device())
    return signing_in.begin(answer_json(_me(person)), token)


@api.post("/sign-out")
@api.output(MeOut)
def sign_out() -> Response:
    """Sign out on this device."""
    if g.session_number is not None:
        stores().people.sign_out(g.session_number)
    g.person = None
    return signing_in.end(answer_json(_me(None)))


@api.post("/join/look")
@api.input(CodeIn, arg_name="asked")
@api.output(CodeLooked)
def look_at_code(asked: CodeIn) -> Response:
    """What a one-time code is for."""
    signing_in.count_try()
    fresh, name, role = stores().people.look(asked.code)
    return answer_json(CodeLooked(fresh=fresh, name=name, role=role))


@api.post("/join")
@api.input(JoinIn, arg_name="asked")
@api.output(MeOut)
def join(asked: JoinIn) -> Response:
    """Join by a one-time code: a phone of somebody's, or somebody new."""
    signing_in.count_try()
    person, token = stores().people.join(asked.code, _device(), asked.name, asked.initials, asked.password)
    return signing_in.begin(answer_json(_me(person)), token)


@api.put("/me/password")
@api.input(PasswordIn, arg_name="asked")
@api.output(MeOut)
def change_password(asked: PasswordIn) -> Response:
    """Choose another password; every other device is signed out."""
    person = signing_in.person()
    if person is None:
        raise NoSuchPerson("nobody signed in")
    stores().people.change_password(person.id, asked.password, g.session_number)
    return answer_json(_me(person))


def _invitation(code: str) -> Response:
    """A code as an address that a phone can reach, and as a picture."""
    host = request.host
    if host_only(host) in LOOPBACK:
        reached = sorted(current_app.extensions["olvask.hosts"] - LOOPBACK)
        port = host[len(host_only(host)) :]
        host = f"{reached[0]}{port}" if reached else host
    address = f"{request.scheme}://{host}/join#{code}"
    svg = segno.make(address, error="m").svg_inline(scale=4, border=2, dark="#20262B", light="#FFFFFF")
    return answer_json(InvitationOut(address=address, svg=svg))


@api.post("/people")
@api.input(InviteIn, arg_name="asked")
@api.output(InvitationOut)
@owner_only
@once_a_name
def invite(asked: InviteIn) -> Response:
    """Invite somebody by a one-time code."""
    return _invitation(stores().people.invite(asked.role, asked.name, asked.initials))


@api.get("/people")
@api.output(PeopleOut)
@owner_only
def people() -> Response:
    """Everybody, and the devices they are signed in with."""
    here = getattr(g, "session_number", None)
    devices = stores().people.sessions()
    return answer_json(
        PeopleOut(
            people=tuple(PersonOut.of(person) for person in stores().people.all()),
            devices=tuple(
                SignedInOut(
                    id=item.id, person=item.person_id, device=item.device, seen_at=item.seen_at, here=item.id == here
                )
                for item in devices
            ),
        )
    )


@api.put("/people/<int:number>")
@api.input(RoleIn, arg_name="asked")
@api.output(PersonOut)
@owner_only
def set_role(number: int, asked: RoleIn) -> Response:
    """Say what somebody may do, and whether they work here."""
    return answer_json(PersonOut.of(stores().people.set_role(number, asked.role, asked.active)))


@api.post("/people/<int:number>/code")
@api.output(InvitationOut)
@owner_only
def code_for(number: int) -> Response:
    """A one-time code by which a device of somebody's joins, as after a forgotten password."""
    return _invitation(stores().people.code_for(number))


@api.post("/me/code")
@api.output(InvitationOut)
def my_code() -> Response:
    """A one-time code by which another device of one's own joins."""
    person = signing_in.person()
    if person is None:
        raise NoSuchPerson("nobody signed in")
    return _invitation(stores().people.code_for(person.id))


@api.delete("/devices/<int:number>")
@api.output(MeOut)
def sign_device_out(number: int) -> Response:
    """Sign a device out: one's own, or as an owner anybody's."""
    person = signing_in.person()
    stores().people.sign_out(number, None if person is None or person.role == "owner" else person.id)
    return answer_json(_me(person))


@api.get("/deeds")
@api.input(DeedsQuery, location="query", arg_name="asked")
@api.output(DeedsOut)
@owner_only
def deeds(asked: DeedsQuery) -> Response:
    """Who did what, the latest first."""
    total, found = stores().people.deeds(asked.begin, asked.rows)
    return answer_json(
        DeedsOut(
            total=total,
            deeds=tuple(DeedOut(at=item.at, person=item.person, what=item.what, job=item.job_id) for item in found),
        )
    )
