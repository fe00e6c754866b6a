"""One planner for each stage of the line; :mod:`homunculus.core.plan` composes them."""
