"""The scripting contract: lists of jobs with answers, one module for each group of kinds. May import everything else of the core."""
