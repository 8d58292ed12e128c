"""The workshop's own certificates: they vouch for this shop alone, are renewed in time, and carry a real
HTTPS connection.
"""

import http.server
import ssl
import stat
import subprocess
import sys
import threading
import urllib.request
from datetime import UTC, datetime, timedelta

import pytest
from cryptography import x509

from cavatum.machine import cluster, network, ports, server, serving
from cavatum.machine.tell import SetupError
from cavatum.network.certificates import SERVER_DAYS, ensure

NAMES = ["127.0.0.1", "localhost", "yard.local", "192.168.1.20", "yard"]


def load(path):
    return x509.load_pem_x509_certificate(path.read_bytes())


def test_keys_are_readable_by_their_owner_alone(tmp_path):
    made = ensure(tmp_path / "tls", NAMES)
    for key in (made.key, tmp_path / "tls" / "authority.key"):
        assert stat.S_IMODE(key.stat().st_mode) == 0o600
    assert stat.S_IMODE((tmp_path / "tls").stat().st_mode) == 0o700


def test_they_are_kept_while_they_hold_and_renewed_a_month_before_they_end(tmp_path):
    first = ensure(tmp_path, NAMES)
    before = first.server.read_bytes()
    assert ensure(tmp_path, NAMES).server.read_bytes() == before
    later = datetime.now(UTC) + timedelta(days=SERVER_DAYS - 29)
    again = ensure(tmp_path, NAMES, later)
    assert (
        again.server.read_bytes() != before and again.fingerprint == first.fingerprint
    )  # phones keep the authority they trust


def test_another_name_of_the_host_makes_another_certificate_of_the_same_authority(tmp_path):
    first = ensure(tmp_path, NAMES)
    second = ensure(tmp_path, [*NAMES, "192.168.1.77"])
    assert second.fingerprint == first.fingerprint
    names = (
        load(second.server)
        .extensions.get_extension_for_class(x509.SubjectAlternativeName)
        .value.get_values_for_type(x509.IPAddress)
    )
    assert "192.168.1.77" in [str(one) for one in names]


@pytest.mark.parametrize("name", ["8.8.8.8", "bank.example", "192.0.2.2"])
def test_the_authority_vouches_for_nothing_public(tmp_path, name):
    with pytest.raises(ValueError):
        ensure(tmp_path, ["127.0.0.1", name])


def test_the_authority_is_bound_to_private_networks(tmp_path):
    found = load(ensure(tmp_path, NAMES).authority).extensions.get_extension_for_class(x509.NameConstraints)
    assert found.critical and x509.DNSName("local") in found.value.permitted_subtrees
    assert all(
        one.value.is_private or one.value.is_link_local
        for one in found.value.permitted_subtrees
        if isinstance(one, x509.IPAddress)
    )


