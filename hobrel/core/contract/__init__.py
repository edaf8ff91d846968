"""The kinds of the scripting contract: each reads the fields of a job, calls the core, and names the outputs."""
