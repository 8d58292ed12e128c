"""The JSON schema of a model is worked out once: flask-openapi3 makes it anew for every operation that may
answer with it, which took most of a start.
"""

from __future__ import annotations

from typing import Any

from flask_openapi3 import utils

_made: dict[tuple[Any, str], dict[str, Any]] = {}
_work_out = utils.get_model_schema


def _once(model: Any, mode: Any = "validation") -> dict[str, Any]:
    """A new outer dictionary each time: the package takes the definitions out of what it gets, and leaves the
    rest as it is.
    """
    key = (model, mode)
    if key not in _made:
        _made[key] = _work_out(model, mode=mode)
    return dict(_made[key])


utils.get_model_schema = _once
