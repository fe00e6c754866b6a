"""What performance is judged by; `python -m benchmarks` prints every ratio."""
