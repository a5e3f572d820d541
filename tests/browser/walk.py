"""A person at the screen, reckoned: what each press, key, reading and new panel takes, and the waits as they were.

Rates: 1.5 s a press, 0.3 s a key, 5 s a reading by caliper, 3 s to find each new panel.
"""

from __future__ import annotations

import time
from dataclasses import dataclass, field
from typing import Any

PRESS_S, KEY_S, READING_S, PANEL_S = 1.5, 0.3, 5.0, 3.0


@dataclass
class Walk:
    """A walk over pages by hand. page: of Playwright."""

    page: Any
    presses: int = 0
    keys: int = 0
    readings: int = 0
    panels: int = 0
    waited_s: float = 0.0
    told: list[str] = field(default_factory=list)

    @property
    def minutes(self) -> float:
        hands = self.presses * PRESS_S + self.keys * KEY_S + self.readings * READING_S + self.panels * PANEL_S
        return (hands + self.waited_s) / 60

    def press(self, locator: Any) -> None:
        """Press something that is there, or soon is."""
        self.wait(locator)
        locator.click()
        self.presses += 1

    def type(self, locator: Any, text: str, end: str = "Enter") -> None:
        """Press into a field, replace what is in it, end with a key."""
        self.press(locator)
        locator.fill(text)
        locator.press(end)
        self.keys += len(text) + 2

    def pick(self, locator: Any, words: str) -> None:
        """Open a list and press one of it."""
        self.press(locator)
        self.press(self.page.get_by_role("option", name=words).first)

    def panel(self, name: str) -> None:
        """Find one's way in a panel that is new."""
        self.panels += 1
        self.told.append(f"{self.minutes:5.1f} min  {name}")

    def wait(self, locator: Any, seconds: float = 60.0) -> None:
        """Wait for something; what it takes counts."""
        began = time.monotonic()
        locator.wait_for(timeout=seconds * 1000)
        self.waited_s += time.monotonic() - began

    def __str__(self) -> str:
        return (
            "\n".join(self.told) + f"\n{self.minutes:.1f} min: {self.presses} presses, {self.keys} keys, "
            f"{self.readings} readings, {self.panels} panels, {self.waited_s:.0f} s waited"
        )
