"""The scripting contract: lists of jobs with answers, one module for each group of kinds. Imports the science, no lab book."""
