"""The web edge under /api/v1: parse, call core and store, answer. No rule of the trade, no SQL.

Read in order: app, problems, planning, then one blueprint a place: pieces, systems, workshop, bench.
"""

from flask_openapi3.utils import HTTP_STATUS

from . import operations  # noqa: F401  before any blueprint is made

# Python 3.13 calls it "Unprocessable Content": the document is the same on every Python.
HTTP_STATUS["422"] = "Unprocessable Entity"