def test_a_connection_is_trusted_by_who_trusts_the_authority_and_by_nobody_else(tmp_path):
    made = ensure(tmp_path, NAMES)
    server = http.server.HTTPServer(("127.0.0.1", 0), http.server.SimpleHTTPRequestHandler)
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.load_cert_chain(made.server, made.key)
    server.socket = context.wrap_socket(server.socket, server_side=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    url = f"https://127.0.0.1:{server.server_address[1]}/"
    trusting = urllib.request.build_opener(
        urllib.request.ProxyHandler({}),
        urllib.request.HTTPSHandler(context=ssl.create_default_context(cafile=made.authority)),
    )
    assert trusting.open(url, timeout=90).status == 200
    other = urllib.request.build_opener(
        urllib.request.ProxyHandler({}), urllib.request.HTTPSHandler(context=ssl.create_default_context())
    )
    with pytest.raises(urllib.error.URLError, match="CERTIFICATE_VERIFY_FAILED"):
        other.open(url, timeout=90)
    server.shutdown()
    server.server_close()


def test_this_computers_own_names_are_private_ones():
    names = network.own_names(["shop.local"])
    assert {"localhost", "127.0.0.1", "shop.local"} <= set(names)
    assert all(network.is_private(one) for one in names if network._is_address(one))
    assert network.best_name(names, ["shop.local"]) == "shop.local"
    assert (
        network.best_name(["127.0.0.1", "192.168.1.20", "yard"], []) == "192.168.1.20"
        and network.best_name(["localhost"], []) == "127.0.0.1"
    )


class Process:
    """A server that goes on."""

    def wait(self, seconds):
        raise subprocess.TimeoutExpired("server", seconds)

    def poll(self):
        return None


class Enough(Exception):
    pass


def one_of(found):
    """What comes next; nothing more: enough was seen."""
    for one in found:
        return one
    raise Enough


def test_a_computer_that_got_another_name_starts_its_server_anew_once(monkeypatch):
    first, second, ended, looks = Process(), Process(), [], iter([False, True, False, False])
    monkeypatch.setattr(serving, "NAMES_S", 0.0)
    monkeypatch.setattr(cluster, "answers", lambda database: True)
    monkeypatch.setattr(server, "end", ended.append)
    monkeypatch.setattr(server, "mind_the_log", lambda *_: None)
    with pytest.raises(Enough):
        serving.keep_up(first, None, lambda database: second, lambda: one_of(looks))
    assert ended == [first]


def test_a_database_that_had_to_move_takes_the_server_with_it(monkeypatch):
    here, there = (cluster.Cluster(folder="/nowhere", port=port, password="x") for port in (20001, 20002))
    first, ended, told, answers = Process(), [], [], iter([True, False, True, True])
    monkeypatch.setattr(
        cluster, "answers", lambda database: one_of(answers) and told.append(database.port) is None
    )
    monkeypatch.setattr(cluster, "ensure_running", lambda: (there, True))
    monkeypatch.setattr(server, "end", ended.append)
    monkeypatch.setattr(server, "mind_the_log", lambda *_: None)
    begun = []
    with pytest.raises(Enough):
        serving.keep_up(first, here, lambda database: begun.append(database) or Process(), lambda: False)
    assert ended == [first] and begun == [there] and told == [here.port, there.port, there.port]


def test_a_server_that_nobody_hears_from_is_started_again(monkeypatch):
    """A process manager that had lost a process of its own waited for it for ever."""
    first, ended, begun = Process(), [], []
    silent = iter([False, False])
    monkeypatch.setattr(cluster, "answers", lambda database: True)
    monkeypatch.setattr(server, "end", ended.append)
    monkeypatch.setattr(server, "mind_the_log", lambda *_: None)
    monkeypatch.setattr(serving, "DEAF_S", -1e-9)
    with pytest.raises(Enough):
        serving.keep_up(
            first,
            None,
            lambda database: begun.append(database) or Process(),
            lambda: False,
            lambda: one_of(silent),
        )
    assert ended[0] is first and len(ended) == len(begun) == 2


ANSWERS = """
import http.server, sys
class Well(http.server.BaseHTTPRequestHandler):
    def do_GET(self):
        self.send_response(200)
        self.end_headers()
http.server.HTTPServer(("127.0.0.1", int(sys.argv[1])), Well).serve_forever()
"""


def test_a_server_that_does_not_come_up_is_begun_anew(monkeypatch):
    """Killed before its first answer, a process manager waits for ever; the start gave up with it."""
    port, launched = ports.free_port(), []
    lines = iter(["import time; time.sleep(600)", "raise SystemExit(1)", ANSWERS])

    def launch():
        launched.append(subprocess.Popen([sys.executable, "-c", next(lines), str(port)]))
        return launched[-1]

    process = serving.come_up(launch, port, "no-such-mark", within_s=(1.0, 30.0, 60.0))
    assert process is launched[2] and [one.poll() is None for one in launched] == [False, False, True]
    server.end(process)
    lines = iter(["raise SystemExit(1)"])
    with pytest.raises(SetupError, match="did not come up"):
        serving.come_up(launch, port, "no-such-mark", within_s=(30.0,))


def test_a_database_that_ends_while_the_server_comes_up_is_started_with_it():
    """The start waited out its whole patience for a server whose database had been killed meanwhile."""
    port, launched = ports.free_port(), []
    lines = iter(["import time; time.sleep(600)", ANSWERS])

    def launch():
        launched.append(subprocess.Popen([sys.executable, "-c", next(lines), str(port)]))
        return launched[-1]

    def has_database():  # it ends while the first comes up, and is started before the second
        return len(launched) != 1

    process = serving.come_up(launch, port, "no-such-mark", has_database, (60.0,))
    assert process is launched[1]  # one patience was enough for both: the first did not use it up
    assert launched[0].poll() is not None
    server.end(process)


def test_a_port_is_heard_while_somebody_takes_connections(monkeypatch):
    import socket

    with socket.create_server(("127.0.0.1", 0)) as open_one:
        port = open_one.getsockname()[1]
        assert server.listens(port)
    assert not server.listens(port)
