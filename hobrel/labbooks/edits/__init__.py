"""Changes of a lab book: what each kind may look like, what it does to the document, and its sentence for the history.

`kinds` and `chosen_kinds` hold the shapes, `applying` the one way in, the rest what the kinds do: readings there, `quantities`, `graphs`,
`findings`, `runs`. Imports the core and nothing of the database.
"""
