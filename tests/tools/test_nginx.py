"""HTTPS by the nginx of the docs, as it stands but for names and ports: whose word is believed, who is kept waiting."""

from __future__ import annotations

import http.client
import re
import shutil
import socket
import ssl
import subprocess
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.tools.test_demo_start import ROOT, wait_until
from tests.tools.test_shop import PREFIX, Installed
from tools.mariadb import SBIN, free_port

NGINX = shutil.which("nginx", path=SBIN)
pytestmark = pytest.mark.skipif(NGINX is None, reason="nginx is not installed here: make shop-test brings it")
HOST = "rings.example"
HALF_SENT = 200


class Proxy:
    """nginx by the configuration of the docs before an installation."""

    def __init__(self, folder: Path, shop: Installed) -> None:
        self.plain, self.secure, self.folder = free_port(), free_port(), folder
        key, certificate = folder / "key.pem", folder / "cert.pem"
        subprocess.run(
            ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", f"/CN={HOST}",
             "-addext", f"subjectAltName=DNS:{HOST}", "-keyout", key, "-out", certificate],
            check=True, capture_output=True,
        )  # fmt: skip
        text = (ROOT / "docs/nginx.conf").read_text()
        for was, becomes in (
            ("127.0.0.1:8420", f"127.0.0.1:{shop.settings[PREFIX + 'PORT']}"),
            ("listen 80;", f"listen 127.0.0.1:{self.plain};"),
            ("listen 443 ssl http2;", f"listen 127.0.0.1:{self.secure} ssl http2;"),
            ("/etc/ssl/certs/rings.example.pem", str(certificate)),
            ("/etc/ssl/private/rings.example.key", str(key)),
        ):
            assert was in text
            text = text.replace(was, becomes)
        temporary = "".join(
            f"{name}_temp_path {folder}/{name};\n" for name in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
        )
        (folder / "nginx.conf").write_text(
            f"pid {folder}/pid;\nerror_log {folder}/error.log;\nworker_processes 1;\ndaemon off;\n"
            f"events {{ worker_connections 1024; }}\nhttp {{\naccess_log off;\n{temporary}{text}\n}}\n"
        )
        self.context = ssl.create_default_context(cafile=certificate)
        assert NGINX is not None
        self.process = subprocess.Popen(
            [NGINX, "-p", folder, "-c", folder / "nginx.conf", "-e", folder / "error.log"]
        )

    def ask(
        self, path: str, *, secure: bool = True, body: bytes = b"", **headers: str
    ) -> tuple[int, dict[str, str], bytes]:
        """Ask through nginx; what is answered."""
        raw = socket.create_connection(("127.0.0.1", self.secure if secure else self.plain), timeout=60)
        link = self.context.wrap_socket(raw, server_hostname=HOST) if secure else raw
        connection = http.client.HTTPConnection(HOST)
        connection.sock = link
        said = {name.replace("_", "-"): value for name, value in headers.items()}
        connection.request("POST" if body else "GET", path, body or None, {"Host": HOST, **said})
        answer = connection.getresponse()
        content = answer.read()
        connection.close()
        return answer.status, {name.lower(): value for name, value in answer.getheaders()}, content

    def is_up(self) -> bool:
        try:
            return self.ask("/health", secure=False)[0] == 200
        except OSError:
            return False


@pytest.fixture(scope="module")
def proxy() -> Iterator[Proxy]:
    folder = Path(tempfile.mkdtemp(prefix="ps-", dir="/dev/shm" if Path("/dev/shm").is_dir() else None))
    address = f"https://{HOST}"
    shop = Installed(
        folder / "shop",
        HTTPS="1",
        PROXY_ADDRESSES="127.0.0.1",
        HOSTS=f"{HOST},127.0.0.1",
        ORIGINS=address,
        URL=address,
    )
    running: Proxy | None = None
    try:
        shop.ask("manage", "collectstatic", "--no-input", "-v0")
        shop.start()
        (folder / "nginx").mkdir()
        (folder / "nginx").chmod(0o755)
        folder.chmod(0o755)
        running = Proxy(folder / "nginx", shop)
        wait_until("nginx answers", running.is_up)
        yield running
    finally:
        if running is not None:
            running.process.terminate()
            running.process.wait(timeout=30)
        shop.stop()
        shutil.rmtree(folder, ignore_errors=True)


def test_plain_http_is_sent_to_https_but_for_health_and_ready(proxy: Proxy) -> None:
    status, headers, _ = proxy.ask("/ring", secure=False)
    assert (status, headers["location"]) == (301, f"https://{HOST}/ring")
    for path in ("/health", "/ready"):
        assert proxy.ask(path, secure=False)[0] == 200
    status, headers, page = proxy.ask("/")
    assert status == 200
    assert b"Plain Shank" in page
    assert "max-age=31536000" in headers["strict-transport-security"]
    assert headers["x-request-id"]


def test_cookies_are_secure_and_ready_says_nothing_to_strangers(proxy: Proxy) -> None:
    _, headers, _ = proxy.ask("/api/session")
    assert "Secure" in headers["set-cookie"]
    assert b"backup_age_h" not in proxy.ask("/ready")[2]
    assert b"backup_age_h" not in proxy.ask("/ready", secure=False)[2]


def test_what_a_visitor_says_of_its_address_is_not_believed(proxy: Proxy) -> None:
    """Nine wrong passwords, each from another made-up address: they are counted as one."""
    _, headers, _ = proxy.ask("/api/session")
    found = re.search(r"csrftoken=([^;]+)", headers["set-cookie"])
    assert found
    said = {
        "Cookie": f"csrftoken={found[1]}",
        "X_CSRFToken": found[1],
        "Referer": f"https://{HOST}/",
        "Content_Type": "application/json",
    }
    answers = [
        proxy.ask(
            "/api/session", body=b'{"username": "rook", "password": "no"}', X_Forwarded_For=f"192.0.2.{n}", **said
        )[0]
        for n in range(9)
    ]
    assert answers[0] == 401
    assert answers[-1] == 429


def test_a_large_photograph_reaches_the_application_and_is_refused_in_its_words(proxy: Proxy) -> None:
    status, headers, content = proxy.ask("/api/session", body=b"x" * 3_000_000, Content_Type="application/json")
    assert (status, headers["content-type"]) == (413, "application/json")
    assert b"At most 2 MB" in content


def test_half_sent_requests_hold_nobody_up(proxy: Proxy) -> None:
    """Two hundred that are never sent to their end, and one that is: it is answered while they are all open."""
    open_ones = []
    try:
        for _ in range(HALF_SENT):
            raw = socket.create_connection(("127.0.0.1", proxy.secure), timeout=60)
            link = proxy.context.wrap_socket(raw, server_hostname=HOST)
            link.sendall(f"POST /api/session HTTP/1.1\r\nHost: {HOST}\r\nContent-Length: 90000\r\n\r\n{{".encode())
            open_ones.append(link)
        assert proxy.ask("/api/session")[0] == 200
        assert proxy.ask("/ready")[0] == 200
        still = [link for link in open_ones if link.fileno() != -1]
        assert len(still) == HALF_SENT
    finally:
        for link in open_ones:
            link.close()
