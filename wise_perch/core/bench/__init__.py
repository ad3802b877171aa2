"""Running a test: its sheet, layout, limits and test days."""
