"""JSON from outside, read strictly: what no field can take is refused where it stands."""

from __future__ import annotations

import json
import math
from typing import Any

from ..core.errors import InputError

LONGEST_WHOLE = 18  # digits; the longest whole number a database keeps has 19


def read_json(data: bytes | str, name: str) -> Any:
    """Return what JSON text holds.

    Args:
        data: UTF-8, or text.
        name: of the file or of what was sent, as a sentence begins with it.

    Raises:
        InputError: no UTF-8, no JSON, nested too deep, a number too long or without end, text with half a character
            or an empty one; says where.
    """
    try:
        text = data if isinstance(data, str) else data.decode("utf-8-sig")
        found = json.loads(text, parse_int=_whole, parse_float=_decimal, parse_constant=_decimal)
        _look(found, ())
    except UnicodeDecodeError as exc:
        raise InputError(f"{name} is no text. Choose one that was written by Birch Route.", where=name) from exc
    except json.JSONDecodeError as exc:
        words = f"{name} stops making sense at line {exc.lineno}, column {exc.colno}; it may be cut short."
        raise InputError(words, where=name) from exc
    except RecursionError as exc:
        raise InputError(f"{name} is nested too deep to be read.", where=name) from exc
    return found


def _whole(text: str) -> int:
    if len(text) > LONGEST_WHOLE:
        raise InputError(f"A whole number of {len(text)} digits is longer than any that is read.", where=text[:20])
    return int(text)


def _decimal(text: str) -> float:
    value = float(text)
    if not math.isfinite(value):
        raise InputError(f"It holds {text[:20]}, which is not a number anyone can cut.", where=text[:20])
    return value


def _look(data: Any, where: tuple[str, ...]) -> None:
    """Refuse text that cannot be kept."""
    if isinstance(data, str):
        if "\x00" in data or any("\ud800" <= c <= "\udfff" for c in data):
            place = ".".join(where) or "text"
            raise InputError(f"{place} holds half a character or an empty one. Type it anew.", where=place)
    elif isinstance(data, dict):
        for key, value in data.items():
            _look(key, (*where, "a name"))
            _look(value, (*where, key))
    elif isinstance(data, list):
        for n, value in enumerate(data):
            _look(value, (*where, str(n)))
