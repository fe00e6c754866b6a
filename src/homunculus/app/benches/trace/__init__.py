"""A form traced over a drawing or a photograph."""
