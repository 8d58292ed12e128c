"""Behind a proxy, and on several hosts against one PostgreSQL: hosts are network namespaces of this machine,
joined by a bridge.
"""

import http.client
import json
import os
import ssl
import subprocess
import sys
import time
from pathlib import Path

import psycopg
import pytest
from psycopg.conninfo import make_conninfo

from cavatum.machine import cluster, paths, ports, tell
from cavatum.machine.database import programs, roles
from cavatum.machine.nginx import find as find_nginx
from cavatum.network.certificates import ensure
from cavatum.store import logins, people
from cavatum.store.migrate import migrate
from cavatum.store.workshops import implied_workshop
from tests.api.shops import PASSWORD
from tests.browser.test_layers import AS_A_WORKER
from tests.conftest import addresses
from tests.machine.test_set_up import home  # noqa: F401, a fixture
from tests.samples import box_piece, system

ROOT = Path(__file__).resolve().parents[2]
NAME = "shop.local"
GUNICORN = [
    "gunicorn",
    "-c",
    str(paths.PROCESSES / "web.py"),
    "-w",
    "2",
    "--threads",
    "8",
    "--graceful-timeout",
    "1",
]


def environment(database: dict[str, str], **more: str) -> dict[str, str]:
    return {
        **os.environ,
        "PATH": f"{paths.VENV / 'bin'}:{os.environ['PATH']}",
        "PYTHONPATH": str(ROOT / "src"),
        **database,
        "CAVATUM_SECRET_KEY": "only for tests, the same on every host",
        "CAVATUM_NETWORK_HOSTS": NAME,
        "CAVATUM_BEHIND_PROXY": "1",
        **more,
    }


class Browser:
    """Cookies kept by hand: the cookies' names and flags are part of what is looked at."""

    def __init__(self, connect, host=NAME):
        self.connect, self.host, self.cookies, self.token = connect, host, {}, ""
        self.heard: dict[str, str] = {}

    def call(self, method: str, path: str, body=None, **headers: str):
        line = self.connect()
        line.request(
            method,
            f"/api/v1{path}",
            None if body is None else json.dumps(body),
            {
                "Host": self.host,
                "Content-Type": "application/json",
                "X-CSRFToken": self.token,
                "Referer": f"https://{self.host}/",
                "Cookie": "; ".join(f"{name}={value}" for name, value in self.cookies.items()),
                **headers,
            },
        )
        answer = line.getresponse()
        self.heard = dict(answer.getheaders())
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                cookie, _, flags = value.partition(";")
                assert "Secure" in flags and "HttpOnly" in flags and "SameSite=Strict" in flags
                self.cookies.update([cookie.split("=", 1)])
        text = answer.read()
        line.close()
        return answer.status, json.loads(text) if text.startswith(b"{") else text

    def log_in(self, email: str):
        self.token = self.call("GET", "/door")[1]["csrf_token"]
        status, said = self.call("POST", "/door/login", {"email": email, "password": PASSWORD})
        self.token = self.call("GET", "/door")[1]["csrf_token"]
        return status, said


def with_owner(url: str) -> int:
    from cavatum.network import passwords

    migrate(url)
    with psycopg.connect(url) as connection:
        shop = implied_workshop(connection)
        account = logins.make_account(connection, "owner@shop.example", "Wren", passwords.hash_of(PASSWORD))
        logins.join(connection, shop, account, "owner")
    return shop


def until(what, patience_s: float = 120.0):
    ends = time.monotonic() + patience_s
    while time.monotonic() < ends:
        try:
            found = what()
            if found:
                return found
        except (OSError, http.client.HTTPException):
            pass
        time.sleep(0.2)
    raise AssertionError("it did not come about")


@pytest.fixture
def own_url(database_url):
    record = cluster.read_record()
    name = f"growing_{os.getpid()}"
    with psycopg.connect(database_url, autocommit=True) as admin:
        admin.execute(f"create database {name}")
    yield record.url(name)
    cluster.drop_database(record, name)


