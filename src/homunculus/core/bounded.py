"""Numbers with bounds: part of the types of a job, so that files and typed values are held to the same limits."""

from __future__ import annotations

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
Stop = Annotated[float, Meta(ge=0.5, le=128)]
Count = Annotated[int, Meta(ge=0, le=100000)]
