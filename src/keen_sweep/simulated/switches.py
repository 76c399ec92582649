"""What the simulated service does wrong, and how slowly."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field


class Switches(BaseModel):
    """delay: seconds that a painting takes besides the work; ahead: strangers before each new one in the queue, each as
    long as the delay; refuse_skin: areas that look like skin are refused; policy: if any, the reason for which all are;
    fails: paintings fail; turn_away: so many requests more are told to come back after some seconds (429); trouble: so
    many requests more get an error (503); outage: all do; flat: it paints one flat colour, in milliseconds; drip: bytes
    a second of a picture, 0 as fast as it goes; broken: answers that are no JSON, pictures that are cut off or of
    another size; dies: the process ends at once while it paints, or when a painting is paid and its answer not sent
    yet."""

    model_config = ConfigDict(extra="forbid")

    delay: float = Field(default=1.0, ge=0, le=600)
    ahead: int = Field(default=0, ge=0, le=100)
    refuse_skin: bool = True
    policy: str = Field(default="", max_length=300)
    fails: bool = False
    turn_away: int = Field(default=0, ge=0)
    retry_after: float = Field(default=1.0, ge=0, le=3600)
    trouble: int = Field(default=0, ge=0)
    outage: bool = False
    flat: bool = False
    drip: int = Field(default=0, ge=0)
    broken: Literal["", "words", "picture", "size"] = ""
    dies: Literal["", "painting", "paid"] = ""
