# Installing the Python packages of a lock, on networks as they are. Sourced by bin/setup.

# Certificates: those that the system trusts, with the authority of its own network among them.
use_system_certificates() {
  local store
  export UV_SYSTEM_CERTS="${UV_SYSTEM_CERTS:-1}"
  for store in "${SYSTEM_CERTIFICATES:-}" /etc/ssl/certs/ca-certificates.crt /etc/pki/tls/certs/ca-bundle.crt /etc/ssl/cert.pem; do
    if [ -n "$store" ] && [ -r "$store" ]; then
      export SSL_CERT_FILE="${SSL_CERT_FILE:-$store}" PIP_CERT="${PIP_CERT:-$store}"
      return
    fi
  done
}

# What failed and what to try, in one sentence, from the installer's own words.
why_not_installed() {
  local log="$1"
  if grep -qiE 'certificate|UnknownIssuer|SSL' "$log"; then
    echo "The package index shows a certificate that this system does not trust: add your network's authority to /usr/local/share/ca-certificates, run update-ca-certificates, and start again; or name its file in SSL_CERT_FILE and PIP_CERT."
  elif grep -qiE 'hash|THESE PACKAGES DO NOT MATCH' "$log"; then
    echo "A package differs from what requirements/ names: the index gives another file than the one that was tested, so nothing of it was installed; try another index."
  elif grep -qiE 'No space left|Disk quota' "$log"; then
    echo "There is no room left on this disk: free about 600 MB and start again."
  elif grep -qiE 'resolve|connect|timed out|timeout|unreachable|dns|404|403|No matching distribution|error sending request' "$log"; then
    echo "The package index cannot be reached: look at the network, or name your own index in PIP_INDEX_URL and UV_INDEX_URL, and start again."
  else
    echo "Installing the Python packages failed; the last lines above say why."
  fi
}

# install_packages LOCK PYTHON UV...: with uv where there is one; else, or where it fails, with plain pip.
install_packages() {
  local lock="$1" python="$2" log
  shift 2
  log="$(mktemp)"
  if [ $# -gt 0 ] && "$@" pip sync -q --require-hashes --python "$python" "$lock" >"$log" 2>&1; then
    rm -f "$log"
    return 0
  fi
  if [ $# -gt 0 ]; then say "uv could not install the packages; trying pip."; fi
  "$python" -m pip --version >/dev/null 2>&1 || "$python" -m ensurepip -q --upgrade >>"$log" 2>&1 || true
  if "$python" -m pip install -q --disable-pip-version-check --require-hashes -r "$lock" >>"$log" 2>&1; then
    rm -f "$log"
    return 0
  fi
  tail -15 "$log" >&2
  say "$(why_not_installed "$log")"
  rm -f "$log"
  return 1
}
