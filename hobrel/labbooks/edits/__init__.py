"""Changes of a lab book: what each kind may look like, what it does to the document, and its sentence for the history.

Each kind stands whole in one module (`readings`, `quantities`, `graphs`, `fits`, `board`, `findings`, `runs`, `texts`, `batches`) and is
registered there; `kinds` gathers them, `registry` holds the one way in, `draft` what is being changed, `patches` what has changed. A new
kind touches the module that it is written in and no other.
"""
