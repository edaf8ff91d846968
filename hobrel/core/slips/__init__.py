"""What looks like a mistake in a table of readings."""
