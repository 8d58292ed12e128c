"""Mail addresses in one normal form: accounts are found and tries are counted by it, however an address is
spelt.
"""

from __future__ import annotations

import unicodedata

from psycopg import Connection

DOTTED_I = "i̇"  # what case folding makes of the Turkish capital İ
INVISIBLE = {"Cc", "Cf", "Zs", "Zl", "Zp"}


def normal(address: str) -> str:
    """Unicode NFKC, case folded, nothing invisible and no spaces: İ and i, ﬁ and fi, K and K are one."""
    text = unicodedata.normalize("NFKC", address).casefold().replace(DOTTED_I, "i")
    text = unicodedata.normalize("NFKC", text)
    return "".join(one for one in text if unicodedata.category(one) not in INVISIBLE)


def fill_in(connection: Connection) -> int:
    """The normal form of accounts that were made before there was one. How many."""
    rows = connection.execute("select id, email from account where address is null").fetchall()
    for id_, email in rows:
        connection.execute("update account set address = %s where id = %s", (normal(email), id_))
    return len(rows)
