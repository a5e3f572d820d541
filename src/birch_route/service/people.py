"""Use cases over people: one-time sign-in links, sessions, roles."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass

from ..core.errors import BirchError
from ..store.database import Database


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


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