def test_behind_debians_nginx_it_is_reached_over_https_and_told_who_asks(own_url, tmp_path):
    with_owner(own_url)
    inner, outer = ports.free_port(), ports.free_port()
    made = ensure(tmp_path / "tls", [NAME, "localhost", "127.0.0.1"])
    site = (ROOT / "deploy" / "nginx.conf").read_text()
    for word, value in (
        ("listen 443", f"listen 127.0.0.1:{outer}"),
        ("NAME;", f"{NAME};"),
        ("CERTIFICATE;", f"{made.server};"),
        (" KEY;", f" {made.key};"),
        (":PORT;", f":{inner};"),
    ):
        assert word in site
        site = site.replace(word, value)
    folders = " ".join(
        f"{what}_temp_path {tmp_path}/{what};"
        for what in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    (tmp_path / "nginx.conf").write_text(
        f"user root; daemon off; pid {tmp_path}/nginx.pid; error_log {tmp_path}/error.log; events {{}}\n"
        f"http {{ access_log off; {folders}\n{site}\n}}\n"
    )
    nginx = find_nginx()
    assert nginx, "./cavatum test unpacks Debian's nginx"
    web = subprocess.Popen(
        [*GUNICORN, "--bind", f"127.0.0.1:{inner}", "cavatum.api.app:create_network_app()"],
        env=environment(addresses(own_url)),
        cwd=tmp_path,
    )
    proxy = subprocess.Popen([nginx, "-e", str(tmp_path / "first.log"), "-c", str(tmp_path / "nginx.conf")])
    try:
        trusting = ssl.create_default_context(cafile=made.authority)
        trusting.check_hostname = False  # the name is in the Host line; the address is this computer's
        browser = Browser(
            lambda: http.client.HTTPSConnection("127.0.0.1", outer, context=trusting, timeout=90)
        )
        until(lambda: browser.call("GET", "/ready")[0] == 200)
        assert browser.call("GET", "/pieces")[0] == 401
        assert browser.log_in("owner@shop.example")[0] == 204
        assert (
            browser.call("GET", "/pieces")[0] == 200
            and browser.heard["Strict-Transport-Security"]
            and len(browser.heard["X-Request-ID"]) == 32
        )
        assert all(name.startswith("__Host-") for name in browser.cookies)
        browser.call(
            "POST",
            "/door/login",
            {"email": "owner@shop.example", "password": "a wrong one"},
            **{"X-Forwarded-For": "203.0.113.9"},
        )
        trail = browser.call("GET", "/people/trail")[1]["trail"]
        assert trail[0]["what"] == "was refused" and {one["address"] for one in trail} == {
            "127.0.0.1"
        }  # nobody chooses the address they are counted by
        browser.host = "elsewhere.example"
        assert browser.call("GET", "/door")[0] in (400, 421)
    finally:
        for process in (proxy, web):
            process.terminate()
            process.wait(90)


class Hosts:
    """Namespaces with an address each on one bridge; the machine itself is .1, where the database is."""

    def __init__(self, tag: str):
        self.bridge, self.made = f"cv{tag}", []
        self.net = f"10.{200 + int(tag, 16) % 50}.77"
        run("ip", "link", "add", self.bridge, "type", "bridge")
        run("ip", "addr", "add", f"{self.net}.1/24", "dev", self.bridge)
        run("ip", "link", "set", self.bridge, "up")

    def add(self, name: str) -> str:
        space, number = f"{self.bridge}-{name}", len(self.made) + 2
        self.made.append(space)
        run("ip", "netns", "add", space)
        run(
            "ip",
            "link",
            "add",
            f"{self.bridge}{number}",
            "type",
            "veth",
            "peer",
            "name",
            "eth0",
            "netns",
            space,
        )
        run("ip", "link", "set", f"{self.bridge}{number}", "master", self.bridge, "up")
        for rest in (
            ("addr", "add", f"{self.net}.{number}/24", "dev", "eth0"),
            ("link", "set", "eth0", "up"),
            ("link", "set", "lo", "up"),
        ):
            run("ip", "netns", "exec", space, "ip", *rest)
        return f"{self.net}.{number}"

    def cut(self, number: int, up: bool) -> None:
        run("ip", "link", "set", f"{self.bridge}{number}", "up" if up else "down")

    def start(self, name: str, command: list[str], env: dict[str, str], cwd) -> subprocess.Popen:
        return subprocess.Popen(["ip", "netns", "exec", f"{self.bridge}-{name}", *command], env=env, cwd=cwd)

    def remove(self) -> None:
        for space in self.made:
            subprocess.run(["ip", "netns", "del", space])
        subprocess.run(["ip", "link", "del", self.bridge])


def run(*command: str) -> None:
    subprocess.run(command, check=True)


INSIDE = "CAVATUM_TEST_HAS_ITS_OWN_NETWORK"


def test_two_web_hosts_and_two_worker_hosts_share_one_database_and_a_cut_loses_nothing():
    """In a network of its own: bridges that come and go in this computer's would make a browser that is
    tested beside it drop its requests.
    """
    assert os.geteuid() == 0, "network namespaces are made by root, as the CI is"
    inside = f"{Path(__file__)}::test_inside_two_web_hosts_and_two_worker_hosts"
    done = subprocess.run(
        [
            "unshare",
            "--net",
            "sh",
            "-c",
            'ip link set lo up && exec "$@"',
            "sh",
            sys.executable,
            "-m",
            "pytest",
            f"--rootdir={ROOT}",
            "-v",
            "-p",
            "no:xdist",
            "-p",
            "no:cacheprovider",
            inside,
        ],
        cwd=ROOT,
        env={**plain(), INSIDE: "1"},
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0 and "1 passed" in done.stdout, done.stdout[-3000:] + done.stderr[-2000:]


def plain() -> dict[str, str]:
    """Without what a test process of several tells its own children."""
    return {key: value for key, value in os.environ.items() if not key.startswith(("PYTEST_", "COV_"))}


if os.environ.get(INSIDE):

    def test_inside_two_web_hosts_and_two_worker_hosts(home, tmp_path):  # noqa: F811
        two_web_and_two_worker_hosts(tmp_path)


def two_web_and_two_worker_hosts(tmp_path) -> None:
    own, _ = cluster.ensure_running()
    hosts = Hosts(os.urandom(2).hex())
    processes = []
    try:
        with (Path(own.folder) / "pg_hba.conf").open("a") as rules:
            rules.write(f"host all all {hosts.net}.0/24 scram-sha-256\n")
        roles.ask(own, f"alter system set listen_addresses = '127.0.0.1,{hosts.net}.1'")
        cluster.stop(own)
        command = [programs.its(own, "pg_ctl"), "-D", own.folder, "-w", "-l", f"{own.folder}/server.log"]
        command += ["-o", f"-p {own.port} -c unix_socket_directories=''", "start"]
        tell.run(programs.as_owner(programs.owner_of(Path(own.folder)), command), way_out="")
        with_owner(own.url())
        reached = {name: make_conninfo(one, host=f"{hosts.net}.1") for name, one in own.addresses().items()}
        env = environment(reached)
        reached_at = {name: hosts.add(name) for name in ("web1", "web2", "work1", "work2")}
        for name in ("web1", "web2"):
            processes.append(
                hosts.start(
                    name,
                    [*GUNICORN, "--bind", "0.0.0.0:8000", "cavatum.api.app:create_network_app()"],
                    env,
                    tmp_path,
                )
            )
        for name in ("work1", "work2"):
            processes.append(hosts.start(name, [sys.executable, "-c", AS_A_WORKER], env, tmp_path))

        def at(name: str) -> Browser:
            return Browser(lambda: http.client.HTTPConnection(reached_at[name], 8000, timeout=90))

        first, second = at("web1"), at("web2")
        for browser in (first, second):
            until(
                lambda browser=browser: (
                    browser.call("GET", "/ready", **{"X-Forwarded-Proto": "https"})[0] == 200
                )
            )
        proto = {"X-Forwarded-Proto": "https"}
        first.token = first.call("GET", "/door", **proto)[1]["csrf_token"]
        assert (
            first.call("POST", "/door/login", {"email": "owner@shop.example", "password": PASSWORD}, **proto)[
                0
            ]
            == 204
        )
        second.cookies = first.cookies  # the same browser, sent to the other host by a balancer
        first.token = second.token = second.call("GET", "/door", **proto)[1]["csrf_token"]
        assert first.call("POST", "/systems", system().model_dump(mode="json"), **proto)[0] < 300
        piece = second.call("POST", "/pieces", box_piece().model_dump(mode="json"), **proto)[1]["id"]
        job = first.call("POST", "/schedule", {}, **proto)[1]
        done = until(
            lambda: (
                (found := second.call("GET", f"/schedule/{job['job_id']}", **proto)[1])["state"] == "done"
                and found
            )
        )
        assert done["result"] is not None
        run_id = first.call("POST", f"/pieces/{piece}/runs", {"rehearse": None}, **proto)[1]["id"]
        moment = first.call("GET", f"/runs/{run_id}", **proto)[1]["now"]

        def events(numbers):
            return {
                "since": 0,
                "events": [
                    {
                        "event_id": f"00000000-0000-4000-8000-{number:012}",
                        "device": "00000000-0000-4000-8000-00000000dead",
                        "seq": number + 1,
                        "at": moment,
                        "device_at": moment,
                        "event": {"kind": "note", "text": f"entry {number}"},
                    }
                    for number in numbers
                ],
            }

        assert first.call("POST", f"/runs/{run_id}/events", events(range(5)), **proto)[0] == 200
        assert len(second.call("GET", f"/runs/{run_id}/events", **proto)[1]["events"]) == 5
        hosts.cut(2, up=False)  # the first host's cable is out; the other goes on
        assert second.call("POST", f"/runs/{run_id}/events", events(range(10)), **proto)[0] == 200
        hosts.cut(2, up=True)
        kept = until(
            lambda: (
                (answer := first.call("POST", f"/runs/{run_id}/events", events(range(15)), **proto))[0] == 200
                and answer[1]["events"]
            )
        )
        assert [one["event"]["text"] for one in kept] == [f"entry {number}" for number in range(15)]
        with psycopg.connect(own.url()) as connection:
            assert people.trail(connection, implied_workshop(connection))[0][1].what == "came in"
    finally:
        for process in processes:
            process.terminate()
        for process in processes:
            process.wait(90)
        hosts.remove()
