"""Every operation of the API with what its own OpenAPI document allows, and with what it does not, by
schemathesis: repeatable by seed.
"""

from __future__ import annotations

import time
import warnings
from collections import Counter
from dataclasses import dataclass, field

import schemathesis
from hypothesis import HealthCheck, Phase, given, seed, settings
from schemathesis.generation import GenerationMode

LONGEST_S, STUCK_S = 10.0, 90.0  # of this thread's own time; by the wall, on a machine that is busy
LEFT_OUT = {"exportWorkshop"}  # asked in a test of its own: it is long and takes no input


@dataclass(kw_only=True)
class Asked:
    operations: int = 0
    calls: int = 0
    answers: Counter = field(default_factory=Counter)
    wrong: list[str] = field(default_factory=list)
    slowest_s: float = 0.0
    slowest: str = ""


def campaign(document: dict, call, examples: int, number: int, ids: dict) -> Asked:
    """call(method, path, what goes with it) -> status. ids: of rows that are there, put into every other
    address that names one.

    `wrong` names every 500 and every answer over LONGEST_S or STUCK_S.
    """
    found = Asked()
    schema = schemathesis.openapi.from_dict(document)
    for result in schema.get_all_operations():
        operation = result.ok()
        name = operation.definition.raw["operationId"]
        if name in LEFT_OUT:
            continue
        found.operations += 1
        for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE):
            _ask(operation, name, mode, call, examples, number, ids, found)
    return found


def _ask(
    operation, name: str, mode: GenerationMode, call, examples: int, number: int, ids: dict, found: Asked
) -> None:
    strategy = operation.as_strategy(generation_mode=mode)

    @seed(number)
    @settings(
        max_examples=examples,
        deadline=None,
        database=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
        derandomize=False,
    )
    @given(case=strategy)
    def ask(case):
        if found.calls % 2:
            case.path_parameters = {
                key: ids.get(key, value) for key, value in (case.path_parameters or {}).items()
            }
        begun, own = time.perf_counter(), time.thread_time()
        request = case.as_transport_kwargs(base_url="http://127.0.0.1")
        status = call(request["method"], request["url"], request)
        waited, seconds = time.perf_counter() - begun, time.thread_time() - own
        found.calls += 1
        found.answers[status // 100] += 1
        if seconds > found.slowest_s:
            found.slowest_s, found.slowest = seconds, name
        if status >= 500 or seconds > LONGEST_S or waited > STUCK_S:
            found.wrong.append(
                f"{name}: {status} after {seconds:.1f} s of {waited:.1f}: {request.get('params')} "
                f"{str(request.get('json', request.get('data')))[:300]}"
            )

    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        try:
            ask()
        # nothing (more) of that kind can be generated for this operation; what was asked until then counts
        except Exception as error:
            if not any(
                word in type(error).__name__
                for word in ("Unsatisfiable", "FailedHealthCheck", "FlakyStrategy")
            ):
                raise
