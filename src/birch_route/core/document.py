"""What every document type shares: its base, bounded numbers, ids and names."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from .plane.curves import Mm

Id = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[a-z0-9_]+$")]
NonNegative = Annotated[Mm, Field(ge=0)]
Above = Annotated[Mm, Field(gt=0)]
Name = Annotated[str, Field(min_length=1, max_length=80)]


class Model(BaseModel):
    """Base of every document type: unknown fields are refused, values frozen."""

    model_config = ConfigDict(extra="forbid", frozen=True)
