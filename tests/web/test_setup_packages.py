"""Setting up on networks as they are: their own certificates, no uv, no index."""

import os
import subprocess
from pathlib import Path

import pytest
from django.conf import settings

ROOT = Path(settings.ROOT)
UV_FAILS = "error: invalid peer certificate: UnknownIssuer"


def bash(script: str, **environment: str) -> subprocess.CompletedProcess[str]:
    """Run a script with the functions of bin/setup."""
    whole = f". bin/common.sh; . bin/packages.sh; {script}"
    known = {name: value for name, value in os.environ.items() if "CERT" not in name}
    return subprocess.run(
        ["bash", "-c", whole],
        cwd=ROOT,
        capture_output=True,
        text=True,
        env={**known, **environment},
        timeout=60,
    )


def program(folder: Path, name: str, *, says: str = "", fails: bool = False) -> Path:
    """A program that writes down how it was called."""
    made = folder / name
    made.write_text(
        f'#!/usr/bin/env bash\nprintf "%s\\n" "$*" >> "{folder}/{name}.calls"\n'
        f'case "$*" in *--version*) exit 0 ;; esac\n'
        f"echo '{says}' >&2\nexit {int(fails)}\n"
    )
    made.chmod(0o755)
    return made


def test_the_systems_certificates_are_used(tmp_path: Path) -> None:
    """On a network with its own authority uv ended in “invalid peer certificate”."""
    store = tmp_path / "ca.crt"
    store.write_text("")
    told = bash(
        'use_system_certificates; echo "$UV_SYSTEM_CERTS $SSL_CERT_FILE $PIP_CERT"',
        SYSTEM_CERTIFICATES=str(store),
    )
    assert told.stdout.split() == ["1", str(store), str(store)]


def test_certificates_that_somebody_named_stay(tmp_path: Path) -> None:
    told = bash(
        'use_system_certificates; echo "$SSL_CERT_FILE $PIP_CERT"',
        SSL_CERT_FILE="/mine/uv.pem",
        PIP_CERT="/mine/pip.pem",
    )
    assert told.stdout.split() == ["/mine/uv.pem", "/mine/pip.pem"]


def test_where_uv_fails_pip_is_tried(tmp_path: Path) -> None:
    uv, python = program(tmp_path, "uv", says=UV_FAILS, fails=True), program(tmp_path, "python")
    done = bash(f"install_packages requirements/run.lock {python} {uv}")
    assert done.returncode == 0 and "trying pip" in done.stderr
    assert "--require-hashes -r requirements/run.lock" in (tmp_path / "python.calls").read_text()


def test_without_uv_pip_installs(tmp_path: Path) -> None:
    python = program(tmp_path, "python")
    done = bash(f"install_packages requirements/run.lock {python}")
    assert done.returncode == 0 and not done.stderr
    assert "pip install" in (tmp_path / "python.calls").read_text()


@pytest.mark.parametrize(
    ("says", "advice"),
    [
        (UV_FAILS, "update-ca-certificates"),
        (
            "SSLError(SSLCertVerificationError: CERTIFICATE_VERIFY_FAILED)",
            "update-ca-certificates",
        ),
        ("ERROR: THESE PACKAGES DO NOT MATCH THE HASHES", "differs from what requirements/ names"),
        ("Temporary failure in name resolution: could not resolve", "PIP_INDEX_URL"),
        ("No space left on device", "free about 600 MB"),
        ("something else", "the last lines above say why"),
    ],
)
def test_one_sentence_says_what_failed(tmp_path: Path, says: str, advice: str) -> None:
    python = program(tmp_path, "python", says=says, fails=True)
    done = bash(f"install_packages requirements/run.lock {python}")
    assert done.returncode == 1
    last = done.stderr.strip().splitlines()[-1]
    assert advice in last and last.count(". ") <= 1
