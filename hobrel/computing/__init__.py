"""Working things out where it can be ended: a process of its own with limits, and the way to ask it. See decision 18.

`asking` is for the web side; `messages` what goes to and fro; `calls`, `shelf` and `limits` what a child does; `parent` forks the children.
"""
