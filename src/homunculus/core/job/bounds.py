"""Numbers with bounds: part of the types of a job, so that files and typed values are held to the same limits."""

from __future__ import annotations

from datetime import datetime, time
from typing import Annotated

from msgspec import Meta

Positive = Annotated[float, Meta(gt=0)]
NotNegative = Annotated[float, Meta(ge=0)]
Share = Annotated[float, Meta(ge=0, le=1)]
Chance = Annotated[float, Meta(ge=0.01, le=1)]
Confidence = Annotated[float, Meta(ge=0.5, le=0.999)]
Celsius = Annotated[float, Meta(ge=-50, le=300)]
Denominator = Annotated[float, Meta(ge=0.001, le=1000)]
Thickness = Annotated[float, Meta(ge=0.0005, le=0.2)]
CoatThickness = Annotated[float, Meta(ge=1e-6, le=0.2)]
"""Of one coat, in metres: from a film of paint on."""
Stop = Annotated[float, Meta(ge=0.5, le=128)]
Count = Annotated[int, Meta(ge=0, le=100000)]
Size = Annotated[float, Meta(ge=1e-6, le=100_000)]
"""Of a thing, in metres: from a micrometre to a hundred kilometres."""
Length = Annotated[float, Meta(ge=0, le=100_000)]
Coordinate = Annotated[float, Meta(ge=-100_000, le=100_000)]
Kilograms = Annotated[float, Meta(ge=1e-6, le=1e7)]
Vessel = Annotated[float, Meta(ge=1e-6, le=100)]
"""In cubic metres: from a thimble to a tank."""
Lag = Annotated[float, Meta(ge=0, le=30 * 86400)]
"""In seconds."""
Handling = Annotated[float, Meta(ge=0, le=86400)]
"""In seconds, or in seconds a kilogram."""
Duration = Annotated[float, Meta(ge=0, le=7.2e7)]
"""In seconds: up to twenty thousand hours."""
Seconds = Annotated[float, Meta(ge=0.001, le=1e8)]
"""On screen, or of an event: up to three years."""
Rate = Annotated[float, Meta(ge=1e-6, le=1e6)]
"""Frames per second."""
Sensor = Annotated[float, Meta(ge=0.0005, le=1)]
"""Width of a sensor or film gate in metres."""
Moment = Annotated[datetime, Meta(tz=False)]
"""Naive local, as people write them; a moment with a zone would be another one wherever it is opened."""
ClockTime = Annotated[time, Meta(tz=False)]
FileName = Annotated[str, Meta(pattern=r"^(?:[0-9A-Za-z_][0-9A-Za-z_.-]{0,120})?$")]
"""Of a file in a folder of the job; nothing that leads out of it."""
Words = Annotated[str, Meta(max_length=20_000)]
Known = Annotated[float, Meta(ge=-1e9, le=1e12)]
"""A value of a card."""
