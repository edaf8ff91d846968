"""Quantity calculus and the constants of nature. Imports nothing of the core but its errors."""
