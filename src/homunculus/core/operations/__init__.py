"""Kinds of operations, a file each; who asks, asks the register."""
