"""What was written down: parsing, instruments, logs, conversion, places typed on an axis. Imports up to formulas."""
