"""The child process that reads one hostile file: limits itself, reads stdin, prints JSON. Started by
sandbox.py only.
"""

from __future__ import annotations

import json
import resource
import sys
import warnings
from dataclasses import asdict

MEMORY_BYTES = 1024**3
CPU_S = 30


def main() -> int:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CPU, (CPU_S, CPU_S + 1))
    resource.setrlimit(resource.RLIMIT_NOFILE, (64, 64))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    warnings.simplefilter("ignore")
    task, options = sys.argv[1], json.loads(sys.argv[2])
    payload = sys.stdin.buffer.read()
    from pydantic import ValidationError

    from cavatum.formats.tasks import TASKS

    from ..core.common.errors import DomainError
    from ..core.common.extras import left_out

    try:
        answer = {"found": TASKS[task](payload, options)}
    except DomainError as error:
        answer = {"refused": asdict(error)}
    except ModuleNotFoundError as error:
        answer = {"refused": asdict(left_out(error))}
    except MemoryError:
        answer = {
            "refused": asdict(
                DomainError(
                    argument="file",
                    value="too much to read within a gigabyte",
                    allowed="files are read within 1 GB of memory",
                    way_out="Make it smaller: fewer triangles, points or pixels.",
                    code="too-heavy",
                )
            )
        }
    except ValidationError as error:
        answer = {
            "refused": asdict(
                DomainError(
                    argument="file",
                    value=f"unsound ({error.errors()[0]['msg']})",
                    allowed="it fits the limits of a shape",
                    way_out="Simplify it, or measure it with a shape.",
                    code="unsound",
                )
            )
        }
    except Exception as error:  # a reader's own failure on a broken file: one sentence, not a traceback
        answer = {
            "refused": asdict(
                DomainError(
                    argument="file",
                    value=f"broken ({type(error).__name__})",
                    allowed="it has to be sound in its format",
                    way_out="Export it again from the program that made it.",
                    code="broken",
                )
            )
        }
    sys.stdout.write(json.dumps(answer, allow_nan=False))
    return 0


if __name__ == "__main__":
    sys.exit(main())
