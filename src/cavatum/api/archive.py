"""Everything a workshop owns, to take away as open files. Taking it in again, backups and restores are
commands of the server's keeper.
"""

from __future__ import annotations

import tempfile
import zipfile

from flask import send_file

from ..store import archive as archive
from .answers import RouteAnswer
from .context import now, snapshot, workshop_id
from .operations import Blueprint
from .who import note

blueprint = Blueprint("archive")
IN_MEMORY = 8 << 20


@blueprint.get("/workshop/export.zip", operation_id="exportWorkshop", responses={200: None})
def export_workshop() -> RouteAnswer:
    """Written to a file of the server's own first: what is sent is whole or is not sent."""
    made = tempfile.SpooledTemporaryFile(IN_MEMORY, prefix="cavatum-")  # noqa: SIM115, closed with the answer
    with snapshot() as connection:
        connection.execute("set local statement_timeout = '300s'")
        shop = workshop_id(connection)
        with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as pack:
            archive.export(connection, shop, pack, now())
        note(connection, "took everything out")
    made.seek(0)
    return send_file(
        made, mimetype="application/zip", as_attachment=True, download_name="cavatum-workshop.zip"
    )
