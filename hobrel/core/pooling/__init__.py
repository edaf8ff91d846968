"""Bringing the benches' results together, and pointing out the one that is off."""
