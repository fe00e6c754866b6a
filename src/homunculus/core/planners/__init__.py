"""One planner for each group of figures; :mod:`homunculus.core.plan.planning` knows their order."""
