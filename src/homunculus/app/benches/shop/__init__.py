"""The shop that all builds share: its day and week, its people, ovens, vessels, machines and stage, drawn to scale."""
