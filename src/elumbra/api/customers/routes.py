"""URLs of customers and of the one search."""

from __future__ import annotations

from elumbra.api.base.bodies import IdPath
from elumbra.api.base.roles import EVERYONE, LEAD, allow
from elumbra.api.customers import operations
from elumbra.api.customers.schemas import (
    CustomerBody,
    CustomerList,
    CustomerOut,
    CustomerPatch,
    EraseBody,
    FindOut,
    FindQuery,
    MergeBody,
    OwnerBody,
    OwnerOut,
)
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, download, read, write

bp = Blueprint("customers", __name__, url_prefix="/api")


@bp.get("/find", responses={200: FindOut, **ERRORS})
@allow(EVERYONE)
def find(query: FindQuery) -> Response:
    """One search over jobs, customers, films and the rack."""
    return answer(read(lambda session: operations.find(session, query)))


@bp.get("/customers", responses={200: CustomerList, **ERRORS})
@allow(EVERYONE)
def list_customers(query: FindQuery) -> Response:
    """A page of customers."""
    return answer(read(lambda session: operations.list_customers(session, query)))


@bp.post("/customers", responses={201: CustomerOut, **ERRORS})
@allow(EVERYONE)
def create_customer(body: CustomerBody) -> Response:
    """A new customer."""
    made = write(lambda session: operations.create(session, body, person_id=acting().id))
    return answer(read(lambda session: operations.customer(session, made)), 201)


@bp.get("/customers/<string:id>", responses={200: CustomerOut, **ERRORS})
@allow(EVERYONE)
def show_customer(path: IdPath) -> Response:
    """A customer with cars and jobs."""
    return answer(read(lambda session: operations.customer(session, path.id)))


@bp.patch("/customers/<string:id>", responses={200: CustomerOut, **ERRORS})
@allow(EVERYONE)
def change_customer(path: IdPath, body: CustomerPatch) -> Response:
    """Change a customer."""
    write(lambda session: operations.change(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: operations.customer(session, path.id)))


@bp.post("/customers/<string:id>/merge", responses={200: CustomerOut, **ERRORS})
@allow(LEAD)
def merge_customers(path: IdPath, body: MergeBody) -> Response:
    """Two records of one person become one."""
    into = write(lambda session: operations.merge(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: operations.customer(session, into)))


@bp.get("/customers/<string:id>/export", responses={200: None, **ERRORS})
@allow(LEAD, money=True)
def export_customer(path: IdPath) -> Response:
    """All that is on file of one person."""
    name, content = read(lambda session: operations.export(session, path.id))
    return download(content, name=f"{name}.json", mimetype="application/json")


@bp.post("/customers/<string:id>/erase", responses={200: CustomerOut, **ERRORS})
@allow(LEAD)
def erase_customer(path: IdPath, body: EraseBody) -> Response:
    """Erase one person by request."""
    write(lambda session: operations.erase(session, path.id, body, person=acting()))
    return answer(read(lambda session: operations.customer(session, path.id)))


@bp.get("/jobs/<string:id>/owner", responses={200: OwnerOut, **ERRORS})
@allow(EVERYONE)
def show_owner(path: IdPath) -> Response:
    """Whose car a job is about."""
    return answer(read(lambda session: operations.owner(session, path.id)))


@bp.put("/jobs/<string:id>/owner", responses={200: OwnerOut, **ERRORS})
@allow(EVERYONE)
def keep_owner(path: IdPath, body: OwnerBody) -> Response:
    """Say whose car it is."""
    write(lambda session: operations.keep_owner(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: operations.owner(session, path.id)))
