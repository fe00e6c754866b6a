"""One folder a station: its bench drawing and its edits."""
