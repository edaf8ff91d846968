"""What is said of some fifty lab books: kept, so that whoever changes a rule sees what it changes for whom. See `kept.json`."""
