"""Use cases over people: one-time sign-in links, sessions, roles."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from typing import Any

from ..core.errors import BirchError, InputError
from ..store.database import Database, Row, Transaction


class NotAllowedError(BirchError):
    """Not signed in, or not with this role."""

    code = "not_allowed"


@dataclass(frozen=True)
class Person:
    id: int
    name: str
    role: str

    def may(self, act: str) -> bool:
        """Say whether the role allows an act: edit, release, record or look."""
        return act in {"planner": {"edit", "release", "record", "look"}, "operator": {"record", "release", "look"}, "viewer": {"look"}}[self.role]


class People:
    """People of the shop."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def new_link(self, name: str, role: str) -> str:
        """Return a one-time token that signs a person in; only its hash is kept."""
        token = secrets.token_urlsafe(24)
        with self._database.transaction() as t:
            person = t.one("add_person", name=name, role=role)
            t.do("add_link", token_hash=_digest(token), person=person["id"])
        return token

    def rows(self) -> list[dict[str, Any]]:
        """Return the people of the shop with how often they are signed in."""
        with self._database.transaction() as t:
            rows = t.all("people")
        return [{**r, "seen_at": r["seen_at"].isoformat() if r["seen_at"] else None} for r in rows]

    def first_planner(self) -> str:
        """Return the name of the planner who was first here; a shop without people has an owner."""
        return next((r["name"] for r in self.rows() if r["role"] == "planner"), "Owner")

    def add(self, name: str, role: str) -> str:
        """Add a person; return the token of a link that signs in once.

        Raises:
            InputError: no name, or one that is taken.
        """
        name = name.strip()
        if not name:
            raise InputError("Give the person a name: it stands in what they change and record.", where="name")
        with self._database.transaction() as t:
            if t.maybe("person_named", name=name) is not None:
                raise InputError(f"{name} is here already. Make a new link, or use another name.", where="name")
        return self.new_link(name, role)

    def link_for(self, person: int) -> str:
        """Return the token of a new link for somebody who is here.

        Raises:
            InputError: nobody has this number.
        """
        token = secrets.token_urlsafe(24)
        with self._database.transaction() as t:
            _there(t, person)
            t.do("add_link", token_hash=_digest(token), person=person)
        return token

    def change(self, person: int, name: str, role: str) -> None:
        """Rename a person or give them another role; what they did keeps the name it was done under.

        Raises:
            InputError: no name, a taken one, nobody of this number, or nobody would be left who plans.
        """
        if not name.strip():
            raise InputError("A person needs a name.", where="name")
        with self._database.transaction() as t:
            t.do("lock_people")
            before = _there(t, person)
            other = t.maybe("person_named", name=name.strip())
            if other is not None and other["id"] != person:
                raise InputError(f"{name.strip()} is somebody else here.", where="name")
            planners = [r["id"] for r in t.all("people") if r["role"] == "planner"]
            if before["role"] == "planner" and role != "planner" and planners == [person]:
                raise InputError(f"{before['name']} is the only planner. Make somebody else one first.", where="role")
            t.do("change_person", person=person, name=name.strip(), role=role)

    def sign_out_everywhere(self, person: int) -> None:
        """End every session of a person, and the links they did not use.

        Raises:
            InputError: nobody has this number.
        """
        with self._database.transaction() as t:
            _there(t, person)
            t.do("end_sessions_of", person=person)
            t.do("end_links_of", person=person)

    def sign_in(self, token: str) -> str:
        """Use a link's token once; return a session token.

        Raises:
            NotAllowedError: used already, expired or unknown.
        """
        with self._database.transaction() as t:
            row = t.maybe("use_link", token_hash=_digest(token))
            if row is None:
                raise NotAllowedError("This sign-in link was used already or is too old. Start Birch Route again for a new one.")
            session = secrets.token_urlsafe(24)
            t.do("add_session", token_hash=_digest(session), person=row["person"])
        return session

    def of_session(self, session: str) -> Person:
        """Return who a session belongs to.

        Raises:
            NotAllowedError: no such session.
        """
        with self._database.transaction() as t:
            row = t.maybe("session_person", token_hash=_digest(session)) if session else None
        if row is None:
            raise NotAllowedError("You are not signed in. Open the sign-in link that ./birch printed.")
        return Person(row["id"], row["name"], row["role"])

    def sign_out(self, session: str) -> None:
        """End a session."""
        with self._database.transaction() as t:
            t.do("end_session", token_hash=_digest(session))


def _there(t: Transaction, person: int) -> Row:
    row = t.maybe("person_numbered", person=person)
    if row is None:
        raise InputError(f"There is no person {person} in this shop.", where="person")
    return row


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
