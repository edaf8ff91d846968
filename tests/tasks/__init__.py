"""What tasks cost: presses and keys on a laptop, a tablet and a phone, done in the running application.

`docs/tasks.md` is the table of them; ``python manage.py test tests.tasks`` does every task on every device and compares, with
HOBREL_WRITE=1 it writes the table anew. It takes some minutes, and is a part of ``./run test --long``.
"""
