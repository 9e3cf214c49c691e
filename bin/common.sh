# Shared by the helpers in bin/: where things are, how to speak, and who is still using the database.
ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
STATE="${RIDGEBACK_STATE:-$ROOT/.state}"
say() { printf '%s\n' "$*" >&2; }
die() { say "$*"; exit 1; }

# Several copies (two ./start, a ./test beside them) may share one cluster. Each holds a shared lock while it runs;
# whoever can take it exclusively on leaving is the last one and stops the server.
users_file() { printf '%s/ridgeback-%s.users' "${TMPDIR:-/tmp}" "$(printf %s "$STATE" | sha1sum | cut -c1-12)"; }
hold_database() { exec 8>>"$(users_file)"; flock -s 8; }
alone() { flock -x -n 8; }
release_database() {
  if alone; then "$ROOT/bin/pg" stop; fi
  exec 8>&-
}
