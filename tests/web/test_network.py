"""The workshop's network: only by names that were allowed, only with the shop's own certificate, never without signing
in."""

import json
import os
import re
import socket
import ssl
import stat
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

from cryptography import x509

from birch_route.core.errors import InputError
from birch_route.web import network as module
from birch_route.web.network import HERE_ONLY, network_for, trust_of
from tests.support import ROOT


class Certificate(unittest.TestCase):
    def setUp(self):
        held = tempfile.TemporaryDirectory(dir="/var/tmp")
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name) / "network"

    def test_without_a_name_it_stays_on_this_machine(self):
        self.assertEqual(network_for("", "0.0.0.0", self.folder), HERE_ONLY)
        self.assertEqual((HERE_ONLY.bind, HERE_ONLY.scheme, trust_of(HERE_ONLY)), ("127.0.0.1", "http", None))
        self.assertFalse(self.folder.exists())

    def test_a_certificate_is_made_once_for_all_names_and_again_when_they_change_or_it_runs_out(self):
        one = network_for("Birch.local, 192.168.1.20", "0.0.0.0", self.folder)
        self.assertEqual(one.hosts, ("127.0.0.1", "localhost", "birch.local", "192.168.1.20"))
        made = x509.load_pem_x509_certificate(one.certificate.read_bytes())
        names = made.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
        self.assertEqual(names.get_values_for_type(x509.DNSName), ["localhost", "birch.local"])
        self.assertEqual(stat.S_IMODE(one.key.stat().st_mode), 0o600)
        first = trust_of(one).fingerprint
        self.assertRegex(first, r"^([0-9A-F]{2}:){31}[0-9A-F]{2}$")
        self.assertEqual(trust_of(network_for("birch.local,192.168.1.20", "0.0.0.0", self.folder)).fingerprint, first)
        other = trust_of(network_for("birch.local", "0.0.0.0", self.folder)).fingerprint
        self.assertNotEqual(other, first)
        with mock.patch.object(module, "AGAIN_BEFORE", module.GOOD_FOR):
            self.assertNotEqual(trust_of(network_for("birch.local", "0.0.0.0", self.folder)).fingerprint, other)

    def test_names_that_cannot_be_and_broken_certificates_are_told_and_nothing_is_written(self):
        for names in ("birch local", "https://birch", "-birch", "a" * 81, ",".join(f"n{k}" for k in range(11))):
            with self.subTest(names), self.assertRaises(InputError) as caught:
                network_for(names, "0.0.0.0", self.folder)
            self.assertEqual(caught.exception.where, "--network")
        self.assertFalse(self.folder.exists())
        network_for(",".join(f"n{k}" for k in range(10)), "0.0.0.0", self.folder)
        with self.assertRaisesRegex(InputError, "no address"):
            network_for("birch.local", "everywhere", self.folder)
        kept = self.folder / "certificate.pem"
        kept.write_text("broken")
        with self.assertRaisesRegex(InputError, "Move it away"):
            network_for("birch.local", "0.0.0.0", self.folder)
        self.assertEqual(kept.read_text(), "broken")


class Served(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        held = tempfile.TemporaryDirectory(prefix="birch-test-", dir="/var/tmp")
        cls.addClassCleanup(held.cleanup)
        cls.folder = Path(held.name)
        cls.folder.chmod(0o755)
        with socket.socket() as s:
            s.bind(("127.0.0.1", 0))
            cls.port = s.getsockname()[1]
        cls.log = cls.folder / "server.log"
        environment = {**os.environ, "BIRCH_STATE_DIR": str(cls.folder / "state"), "PYTHONPATH": str(ROOT / "src")}
        environment.pop("BIRCH_DATABASE_URL", None)
        words = ["start", "--port", str(cls.port), "--network", "birch.test", "--bind", "127.0.0.1"]
        with cls.log.open("w") as out:
            command = [sys.executable, "-m", "birch_route.cli", *words]
            cls.process = subprocess.Popen(command, stdout=out, stderr=subprocess.STDOUT, env=environment)
        cls.addClassCleanup(cls.stopped)
        deadline = time.monotonic() + 90
        while time.monotonic() < deadline:
            try:
                if cls.ask("/api/health")[0] == 200:
                    return
            except OSError:
                time.sleep(0.1)
        raise AssertionError(cls.log.read_text())

    @classmethod
    def stopped(cls):
        cls.process.terminate()
        cls.process.wait(30)

    @classmethod
    def ask(cls, path, host="birch.test", cookie=""):
        """Ask as a tablet does that trusts the certificate; return status, headers and body."""
        trusted = ssl.create_default_context(cafile=str(cls.folder / "state" / "network" / "certificate.pem"))
        plain = socket.create_connection(("127.0.0.1", cls.port), timeout=30)
        with trusted.wrap_socket(plain, server_hostname="birch.test") as s:
            lines = f"GET {path} HTTP/1.1\r\nHost: {host}:{cls.port}\r\nCookie: {cookie}\r\nConnection: close\r\n\r\n"
            s.sendall(lines.encode())
            answer = b"".join(iter(lambda: s.recv(65536), b""))
        head, _, body = answer.partition(b"\r\n\r\n")
        return int(head.split()[1]), head.decode(), body

    def test_who_trusts_the_certificate_gets_in_by_a_link_and_nobody_without(self):
        self.assertEqual(self.ask("/api/own_shop")[0], 401)
        self.assertEqual(self.ask("/api/own_shop", host="other.test")[0], 403)
        text = self.log.read_text()
        self.assertIn(f"https://birch.test:{self.port}/", text)
        token = re.findall(r"token=(\S+)", text)[-1]
        status, head, _ = self.ask(f"/sign-in?token={token}")
        self.assertEqual(status, 303)
        cookie = re.search(r"(?i)set-cookie: ([^;]+)(.*)", head)
        self.assertIn("secure", cookie[2].lower())
        status, _, body = self.ask("/api/network", cookie=cookie[1])
        told = json.loads(re.sub(rb"^[0-9a-f]+\r\n|\r\n0\r\n\r\n$", b"", body))
        self.assertEqual((status, told["names"]), (200, ["birch.test"]))
        self.assertIn(told["fingerprint"], text)

    def test_who_does_not_trust_it_is_warned_and_plain_words_are_not_answered(self):
        with self.assertRaises(ssl.SSLCertVerificationError):
            with socket.create_connection(("127.0.0.1", self.port), timeout=30) as plain:
                ssl.create_default_context().wrap_socket(plain, server_hostname="birch.test")
        with socket.create_connection(("127.0.0.1", self.port), timeout=30) as plain:
            plain.sendall(b"GET / HTTP/1.1\r\nHost: birch.test\r\n\r\n")
            self.assertNotIn(b"200 OK", plain.recv(1000))


if __name__ == "__main__":
    unittest.main()
