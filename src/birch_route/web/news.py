"""What the worker tells, passed on to every open page as server-sent events."""

from __future__ import annotations

import asyncio
import threading
import time
from collections.abc import AsyncIterator

from fastapi import Request

from ..core.errors import StoreError
from ..store.database import listen


class News:
    """Hears what the worker tells and passes it to every open page."""

    def __init__(self, url: str) -> None:
        self._url, self._stop = url, threading.Event()
        self._listeners: set[tuple[asyncio.AbstractEventLoop, asyncio.Queue[str]]] = set()

    def start(self) -> None:
        threading.Thread(target=self._listen, daemon=True, name="news").start()

    def stop(self) -> None:
        self._stop.set()

    def _listen(self) -> None:
        while not self._stop.is_set():
            try:
                for message in listen(self._url, "birch", 1.0):
                    if self._stop.is_set():
                        return
                    if message is not None:
                        for loop, queue in list(self._listeners):
                            loop.call_soon_threadsafe(queue.put_nowait, message)
            except (StoreError, RuntimeError):
                time.sleep(0.5)

    async def stream(self, request: Request) -> AsyncIterator[str]:
        """Yield server-sent events until the page goes away."""
        queue: asyncio.Queue[str] = asyncio.Queue()
        entry = (asyncio.get_running_loop(), queue)
        self._listeners.add(entry)
        try:
            yield "retry: 1000\n\n"
            while not self._stop.is_set():
                try:
                    yield f"data: {await asyncio.wait_for(queue.get(), 10)}\n\n"
                except TimeoutError:
                    yield ": still here\n\n"
                if await request.is_disconnected():
                    return
        finally:
            self._listeners.discard(entry)
