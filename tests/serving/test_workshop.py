"""``setback serve --host`` and ``setback user`` as somebody types them, at an address nothing leaves the machine by."""

import json
import shutil
import ssl
import subprocess
import sys
import urllib.error
import urllib.request
from contextlib import contextmanager
from datetime import UTC, datetime
from http.cookiejar import CookieJar
from pathlib import Path

import pytest
from click.testing import CliRunner

from setback.cli import main
from setback.serving import tls
from setback.store.one_server import serving
from tests.reliability.process import free_port, get, post, stop
from tests.reliability.process import served as alone

pytestmark = pytest.mark.long

OPERATIONS = Path(__file__).parent.parent.parent / "docs" / "operations.md"
HOST, PASSWORD = "127.0.0.2", "kelp forest at low tide"
OWN = "from setback.cli import main; main()"


def run(*args, typed=""):
    done = CliRunner().invoke(main, [str(part) for part in args], input=typed)
    assert "Traceback" not in done.output
    assert done.exception is None or isinstance(done.exception, SystemExit), done.exception
    return done


def add(path, initials, *more, password=PASSWORD):
    return run("user", "add", initials, "--db", path, "--password-stdin", *more, typed=f"{password}\n")


def refused(path, *more):
    done = run("serve", "--db", path, *more)
    assert done.exit_code == 1
    return done.output


@pytest.fixture
def path(empty_lab, tmp_path):
    shutil.copyfile(empty_lab, tmp_path / "lab.db")
    return tmp_path / "lab.db"


class TestRefusals:
    def test_without_accounts(self, path):
        assert "there is no account of a lead" in refused(path, "--host", HOST)
        add(path, "IM", "--role", "technician")
        assert "there is no account of a lead" in refused(path, "--host", HOST)
        assert "there is no account of a lead" in refused(path, "--behind-proxy")

    def test_without_a_certificate(self, path):
        add(path, "RB")
        assert "setback tls-certificate 127.0.0.2" in refused(path, "--host", HOST)

    def test_with_a_lead_who_was_revoked(self, path):
        add(path, "RB")
        add(path, "IM", "--role", "lead")
        assert run("user", "revoke", "RB", "--db", path).exit_code == 0
        assert "only lead" in run("user", "revoke", "IM", "--db", path).output

    def test_with_half_of_a_certificate(self, path, tmp_path):
        assert "together" in refused(path, "--host", HOST, "--certificate", tmp_path / "a.pem")
        assert "go with --host" in refused(path, "--name", "bench.local")

    def test_with_a_certificate_that_ran_out(self, path):
        add(path, "RB")
        tls.make(tls.folder_of(path), [HOST], "", datetime(2020, 1, 1, tzinfo=UTC))
        assert "ran out on 2021-02-01. Make a new one: setback tls-certificate" in refused(path, "--host", HOST)

    def test_with_a_server_that_has_it(self, path):
        add(path, "RB")
        with serving(path, "somewhere"):
            assert "Stop it first" in refused(path, "--host", HOST)
            # People are added and helped while it runs.
            assert add(path, "IM").exit_code == 0

    def test_with_a_certificate_that_cannot_be_read(self, path, tmp_path):
        add(path, "RB")
        missing = tmp_path / "none.pem"
        assert f"{missing} cannot be read" in refused(path, "--host", HOST, "--certificate", missing, "--key", missing)

    def test_without_a_database(self, tmp_path):
        assert "There is no database" in refused(tmp_path / "none.db", "--host", HOST)
        assert not (tmp_path / "none.db").exists()


class TestUsers:
    def test_the_first_is_a_lead_and_others_technicians(self, path):
        assert "RB may sign in as lead" in add(path, "rb").output
        assert "IM may sign in as technician" in add(path, "IM").output
        listed = run("user", "list", "--db", path).output
        assert "RB   lead" in listed and "IM   technician" in listed and "last here never" in listed

    def test_a_new_lab_may_begin_with_its_lead(self, tmp_path):
        assert add(tmp_path / "new.db", "RB").exit_code == 0

    @pytest.mark.parametrize(
        ("initials", "password", "word"),
        [("RB", "short", "at least 10"), ("R2", PASSWORD, "pattern"), ("RB", "", "at least 10")],
    )
    def test_what_will_not_do_is_said(self, path, initials, password, word):
        done = add(path, initials, password=password)
        assert done.exit_code == 1 and word in done.output
        assert "Nobody yet" in run("user", "list", "--db", path).output

    def test_twice_is_once(self, path):
        add(path, "RB")
        assert "has an account already" in add(path, "RB").output

    def test_typed_at_a_terminal_it_is_asked_twice(self, path):
        done = run("user", "add", "RB", "--db", path, typed=f"{PASSWORD}\n{PASSWORD}\n")
        assert done.exit_code == 0 and PASSWORD not in done.output

    def test_roles_and_taking_back(self, path):
        add(path, "RB")
        add(path, "IM")
        assert "viewer now" in run("user", "role", "IM", "viewer", "--db", path).output
        run("user", "revoke", "IM", "--db", path)
        assert "revoked" in run("user", "list", "--db", path).output
        assert "again" in run("user", "restore", "IM", "--db", path).output
        assert run("user", "role", "ZZ", "lead", "--db", path).output.startswith("Error: ZZ has no account")


