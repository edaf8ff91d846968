"""What to plot so that a relation becomes a straight line: by trying, and by the relation's own algebra."""
