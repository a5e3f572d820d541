"""A worker process: `python -m birch_route.jobs.worker [live|heavy]`. Its heartbeat says that it lives; what a worker
without one was at is taken up by the others, one of them at a time. A start says nothing of who else is at work."""

from __future__ import annotations

import asyncio
import logging
import os
import sys

from procrastinate import App
from procrastinate.exceptions import AppNotOpen, ConnectorException

from ..core.errors import StoreError
from ..core.heights.warm import compile_kernels
from ..store.database import Database
from . import tasks
from .queue import LIVE, QUEUES, make_app

BEAT_S, GONE_S = 1.0, 20.0  # between heartbeats; a worker without one for so long is gone
LOOK_S, LATE_S = 2.0, 2.0  # between looks for what others left; a look so late says nothing


async def _run(url: str, queue: str, database: Database) -> None:
    app = make_app(url)
    async with app.open_async():
        looking = asyncio.create_task(_take_up(app, queue, database))
        try:
            await app.run_worker_async(
                queues=[queue],
                concurrency=1,
                fetch_job_polling_interval=5.0,
                delete_jobs="always",
                update_heartbeat_interval=BEAT_S,
                stalled_worker_timeout=GONE_S,
            )
        finally:
            looking.cancel()


async def _take_up(app: App, queue: str, database: Database) -> None:
    """Put the jobs of workers that are gone back into the queue, again and again."""
    loop = asyncio.get_running_loop()
    while True:
        asked = loop.time()
        await asyncio.sleep(LOOK_S)
        if loop.time() - asked > LOOK_S + LATE_S:
            continue  # this worker itself was held up; its own heart may not have beaten since
        try:
            with database.transaction() as t:
                if t.one("try_take_up", queue=queue)["mine"]:
                    for job in await app.job_manager.get_stalled_jobs(queue=queue, seconds_since_heartbeat=GONE_S):
                        await app.job_manager.retry_job(job)
        except (StoreError, AppNotOpen, ConnectorException):
            continue  # the database is away; the next look tries again


def work(url: str, queue: str) -> int:
    """Work until told to stop."""
    logging.basicConfig(level=logging.WARNING)
    database = Database(url, most=4)
    database.open()
    tasks.use_database(database)
    if queue == LIVE:
        compile_kernels(clearing=False)  # those for bounded engagement are loaded when first asked for
    try:
        asyncio.run(_run(url, queue, database))
    except KeyboardInterrupt:
        return 0
    finally:
        database.close()
    return 0


def main() -> int:
    """Work on the queue that is named, for the database of the environment."""
    queue = sys.argv[1] if len(sys.argv) > 1 and sys.argv[1] in QUEUES else LIVE
    return work(os.environ["BIRCH_DATABASE_URL"], queue)


if __name__ == "__main__":
    sys.exit(main())
