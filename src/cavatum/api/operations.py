"""The blueprints of this application: they know what each of their operations is called, and describe it only
where the OpenAPI document is being made. Describing all of them takes longer than everything else that a
start does, and the document is kept beside the front end, which is made from it.
"""

from __future__ import annotations

import json
import os
from collections.abc import Callable
from pathlib import Path
from typing import Any

from flask_openapi3 import APIBlueprint, utils

from ..machine import paths
from .problems import Problem

_BESIDE = Path(__file__).with_name("openapi.json")  # in a wheel
KEPT = _BESIDE if paths.IS_INSTALLED else paths.WEB / "src" / "api" / "openapi.json"
DESCRIBED = "CAVATUM_DESCRIBE_OPERATIONS"  # set where the document is made anew

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


class Blueprint(APIBlueprint):
    """Routes below one address, whose refusals are problems. operations: (rule, METHOD) -> its operation."""

    def __init__(self, name: str, below: str = "/api/v1") -> None:
        super().__init__(name, __name__, url_prefix=below, abp_responses={"4XX": Problem})
        self.operations: dict[tuple[str, str], str] = {}

    def _collect_openapi_info(
        self,
        rule: str,
        func: Callable[..., Any],
        *,
        operation_id: str | None = None,
        method: str = "get",
        **said: Any,
    ) -> Any:
        """The package asks this of every route."""
        if operation_id is None:
            raise LookupError(f"{method} {self.url_prefix}{rule} has no operation_id")
        self.operations[f"{self.url_prefix}{rule}", str(method).upper()] = operation_id
        if not os.environ.get(DESCRIBED):
            return utils.parse_parameters(func, doc_ui=False)
        return super()._collect_openapi_info(rule, func, operation_id=operation_id, method=method, **said)


def kept_document() -> dict[str, Any]:
    """The OpenAPI document of this version; a test holds it to what the operations say."""
    return dict(json.loads(KEPT.read_text()))
