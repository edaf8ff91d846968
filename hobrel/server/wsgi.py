"""The WSGI application."""

import os
import sys

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hobrel.server.settings")
# one who comes back from the database with the turn to write must not wait for others' computing (decision 26)
sys.setswitchinterval(0.0005)
application = get_wsgi_application()

# the first formula and the first unit load their libraries; better now than while somebody waits for their first edit
from hobrel.core.formulas.reading import read_formula  # noqa: E402
from hobrel.core.units.calculus import dimension_of, parse_unit  # noqa: E402

read_formula("1")
dimension_of(parse_unit("kg m/s^2"))
