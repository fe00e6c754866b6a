"""How many exactly: counts, yields, sign-offs and the frozen number."""
