"""Slips: what looks like a mistake, and what was said to be right. Imports up to the pipeline."""
