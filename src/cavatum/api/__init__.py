"""The web edge under /api/v1: parse, call core and store, answer. No rule of the trade, no SQL.

Read in order: app, problems, planning, then one blueprint a place: pieces, systems, workshop, bench.
"""

from . import schemas  # noqa: F401  before any blueprint asks for one
