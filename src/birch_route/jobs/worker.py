"""A worker process: `python -m birch_route.jobs.worker [live|heavy]`. Takes stalled jobs up again when it starts."""

from __future__ import annotations

import asyncio
import logging
import os
import sys

from ..core.heights.warm import compile_kernels
from ..store.database import Database
from . import tasks
from .queue import LIVE, QUEUES, make_app


async def _run(url: str, queue: str) -> None:
    app = make_app(url)
    async with app.open_async():
        for job in await app.job_manager.get_stalled_jobs(queue=queue, seconds_since_heartbeat=0):
            await app.job_manager.retry_job(job)
        await app.run_worker_async(queues=[queue], concurrency=1, fetch_job_polling_interval=5.0, delete_jobs="always")


def main() -> int:
    """Run until told to stop."""
    logging.basicConfig(level=logging.WARNING)
    url = os.environ["BIRCH_DATABASE_URL"]
    database = Database(url, most=3)
    database.open()
    tasks.use_database(database)
    queue = sys.argv[1] if len(sys.argv) > 1 and sys.argv[1] in QUEUES else LIVE
    if queue == LIVE:
        compile_kernels(clearing=False)  # those for bounded engagement are loaded when first asked for
    try:
        asyncio.run(_run(url, queue))
    except KeyboardInterrupt:
        return 0
    finally:
        database.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
