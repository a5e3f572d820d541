"""What the handlers share: the use cases, made once, and who is asking."""

from __future__ import annotations

from typing import Annotated

from fastapi import Cookie, Depends, Request

from ..core.clearing.plan import use_shelf
from ..core.errors import BirchError
from ..jobs.queue import Queue
from ..service.at_machine import AtMachine
from ..service.backups import Backups
from ..service.bench import Bench
from ..service.bench_page import BenchPage
from ..service.corners import CornersOfRoutes
from ..service.drawings import Drawings
from ..service.fit_book import FitBook
from ..service.looks import Looks
from ..service.machines import Machines
from ..service.made_here import MadePieces
from ..service.measuring import Measuring
from ..service.people import People, Person
from ..service.rack import Rack
from ..service.releases import Releases
from ..service.routes import Routes
from ..service.run_book import RunBook
from ..service.settings_sheets import SettingsSheets
from ..service.shop_data import backup_folder
from ..service.shop_floor import ShopFloor
from ..service.twins import Twins
from ..service.wood_stock import WoodStock
from ..service.woods import Woods
from ..store.database import Database
from ..store.plans import PlanShelf
from .network import HERE_ONLY, Network
from .news import News
from .tries import Tries

COOKIE = "birch_session"


class ForbiddenError(BirchError):
    """Signed in, but not with a role that may."""

    code = "forbidden"


class Services:
    """What the handlers need, made once."""

    def __init__(self, url: str, network: Network = HERE_ONLY) -> None:
        self.url, self.network = url, network
        self.database = Database(url)
        self.queue = Queue(url)
        self.routes = Routes(self.database, self.queue)
        self.drawings = Drawings(self.database, self.queue, self.routes)
        self.made = MadePieces(self.database, self.routes)
        self.corners = CornersOfRoutes(self.database, self.queue)
        self.looks = Looks(self.database, self.queue)
        self.people = People(self.database)
        self.releases = Releases(self.database)
        self.bench = Bench(self.database)
        self.bench_page = BenchPage(self.database)
        self.woods = Woods(self.database)
        self.wood_stock = WoodStock(self.database)
        self.machines = Machines(self.database)
        self.measuring = Measuring(self.database, self.machines)
        self.shop_floor = ShopFloor(self.database)
        self.rack = Rack(self.database)
        self.settings_sheets = SettingsSheets(self.rack)
        self.run_book = RunBook(self.database, self.rack)
        self.at_machine = AtMachine(self.database, self.run_book, self.releases)
        self.fit_book = FitBook(self.database)
        self.twins = Twins(self.database, self.routes)
        self.tries = Tries()
        self.backups = Backups(self.database, backup_folder())
        self.news = News(url)

    def open(self) -> None:
        self.database.open()
        use_shelf(PlanShelf(self.database))
        self.queue.open()
        self.news.start()

    def close(self) -> None:
        self.news.stop()
        self.queue.close()
        self.database.close()


def services_of(request: Request) -> Services:
    return request.app.state.services


def person_of(request: Request, birch_session: Annotated[str | None, Cookie()] = None) -> Person:
    return services_of(request).people.of_session(birch_session or "")


Who = Annotated[Person, Depends(person_of)]
S = Annotated[Services, Depends(services_of)]


def need(person: Person, act: str) -> None:
    if not person.may(act):
        raise ForbiddenError(f"You are signed in as {person.role}; that role may not do this. Ask a planner.")
