"""Cases made at random, with fixed seeds: what a hand mistypes, what a hostile client sends. `python -m tests.fuzz` runs more of them."""