class Client:
    """A program with cookies that trusts an authority, from a trust store of its own."""

    def __init__(self, url, authority=None):
        self.url = url
        handlers = [urllib.request.HTTPCookieProcessor(CookieJar())]
        if authority:
            handlers.append(urllib.request.HTTPSHandler(context=ssl.create_default_context(cafile=authority)))
        self.opener = urllib.request.build_opener(*handlers)

    def ask(self, place, body=None, **headers):
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(self.url + place, data, {"Content-Type": "application/json", **headers})
        try:
            with self.opener.open(request, timeout=60) as answer:
                return answer.status, json.load(answer)
        except urllib.error.HTTPError as error:
            return error.code, json.load(error)


@contextmanager
def served(path, *more):
    """The command in a process of its own, at an address of this machine that is not its usual one."""
    port = str(free_port(HOST))
    command = [sys.executable, "-c", OWN, "serve", "--db", str(path), "--port", port, "--host", HOST, *more]
    server = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
    try:
        ready = next(line for line in iter(server.stdout.readline, "") if "ready" in line)
        yield ready.split()[-1]
        stop(server)
    finally:
        if server.poll() is None:
            server.kill()
        server.wait()


def test_operations_md_is_walked_as_written(path):
    """Its three commands, with an address nothing leaves the machine by: a lead signs in over TLS."""
    section = OPERATIONS.read_text(encoding="utf-8").split("## Serving a workshop")[1]
    block = section.split("```sh\n")[1].split("```")[0].replace("192.168.7.20", HOST)
    add_lead, make_certificate, serve = [line.split()[1:] for line in block.splitlines()]
    assert run(*add_lead, "--db", path, typed=f"{PASSWORD}\n{PASSWORD}\n").exit_code == 0
    assert run(*make_certificate, "--db", path).exit_code == 0
    assert serve == ["serve", "--host", HOST]
    with served(path) as url:
        client = Client(url, path.with_name("lab.db.tls") / "authority.pem")
        assert client.ask("/api/session/sign-in", {"initials": "RB", "password": PASSWORD})[0] == 200


def test_a_workshop_over_tls_by_the_labs_own_authority(path):
    """By its names and no others, for whoever knows its authority; a password that is lost is set on this machine."""
    add(path, "RB")
    made = run("tls-certificate", HOST, "bench.local", "--db", path)
    assert made.exit_code == 0 and "authority.pem" in made.output
    authority = path.with_name("lab.db.tls") / "authority.pem"
    with served(path) as url:
        assert url.startswith(f"https://{HOST}:")
        client = Client(url, authority)
        assert client.ask("/api/board")[0] == 401
        status, session = client.ask("/api/session/sign-in", {"initials": "RB", "password": PASSWORD})
        assert status == 200 and session["signed_in"]["role"] == "lead" and session["certificate_ends"]
        assert client.ask("/api/board")[0] == 200
        # By a name that stands in the certificate, and by one that does not.
        assert client.ask("/api/session", Host="bench.local")[0] == 200
        assert client.ask("/api/session", Host="rebound.example")[0] == 421
        # Somebody with no idea of the authority does not get as far as a password.
        with pytest.raises(urllib.error.URLError, match="CERTIFICATE_VERIFY_FAILED"):
            Client(url).ask("/api/session")
        # A password that is lost is set on this machine, while the server runs: whoever had the old one is out.
        typed = "another tide another kelp"
        assert run("user", "password", "RB", "--db", path, "--password-stdin", typed=f"{typed}\n").exit_code == 0
        assert client.ask("/api/board")[0] == 401
        assert client.ask("/api/session/sign-in", {"initials": "RB", "password": typed})[0] == 200


def test_behind_a_proxy_it_speaks_plainly_and_believes_what_the_proxy_says(path):
    add(path, "RB")
    with served(path, "--behind-proxy", "--name", "bench.local") as url:
        assert url.startswith(f"http://{HOST}:")
        proxy = {"X-Forwarded-Host": "bench.local", "X-Forwarded-Proto": "https", "X-Forwarded-For": "10.0.0.7"}
        client = Client(url)
        # The page is at https://bench.local for whoever is behind the proxy.
        body = {"initials": "RB", "password": PASSWORD}
        assert client.ask("/api/session/sign-in", body, Origin="https://bench.local", **proxy)[0] == 200
        assert client.ask("/api/session/sign-in", body, Origin=url, **proxy)[0] == 403
        assert client.ask("/api/session", **{**proxy, "X-Forwarded-Host": "rebound.example"})[0] == 421


def test_without_a_host_nothing_changes(path):
    """Accounts or none: one person at this machine, no sign-in."""
    add(path, "RB")
    with alone(path) as (server, url):
        assert url.startswith("http://127.0.0.1:")
        assert get(f"{url}/api/session")["asks"] is False
        post(f"{url}/api/technicians", {"initials": "IM"})
        stop(server)
